using System.Formats.Tar;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;

namespace Junctra.Formats.Tests;

/// <summary>The folder of package files, and where files lie.</summary>
public sealed class LibraryFolderTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-library-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    [Fact]
    public void Packages_lists_and_what_still_arrives_are_told_apart()
    {
        foreach (var name in new[] { "b.zip", "a.tar", ".hidden", "c.zip.partial", "d.download" })
            File.WriteAllText(Path.Combine(folder, name), "x");
        var digest = new string('a', 64);
        File.WriteAllText(Path.Combine(folder, "SHA256SUMS"), $"{digest}  ./b.zip\n");
        File.WriteAllText(Path.Combine(folder, "a.tar.sha256"), $"{digest} *a.tar\n");
        var library = LibraryFolder.Read(folder);
        Assert.Equal(["a.tar", "b.zip"], library.Packages.Select(file => file.Name));
        Assert.Equal(["c.zip.partial", "d.download"], library.Arriving.Select(file => file.Name));
        Assert.Equal(["a.tar", "b.zip"], library.Published.Keys.Order());
    }

    [Theory]
    [InlineData("/mnt/share/set.tar", "nfs4")]
    [InlineData("/mnt/my share/set.tar", "cifs")]
    [InlineData("/mnt/shared/set.tar", null)]
    [InlineData("/mnt/share/local/set.tar", null)]
    [InlineData("/set.tar", null)]
    public void A_network_path_is_told_by_its_mount(string path, string? expected) =>
        Assert.Equal(
            expected,
            FilePlace.NetworkOf(
                path,
                [
                    "/dev/sda1 / ext4 rw 0 0",
                    "host:/share /mnt/share nfs4 rw 0 0",
                    "//host/my /mnt/my\\040share cifs rw 0 0",
                    "/dev/sdb1 /mnt/share/local ext4 rw 0 0",
                    "odd",
                ]
            )
        );

    [Fact]
    public async Task A_file_that_grows_while_it_is_read_is_still_arriving()
    {
        var path = Path.Combine(folder, "set.tar");
        await File.WriteAllBytesAsync(
            path,
            Packs.Tar(TarEntryFormat.Pax, [.. Enumerable.Range(0, 30).Select(i => ($"{i}.img", Packs.Noise(1 << 20, i)))])
        );
        var grown = false;
        var contents = await PackageInspector.InspectFileAsync(
            path,
            progress: new Grow(() =>
            {
                if (grown)
                    return;
                grown = true;
                File.AppendAllText(path, "more");
            })
        );
        Assert.True(grown);
        Assert.Contains(contents.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("still arriving"));
    }

    private sealed class Grow(Action act) : IProgress<long>
    {
        public void Report(long value) => act();
    }
}

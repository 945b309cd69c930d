using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Store.Files;
using Junctra.Store.Operation;
using Junctra.Testing;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Logging.Abstractions;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Tests;

/// <summary>The library's index follows its folder.</summary>
public sealed class LibraryTests : IAsyncLifetime
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-library-").FullName;
    private readonly string store = Directory.CreateTempSubdirectory("junctra-store-").FullName;
    private TestDatabase database = null!;
    private LibraryWatch watch = null!;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        watch = new LibraryWatch(
            database,
            new ContentStore(store),
            Repo.Catalogue,
            Options.Create(new JunctraOptions { Library = folder }),
            new Ownership(database, "here", Ownership.UsualLease),
            TimeProvider.System,
            NullLogger<LibraryWatch>.Instance
        );
        await watch.StartAsync(default);
    }

    public async ValueTask DisposeAsync()
    {
        await watch.StopAsync(default);
        watch.Dispose();
        await database.DisposeAsync();
        Directory.Delete(folder, true);
        Directory.Delete(store, true);
    }

    private async Task<List<Store.PackageRow>> RowsAsync()
    {
        await using var db = database.CreateDbContext();
        return await db.Packages.AsNoTracking().OrderBy(p => p.FileName).ToListAsync();
    }

    private async Task LookUntilAsync(Func<List<Store.PackageRow>, bool> seen, string what)
    {
        watch.LookAgain();
        await Until.TrueAsync(async () => seen(await RowsAsync()), what);
    }

    [Fact]
    public async Task Files_that_come_change_and_go_are_followed()
    {
        var path = Path.Combine(folder, "set.tar");
        File.Copy(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"), path);
        var size = new FileInfo(path).Length;
        // The look at the start may have met the file while it was being copied.
        await LookUntilAsync(rows => rows is [var row] && row.SizeBytes == size, "the whole file is in the index");
        var first = (await RowsAsync()).Single();
        Assert.Equal(new FileInfo(path).Length, first.SizeBytes);

        await using (var file = new FileStream(path, FileMode.Open, FileAccess.Write, FileShare.ReadWrite))
        {
            file.Position = 5_000_000;
            file.WriteByte(0xFF);
        }

        await LookUntilAsync(rows => rows is [var row] && row.Id != first.Id, "the changed file was looked into again");
        var changed = PackageReader.Read("set.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue);
        Assert.Contains(changed.Findings, f => f.Weight == FindingWeight.Fatal);

        File.Delete(path);
        await LookUntilAsync(rows => rows.Count == 0, "the file has left the index");
    }

    [Fact]
    public async Task Whatever_lies_in_the_folder_the_look_goes_on()
    {
        async Task ShellAsync(string line)
        {
            using var shell = System.Diagnostics.Process.Start(
                new System.Diagnostics.ProcessStartInfo("bash", ["-c", line]) { WorkingDirectory = folder }
            )!;
            await shell.WaitForExitAsync();
            Assert.Equal(0, shell.ExitCode);
        }

        // A pipe, a link that leads nowhere, one in a circle, a device behind a link, a name that is no text, a folder, and an LZ4 frame
        // that names a dictionary.
        await ShellAsync(
            "mkfifo pipe.tar && ln -s /nowhere gone.tar && ln -s circle.tar circle.tar && ln -s /dev/zero zero.img && touch $'bad\\xff.tar' && mkdir folder.tar && mkfifo SHA256SUMS"
        );
        await File.WriteAllBytesAsync(
            Path.Combine(folder, "a-dictionary.img.lz4"),
            [0x04, 0x22, 0x4D, 0x18, 0x61, 0x40, 1, 0, 0, 0, 0x99, 0, 0, 0, 0]
        );
        File.Copy(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"), Path.Combine(folder, "z-good.tar"));
        var size = new FileInfo(Path.Combine(folder, "z-good.tar")).Length;
        await LookUntilAsync(
            rows => rows.Any(row => row.FileName == "z-good.tar" && row.SizeBytes == size && row.InspectorVersion > 0),
            "the good one is looked into"
        );
        // Each is named for what it is, and none of them stands in the library as a package.
        string[] passedOver = ["pipe.tar", "zero.img", "gone.tar", "circle.tar"];
        await Until.TrueAsync(
            () => Task.FromResult(passedOver.All(name => watch.Unreadable.Any(one => one.Name == name))),
            "what cannot be looked into is named"
        );
        Assert.Contains(watch.Unreadable, one => one.Name.StartsWith("bad", StringComparison.Ordinal));
        Assert.DoesNotContain(await RowsAsync(), row => passedOver.Contains(row.FileName) || row.FileName == "folder.tar");
        // The frame whose dictionary nobody has is listed, and refused with its reason.
        var frame = PackageReader.Read(
            "a-dictionary.img.lz4",
            (await RowsAsync()).Single(row => row.FileName == "a-dictionary.img.lz4").Contents,
            Repo.Catalogue
        );
        Assert.Contains(frame.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("dictionary"));
        // It ends when it is asked to, and not because it was given up on: nothing waits in a pipe that nobody writes to.
        var ended = watch.StopAsync(CancellationToken.None);
        Assert.Same(ended, await Task.WhenAny(ended, Task.Delay(TimeSpan.FromMinutes(5))));
        Assert.True(watch.ExecuteTask!.IsCompleted);
        await watch.StartAsync(default);
        await ShellAsync("rm -- $'bad\\xff.tar'");
    }

    [Fact]
    public async Task Only_what_a_lead_took_in_proves_whose_a_file_is()
    {
        File.Copy(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"), Path.Combine(folder, "a.tar"));
        await LookUntilAsync(rows => rows is [var row] && row.InspectorVersion > 0, "the file is in the index");
        var id = (await RowsAsync()).Single().Id;
        File.WriteAllText(Path.Combine(folder, "SHA256SUMS"), id + "  a.tar\n");
        await LookUntilAsync(rows => rows is [var row] && row.PublishedDigest == id, "the list beside it is seen");
        Assert.False(PackageReader.Read("a.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue).Contents.IsProven);
        foreach (var (trusted, proven) in new[] { (false, false), (true, true) })
        {
            await using (var db = database.CreateDbContext())
            {
                await db.PublishedDigests.ExecuteDeleteAsync();
                db.PublishedDigests.Add(
                    new Store.PublishedDigestRow
                    {
                        FileName = "a.tar",
                        Digest = id,
                        From = "list.txt",
                        At = DateTimeOffset.UtcNow,
                        By = trusted ? "lead" : "bench",
                        IsTrusted = trusted,
                    }
                );
                await db.SaveChangesAsync();
            }

            await LookUntilAsync(rows => rows is [var row] && row.PublishedBy is not null == trusted, "the list that was taken in is seen");
            Assert.Equal(proven, PackageReader.Read("a.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue).Contents.IsProven);
        }
    }

    [Fact]
    public async Task A_checksum_list_beside_a_package_is_held_against_it()
    {
        File.Copy(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"), Path.Combine(folder, "a.tar"));
        File.WriteAllText(Path.Combine(folder, "SHA256SUMS"), new string('0', 64) + "  a.tar\n");
        // The look at the start may have seen the file before its list lay beside it.
        await LookUntilAsync(
            rows => rows is [var row] && row.Contents.PublishedDigest is not null,
            "the file is in the index with its list"
        );
        var package = PackageReader.Read("a.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue);
        Assert.Contains(package.Findings, f => f.Weight == FindingWeight.Fatal && f.Text.Contains("beside it"));

        File.WriteAllText(Path.Combine(folder, "SHA256SUMS"), package.Id + "  a.tar\n");
        await LookUntilAsync(rows => rows is [var row] && row.Contents.PublishedDigest == package.Id, "the corrected list counts");
        Assert.Empty(PackageReader.Read("a.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue).Findings);
    }

    [Fact]
    public async Task Files_that_are_still_arriving_and_lists_are_no_packages_and_junk_is_named_as_such()
    {
        File.WriteAllText(Path.Combine(folder, "big.tar.partial"), "half");
        File.WriteAllText(Path.Combine(folder, "SHA256SUMS"), "nonsense");
        File.WriteAllText(Path.Combine(folder, "holiday.tar"), "not an archive at all");
        await LookUntilAsync(rows => rows.Count == 1, "the junk is in the index");
        var junk = PackageReader.Read("holiday.tar", (await RowsAsync()).Single().Contents, Repo.Catalogue);
        Assert.Equal(PackageKind.Unknown, junk.Kind);
        Assert.Contains(junk.Findings, f => f.Weight == FindingWeight.Fatal);
    }
}

using System.Diagnostics;
using System.Formats.Tar;
using System.Security.Cryptography;
using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

public class InspectorTests
{
    private static Task<PackageContents> InspectAsync(byte[] file, InspectionLimits? limits = null) =>
        PackageInspector.InspectAsync(() => new MemoryStream(file, writable: false), limits: limits);

    private static async Task<byte[]> TarAsync(params TarEntry[] entries)
    {
        var output = new MemoryStream();
        await using (var tar = new TarWriter(output, leaveOpen: true))
            foreach (var entry in entries)
                await tar.WriteEntryAsync(entry);
        return output.ToArray();
    }

    private static PaxTarEntry File(string name, byte[] bytes) =>
        new(TarEntryType.RegularFile, name) { DataStream = new MemoryStream(bytes) };

    private static byte[] Noise(int bytes) => [.. Enumerable.Range(0, bytes).Select(i => (byte)(i * 7))];

    [Theory]
    [InlineData("cairn-stock-25w40.tar", "HX204", 2, "HX204/14.25w40-3.r2")]
    [InlineData("cairn-stock-26w10.tar", "HX204", 3, "HX204/15.26w10-7.r3")]
    [InlineData("Cairn_latest_full.zip", "HX204", 4, "HX204/15.26w30-2.r4")]
    [InlineData("cairn-26w08.tar", "HX204", 3, "HX204/15.26w08-1.r3")]
    [InlineData("cairn-26w06-set.zip", "HX204", 3, "HX204/15.26w06-3.r3")]
    [InlineData("cairn-small-26w10.tar", "HX204C", 3, "HX204C/15.26w10-4.r3")]
    public async Task Demo_packages_say_what_they_are_whatever_their_names(string file, string model, int revision, string build)
    {
        var package = await DemoLibrary.ReadAsync(file);
        Assert.Equal(PackageKind.FactorySet, package.Kind);
        Assert.Equal(build, package.Title);
        Assert.Equal([model], package.Says(FactName.ModelCode));
        Assert.Equal([revision], package.Revisions);
        Assert.Equal(7, package.Images.Count);
        Assert.All(package.Images, image => Assert.Equal(DigestState.Matches, image.Digest));
        Assert.Equal(
            file.EndsWith("full.zip", StringComparison.Ordinal) ? ["It is called .zip and is a TAR: what is inside counts."] : [],
            package.Findings.Select(finding => finding.Text)
        );
        Assert.InRange(package.Contents.SizeBytes, 8_000_000, 32_000_000);
    }

    [Fact]
    public async Task The_flipped_byte_is_found_in_its_image()
    {
        var package = await DemoLibrary.ReadAsync("cairn-26w14-from-a-stick.tar");
        Assert.Equal(["radio"], package.Images.Where(i => i.Digest == DigestState.Differs).Select(i => i.Partition));
        Assert.Contains(package.Findings, f => f.Weight == FindingWeight.Fatal && f.Text.Contains("radio"));
    }

    [Fact]
    public async Task Sizes_digests_and_places_agree_with_the_systems_own_tools()
    {
        var path = await DemoLibrary.PathAsync("cairn-stock-26w10.tar");
        var package = await DemoLibrary.ReadAsync("cairn-stock-26w10.tar");
        Assert.Equal((await RunAsync("sha256sum", path)).Split(' ')[0], package.Id);
        foreach (var member in package.Contents.Members)
        {
            var digest = await RunAsync(
                "bash",
                "-c",
                $"tar xOf '{path}' '{member.Name}' | sha256sum; tail -c +{(member.Image?.Offset ?? 0) + 1} '{path}' 2>/dev/null | head -c {member.PackedBytes} | sha256sum"
            );
            Assert.Equal(
                member.Image is null ? [member.Sha256] : [member.Sha256, member.Image.Sha256],
                digest.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => line[..64]).Take(member.Image is null ? 1 : 2)
            );
        }
    }

    [Fact, Trait("Turn", "5")]
    public async Task Demo_packages_are_the_same_bytes_every_time()
    {
        var again = Directory.CreateTempSubdirectory();
        // All of them with JUNCTRA_EVERY_FAULT=1, else the factory sets.
        await StandInProcess.RunAsync(["packages", again.FullName, .. Sampled.IsWhole ? Array.Empty<string>() : ["factory-sets"]]);
        var folder = Sampled.IsWhole ? await DemoLibrary.AllFolderAsync() : await DemoLibrary.FolderAsync();
        var first = await RunAsync("bash", "-c", $"cd '{folder}' && sha256sum *");
        Assert.Equal(first, await RunAsync("bash", "-c", $"cd '{again.FullName}' && sha256sum *"));
        again.Delete(true);
    }

    [Fact]
    public async Task A_sparse_image_is_digested_as_it_expands()
    {
        var package = await DemoLibrary.ReadAsync("cairn-stock-26w10.tar");
        var system = package.Image("system")!.Body;
        Assert.Equal(ImageFormat.Sparse, system.Format);
        Assert.Equal(40L << 20, system.ExpandedBytes);
        Assert.NotEqual(system.Sha256, system.ExpandedSha256);
    }

    [Fact]
    public async Task A_file_cut_anywhere_ends_in_a_finding()
    {
        var whole = await TarAsync(
            File("requirements.txt", "require board=HX204\n"u8.ToArray()),
            File("boot.img", Noise(70_000)),
            File("system.img", Noise(200_000))
        );
        await Gen.Int[0, whole.Length - 1100]
            .SampleAsync(
                async length =>
                {
                    Sampled.Tried();
                    var contents = await InspectAsync(whole[..length]);
                    Assert.Equal(length, contents.SizeBytes);
                    // Cut right between two members, an archive without end marks looks whole; its checksum list then tells.
                    Assert.True(contents.Findings.Any(f => f.Weight == FindingWeight.Fatal) || contents.Members.Count < 3);
                },
                iter: Sampled.Of(5_000, 60)
            );
    }

    [Fact]
    public Task Noise_is_no_archive_and_no_exception() =>
        Gen
            .Byte.Array[0, 3000]
            .SampleAsync(
                async bytes =>
                {
                    Sampled.Tried();
                    var contents = await InspectAsync(bytes);
                    Assert.Contains(contents.Findings, f => f.Weight == FindingWeight.Fatal);
                    Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(bytes)), contents.Sha256);
                },
                iter: Sampled.Of(10_000, 200)
            );

    [Fact]
    public async Task Links_devices_and_climbing_names_are_named_and_ignored()
    {
        var contents = await InspectAsync(
            await TarAsync(
                new PaxTarEntry(TarEntryType.SymbolicLink, "system.img") { LinkName = "/etc/passwd" },
                new PaxTarEntry(TarEntryType.Fifo, "pipe"),
                File("../../boot.img", Noise(100_000))
            )
        );
        Assert.Contains(contents.Findings, f => f.Text.Contains("link"));
        Assert.Contains(contents.Findings, f => f.Text.Contains("pipe"));
        Assert.Contains(contents.Findings, f => f.Text.Contains("leave the archive"));
        Assert.Single(contents.Members);
    }

    [Fact]
    public async Task Too_many_members_are_refused()
    {
        var entries = Enumerable.Range(0, 30).Select(i => (TarEntry)File($"{i}.img", Noise(10))).ToArray();
        var contents = await InspectAsync(await TarAsync(entries), InspectionLimits.Default with { MaxMembers = 20 });
        Assert.Contains(contents.Findings, f => f.Weight == FindingWeight.Fatal && f.Text.Contains("20 members"));
        Assert.Equal(20, contents.Members.Count);
    }

    [Fact]
    public async Task A_sparse_bomb_is_not_expanded()
    {
        var image = new byte[100_000];
        new Sparse.SparseHeader(4096, uint.MaxValue, 1, 0).Write(image);
        var watch = Stopwatch.StartNew();
        var contents = await InspectAsync(await TarAsync(File("system.img", image)));
        Assert.Contains(contents.Findings, f => f.Weight == FindingWeight.Fatal && f.Text.Contains("claims to expand"));
        Assert.Null(contents.Members.Single().Image!.ExpandedSha256);
    }

    [Fact]
    public async Task A_broken_sparse_image_is_named_and_the_rest_is_still_read()
    {
        var image = new byte[100_000];
        new Sparse.SparseHeader(4096, 10, 3, 0).Write(image);
        var contents = await InspectAsync(await TarAsync(File("system.img", image), File("boot.img", Noise(100_000))));
        Assert.Contains(contents.Findings, f => f.Text.StartsWith("system.img is a broken sparse image", StringComparison.Ordinal));
        Assert.Equal(["system.img", "boot.img"], contents.Members.Select(m => m.Name));
    }

    [Fact]
    public async Task Stray_files_are_listed_and_ignored()
    {
        var contents = await InspectAsync(
            await TarAsync(File("read me first.txt", "Thank you."u8.ToArray()), File("boot.img", Noise(100_000)))
        );
        Assert.Equal(MemberKind.Stray, contents.Members[0].Kind);
        Assert.Single(PackageReader.Read("x", contents, Repo.Catalogue).Images);
    }

    [Fact]
    public async Task Two_images_for_one_partition_are_fatal()
    {
        var contents = await InspectAsync(await TarAsync(File("a/boot.img", Noise(100_000)), File("b/boot.img", Noise(90_000))));
        Assert.Contains(PackageReader.Read("x", contents, Repo.Catalogue).Findings, f =>
            f.Weight == FindingWeight.Fatal && f.Text.Contains("boot")
        );
    }

    [Fact]
    public async Task A_board_that_contradicts_the_build_is_fatal()
    {
        var contents = await InspectAsync(
            await TarAsync(File("r", "require board=HX204C\nbuild=HX204/15.26w10-7.r3\n"u8.ToArray()), File("boot.img", Noise(100_000)))
        );
        Assert.Contains(PackageReader.Read("x", contents, Repo.Catalogue).Findings, f =>
            f.Weight == FindingWeight.Contradiction && f.Text.Contains("HX204 (build string)")
        );
    }

    private static async Task<string> RunAsync(string program, params string[] args)
    {
        var start = new ProcessStartInfo(program) { RedirectStandardOutput = true };
        foreach (var arg in args)
            start.ArgumentList.Add(arg);
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(0, process.ExitCode);
        return output;
    }
}

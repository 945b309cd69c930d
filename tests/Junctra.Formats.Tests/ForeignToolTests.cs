using System.Formats.Tar;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Images;
using Junctra.Formats.Inspection;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>Files as other people's tools write them, and files that are spoilt.</summary>
public sealed partial class ForeignToolTests : IDisposable
{
    private static readonly byte[] Boot =
    [
        .. BootHeaderWriter.Page(new BootHeader(2, "15", "2026-03"), 8192, 4096),
        .. Packs.Noise(60_000),
    ];

    private readonly string folder = Directory.CreateTempSubdirectory("junctra-tools-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static string Digest(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));

    private string Put(string name, byte[] bytes)
    {
        var path = Path.Combine(folder, name);
        File.WriteAllBytes(path, bytes);
        return path;
    }

    private async Task<PackageContents> LookAsync(string name) => await PackageInspector.InspectFileAsync(Path.Combine(folder, name));

    // The line of the shell that makes `set` out of boot.img, and what the image is called then.
    [Theory]
    [InlineData("gzip -k boot.img; tar -cf set boot.img.gz", "boot.img.gz")]
    [InlineData(
        "head -c 30000 boot.img | gzip >a; tail -c +30001 boot.img | gzip >>a; mv a boot.img.gz; tar -cf set boot.img.gz",
        "boot.img.gz"
    )]
    [InlineData("gzip -k boot.img; head -c 700 /dev/zero >>boot.img.gz; tar -cf set boot.img.gz", "boot.img.gz")]
    [InlineData(
        "head -c 30000 boot.img | gzip >a; tail -c +30001 boot.img | gzip >>a; head -c 70000 /dev/zero >>a; mv a boot.img.gz; tar -cf set boot.img.gz",
        "boot.img.gz"
    )]
    [InlineData("lz4 -q boot.img boot.img.lz4; tar -cf set boot.img.lz4", "boot.img.lz4")]
    [InlineData("lz4 -q -BX -B4 boot.img boot.img.lz4; tar -cf set boot.img.lz4", "boot.img.lz4")]
    [InlineData("lz4 -q --no-frame-crc --content-size boot.img boot.img.lz4; tar -cf set boot.img.lz4", "boot.img.lz4")]
    [InlineData(
        "head -c 30000 boot.img | lz4 -q >a; printf '\\x52\\x2a\\x4d\\x18\\x03\\x00\\x00\\x00abc' >>a; tail -c +30001 boot.img | lz4 -q >>a; mv a boot.img.lz4; tar -cf set boot.img.lz4",
        "boot.img.lz4"
    )]
    [InlineData("xz -k boot.img; tar -cf set boot.img.xz", "boot.img.xz")]
    [InlineData("xz -k -T1 --check=crc64 -9 boot.img; tar -cf set boot.img.xz", "boot.img.xz")]
    [InlineData("xz -k -T2 --block-size=16384 boot.img; tar -cf set boot.img.xz", "boot.img.xz")]
    [InlineData(
        "head -c 30000 boot.img | xz >a; head -c 8 /dev/zero >>a; tail -c +30001 boot.img | xz --check=sha256 >>a; head -c 1000 /dev/zero >>a; mv a boot.img.xz; tar -cf set boot.img.xz",
        "boot.img.xz"
    )]
    [InlineData(
        "head -c 30000 boot.img | bzip2 >a; tail -c +30001 boot.img | bzip2 >>a; mv a boot.img.bz2; tar -cf set boot.img.bz2",
        "boot.img.bz2"
    )]
    [InlineData("bzip2 -k boot.img; tar -cf set boot.img.bz2", "boot.img.bz2")]
    [InlineData("tar -czf set boot.img", "boot.img")]
    [InlineData("tar -cJf set boot.img", "boot.img")]
    [InlineData("tar -cjf set boot.img", "boot.img")]
    [InlineData("tar --format=v7 -cf set boot.img", "boot.img")]
    [InlineData("tar --format=oldgnu -b 1 -cf set boot.img", "boot.img")]
    [InlineData("tar --format=pax --sort=name -cf set boot.img", "boot.img")]
    public async Task What_the_systems_tools_pack_is_taken(string line, string name)
    {
        Put("boot.img", Boot);
        await Packs.ShellAsync(folder, line);
        var contents = await LookAsync("set");
        Assert.Empty(contents.Findings);
        var member = Assert.Single(contents.Members);
        Assert.Equal((name, Digest(Boot)), (member.Name, member.Image!.Sha256));
    }

    // A file with holes, in every form in which that tool keeps them.
    [Theory]
    [InlineData("--format=gnu")]
    [InlineData("--format=pax --sparse-version=0.0")]
    [InlineData("--format=pax --sparse-version=0.1")]
    [InlineData("--format=pax --sparse-version=1.0")]
    public async Task A_file_with_holes_is_read_as_the_file(string form)
    {
        await Packs.ShellAsync(
            folder,
            "truncate -s 3000001 system.img; for i in 0 9 40 77 200 400 650; do printf 'JUNCTRA%s' $i | dd of=system.img bs=1 seek=$((i * 4096)) conv=notrunc status=none; done; printf x >radio.img; head -c 5000 /dev/urandom >>radio.img"
        );
        await Packs.ShellAsync(folder, $"tar -S {form} -cf set.tar system.img radio.img");
        Assert.True(new FileInfo(Path.Combine(folder, "set.tar")).Length < 1_000_000, "the tool kept no holes");
        var contents = await LookAsync("set.tar");
        Assert.Empty(contents.Findings);
        Assert.Equal(
            [
                ("system.img", Digest(await File.ReadAllBytesAsync(Path.Combine(folder, "system.img")))),
                ("radio.img", Digest(await File.ReadAllBytesAsync(Path.Combine(folder, "radio.img")))),
            ],
            contents.Members.Select(member => (member.Name, member.Image!.Sha256))
        );
        // What comes after it lies where it is said to lie; the expanded file lies nowhere as it is.
        Assert.Null(contents.Members[0].Image!.Offset);
        var radio = contents.Members[1].Image!;
        Assert.Equal(
            radio.Sha256,
            Digest(
                (await File.ReadAllBytesAsync(Path.Combine(folder, "set.tar")))[
                    (int)radio.Offset!.Value..(int)(radio.Offset.Value + radio.Bytes)
                ]
            )
        );
        var copy = new MemoryStream();
        await PackageUnpacker.UnpackAsync(
            () => File.OpenRead(Path.Combine(folder, "set.tar")),
            new Dictionary<PackageMember, Stream> { [contents.Members[0]] = copy }
        );
        Assert.Equal(contents.Members[0].Image!.Sha256, Digest(copy.ToArray()));
    }

    // A checksum list of boot.img as a tool or a person writes it; the name of the list.
    [Theory]
    [InlineData("sha256sum boot.img >SHA256SUMS", "SHA256SUMS")]
    [InlineData("sha256sum -b boot.img >sha256sum.txt", "sha256sum.txt")]
    [InlineData("sha256sum --tag boot.img >SHA256SUMS", "SHA256SUMS")]
    [InlineData("sha512sum boot.img >SHA512SUMS", "SHA512SUMS")]
    [InlineData("sha512sum --tag boot.img >boot.img.sha512", "boot.img.sha512")]
    [InlineData("sha1sum boot.img >boot.img.sha1", "boot.img.sha1")]
    [InlineData("md5sum --tag boot.img >MD5SUMS", "MD5SUMS")]
    [InlineData("sha256sum boot.img | tr a-f A-F | sed 's/Boot/boot/; s/ .*/ boot.img/' >SHA256SUMS", "SHA256SUMS")]
    [InlineData("(echo '# ours'; echo; sha256sum boot.img) | sed 's/$/\\r/' >SHA256SUMS", "SHA256SUMS")]
    [InlineData("sha256sum boot.img | cut -c1-64 >boot.img.sha256", "boot.img.sha256")]
    [InlineData("sha256sum boot.img | cut -c1-64 | tr -d '\\n' >boot.img.sha256sum", "boot.img.sha256sum")]
    [InlineData(
        "(for i in $(seq 1 9000); do echo \"# a remark that makes the list long, $i\"; done; sha256sum boot.img) >SHA256SUMS",
        "SHA256SUMS"
    )]
    public async Task A_published_digest_is_never_passed_over_whatever_its_form(string line, string list)
    {
        Put("boot.img", Boot);
        await Packs.ShellAsync(folder, line + $"; tar -cf good.tar boot.img {list}");
        var spoilt = (byte[])Boot.Clone();
        spoilt[40_000] ^= 4;
        Put("boot.img", spoilt);
        await Packs.ShellAsync(folder, $"tar -cf bad.tar boot.img {list}");
        var (good, bad) = (
            PackageReader.Read("good.tar", await LookAsync("good.tar"), Repo.Catalogue),
            PackageReader.Read("bad.tar", await LookAsync("bad.tar"), Repo.Catalogue)
        );
        Assert.Equal((DigestState.Matches, false), (Assert.Single(good.Images).Digest, good.IsDamaged));
        Assert.Equal((DigestState.Differs, true), (Assert.Single(bad.Images).Digest, bad.IsDamaged));

        // The same list beside the image, as a file of a folder.
        await Packs.ShellAsync(folder, "rm good.tar bad.tar");
        var beside = LibraryFolder.Read(folder);
        var contents = await FolderInspection.InspectAsync(beside.Packages.Single(), beside, new Dictionary<string, string>());
        Assert.False(contents.IsAsPublished);
    }

    [Fact]
    public async Task What_a_list_says_that_cannot_be_read_is_told()
    {
        Task<PackageContents> At(string name, string text) =>
            Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img", Boot), (name, Encoding.UTF8.GetBytes(text))));
        var digest = Digest(Boot);
        Assert.Contains((await At("SHA256SUMS", $"{digest}  boot.img\nand some words\n")).Findings, finding =>
            finding.Weight == FindingWeight.Doubt && finding.Text.Contains("and some words")
        );
        Assert.Contains((await At("SHA256SUMS", "\n")).Findings, finding => finding.Text.Contains("SHA256SUMS"));
        Assert.Contains((await At("boot.img.sha256", "not a digest")).Findings, finding => finding.Weight == FindingWeight.Doubt);
        var twice = PackageReader.Read(
            "x.tar",
            await At("SHA256SUMS", $"{digest}  boot.img\n{new string('0', 64)}  boot.img\n"),
            Repo.Catalogue
        );
        Assert.Contains(twice.Findings, finding => finding.Text.Contains("two digests for boot.img"));
        Assert.Contains(
            PackageReader.Read("x.tar", await At("SHA256SUMS", $"{digest}  other/boot.img\n"), Repo.Catalogue).Findings,
            finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("other/boot.img")
        );
    }

    [Fact]
    public async Task A_list_means_the_files_of_its_own_folder_and_no_other()
    {
        var other = Packs.Noise(20_000, 9);
        var list = Encoding.UTF8.GetBytes($"{Digest(Boot)}  boot.img\n");
        var package = PackageReader.Read(
            "x.tar",
            await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("a/boot.img", Boot), ("a/SHA256SUMS", list), ("b/boot.img", other))),
            Repo.Catalogue
        );
        Assert.Equal([DigestState.Matches, DigestState.NothingToCompare], package.Images.Select(image => image.Digest));
        var borrowed = PackageReader.Read(
            "x.tar",
            await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("a/SHA256SUMS", list), ("b/boot.img", Boot))),
            Repo.Catalogue
        );
        Assert.Contains(borrowed.Findings, finding => finding.Weight == FindingWeight.Fatal);
    }

    // A name, bytes of another kind, and words of the finding.
    [Theory]
    [InlineData("system.img.lz4", "flipped", "do not go together")]
    [InlineData("boot.img", "text", "do not go together")]
    [InlineData("boot.img", "zip", "do not go together")]
    [InlineData("boot.img", "gzip", "do not go together")]
    [InlineData("boot.img.gz", "lz4", "do not go together")]
    [InlineData("boot.img", "empty", "is empty")]
    [InlineData("boot.img", "empty sparse", "of nothing")]
    [InlineData("boot", "text", "named after a partition")]
    public async Task A_name_and_bytes_that_do_not_go_together_are_never_written_and_never_passed_over(
        string name,
        string bytes,
        string says
    )
    {
        var flipped = Packs.Lz4(Boot);
        flipped[0] ^= 1;
        var content = bytes switch
        {
            "flipped" => flipped,
            "text" => Encoding.UTF8.GetBytes("This is a text.\n"),
            "zip" => Packs.Zip(System.IO.Compression.CompressionLevel.Fastest, ("a", Boot)),
            "gzip" => Packs.Gzip(Boot),
            "lz4" => Packs.Lz4(Boot),
            "empty sparse" => await EmptySparseAsync(),
            _ => [],
        };
        var package = PackageReader.Read(
            "x.tar",
            await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, (name, content), ("radio.img", Packs.Noise(5000)))),
            Repo.Catalogue
        );
        Assert.Contains(package.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains(says));
        Assert.DoesNotContain(package.Images, image => image.Partition == "boot" && bytes != "empty sparse");
    }
}

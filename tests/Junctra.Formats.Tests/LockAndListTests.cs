using System.Formats.Tar;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>Locked archives, lists of the older digest, frames that ask for too much memory, and mutations of whole packages.</summary>
public class LockAndListTests
{
    private static readonly byte[] Boot = Packs.Noise(30_000);

    private static Task<PackageContents> InspectAsync(byte[] file, string? password = null, string? published = null) =>
        PackageInspector.InspectAsync(() => new MemoryStream(file, writable: false), published, password);

    private static string Md5(byte[] bytes)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
        hash.AppendData(bytes);
        return Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    [Fact]
    public async Task A_locked_archive_asks_for_its_password_and_opens_with_it()
    {
        var file = Packs.LockedZip("boot.img", Boot, "quay 7");
        var shut = await InspectAsync(file);
        Assert.True(shut.IsLocked);
        Assert.Contains(shut.Findings, finding => finding.Text == "boot.img is locked with a password.");
        var wrong = await InspectAsync(file, "quay 8");
        Assert.True(wrong.IsLocked && wrong.IsRefused());
        Assert.DoesNotContain(wrong.Members, member => member.Image?.Sha256 == Convert.ToHexStringLower(SHA256.HashData(Boot)));
        var open = await InspectAsync(file, "quay 7");
        Assert.False(open.IsLocked || open.IsRefused());
        Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(Boot)), Assert.Single(open.Members).Image!.Sha256);
    }

    [Fact]
    public async Task A_locked_image_is_unpacked_with_its_password()
    {
        var file = Packs.LockedZip("boot.img", Boot, "quay 7");
        var member = Assert.Single((await InspectAsync(file, "quay 7")).Members);
        var copy = new MemoryStream();
        await PackageUnpacker.UnpackAsync(
            () => new MemoryStream(file, writable: false),
            new Dictionary<PackageMember, Stream> { [member] = copy },
            "quay 7"
        );
        Assert.Equal(Boot, copy.ToArray());
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task A_list_of_the_older_digest_is_held_against_its_members(bool isDamaged)
    {
        var list = Encoding.UTF8.GetBytes($"{Md5(Boot)}  boot.img\n");
        var packed = (byte[])Boot.Clone();
        if (isDamaged)
            packed[20_000] ^= 1;
        var contents = await InspectAsync(
            Packs.Tar(
                TarEntryFormat.Pax,
                ("MD5SUMS", list),
                ("boot.img.gz", Packs.Gzip(packed)),
                ("requirements.txt", "require board=HX204\n"u8.ToArray())
            )
        );
        var package = PackageReader.Read("x.tar", contents, Repo.Catalogue);
        Assert.Equal(isDamaged ? DigestState.Differs : DigestState.Matches, Assert.Single(package.Images).Digest);
        Assert.Equal(isDamaged, package.IsDamaged);
    }

    [Fact]
    public async Task Nobody_computes_an_older_digest_that_no_list_has()
    {
        var contents = await InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img", Boot)));
        Assert.Null(contents.Others);
        Assert.All(contents.Members, member => Assert.Null(member.Others));
    }

    [Fact]
    public async Task An_older_digest_published_for_the_file_is_held_against_it()
    {
        var file = Packs.Tar(TarEntryFormat.Pax, ("boot.img", Boot));
        Assert.True((await InspectAsync(file, published: Md5(file))).IsAsPublished);
        Assert.False((await InspectAsync(file, published: new string('a', 32))).IsAsPublished);
    }

    // The same bytes, and what their frame asks for to look back into: 32 MiB, and 256 MiB.
    [Theory]
    [InlineData(25, false)]
    [InlineData(28, true)]
    public async Task A_frame_that_asks_for_too_much_memory_is_refused(int windowLog, bool isRefused)
    {
        var contents = await InspectAsync(
            Packs.Tar(TarEntryFormat.Pax, ("boot.img.zst", Packs.Zstandard(Packs.Noise(1 << 20), 1, windowLog)))
        );
        Assert.Equal(isRefused, contents.IsRefused());
    }

    [Fact]
    public async Task Two_members_of_one_name_are_a_finding()
    {
        var contents = await InspectAsync(
            Packs.Zip(System.IO.Compression.CompressionLevel.Fastest, ("boot.img", Boot), ("boot.img", Packs.Noise(30_000, 8)))
        );
        Assert.Contains(contents.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("twice"));
    }

    /// <summary>
    /// Each way of packing, mutated at seeded places: whatever comes out, no exception and no image that claims a digest it has not.
    /// </summary>
    [Theory]
    [InlineData("tar")]
    [InlineData("zip")]
    [InlineData("gzip")]
    [InlineData("lz4")]
    [InlineData("zstandard")]
    [InlineData("sparse")]
    [InlineData("bundle")]
    [InlineData("locked")]
    public async Task Seeded_mutations_end_in_findings_or_in_the_truth(string format)
    {
        var noise = Packs.Noise(9_000);
        (string, byte[])[] members = [("part.txt", "require board=TN63E\nbuild=TN63E.5.2608.WHM2\n"u8.ToArray()), ("boot.img", noise)];
        var file = format switch
        {
            "tar" => Packs.Tar(TarEntryFormat.Pax, members),
            "zip" => Packs.Zip(System.IO.Compression.CompressionLevel.Fastest, members),
            "gzip" => Packs.Gzip(Packs.Tar(TarEntryFormat.Gnu, members)),
            "lz4" => Packs.Tar(TarEntryFormat.Ustar, ("boot.img.lz4", Packs.Lz4(noise))),
            "zstandard" => Packs.Zstandard(Packs.Tar(TarEntryFormat.Ustar, members)),
            "sparse" => await SparseAsync(noise),
            "locked" => Packs.LockedZip("boot.img", noise, "quay 7"),
            _ => Packs.Zip(
                System.IO.Compression.CompressionLevel.Fastest,
                ("a.tar", Packs.Tar(TarEntryFormat.Ustar, members)),
                ("b.tar", Packs.Tar(TarEntryFormat.Ustar, ("regionpack.img.gz", Packs.Gzip(noise))))
            ),
        };
        var random = new Random(20_261_126);
        for (var round = 0; round < 250; round++)
        {
            var changed = (byte[])file.Clone();
            for (var n = random.Next(1, 6); n > 0; n--)
            {
                var at = random.Next(changed.Length);
                changed[at] = random.Next(4) switch
                {
                    0 => 0xFF,
                    1 => 0,
                    2 => (byte)(changed[at] ^ 1 << random.Next(8)),
                    _ => (byte)random.Next(256),
                };
            }

            if (random.Next(5) == 0)
                changed = changed[..random.Next(changed.Length)];
            var contents = await InspectAsync(changed, format == "locked" ? "quay 7" : null);
            Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(changed)), contents.Sha256);
            Assert.NotNull(PackageReader.Read("x", contents, Repo.Catalogue));
        }
    }

    private static async Task<byte[]> SparseAsync(byte[] data)
    {
        var image = new MemoryStream();
        var writer = await Sparse.SparseWriter.BeginAsync(image, new Sparse.SparseHeader(4096, 6, 4, 0));
        await writer.BeginRawAsync(2);
        await image.WriteAsync(data.AsMemory(0, 8192));
        await writer.CrcAsync(System.IO.Hashing.Crc32.HashToUInt32(data.AsSpan(0, 8192)));
        await writer.FillAsync(1, 7);
        await writer.DontCareAsync(3);
        writer.End();
        return image.ToArray();
    }
}

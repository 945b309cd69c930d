using System.Buffers.Binary;
using System.Formats.Tar;
using System.IO.Compression;
using System.Text;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>Truncated, hostile and foreign files end in findings, never in exceptions and never as packages that may be written.</summary>
public partial class HostileTests
{
    private static readonly byte[] Boot = Packs.Noise(60_000);
    private static readonly byte[] Text = Encoding.UTF8.GetBytes("require board=HX204\nrequire version-bootloader=3\n");

    /// <summary>One of each way of packing; every byte of each is covered by a checksum somewhere.</summary>
    public static TheoryData<string> Shapes =>
        [
            "zip",
            "zip in tar",
            "zip in zip",
            "gzip in tar",
            "lz4 in tar",
            "tar in gzip",
            "tar in lz4",
            "tar in tar",
            "zip in gzip",
            "zstandard in tar",
            "tar in zstandard",
        ];

    private static byte[] Shape(string name)
    {
        (string, byte[])[] members = [("requirements.txt", Text), ("boot.img", Boot)];
        return name switch
        {
            "zip" => Packs.Zip(CompressionLevel.Fastest, members),
            "zip in tar" => Packs.Tar(TarEntryFormat.Pax, ("images.zip", Packs.Zip(CompressionLevel.Fastest, members))),
            "zip in zip" => Packs.Zip(CompressionLevel.Fastest, ("images.zip", Packs.Zip(CompressionLevel.Fastest, members))),
            "gzip in tar" => Packs.Tar(TarEntryFormat.Pax, ("requirements.txt", Text), ("boot.img.gz", Packs.Gzip(Boot))),
            "lz4 in tar" => Packs.Tar(TarEntryFormat.Pax, ("requirements.txt", Text), ("boot.img.lz4", Packs.Lz4(Boot))),
            "tar in gzip" => Packs.Gzip(Packs.Tar(TarEntryFormat.Pax, members)),
            "tar in lz4" => Packs.Lz4(Packs.Tar(TarEntryFormat.Pax, members)),
            "zstandard in tar" => Packs.Tar(TarEntryFormat.Pax, ("requirements.txt", Text), ("boot.img.zst", Packs.Zstandard(Boot))),
            "tar in zstandard" => Packs.Zstandard(Packs.Tar(TarEntryFormat.Pax, members)),
            "zip in gzip" => Packs.Gzip(Packs.Zip(CompressionLevel.Fastest, members)),
            _ => Packs.Tar(TarEntryFormat.Pax, ("images.tar", Packs.Tar(TarEntryFormat.Pax, members))),
        };
    }

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task Whole_it_is_read(string shape)
    {
        var contents = await Packs.InspectAsync(Shape(shape));
        Assert.False(contents.IsRefused());
        Assert.Equal(["require board=HX204"], contents.Requirements.Take(1).Select(line => $"require {line.Name}={line.Values[0]}"));
        Assert.Single(contents.Members, member =>
            member.Image?.Sha256 == Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(Boot))
        );
    }

    [Theory]
    [MemberData(nameof(Shapes))]
    public Task Cut_anywhere_it_is_refused_or_its_image_is_gone(string shape)
    {
        var whole = Shape(shape);
        return Gen.Int[0, whole.Length - 1]
            .SampleAsync(
                async length =>
                {
                    Sampled.Tried();
                    var contents = await Packs.InspectAsync(whole[..length]);
                    // A TAR cut after its last member lacks nothing but its end mark.
                    Assert.True(
                        contents.IsRefused()
                            || contents.Members.Any(member => member.Image?.Bytes == Boot.Length)
                                && shape.EndsWith("tar", StringComparison.Ordinal)
                    );
                    Assert.True(contents.IsRefused() || length > whole.Length - 10_500);
                },
                iter: Sampled.Of(5_000, 60)
            );
    }

    [Theory]
    [MemberData(nameof(Shapes))]
    public Task With_any_byte_changed_it_never_throws_nor_hides_a_changed_image(string shape)
    {
        var whole = Shape(shape);
        var good = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(Boot));
        return Gen.Select(Gen.Int[0, whole.Length - 1], Gen.Byte[1, 255])
            .SampleAsync(
                async (at, by) =>
                {
                    Sampled.Tried();
                    var changed = whole.ToArray();
                    changed[at] ^= by;
                    var contents = await Packs.InspectAsync(changed);
                    // Where the archive has a checksum of the image, a changed image is refused; a plain TAR has none but that of its
                    // headers.
                    if (
                        shape != "tar in tar"
                        && contents.Members.Any(member => member.Image is { } image && image.Sha256 != good && image.Bytes == Boot.Length)
                    )
                        Assert.True(contents.IsRefused());
                },
                iter: Sampled.Of(10_000, 150)
            );
    }

    [Fact]
    public async Task A_zip_whose_members_overlap_is_a_trap()
    {
        var zip = Packs.Zip(CompressionLevel.NoCompression, ("boot.img", Boot));
        // The list at its end names the one member forty times.
        var end = zip.Length - 22;
        var list = BinaryPrimitives.ReadInt32LittleEndian(zip.AsSpan(end + 16));
        var entry = zip[list..end];
        byte[] bomb = [.. zip[..list], .. Enumerable.Repeat(entry, 40).SelectMany(bytes => bytes), .. zip[end..]];
        var tail = bomb.AsSpan(bomb.Length - 22);
        BinaryPrimitives.WriteInt16LittleEndian(tail[8..], 40);
        BinaryPrimitives.WriteInt16LittleEndian(tail[10..], 40);
        BinaryPrimitives.WriteInt32LittleEndian(tail[12..], entry.Length * 40);
        var contents = await Packs.InspectAsync(bomb);
        Assert.Contains(contents.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("overlap"));
        Assert.InRange(contents.Members.Count, 0, 1);
    }

    [Fact]
    public async Task A_zip_with_a_list_of_its_members_that_fills_the_memory_is_a_trap()
    {
        var many = Packs.Zip(CompressionLevel.NoCompression, [.. Enumerable.Range(0, 5000).Select(i => ($"{i}", (byte[])[1]))]);
        Assert.Contains((await Packs.InspectAsync(many)).Findings, finding =>
            finding.Weight == FindingWeight.Fatal && finding.Text.Contains("more than 4096 members")
        );
        // The list is as long as it is, whatever its own count says.
        var zip = Packs.Zip(CompressionLevel.NoCompression, ("boot.img", Boot));
        byte[] padded = [.. zip[..^22], .. new byte[17 << 20], .. zip[^22..]];
        Assert.Contains((await Packs.InspectAsync(padded)).Findings, finding =>
            finding.Weight == FindingWeight.Fatal && finding.Text.Contains("list of its members")
        );
    }

    [Fact]
    public async Task A_zip_that_lies_about_a_size_is_refused()
    {
        foreach (var delta in new[] { -7, 7 })
        {
            var zip = Packs.Zip(CompressionLevel.Fastest, ("boot.img", Boot));
            var list = BinaryPrimitives.ReadInt32LittleEndian(zip.AsSpan(zip.Length - 22 + 16));
            BinaryPrimitives.WriteInt32LittleEndian(zip.AsSpan(list + 24), Boot.Length + delta);
            Assert.True((await Packs.InspectAsync(zip)).IsRefused());
        }
    }

    [Fact]
    public async Task A_locked_zip_a_link_and_a_climbing_name_are_named()
    {
        var zip = Packs.Zip(
            CompressionLevel.Fastest,
            ("../../boot.img", Boot),
            ("a\\..\\radio.img", Boot),
            ("link.img", "boot.img"u8.ToArray()),
            ("secret.img", Boot)
        );
        var text = Encoding.Latin1.GetString(zip);
        var list = BinaryPrimitives.ReadInt32LittleEndian(zip.AsSpan(zip.Length - 22 + 16));
        // In the list: the flag for a password, and the rights of a link.
        zip[text.IndexOf("secret.img", list, StringComparison.Ordinal) - 46 + 8] |= 1;
        var link = text.IndexOf("link.img", list, StringComparison.Ordinal) - 46;
        BinaryPrimitives.WriteUInt32LittleEndian(zip.AsSpan(link + 38), 0xA1FF0000);
        var contents = await Packs.InspectAsync(zip);
        Assert.Contains(contents.Findings, finding => finding.Text == "secret.img is locked with a password.");
        Assert.Contains(contents.Findings, finding => finding.Text == "link.img is a link; it is ignored.");
        Assert.Equal(
            2,
            contents.Findings.Count(finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("leave the archive's folder"))
        );
    }

    [Fact]
    public async Task What_unpacks_to_too_much_is_a_trap()
    {
        var zeros = new byte[80 << 20];
        var file = Packs.Gzip(Packs.Tar(TarEntryFormat.Pax, ("boot.img", zeros)));
        Assert.False((await Packs.InspectAsync(file)).IsRefused());
        // Packed twice, the same zeros take next to nothing.
        var bomb = Packs.Zip(CompressionLevel.Optimal, ("inner.tar.gz", file));
        Assert.InRange(bomb.Length, 0, 20_000);
        Assert.Contains((await Packs.InspectAsync(bomb)).Findings, finding =>
            finding.Weight == FindingWeight.Fatal && finding.Text.Contains("a trap")
        );
        Assert.Contains((await Packs.InspectAsync(file, InspectionLimits.Default with { MaxUnpackedBytes = 1 << 20 })).Findings, finding =>
            finding.Text.Contains("a trap")
        );
    }

    [Theory]
    [InlineData('x')]
    [InlineData('g')]
    [InlineData('L')]
    [InlineData('K')]
    public async Task A_header_that_asks_for_gigabytes_of_memory_is_not_read(char type)
    {
        var header = new byte[512];
        "PaxHeader"u8.CopyTo(header);
        Encoding
            .ASCII.GetBytes($"0000644\00000000\00000000\0{Convert.ToString(1_500_000_000, 8)}\000000000000\0        {type}")
            .CopyTo(header, 100);
        "ustar\000"u8.CopyTo(header.AsSpan(257));
        Encoding.ASCII.GetBytes(Convert.ToString(header.Sum(b => b), 8).PadLeft(6, '0') + "\0 ").CopyTo(header, 148);
        byte[] file = [.. header, .. new byte[8 << 20]];
        foreach (var shape in new[] { file, Packs.Gzip(file), Packs.Zip(CompressionLevel.Fastest, ("set.tar", file)) })
            Assert.Contains((await Packs.InspectAsync(shape)).Findings, finding =>
                finding.Weight == FindingWeight.Fatal && finding.Text.Contains("a header in it is longer")
            );
    }

    [Fact]
    public async Task A_member_whose_size_stands_in_its_extended_header_is_read()
    {
        // As for members of more than 8 GiB: the plain header says nothing.
        var member = Packs.Tar(TarEntryFormat.Pax, ("boot.img", Boot));
        var at = Encoding.Latin1.GetString(member).IndexOf("boot.img\0", StringComparison.Ordinal);
        var plain = member[at..];
        Encoding.ASCII.GetBytes("00000000000").CopyTo(plain, 124);
        plain.AsSpan(148, 8).Fill((byte)' ');
        Encoding.ASCII.GetBytes(Convert.ToString(plain[..512].Sum(b => b), 8).PadLeft(6, '0') + "\0 ").CopyTo(plain, 148);
        var record = $"14 size={Boot.Length}\n";
        var extended = new byte[1024];
        "PaxHeader"u8.CopyTo(extended);
        Encoding
            .ASCII.GetBytes($"0000644\00000000\00000000\0{Convert.ToString(record.Length, 8).PadLeft(11, '0')}\000000000000\0        x")
            .CopyTo(extended, 100);
        "ustar\000"u8.CopyTo(extended.AsSpan(257));
        Encoding.ASCII.GetBytes(Convert.ToString(extended[..512].Sum(b => b), 8).PadLeft(6, '0') + "\0 ").CopyTo(extended, 148);
        Encoding.ASCII.GetBytes(record).CopyTo(extended, 512);
        var contents = await Packs.InspectAsync([.. extended, .. plain]);
        Assert.Equal((false, Boot.Length), (contents.IsRefused(), (int)contents.Members.Single().Image!.Bytes));
    }

    [Fact]
    public async Task Archives_are_followed_so_deep_and_no_deeper()
    {
        var archive = Packs.Zip(CompressionLevel.Fastest, ("boot.img", Boot));
        for (var depth = 1; depth < 3; depth++)
            archive = Packs.Zip(CompressionLevel.Fastest, ($"{depth}.zip", archive));
        Assert.False((await Packs.InspectAsync(archive)).IsRefused());
        var deeper = await Packs.InspectAsync(Packs.Zip(CompressionLevel.Fastest, ("outer.zip", archive)));
        Assert.Contains(deeper.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("3 deep"));
        Assert.DoesNotContain(deeper.Members, member => member.Image is not null);
    }

    [Theory]
    [MemberData(nameof(Shapes))]
    public async Task Cut_at_every_block_it_is_refused_or_whole(string shape)
    {
        var whole = Shape(shape);
        List<string> Images(PackageContents contents) => [.. contents.Members.Select(member => member.Image?.Sha256).OfType<string>()];
        var all = Images(await Packs.InspectAsync(whole));
        Assert.NotEmpty(all);
        for (var length = 0; length < whole.Length; length += 512)
        {
            var contents = await Packs.InspectAsync(whole[..length]);
            var images = Images(contents);
            // What holds no image is never written. A TAR cut after its last member lacks nothing but its end mark, and what it holds is
            // what it held.
            Assert.True(contents.IsRefused() || images.Count == 0 || images.SequenceEqual(all), $"{shape} cut at {length}");
        }
    }

    [Fact]
    public async Task A_name_that_is_there_twice_is_a_finding() =>
        Assert.True(
            (
                await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("requirements.txt", Text), ("boot.img", Boot), ("boot.img", Boot)))
            ).IsRefused()
        );

    [Fact]
    public async Task Reading_that_is_given_up_stops()
    {
        using var cancel = new CancellationTokenSource();
        var file = Packs.Tar(TarEntryFormat.Pax, [.. Enumerable.Range(0, 40).Select(i => ($"{i}.img", Packs.Noise(1 << 20, i)))]);
        var progress = new Tell(_ => cancel.Cancel());
        await Assert.ThrowsAnyAsync<OperationCanceledException>(() =>
            PackageInspector.InspectAsync(() => new MemoryStream(file, false), progress: progress, cancel: cancel.Token)
        );
    }

    private sealed class Tell(Action<long> tell) : IProgress<long>
    {
        public void Report(long value) => tell(value);
    }
}

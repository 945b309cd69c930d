using System.Formats.Tar;
using System.IO.Compression;
using System.Security.Cryptography;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>Wrappings that are cut, padded, doubled or followed by more.</summary>
public partial class HostileTests
{
    [Theory]
    [InlineData(new byte[] { 0x37, 0x7A, 0xBC, 0xAF, 0x27, 0x1C }, "7z")]
    [InlineData(new byte[] { 0x02, 0x21, 0x4C, 0x18 }, "the old LZ4 form")]
    public async Task An_image_in_a_wrapping_that_is_not_unpacked_is_never_taken_for_a_raw_one(byte[] magic, string name)
    {
        byte[] packed = [.. magic, .. Boot];
        foreach (var file in new[] { Packs.Tar(TarEntryFormat.Pax, ("boot.img", packed)), packed })
        {
            var contents = await Packs.InspectAsync(file);
            Assert.Contains(contents.Findings, finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains(name));
            Assert.DoesNotContain(contents.Members, member => member.Image is not null);
        }
    }

    [Fact]
    public async Task An_image_packed_twice_is_named() =>
        Assert.Contains(
            (await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img.gz", Packs.Gzip(Packs.Gzip(Boot)))))).Findings,
            finding => finding.Weight == FindingWeight.Fatal && finding.Text.Contains("its name does not go with")
        );

    [Fact]
    public Task A_wrapped_image_that_was_cut_before_it_was_packed_is_refused() =>
        Gen.Select(Gen.Bool, Gen.Int[1, 60_000])
            .SampleAsync(
                async (gzip, less) =>
                {
                    Sampled.Tried();
                    var wrapped = gzip ? Packs.Gzip(Boot) : Packs.Lz4(Boot);
                    var contents = await Packs.InspectAsync(
                        Packs.Tar(
                            TarEntryFormat.Pax,
                            ("boot.img.packed", wrapped[..Math.Max(20, wrapped.Length - less)]),
                            ("radio.img", Boot)
                        )
                    );
                    Assert.True(contents.IsRefused());
                    Assert.Contains(contents.Members, member => member.Name == "radio.img");
                },
                iter: Sampled.Of(5_000, 60)
            );

    /// <summary>
    /// Several members in a row, zeros after the last, and a cut, a changed byte or something strange anywhere among them.
    /// </summary>
    [Fact]
    public Task Gzip_members_and_padding_are_taken_whole_or_not_at_all() =>
        Gen.Select(Gen.Int[1, 4], Gen.Int[0, 20], Gen.Int[0, 2], Gen.Int)
            .SampleAsync(
                async (members, zeros, harm, seed) =>
                {
                    Sampled.Tried();
                    var random = new Random(seed);
                    // Zeros in plenty: a checksum or a length then ends with some of its own.
                    var pieces = Enumerable
                        .Range(0, members)
                        .Select(_ => Boot[..random.Next(1, 300)].Select(value => random.Next(3) == 0 ? (byte)0 : value).ToArray())
                        .ToList();
                    byte[] packed = [.. pieces.SelectMany(Packs.Gzip)];
                    packed = harm switch
                    {
                        1 => packed[..random.Next(20, packed.Length)],
                        2 => [.. packed, (byte)random.Next(1, 256), .. new byte[random.Next(0, 3)]],
                        _ => packed,
                    };
                    var contents = await Packs.InspectAsync(
                        Packs.Tar(TarEntryFormat.Pax, ("boot.img.gz", [.. packed, .. new byte[zeros]]), ("radio.img", Boot))
                    );
                    // A cut may fall between two members, and then what is left is whole, if another; and zeros may stand in for those that
                    // were cut off.
                    byte[] all = [.. pieces.SelectMany(piece => piece)];
                    var image = contents.Members.FirstOrDefault(member => member.Name == "boot.img.gz")?.Image;
                    if (harm == 0)
                        Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(all)), image?.Sha256);
                    else if (harm == 2)
                        Assert.True(contents.IsRefused());
                    else if (image is not null && !contents.IsRefused())
                        Assert.Contains(
                            image.Sha256,
                            Enumerable
                                .Range(1, members)
                                .Select(count =>
                                    Convert.ToHexStringLower(SHA256.HashData([.. pieces.Take(count).SelectMany(piece => piece)]))
                                )
                        );
                },
                iter: Sampled.Of(20_000, 400)
            );

    [Fact]
    public async Task Bytes_after_a_gzip_stream_are_not_passed_over() =>
        Assert.True((await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img.gz", [.. Packs.Gzip(Boot), 1, 2, 3])))).IsRefused());

    [Theory]
    [InlineData("zip")]
    [InlineData("tar")]
    public async Task An_archive_without_files_is_named(string kind) =>
        Assert.Contains(
            (
                await Packs.InspectAsync(kind == "zip" ? Packs.Zip(CompressionLevel.Fastest) : Packs.Tar(TarEntryFormat.Pax, ("empty", [])))
            ).Findings,
            finding => finding.Text.Contains("holds no file")
        );

    [Fact]
    public async Task A_single_image_is_no_package()
    {
        var contents = await Packs.InspectAsync(Boot);
        Assert.True(contents.IsRefused());
        Assert.True((await Packs.InspectAsync(Packs.Lz4(Boot))).IsRefused());
    }

    [Fact]
    public async Task Damage_in_one_member_does_not_hide_the_others()
    {
        var zip = Packs.Zip(CompressionLevel.NoCompression, ("boot.img", Boot), ("radio.img", Packs.Noise(50_000, 3)));
        zip[20_000] ^= 1;
        var contents = await Packs.InspectAsync(zip);
        Assert.Contains(contents.Findings, finding =>
            finding.Text.StartsWith("boot.img is damaged. Its bytes are not those", StringComparison.Ordinal)
        );
        Assert.Contains(contents.Members, member => member.Name == "radio.img");
    }
}

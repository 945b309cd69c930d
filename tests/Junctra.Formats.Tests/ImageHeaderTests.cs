using System.Buffers.Binary;
using System.Formats.Tar;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Images;

namespace Junctra.Formats.Tests;

/// <summary>What the beginning of an image says: written and read back the same, cut or changed always refused.</summary>
public class ImageHeaderTests
{
    private static readonly Gen<BootHeader> Headers = Gen.Select(
        Gen.Int[0, 4],
        Gen.Int[1, 127],
        Gen.Int[0, 127],
        Gen.Int[0, 127],
        Gen.Int[2001, 2127],
        Gen.Int[1, 12],
        (version, a, b, c, year, month) =>
            new BootHeader(
                version,
                c > 0 ? $"{a}.{b}.{c}"
                    : b > 0 ? $"{a}.{b}"
                    : $"{a}",
                $"{year}-{month:00}"
            )
    );

    [Fact]
    public void Boot_headers_of_every_version_read_back_the_same() =>
        Headers.Sample(header => BootHeaderReader.Read(BootHeaderWriter.Page(header, 9000, 5000), 4096 + 12_288 + 8192) == header);

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public void A_boot_image_may_lack_the_last_padding_and_no_byte_more(int version)
    {
        var page = BootHeaderWriter.Page(new BootHeader(version, "15", "2026-08"), 9000, 5000);
        // Header, three pages of kernel, two of the first file system, the last of which may end early.
        const long whole = 4096 + 3 * 4096 + 2 * 4096;
        Assert.Equal("15", BootHeaderReader.Read(page, whole - 4095).OsVersion);
        Assert.Throws<ImageFormatException>(() => BootHeaderReader.Read(page, whole - 4096));
    }

    [Fact]
    public void A_boot_header_without_versions_says_none()
    {
        var header = BootHeaderReader.Read(BootHeaderWriter.Page(new BootHeader(2, null, null), 1, 1), 3 * 4096);
        Assert.Equal((null, null), (header.OsVersion, header.SecurityPatch));
    }

    [Theory]
    [InlineData(40, 5u)]
    [InlineData(40, uint.MaxValue)]
    [InlineData(36, 0u)]
    [InlineData(36, 4097u)]
    [InlineData(36, 0x80000000u)]
    [InlineData(8, uint.MaxValue)]
    [InlineData(16, uint.MaxValue)]
    [InlineData(24, uint.MaxValue)]
    public void A_boot_header_with_an_absurd_field_is_refused(int at, uint value)
    {
        var page = BootHeaderWriter.Page(new BootHeader(0, "11", "2026-01"), 9000, 5000);
        BinaryPrimitives.WriteUInt32LittleEndian(page.AsSpan(at), value);
        Assert.Throws<ImageFormatException>(() => BootHeaderReader.Read(page, 1 << 20));
    }

    [Fact]
    public void Random_headers_end_in_a_reading_or_a_refusal() =>
        Gen
            .Byte.Array[0, 5000]
            .Sample(bytes =>
            {
                byte[][] starts =
                [
                    [.. "ANDROID!"u8, .. bytes],
                    [.. new byte[512], .. "EFI PART"u8, .. bytes],
                    [.. new byte[4096], .. "gDla"u8, .. bytes, .. new byte[20_000]],
                ];
                foreach (var start in starts)
                {
                    try
                    {
                        if (BootHeaderReader.IsBoot(start))
                            BootHeaderReader.Read(start, start.Length);
                        else if (PartitionTableReader.BlockOf(start) is { } block)
                            PartitionTableReader.Read(start, block);
                        else
                            DynamicLayoutReader.Read(start);
                    }
                    catch (ImageFormatException) { }
                }
            });

    private static readonly PartitionTable Table = new(
        512,
        [new("bootchain", 4 << 20), new("system", 96 << 20), new("userdata", 1L << 40)]
    );

    [Theory]
    [InlineData(512)]
    [InlineData(4096)]
    public void Partition_tables_read_back_the_same(int block)
    {
        var read = PartitionTableReader.Read(PartitionTableWriter.Write(Table with { BlockBytes = block }), block);
        Assert.Equal(block, read.BlockBytes);
        Assert.Equal(Table.Entries, read.Entries);
    }

    [Fact]
    public void Every_changed_bit_of_a_partition_table_is_refused()
    {
        var whole = PartitionTableWriter.Write(Table);
        // The header, and the entries in use; the checksums cover nothing else that is read.
        Gen.Select(Gen.Int[512 + 8, 512 + 91], Gen.Int[1024, 1024 + 3 * 128 - 1], Gen.Int[0, 7])
            .Sample(
                (inHeader, inEntries, bit) =>
                {
                    foreach (var at in new[] { inHeader, inEntries })
                    {
                        var changed = (byte[])whole.Clone();
                        changed[at] ^= (byte)(1 << bit);
                        Assert.Throws<ImageFormatException>(() => PartitionTableReader.Read(changed, 512));
                    }
                }
            );
    }

    private static readonly DynamicLayout Dynamic = new(
        512 << 20,
        [new("system_a", 40 << 20), new("system_b", 0), new("apps_a", 16 << 20)]
    );

    [Fact]
    public void Partitions_inside_one_image_read_back_the_same()
    {
        var read = DynamicLayoutReader.Read(DynamicLayoutWriter.Write(Dynamic));
        Assert.Equal(Dynamic.SizeBytes, read.SizeBytes);
        Assert.Equal(Dynamic.Entries, read.Entries);
    }

    [Fact]
    public void Every_changed_bit_of_the_list_inside_an_image_is_refused()
    {
        var whole = DynamicLayoutWriter.Write(Dynamic);
        var tables = 3 * 52 + 2 * 24 + 48 + 64;
        Gen.Select(Gen.Int[4096 + 4, 4096 + 51], Gen.Int[12_288, 12_288 + 128 + tables - 1], Gen.Int[0, 7])
            .Sample(
                (inGeometry, inMetadata, bit) =>
                {
                    foreach (var at in new[] { inGeometry, inMetadata })
                    {
                        var changed = (byte[])whole.Clone();
                        changed[at] ^= (byte)(1 << bit);
                        Assert.Throws<ImageFormatException>(() => DynamicLayoutReader.Read(changed));
                    }
                }
            );
    }

    [Fact]
    public void Headers_cut_anywhere_are_refused()
    {
        var (table, dynamic) = (PartitionTableWriter.Write(Table), DynamicLayoutWriter.Write(Dynamic));
        Gen.Select(Gen.Int[520, table.Length - 1], Gen.Int[4100, 12_288 + 128 + 315])
            .Sample(
                (t, d) =>
                {
                    Assert.Throws<ImageFormatException>(() => PartitionTableReader.Read(table.AsSpan(0, t), 512));
                    Assert.Throws<ImageFormatException>(() => DynamicLayoutReader.Read(dynamic.AsSpan(0, d)));
                }
            );
    }

    [Fact]
    public async Task An_image_is_known_by_its_beginning_whatever_it_is_wrapped_in()
    {
        byte[] boot = [.. BootHeaderWriter.Page(new BootHeader(4, "15", "2026-08"), 4096, 4096), .. Packs.Noise(3 * 4096)];
        foreach (
            var (wrapped, ending) in new[]
            {
                (boot, ""),
                (Packs.Gzip(boot), ".gz"),
                (Packs.Lz4(boot), ".lz4"),
                (Packs.Zstandard(boot), ".zst"),
            }
        )
        {
            var inTar = await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img" + ending, wrapped)));
            var alone = await Packs.InspectAsync(wrapped);
            foreach (var contents in new[] { inTar, alone })
            {
                Assert.False(contents.IsRefused());
                Assert.Equal(new BootHeader(4, "15", "2026-08"), Assert.Single(contents.Members).Image!.Inside!.Boot);
            }
        }
    }

    [Fact]
    public async Task A_header_that_lies_makes_the_package_unfit_to_write()
    {
        byte[] boot = [.. BootHeaderWriter.Page(new BootHeader(4, "15", "2026-08"), 1 << 30, 4096), .. Packs.Noise(3 * 4096)];
        var contents = await Packs.InspectAsync(Packs.Tar(TarEntryFormat.Pax, ("boot.img", boot)));
        Assert.Contains(contents.Findings, finding =>
            finding.Weight == FindingWeight.Fatal
            && finding.Text.StartsWith("boot.img has a boot header that claims", StringComparison.Ordinal)
        );
    }
}

using System.Formats.Tar;
using System.IO.Compression;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Images;
using Junctra.Formats.Sparse;
using Junctra.Formats.Text;
using K4os.Compression.LZ4.Streams;

namespace Junctra.Formats.Inspection;

/// <summary>Small good files of every form that is read, for <see cref="Mutations"/> to spoil.</summary>
public static class MutationSeeds
{
    private const int ImageBytes = 24 << 10;

    /// <summary>All of them, each with its name.</summary>
    public static async Task<IReadOnlyList<(string Name, byte[] Bytes)>> AllAsync()
    {
        byte[] boot = [.. BootHeaderWriter.Page(new BootHeader(2, "15", "2026-03"), 8192, 4096), .. Noise(ImageBytes, 1)];
        byte[] radio = Noise(ImageBytes, 2),
            system = await SparseAsync(Noise(32 << 10, 3)).ConfigureAwait(false),
            whole = Noise(64 << 10, 4);
        byte[] super =
        [
            .. DynamicLayoutWriter.Write(new DynamicLayout(64L << 20, [new("system_a", 32 << 10), new("system_b", 0)])),
            .. Noise(32 << 10, 5),
        ];
        var layout = PartitionTableWriter.Write(
            new PartitionTable(
                4096,
                [
                    new("bootloader", 4 << 20),
                    new("radio", 32 << 20),
                    new("boot", 16 << 20),
                    new("overlay", 4 << 20),
                    new("verify", 1 << 20),
                    new("recovery", 16 << 20),
                    new("system", 64 << 20),
                    new("userdata", 512 << 20),
                    new("identity", 4 << 20),
                ]
            )
        );
        var says = Encoding.UTF8.GetBytes(
            "require board=HX204\nrequire version-bootloader=3\nrequire version-baseband=HX204-R-26w06\nbuild=HX204/15.26w10-7.r3\n"
        );
        (string Name, byte[] Bytes)[] plain =
        [
            ("bootloader.img", radio),
            ("boot.img", boot),
            ("system.img", system),
            ("verify.img", Noise(4096, 6)),
        ];
        (string Name, byte[] Bytes)[] wrapped =
        [
            ("bootloader.img", radio),
            ("boot.img.gz", Gzip(boot)),
            ("system.img.lz4", Lz4(system)),
            ("radio.img.zst", Zstandard(whole)),
            ("super.img.lz4", Lz4(super, blockChecksums: true)),
        ];
        var inner = Tar(TarEntryFormat.Pax, [("part.txt", says), .. plain, Sums(plain)]);
        return
        [
            (
                "plain.tar",
                Tar(
                    TarEntryFormat.Ustar,
                    [
                        ("set/requirements.txt", says),
                        .. plain.Select(one => ("set/" + one.Name, one.Bytes)),
                        ("set/" + Sums(plain).Name, Sums(plain).Bytes),
                    ]
                )
            ),
            ("gnu.tar", Tar(TarEntryFormat.Gnu, [("requirements.txt", says), .. plain, Sums(plain), ("layout.img", layout)])),
            ("wrapped.tar", Tar(TarEntryFormat.Pax, [("requirements.txt", says), .. wrapped, Sums(wrapped)])),
            ("stored.zip", Zip(CompressionLevel.NoCompression, [("requirements.txt", says), .. plain, Sums(plain)])),
            ("packed.zip", Zip(CompressionLevel.Fastest, [("requirements.txt", says), .. wrapped, Sums(wrapped)])),
            (
                "nested.zip",
                Zip(
                    CompressionLevel.Fastest,
                    [
                        ("parts/chain.tar", inner),
                        ("parts/region.zip", Zip(CompressionLevel.Fastest, [("part.txt", says), ("radio.img", radio)])),
                        Sums([("parts/chain.tar", inner)]),
                    ]
                )
            ),
            ("packed.tar.gz", Gzip(inner)),
            ("packed.tar.lz4", Lz4(inner)),
            ("packed.tar.zst", Zstandard(inner)),
            ("system.img", system),
            ("boot.img", boot),
            ("super.img", super),
            ("layout.img", layout),
            ("boot.img.gz", Gzip(boot)),
            ("system.img.lz4", Lz4(system, blockChecksums: true)),
            (
                "update.zip",
                Zip(
                    CompressionLevel.Fastest,
                    [
                        (
                            "metadata",
                            Encoding.UTF8.GetBytes("pre-device=OB17\npost-build=OB17_2.6.118_r04_DNM\npost-security-patch-level=2026-03\n")
                        ),
                        ("boot.img", boot),
                        ("system.img", system),
                    ]
                )
            ),
            (
                "backup.tar",
                Tar(
                    TarEntryFormat.V7,
                    [
                        (
                            "backup.txt",
                            Encoding.UTF8.GetBytes(
                                "backup-serial=OBF20117\nbackup-model=OB17\ntaken=2026-02-14\nsystem=stock\nbuild=OB17_2.6.112_r04_DNM\n"
                            )
                        ),
                        ("boot.img", boot),
                        ("MD5SUMS", Md5Sums([("boot.img", boot)])),
                    ]
                )
            ),
        ];
    }

    private static byte[] Noise(int bytes, int seed)
    {
        var noise = new byte[bytes];
        new Random(seed).NextBytes(noise);
        noise[0] = 0xEE;
        return noise;
    }

    private static async Task<byte[]> SparseAsync(byte[] data)
    {
        const int block = 4096;
        var image = new MemoryStream();
        var writer = await SparseWriter
            .BeginAsync(image, new SparseHeader(block, (uint)(data.Length / block) + 40, 4, 0))
            .ConfigureAwait(false);
        await writer.BeginRawAsync((uint)(data.Length / block)).ConfigureAwait(false);
        await image.WriteAsync(data).ConfigureAwait(false);
        await writer.CrcAsync(System.IO.Hashing.Crc32.HashToUInt32(data)).ConfigureAwait(false);
        await writer.FillAsync(8, 0x5A5A5A5A).ConfigureAwait(false);
        await writer.DontCareAsync(32).ConfigureAwait(false);
        writer.End();
        return image.ToArray();
    }

    private static (string Name, byte[] Bytes) Sums((string Name, byte[] Bytes)[] members) =>
        (
            "SHA256SUMS",
            Encoding.UTF8.GetBytes(
                ChecksumText.Write(members.Select(one => new ChecksumLine(Convert.ToHexStringLower(SHA256.HashData(one.Bytes)), one.Name)))
            )
        );

#pragma warning disable CA5351 // Older publishers' lists have nothing better.
    private static byte[] Md5Sums((string Name, byte[] Bytes)[] members) =>
        Encoding.UTF8.GetBytes(
            ChecksumText.Write(members.Select(one => new ChecksumLine(Convert.ToHexStringLower(MD5.HashData(one.Bytes)), one.Name)))
        );
#pragma warning restore CA5351

    private static byte[] Tar(TarEntryFormat format, (string Name, byte[] Bytes)[] members)
    {
        var output = new MemoryStream();
        using (var tar = new TarWriter(output, format, leaveOpen: true))
        {
            foreach (var (name, bytes) in members)
            {
                TarEntry entry = format switch
                {
                    TarEntryFormat.V7 => new V7TarEntry(TarEntryType.V7RegularFile, name),
                    TarEntryFormat.Ustar => new UstarTarEntry(TarEntryType.RegularFile, name),
                    TarEntryFormat.Gnu => new GnuTarEntry(TarEntryType.RegularFile, name),
                    _ => new PaxTarEntry(TarEntryType.RegularFile, name),
                };
                (entry.DataStream, entry.ModificationTime) = (new MemoryStream(bytes), DateTimeOffset.UnixEpoch);
                tar.WriteEntry(entry);
            }
        }

        return output.ToArray();
    }

    private static byte[] Zip(CompressionLevel level, (string Name, byte[] Bytes)[] members)
    {
        var output = new MemoryStream();
        using (var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in members)
            {
                var entry = zip.CreateEntry(name, level);
                entry.LastWriteTime = new DateTimeOffset(2026, 9, 1, 0, 0, 0, TimeSpan.Zero);
                using var data = entry.Open();
                data.Write(bytes);
            }
        }

        return output.ToArray();
    }

    private static byte[] Gzip(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            gzip.Write(bytes);
        return packed.ToArray();
    }

    private static byte[] Lz4(byte[] bytes, bool blockChecksums = false)
    {
        var packed = new MemoryStream();
        using (
            var lz4 = LZ4Stream.Encode(
                packed,
                new LZ4EncoderSettings { ContentChecksum = !blockChecksums, BlockChecksum = blockChecksums },
                leaveOpen: true
            )
        )
            lz4.Write(bytes);
        return packed.ToArray();
    }

    private static byte[] Zstandard(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var zstd = new ZstdSharp.CompressionStream(packed, 3, leaveOpen: true))
        {
            zstd.SetParameter(ZstdSharp.Unsafe.ZSTD_cParameter.ZSTD_c_checksumFlag, 1);
            zstd.Write(bytes);
        }

        return packed.ToArray();
    }
}

using System.Formats.Tar;
using System.IO.Compression;
using K4os.Compression.LZ4.Streams;

namespace Junctra.StandIns;

/// <summary>Packs demo sets, with the same times and rights in every archive.</summary>
internal static class DemoArchives
{
    private static readonly DateTimeOffset Packed = new(2026, 9, 1, 8, 0, 0, TimeSpan.Zero);

    public static async Task TarAsync(Stream output, string folder, IEnumerable<(string Name, byte[] Bytes)> members)
    {
        await using var tar = new TarWriter(output, TarEntryFormat.Ustar, leaveOpen: true);
        foreach (var (name, bytes) in members)
        {
            await tar.WriteEntryAsync(
                new UstarTarEntry(TarEntryType.RegularFile, $"{folder}/{name}")
                {
                    DataStream = new MemoryStream(bytes),
                    ModificationTime = Packed,
                    Mode = UnixFileMode.UserRead | UnixFileMode.GroupRead | UnixFileMode.OtherRead,
                }
            );
        }
    }

    public static async Task ZipAsync(Stream output, string prefix, IEnumerable<(string Name, byte[] Bytes)> members)
    {
        await using var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true);
        foreach (var (name, bytes) in members)
        {
            var entry = zip.CreateEntry(prefix + name, CompressionLevel.Fastest);
            entry.LastWriteTime = Packed;
            await using var data = await entry.OpenAsync();
            await data.WriteAsync(bytes);
        }
    }

    public static byte[] Gzip(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var gzip = new GZipStream(packed, CompressionLevel.Fastest, leaveOpen: true))
            gzip.Write(bytes);
        return packed.ToArray();
    }

    public static byte[] Zstandard(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var zstd = new ZstdSharp.CompressionStream(packed, 3, leaveOpen: true))
        {
            zstd.SetParameter(ZstdSharp.Unsafe.ZSTD_cParameter.ZSTD_c_checksumFlag, 1);
            zstd.Write(bytes);
        }

        return packed.ToArray();
    }

    public static byte[] Lz4(byte[] bytes)
    {
        var packed = new MemoryStream();
        using (var lz4 = LZ4Stream.Encode(packed, new LZ4EncoderSettings { ContentChecksum = true }, leaveOpen: true))
            lz4.Write(bytes);
        return packed.ToArray();
    }
}

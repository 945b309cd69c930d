using System.Diagnostics;
using System.Formats.Tar;
using System.IO.Compression;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using K4os.Compression.LZ4.Streams;

namespace Junctra.Formats.Tests;

/// <summary>Archives as the libraries write them, and the system's own tools.</summary>
internal static class Packs
{
    /// <summary>Bytes that are no text, no archive and no known wrapping.</summary>
    public static byte[] Noise(int bytes, int seed = 7)
    {
        var noise = new byte[bytes];
        new Random(seed).NextBytes(noise);
        if (bytes > 0)
            noise[0] = 0xEE;
        return noise;
    }

    public static Task<PackageContents> InspectAsync(byte[] file, InspectionLimits? limits = null) =>
        PackageInspector.InspectAsync(() => new MemoryStream(file, writable: false), limits: limits);

    public static bool IsRefused(this PackageContents contents) => contents.Findings.Any(finding => finding.Weight == FindingWeight.Fatal);

    public static byte[] Tar(TarEntryFormat format, params (string Name, byte[] Bytes)[] members)
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
                entry.DataStream = new MemoryStream(bytes);
                tar.WriteEntry(entry);
            }
        }

        return output.ToArray();
    }

    public static byte[] Zip(CompressionLevel level, params (string Name, byte[] Bytes)[] members)
    {
        var output = new MemoryStream();
        using (var zip = new ZipArchive(output, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var (name, bytes) in members)
            {
                using var data = zip.CreateEntry(name, level).Open();
                data.Write(bytes);
            }
        }

        return output.ToArray();
    }

    public static byte[] Gzip(byte[] bytes)
    {
        var output = new MemoryStream();
        using (var gzip = new GZipStream(output, CompressionLevel.Fastest, leaveOpen: true))
            gzip.Write(bytes);
        return output.ToArray();
    }

    public static byte[] Lz4(byte[] bytes)
    {
        var output = new MemoryStream();
        using (var lz4 = LZ4Stream.Encode(output, new LZ4EncoderSettings { ContentChecksum = true }, leaveOpen: true))
            lz4.Write(bytes);
        return output.ToArray();
    }

    /// <summary>Runs a line of the shell in a folder, which must end well.</summary>
    public static async Task<string> ShellAsync(string folder, string line)
    {
        var start = new ProcessStartInfo("bash")
        {
            RedirectStandardOutput = true,
            WorkingDirectory = folder,
            ArgumentList = { "-c", "set -eo pipefail; " + line },
        };
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(0, process.ExitCode);
        return output.Trim();
    }

    public static byte[] Zstandard(byte[] bytes, int level = 3, int? windowLog = null)
    {
        var output = new MemoryStream();
        using (var zstd = new ZstdSharp.CompressionStream(output, level, leaveOpen: true))
        {
            zstd.SetParameter(ZstdSharp.Unsafe.ZSTD_cParameter.ZSTD_c_checksumFlag, 1);
            if (windowLog is { } log)
                zstd.SetParameter(ZstdSharp.Unsafe.ZSTD_cParameter.ZSTD_c_windowLog, log);
            zstd.Write(bytes);
        }

        return output.ToArray();
    }

    /// <summary>A ZIP of one stored member, locked in the traditional way of PKWARE's APPNOTE 6.1.</summary>
    public static byte[] LockedZip(string name, byte[] bytes, string password)
    {
        uint[] keys = [0x12345678, 0x23456789, 0x34567890];
        foreach (var c in password)
            Update((byte)c);
        var crc = System.IO.Hashing.Crc32.HashToUInt32(bytes);
        byte[] plain = [.. Noise(11, 3), (byte)(crc >> 24), .. bytes];
        var locked = new byte[plain.Length];
        for (var i = 0; i < plain.Length; i++)
        {
            var t = (ushort)(keys[2] | 2);
            locked[i] = (byte)(plain[i] ^ (byte)((t * (t ^ 1)) >> 8));
            Update(plain[i]);
        }

        var output = new MemoryStream();
        var writer = new BinaryWriter(output);
        var nameBytes = System.Text.Encoding.ASCII.GetBytes(name);
        writer.Write(0x04034B50);
        Common();
        writer.Write((short)0);
        writer.Write(nameBytes);
        writer.Write(locked);
        var list = (int)output.Position;
        writer.Write(0x02014B50);
        writer.Write((short)20);
        Common();
        writer.Write((short)0);
        writer.Write((short)0);
        writer.Write((short)0);
        writer.Write((short)0);
        writer.Write(0);
        writer.Write(0);
        writer.Write(nameBytes);
        var end = (int)output.Position;
        writer.Write(0x06054B50);
        writer.Write(0);
        writer.Write((short)1);
        writer.Write((short)1);
        writer.Write(end - list);
        writer.Write(list);
        writer.Write((short)0);
        return output.ToArray();

        void Common()
        {
            writer.Write((short)20);
            writer.Write((short)1);
            writer.Write((short)0);
            writer.Write(0x00210000);
            writer.Write(crc);
            writer.Write(locked.Length);
            writer.Write(bytes.Length);
            writer.Write((short)nameBytes.Length);
        }

        void Update(byte value)
        {
            keys[0] = Step(keys[0], value);
            keys[1] = (keys[1] + (byte)keys[0]) * 134775813 + 1;
            keys[2] = Step(keys[2], (byte)(keys[1] >> 24));
        }

        static uint Step(uint crc, byte value)
        {
            crc ^= value;
            for (var i = 0; i < 8; i++)
                crc = crc >> 1 ^ ((crc & 1) != 0 ? 0xEDB88320 : 0);
            return crc;
        }
    }
}

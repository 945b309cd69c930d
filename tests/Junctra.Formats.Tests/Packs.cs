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
        if (bytes > 0) noise[0] = 0xEE;
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
        using (var gzip = new GZipStream(output, CompressionLevel.Fastest, leaveOpen: true)) gzip.Write(bytes);
        return output.ToArray();
    }

    public static byte[] Lz4(byte[] bytes)
    {
        var output = new MemoryStream();
        using (var lz4 = LZ4Stream.Encode(output, new LZ4EncoderSettings { ContentChecksum = true }, leaveOpen: true)) lz4.Write(bytes);
        return output.ToArray();
    }

    /// <summary>Runs a line of the shell in a folder, which must end well.</summary>
    public static async Task<string> ShellAsync(string folder, string line)
    {
        var start = new ProcessStartInfo("bash") { RedirectStandardOutput = true, WorkingDirectory = folder, ArgumentList = { "-c", "set -eo pipefail; " + line } };
        using var process = Process.Start(start)!;
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        Assert.Equal(0, process.ExitCode);
        return output.Trim();
    }
}

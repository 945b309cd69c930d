using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Sparse;
using Junctra.Formats.Text;

namespace Junctra.StandIns;

/// <summary>One demo factory set.</summary>
/// <param name="FileName">Name of its file; as misleading as such names are.</param>
/// <param name="Model">Model code.</param>
/// <param name="Build">Build string.</param>
/// <param name="Os">Major OS version.</param>
/// <param name="Revision">Bootloader revision.</param>
/// <param name="SystemMegabytes">Size of the expanded system image in MiB.</param>
/// <param name="FlipByteOf">Member in which one byte is damaged after its digest was taken, or null.</param>
/// <param name="Layout">How its images are packed.</param>
internal sealed record DemoPackage(
    string FileName,
    string Model,
    string Build,
    int Os,
    int Revision,
    int SystemMegabytes,
    string? FlipByteOf = null,
    DemoLayout Layout = DemoLayout.Plain
);

/// <summary>How a demo set is packed.</summary>
internal enum DemoLayout
{
    /// <summary>A TAR with the images as they are.</summary>
    Plain,

    /// <summary>The same, with the system image raw too.</summary>
    PlainRaw,

    /// <summary>A TAR with images wrapped one by one, in LZ4 and gzip.</summary>
    Wrapped,

    /// <summary>A ZIP with boot chain and radio, named after model and version, and an inner ZIP with the rest.</summary>
    Nested,
}

/// <summary>
/// Writes the factory sets of the demo library: real TAR and ZIP files with requirement lines, checksum lists, raw and sparse images with
/// every kind of chunk, plain, wrapped and in an archive of their own. The same bytes on every computer.
/// </summary>
internal static class DemoPackages
{
    private const int BlockSize = 4096;
    private const int BlocksPerMegabyte = (1 << 20) / BlockSize;

    public static IReadOnlyList<DemoPackage> All { get; } =
    [
        new("cairn-stock-25w40.tar", "HX204", "HX204/14.25w40-3.r2", 14, 2, 36),
        new("cairn-stock-26w10.tar", "HX204", "HX204/15.26w10-7.r3", 15, 3, 40),
        // Named as if it were another kind of archive: what counts is what is inside.
        new("Cairn_latest_full.zip", "HX204", "HX204/15.26w30-2.r4", 15, 4, 42),
        new("cairn-26w14-from-a-stick.tar", "HX204", "HX204/15.26w14-1.r3", 15, 3, 40, FlipByteOf: "radio.img"),
        new("cairn-26w22-big.tar", "HX204", "HX204/15.26w22-5.r3", 15, 3, 52),
        new("cairn-26w08.tar", "HX204", "HX204/15.26w08-1.r3", 15, 3, 40, Layout: DemoLayout.Wrapped),
        new("cairn-26w06-set.zip", "HX204", "HX204/15.26w06-3.r3", 15, 3, 40, Layout: DemoLayout.Nested),
        new("cairn-small-26w10.tar", "HX204C", "HX204C/15.26w10-4.r3", 15, 3, 28),
    ];

    /// <summary>
    /// Writes all packages that are not there yet, or are of an older generator; each appears under its name only when it is whole.
    /// </summary>
    public static async Task WriteAsync(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var package in All)
        {
            await WriteWholeAsync(Path.Combine(folder, package.FileName), to => WriteAsync(package, to));
        }
    }

    /// <summary>What no maker sent out: damaged, patched, or taken from a phone.</summary>
    private static readonly string[] NobodysRelease =
    [
        "cairn-26w14-from-a-stick.tar",
        "patched-system-8.1.tar",
        "patched-system-8.2.tar",
        "update.zip.zip",
        "fell-own-backup.tar",
        "fell-backup-from-the-web.tar",
        "recovery.img",
    ];

    /// <summary>
    /// Writes the list that the makers publish of what they sent out, for a lead to take in. Its name keeps it out of the library.
    /// </summary>
    public static async Task PublishAsync(string folder)
    {
        var list = Path.Combine(folder, ".published.sha256");
        var files = new DirectoryInfo(folder)
            .EnumerateFiles()
            .Where(file => file.Extension is ".tar" or ".zip" && !NobodysRelease.Contains(file.Name))
            .OrderBy(file => file.Name, StringComparer.Ordinal)
            .ToList();
        if (File.Exists(list) && files.All(file => file.LastWriteTimeUtc <= File.GetLastWriteTimeUtc(list)))
            return;
        var lines = new List<ChecksumLine>();
        foreach (var file in files)
        {
            await using var bytes = file.OpenRead();
            lines.Add(new ChecksumLine(Convert.ToHexStringLower(await SHA256.HashDataAsync(bytes)), file.Name));
        }

        await File.WriteAllTextAsync(list, ChecksumText.Write(lines));
    }

    /// <summary>
    /// Writes a file that is not there yet, or is of an older generator; it appears under its name only when it is whole.
    /// </summary>
    public static async Task WriteWholeAsync(string path, Func<Stream, Task> write)
    {
        // One of an older generator is another file.
        if (File.Exists(path) && File.GetLastWriteTimeUtc(path) > File.GetLastWriteTimeUtc(typeof(DemoPackages).Assembly.Location))
            return;
        var partial = path + ".partial";
        await using (var file = File.Create(partial))
            await write(file);
        File.Move(partial, path, overwrite: true);
    }

    /// <summary>Writes one package.</summary>
    public static async Task WriteAsync(DemoPackage package, Stream output)
    {
        var members = new List<(string Name, byte[] Bytes)>
        {
            ("bootloader.img", Image(package, 2 << 20, "bootloader", ("revision", package.Revision.ToString()))),
            ("radio.img", Image(package, 6 << 20, "radio", ("radio", RadioOf(package)))),
            ("boot.img", Boot(package, 5 << 20, "boot")),
            ("overlay.img", Image(package, 512 << 10, "overlay")),
            ("verify.img", Image(package, 64 << 10, "verify")),
            ("recovery.img", Boot(package, 3 << 20, "recovery")),
            ("system.img", package.Layout == DemoLayout.PlainRaw ? RawSystem(package) : await SystemAsync(package)),
        };
        var requirements = (
            "requirements.txt",
            Encoding.UTF8.GetBytes(
                RequirementText.Write([
                    new RequirementLine("board", [package.Model], true),
                    new RequirementLine("version-bootloader", [package.Revision.ToString()], true),
                    new RequirementLine("version-baseband", [RadioOf(package)], true),
                    new RequirementLine("security-patch", [PatchOf(package)], false),
                    new RequirementLine("build", [package.Build], false),
                ])
            )
        );
        switch (package.Layout)
        {
            case DemoLayout.Plain or DemoLayout.PlainRaw:
                var sums = Sums(members);
                foreach (var (name, bytes) in members.Where(m => m.Name == package.FlipByteOf))
                    bytes[bytes.Length / 2] ^= 0x20;
                await DemoArchives.TarAsync(output, Folder(package), [requirements, .. members, sums]);
                break;
            case DemoLayout.Wrapped:
                var wrapped = members
                    .Select(m =>
                        m.Name is "boot.img" ? (m.Name + ".gz", DemoArchives.Gzip(m.Bytes))
                        : m.Name is "bootloader.img" or "verify.img" ? m
                        : (m.Name + ".lz4", DemoArchives.Lz4(m.Bytes))
                    )
                    .ToList();
                await DemoArchives.TarAsync(output, Folder(package), [requirements, .. wrapped, Sums(wrapped)]);
                break;
            case DemoLayout.Nested:
                var model = package.Model.ToLowerInvariant();
                string[] outside = ["bootloader.img", "radio.img"];
                var inner = new MemoryStream();
                await DemoArchives.ZipAsync(inner, "", [requirements, .. members.Where(m => !outside.Contains(m.Name))]);
                List<(string Name, byte[] Bytes)> outer =
                [
                    .. members
                        .Where(m => outside.Contains(m.Name))
                        .Select(m => ($"{m.Name[..^4]}-{model}-r{package.Revision}.img", m.Bytes)),
                    ($"image-{model}.zip", inner.ToArray()),
                ];
                await DemoArchives.ZipAsync(output, Folder(package) + "/", [.. outer, Sums(outer)]);
                break;
        }
    }

    private static string Folder(DemoPackage package) => package.Build.Replace('/', '-').ToLowerInvariant();

    private static (string Name, byte[] Bytes) Sums(List<(string Name, byte[] Bytes)> members) =>
        (
            "SHA256SUMS",
            Encoding.UTF8.GetBytes(
                ChecksumText.Write(members.Select(m => new ChecksumLine(Convert.ToHexStringLower(SHA256.HashData(m.Bytes)), m.Name)))
            )
        );

    public static string RadioOf(DemoPackage package) => $"{package.Model}-R-{package.Build.Split('.')[1].Split('-')[0]}";

    private static byte[] Image(DemoPackage package, int bytes, string name, params (string, string)[] more) =>
        DemoImages.Bytes(bytes, package.Build + name, DemoImages.StampText([("model", package.Model), ("part", name), .. more]));

    private static byte[] Boot(DemoPackage package, int bytes, string name) =>
        DemoImages.Boot(
            bytes,
            package.Build + name,
            new BootHeader(package.Os >= 15 ? 4 : 2, package.Os.ToString(), PatchOf(package)),
            DemoImages.StampText(("model", package.Model), ("part", name))
        );

    private static string PatchOf(DemoPackage package) => $"2026-{1 + int.Parse(package.Build.Split('w')[1][..2]) / 5:00}";

    private static byte[] RawSystem(DemoPackage package)
    {
        var bytes = package.SystemMegabytes << 20;
        var image = DemoImages.Bytes(
            bytes,
            package.Build + "system",
            DemoImages.StampText(
                ("model", package.Model),
                ("part", "system"),
                ("build", package.Build),
                ("os", package.Os.ToString()),
                ("end", (bytes - 64).ToString())
            )
        );
        DemoImages.PutEndMark(image, bytes - 64);
        return image;
    }

    /// <summary>A sparse system image: data, a fill, holes, a checksum in the middle, and its end mark in the last data.</summary>
    private static async Task<byte[]> SystemAsync(DemoPackage package)
    {
        var totalBlocks = (uint)(package.SystemMegabytes * BlocksPerMegabyte);
        const uint firstRun = 6 * BlocksPerMegabyte,
            secondRun = 3 * BlocksPerMegabyte,
            fill = 2 * BlocksPerMegabyte;
        var lastRun = (uint)BlocksPerMegabyte;
        var hole = totalBlocks - firstRun - fill - secondRun - lastRun;
        var endAt = (long)totalBlocks * BlockSize - 64;
        var first = DemoImages.Bytes(
            (int)firstRun * BlockSize,
            package.Build + "system",
            DemoImages.StampText(
                ("model", package.Model),
                ("part", "system"),
                ("build", package.Build),
                ("os", package.Os.ToString()),
                ("end", endAt.ToString())
            )
        );
        var second = DemoImages.Bytes((int)secondRun * BlockSize, package.Build + "apps", null);
        var last = DemoImages.Bytes((int)lastRun * BlockSize, package.Build + "last", null);
        DemoImages.PutEndMark(last, last.Length - 64);
        var crc = new Crc32();
        crc.Append(first);
        crc.Append(Enumerable.Repeat((byte)0xA5, (int)fill * BlockSize).ToArray());

        var image = new MemoryStream();
        var writer = await SparseWriter.BeginAsync(image, new SparseHeader(BlockSize, totalBlocks, 6, 0));
        await writer.BeginRawAsync(firstRun);
        await image.WriteAsync(first);
        await writer.FillAsync(fill, 0xA5A5A5A5);
        await writer.CrcAsync(crc.GetCurrentHashAsUInt32());
        await writer.BeginRawAsync(secondRun);
        await image.WriteAsync(second);
        await writer.DontCareAsync(hole);
        await writer.BeginRawAsync(lastRun);
        await image.WriteAsync(last);
        writer.End();
        return image.ToArray();
    }
}

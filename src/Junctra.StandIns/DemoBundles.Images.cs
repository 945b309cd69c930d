using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Images;
using Junctra.Formats.Sparse;
using Junctra.Formats.Text;

namespace Junctra.StandIns;

/// <summary>What a bundle is of, and the images in it.</summary>
internal static partial class DemoBundles
{
    /// <summary>A bundle's names.</summary>
    private sealed record Bundle(string Model, string Chip, string Build, bool HasLayout = false, bool HasData = false)
    {
        public string Month => $"2026-0{1 + Build.Sum(c => c) % 8}";

        public string Seed(string part) => Build + part;

        /// <summary>What its boot chain brings, and its system: a phone that is written with it knows them by their stamps.</summary>
        public string Revision =>
            Model switch
            {
                ['T', 'N', ..] => Build.Split('.')[1],
                "TRB62" => int.Parse(Build.Split('-')[3]).ToString(),
                _ => Build[^1..],
            };

        /// <inheritdoc cref="Revision"/>
        public int Os =>
            Model switch
            {
                "TN63E" or "TN63W" => 15,
                "TRB62" => 14,
                "HX310" => 16,
                "OB17" => 2,
                _ => 11,
            };

        /// <summary>Its radio's own build, where its maker's radios have one that differs.</summary>
        public string? Radio =>
            Model switch
            {
                ['T', 'N', ..] => $"{Model}-R-{Build.Split('.')[2]}-{(Build.Contains("SRV") ? 'E' : 'N')}",
                "TRB62" => $"{Model}-R-{Build.Split('-')[1]}-{Build.Split('-')[^1]}",
                _ => null,
            };
    }

    private static byte[] Recovery(string build) => Boot(new Bundle("OB17", "Dolan Minor", build), "recovery", 2);

    private static (string Name, byte[] Bytes) Says(Bundle bundle, string[] more) =>
        (
            "part.txt",
            Encoding.UTF8.GetBytes(
                $"require board={bundle.Model}\nrequire chip={bundle.Chip}\nbuild={bundle.Build}\nsecurity-patch={bundle.Month}\n{string.Concat(more.Select(line => line + "\n"))}"
            )
        );

    private static (string Name, byte[] Bytes) Sums(List<(string Name, byte[] Bytes)> members) =>
        (
            "SHA256SUMS",
            Encoding.UTF8.GetBytes(
                ChecksumText.Write(members.Select(m => new ChecksumLine(Convert.ToHexStringLower(SHA256.HashData(m.Bytes)), m.Name)))
            )
        );

    private static byte[] Stamped(Bundle bundle, int bytes, string part)
    {
        List<(string, string)> lines = [("model", bundle.Model), ("part", part), ("build", bundle.Build)];
        if (part == "bootchain")
            lines.Add(("revision", bundle.Revision));
        if (part == "radio" && bundle.Radio is { } radio)
            lines.Add(("radio", radio));
        if (part == "system")
            lines.AddRange([("os", bundle.Os.ToString()), ("end", (bytes - EndMarkRoom).ToString())]);
        var image = DemoImages.Bytes(bytes, bundle.Seed(part), DemoImages.StampText([.. lines]));
        if (part == "system")
            DemoImages.PutEndMark(image, bytes - EndMarkRoom);
        return image;
    }

    /// <summary>User data that a phone had: it knows by their stamp which system used them.</summary>
    private static byte[] Data(Bundle bundle, string seed) =>
        DemoImages.Bytes(
            6 << 20,
            seed,
            DemoImages.StampText(("model", bundle.Model), ("part", "userdata"), ("build", bundle.Build), ("os", bundle.Os.ToString()))
        );

    private static byte[] Boot(Bundle bundle, string part, int os) =>
        DemoImages.Boot(
            3 << 20,
            bundle.Seed(part),
            new BootHeader(
                os switch
                {
                    <= 2 => 0,
                    <= 11 => 1,
                    <= 14 => 2,
                    15 => 3,
                    _ => 4,
                },
                $"{os}",
                bundle.Month
            ),
            DemoImages.StampText(("model", bundle.Model), ("part", part), ("build", bundle.Build))
        );

    /// <summary>A sparse image with every kind of chunk.</summary>
    private static async Task<byte[]> SparseAsync(Bundle bundle, string part, int megabytes, int dataMegabytes)
    {
        var data = Stamped(bundle, dataMegabytes << 20, part);
        uint total = (uint)(megabytes * BlocksPerMegabyte),
            raw = (uint)(dataMegabytes * BlocksPerMegabyte),
            fill = BlocksPerMegabyte;
        var image = new MemoryStream();
        var writer = await SparseWriter.BeginAsync(image, new SparseHeader(Block, total, 4, 0));
        await writer.BeginRawAsync(raw);
        await image.WriteAsync(data);
        await writer.CrcAsync(System.IO.Hashing.Crc32.HashToUInt32(data));
        await writer.FillAsync(fill, 0x5A5A5A5A);
        await writer.DontCareAsync(total - raw - fill);
        writer.End();
        return image.ToArray();
    }

    private const int EmptyMegabytes = 4;

    /// <summary>User data as they are on a new phone.</summary>
    private static async Task<byte[]> EmptyAsync(Bundle bundle)
    {
        var image = new MemoryStream();
        var writer = await SparseWriter.BeginAsync(image, new SparseHeader(Block, EmptyMegabytes * BlocksPerMegabyte, 2, 0));
        await writer.BeginRawAsync(1);
        await image.WriteAsync(Stamped(bundle, Block, "empty"));
        await writer.DontCareAsync(EmptyMegabytes * BlocksPerMegabyte - 1);
        writer.End();
        return image.ToArray();
    }

    /// <summary>One big image with partitions of two slots inside; the second slot's take nothing.</summary>
    private static async Task<byte[]> SuperAsync(Bundle bundle)
    {
        const int systemMegabytes = 20,
            productMegabytes = 8,
            dataMegabytes = 6;
        var head = DynamicLayoutWriter.Write(
            new DynamicLayout(
                512L << 20,
                [new("system_a", systemMegabytes << 20), new("system_b", 0), new("product_a", productMegabytes << 20), new("product_b", 0)]
            )
        );
        var data = Stamped(bundle, dataMegabytes << 20, "system");
        // Room that the format leaves free: a phone tells by it what it was given.
        Encoding.UTF8.GetBytes(
            DemoImages.StampText(
                ("model", bundle.Model),
                ("part", "super"),
                ("build", bundle.Build),
                ("os", bundle.Os.ToString()),
                ("end", (head.Length + data.Length - EndMarkRoom).ToString())
            ),
            head
        );
        uint total = (1 + systemMegabytes + productMegabytes) * BlocksPerMegabyte,
            headBlocks = (uint)(head.Length / Block),
            raw = dataMegabytes * BlocksPerMegabyte;
        var image = new MemoryStream();
        var writer = await SparseWriter.BeginAsync(image, new SparseHeader(Block, total, 3, 0));
        await writer.BeginRawAsync(headBlocks);
        await image.WriteAsync(head);
        await writer.BeginRawAsync(raw);
        await image.WriteAsync(data);
        await writer.DontCareAsync(total - headBlocks - raw);
        writer.End();
        return image.ToArray();
    }

    private static byte[] Layout() =>
        PartitionTableWriter.Write(
            new PartitionTable(
                4096,
                [
                    new("bootchain", 8 << 20),
                    new("radio", 32 << 20),
                    new("boot", 16 << 20),
                    new("recovery", 16 << 20),
                    new("system", 160 << 20),
                    new("regionpack", 24 << 20),
                    new("userdata", 512 << 20),
                    new("identity", 4 << 20),
                ]
            )
        );
}

using System.Buffers;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>Keeps the first bytes of an expanded image while it passes, and reads what they say.</summary>
internal sealed class ImageBeginning
{
    private static readonly int MaxBytes = Math.Max(PartitionTableReader.MaxBytes, DynamicLayoutReader.MaxBytes);
    private readonly ArrayBufferWriter<byte> kept = new();

    /// <summary>Whether an image that begins so can be known by it.</summary>
    public static bool IsKnown(ReadOnlySpan<byte> start) =>
        BootHeaderReader.IsBoot(start)
        || PartitionTableReader.BlockOf(start) is not null
        || DynamicLayoutReader.IsDynamic(start)
        || FileSystemOf(start) is not null;

    // Where a file system, or another thing that fills a partition, has its mark: ext 2 to 4 (kernel.org, "ext4 Data Structures"), F2FS,
    // EROFS and squashfs
    // (kernel.org, "Filesystems"), FAT (ECMA-107), the tables of verified boot, hardware descriptions and their overlays (devicetree.org,
    // chapter 5).
    private static readonly (int At, byte[] Mark, string Name)[] Marks =
    [
        (1080, [0x53, 0xEF], "ext4"),
        (1024, [0x10, 0x20, 0xF5, 0xF2], "F2FS"),
        (1024, [0xE2, 0xE1, 0xF5, 0xE0], "EROFS"),
        (0, [.. "hsqs"u8], "squashfs"),
        (54, [.. "FAT1"u8], "FAT"),
        (82, [.. "FAT32"u8], "FAT"),
        (0, [.. "AVB0"u8], "verification table"),
        (0, [0xD0, 0x0D, 0xFE, 0xED], "hardware description"),
        (0, [0xD7, 0xB7, 0xAB, 0x1E], "hardware overlays"),
        (0, [0x7F, .. "ELF"u8], "program"),
    ];

    /// <summary>The file system, or what else is known to fill a partition, that begins so; null where it is none of them.</summary>
    public static string? FileSystemOf(ReadOnlySpan<byte> start)
    {
        foreach (var (at, mark, name) in Marks)
            if (start.Length >= at + mark.Length && start[at..].StartsWith(mark))
                return name;
        return null;
    }

    /// <summary>Takes bytes in order.</summary>
    public void Take(ReadOnlySpan<byte> bytes)
    {
        if (kept.WrittenCount < MaxBytes)
            kept.Write(bytes[..Math.Min(bytes.Length, MaxBytes - kept.WrittenCount)]);
    }

    /// <summary>What the image says at its beginning.</summary>
    /// <param name="imageBytes">Size of the expanded image.</param>
    /// <returns>What it says, or a fault that follows the image's name; neither where it begins like nothing known.</returns>
    public (ImageInside? Inside, string? Fault) Read(long imageBytes)
    {
        var start = kept.WrittenSpan;
        try
        {
            if (BootHeaderReader.IsBoot(start))
                return (new ImageInside(Boot: BootHeaderReader.Read(start, imageBytes)), null);
            if (PartitionTableReader.BlockOf(start) is { } block)
                return (new ImageInside(Table: PartitionTableReader.Read(start, block)), null);
            return DynamicLayoutReader.IsDynamic(start) ? (new ImageInside(Dynamic: DynamicLayoutReader.Read(start)), null) : (null, null);
        }
        catch (ImageFormatException error)
        {
            return (null, error.Message);
        }
    }
}

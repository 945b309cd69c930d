using System.Buffers;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>Keeps the first bytes of an expanded image while it passes, and reads what they say.</summary>
internal sealed class ImageBeginning
{
    private static readonly int MostBytes = Math.Max(PartitionTableReader.MostBytes, DynamicLayoutReader.MostBytes);
    private readonly ArrayBufferWriter<byte> kept = new();

    /// <summary>Whether an image that begins so can be known by it.</summary>
    public static bool IsKnown(ReadOnlySpan<byte> start) =>
        BootHeaderReader.IsBoot(start) || PartitionTableReader.BlockOf(start) is not null || DynamicLayoutReader.IsDynamic(start);

    /// <summary>Takes bytes in order.</summary>
    public void Take(ReadOnlySpan<byte> bytes)
    {
        if (kept.WrittenCount < MostBytes) kept.Write(bytes[..Math.Min(bytes.Length, MostBytes - kept.WrittenCount)]);
    }

    /// <summary>What the image says at its beginning.</summary>
    /// <param name="imageBytes">Size of the expanded image.</param>
    /// <returns>What it says, or a fault that follows the image's name; neither where it begins like nothing known.</returns>
    public (ImageInside? Inside, string? Fault) Read(long imageBytes)
    {
        var start = kept.WrittenSpan;
        try
        {
            if (BootHeaderReader.IsBoot(start)) return (new ImageInside(Boot: BootHeaderReader.Read(start, imageBytes)), null);
            if (PartitionTableReader.BlockOf(start) is { } block) return (new ImageInside(Table: PartitionTableReader.Read(start, block)), null);
            return DynamicLayoutReader.IsDynamic(start) ? (new ImageInside(Dynamic: DynamicLayoutReader.Read(start)), null) : (null, null);
        }
        catch (ImageFormatException error)
        {
            return (null, error.Message);
        }
    }
}

using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>Reads which partitions lie inside one big image, from the open metadata at its beginning, version 10.</summary>
/// <remarks>
/// A geometry block at 4,096 with the room for the metadata; the metadata at 12,288: a header with its own SHA-256 and that of its four
/// tables
/// (partitions, extents, groups, block devices), all little-endian.
/// </remarks>
public static class DynamicLayoutReader
{
    private const int GeometryAt = 4096;
    private const int MetadataAt = 12_288;
    private const int GeometryBytes = 52;
    private const int OldHeaderBytes = 128;
    private const int NewHeaderBytes = 256;
    private const int MaxMetadata = 128 << 10;
    private const int Sector = 512;
    private const int NameBytes = 36;
    private static readonly int[] EntryBytes = [52, 24, 48, 64];

    /// <summary>How much of the beginning is enough to read any metadata that is taken.</summary>
    public const int MaxBytes = MetadataAt + MaxMetadata;

    /// <summary>Whether bytes begin like such an image.</summary>
    public static bool IsDynamic(ReadOnlySpan<byte> start) => start.Length >= GeometryAt + 4 && start[GeometryAt..].StartsWith("gDla"u8);

    /// <summary>Reads a layout.</summary>
    /// <param name="start">The first bytes of the image, <see cref="MaxBytes"/> of them or all there are.</param>
    /// <exception cref="ImageFormatException">The metadata is cut off, damaged, or what it says cannot be.</exception>
    public static DynamicLayout Read(ReadOnlySpan<byte> start)
    {
        if (start.Length < MetadataAt + OldHeaderBytes)
            throw Cut();
        var geometry = start.Slice(GeometryAt, GeometryBytes);
        if (Word(geometry, 4) != GeometryBytes || !IsDigest(geometry, 8))
            throw Damaged();
        var header = start[MetadataAt..];
        if (!header.StartsWith("0PLA"u8))
            throw Damaged();
        var headerBytes = Word(header, 8);
        if (BinaryPrimitives.ReadUInt16LittleEndian(header[4..]) != 10)
            throw new ImageFormatException("holds partitions of its own in a version that is not known.");
        if (headerBytes is not (OldHeaderBytes or NewHeaderBytes))
            throw Damaged();
        if (header.Length < headerBytes)
            throw Cut();
        var tablesBytes = Word(header, 44);
        if (headerBytes + (long)tablesBytes > Math.Min(Word(geometry, 40), MaxMetadata))
            throw new ImageFormatException($"claims {tablesBytes} bytes of tables for the partitions in it.");
        if (headerBytes + tablesBytes > header.Length)
            throw Cut();
        if (!IsDigest(header[..(int)headerBytes], 12))
            throw Damaged();
        var tables = header.Slice((int)headerBytes, (int)tablesBytes);
        if (!SHA256.HashData(tables).AsSpan().SequenceEqual(header[48..80]))
            throw Damaged();
        var (partitions, partitionCount) = Table(header, tables, 0);
        var (extents, extentCount) = Table(header, tables, 1);
        var (devices, deviceCount) = Table(header, tables, 3);
        if (deviceCount == 0)
            throw Damaged();
        var entries = new List<TableEntry>(partitionCount);
        for (var i = 0; i < partitionCount; i++)
        {
            var entry = partitions.Span.Slice(i * EntryBytes[0], EntryBytes[0]);
            long bytes = 0;
            var (first, count) = (Word(entry, NameBytes + 4), Word(entry, NameBytes + 8));
            if (first + (long)count > extentCount)
                throw Damaged();
            for (var n = first; n < first + count; n++)
            {
                var sectors = BinaryPrimitives.ReadUInt64LittleEndian(extents.Span[(int)(n * EntryBytes[1])..]);
                if (sectors > long.MaxValue / Sector / (ulong)(extentCount + 1))
                    throw Damaged();
                bytes += (long)sectors * Sector;
            }

            entries.Add(new TableEntry(Name(entry), bytes));
        }

        // A block device: first sector, alignment, alignment offset, size.
        var size = BinaryPrimitives.ReadInt64LittleEndian(devices.Span[16..]);
        if (size < 0 || entries.Sum(entry => (decimal)entry.SizeBytes) > size)
            throw new ImageFormatException("holds partitions that take more room than it has.");
        return new DynamicLayout(size, entries);
    }

    private static (ReadOnlyMemory<byte> Bytes, int Count) Table(ReadOnlySpan<byte> header, ReadOnlySpan<byte> tables, int number)
    {
        var at = 80 + number * 12;
        var (offset, count, each) = (Word(header, at), Word(header, at + 4), Word(header, at + 8));
        if (each != EntryBytes[number] || count > MaxMetadata || offset + (long)count * each > tables.Length)
            throw Damaged();
        return (tables.Slice((int)offset, (int)(count * each)).ToArray(), (int)count);
    }

    private static string Name(ReadOnlySpan<byte> entry)
    {
        var name = Encoding.ASCII.GetString(entry[..NameBytes]).TrimEnd('\0');
        return name.Length > 0 && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '_' or '-') ? name : throw Damaged();
    }

    /// <summary>Whether bytes have the SHA-256 that stands in them, its own place read as zero.</summary>
    private static bool IsDigest(ReadOnlySpan<byte> bytes, int at)
    {
        Span<byte> own = bytes.ToArray();
        own.Slice(at, 32).Clear();
        return SHA256.HashData(own).AsSpan().SequenceEqual(bytes.Slice(at, 32));
    }

    private static ImageFormatException Cut() => new("ends within the list of the partitions in it.");

    private static ImageFormatException Damaged() => new("holds a list of the partitions in it that is damaged.");

    private static uint Word(ReadOnlySpan<byte> bytes, int at) => BinaryPrimitives.ReadUInt32LittleEndian(bytes[at..]);
}

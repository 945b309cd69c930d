using System.Buffers.Binary;
using System.IO.Hashing;
using System.Text;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>Reads a GPT partition table and holds it against both of its checksums.</summary>
/// <remarks>UEFI specification 2.10, section 5.3: a protective first block, the header in the second, the entries where it says.</remarks>
public static class PartitionTableReader
{
    private const int HeaderBytes = 92;
    private const int EntryBytes = 128;
    private const int MaxEntries = 1024;
    private static readonly int[] BlockSizes = [512, 4096];

    /// <summary>How much of the beginning is enough to read any table that is taken.</summary>
    public const int MaxBytes = 2 * 4096 + MaxEntries * EntryBytes;

    /// <summary>The size of a block, where bytes begin like a disk with a table; null where they do not.</summary>
    public static int? BlockOf(ReadOnlySpan<byte> start)
    {
        foreach (var block in BlockSizes)
            if (start.Length >= block + 8 && start[block..].StartsWith("EFI PART"u8))
                return block;
        return null;
    }

    /// <summary>Reads a table.</summary>
    /// <param name="start">The first bytes of the image, <see cref="MaxBytes"/> of them or all there are.</param>
    /// <param name="block">Size of a block.</param>
    /// <exception cref="ImageFormatException">The table is cut off, or what it says cannot be.</exception>
    public static PartitionTable Read(ReadOnlySpan<byte> start, int block)
    {
        if (start.Length < block + HeaderBytes)
            throw new ImageFormatException("is a partition table that ends within its header.");
        var header = start[block..];
        var size = Word(header, 12);
        if (size < HeaderBytes || size > block || block + (int)size > start.Length)
            throw new ImageFormatException($"is a partition table whose header claims {size} bytes.");
        Span<byte> own = new byte[size];
        header[..(int)size].CopyTo(own);
        own[16..20].Clear();
        if (Crc32.HashToUInt32(own) != Word(header, 16))
            throw new ImageFormatException("is a partition table whose header does not have the checksum it names.");
        if (Long(header, 24) != 1)
            throw new ImageFormatException("is a partition table that says it lies elsewhere.");
        var (entriesAt, count, each) = (Long(header, 72), Word(header, 80), Word(header, 84));
        if (count is 0 or > MaxEntries || each is < EntryBytes or > 4096 || each % 8 != 0)
            throw new ImageFormatException($"is a partition table that claims {count} entries of {each} bytes.");
        var bytes = (long)count * each;
        if (entriesAt < 2 || entriesAt > start.Length / block || entriesAt * block + bytes > start.Length)
            throw new ImageFormatException("is a partition table that ends within its entries.");
        var entries = start.Slice((int)entriesAt * block, (int)bytes);
        if (Crc32.HashToUInt32(entries) != Word(header, 88))
            throw new ImageFormatException("is a partition table whose entries do not have the checksum it names.");
        return new PartitionTable(block, ReadEntries(entries, (int)each, block, Long(header, 40), Long(header, 48)));
    }

    private static List<TableEntry> ReadEntries(ReadOnlySpan<byte> entries, int each, int block, long firstUsable, long lastUsable)
    {
        var found = new List<(long First, long Last, TableEntry Entry)>();
        for (; entries.Length > 0; entries = entries[each..])
        {
            // An entry without a kind is not in use.
            if (entries[..16].IndexOfAnyExcept((byte)0) < 0)
                continue;
            var (first, last) = (Long(entries, 32), Long(entries, 40));
            var name = Encoding.Unicode.GetString(entries[56..128]).TrimEnd('\0');
            if (first < firstUsable || last < first || last > lastUsable || last - first > long.MaxValue / block - 1)
                throw new ImageFormatException($"is a partition table in which {Shown(name)} lies outside of the usable room.");
            found.Add((first, last, new TableEntry(Shown(name), (last - first + 1) * block)));
        }

        var sorted = found.OrderBy(entry => entry.First).ToList();
        for (var i = 1; i < sorted.Count; i++)
            if (sorted[i].First <= sorted[i - 1].Last)
                throw new ImageFormatException(
                    $"is a partition table in which {sorted[i - 1].Entry.Name} and {sorted[i].Entry.Name} overlap."
                );
        return [.. found.Select(entry => entry.Entry)];
    }

    private static string Shown(string name) => name.Length > 0 && !name.Any(char.IsControl) ? name : "an entry without a name";

    private static uint Word(ReadOnlySpan<byte> bytes, int at) => BinaryPrimitives.ReadUInt32LittleEndian(bytes[at..]);

    private static long Long(ReadOnlySpan<byte> bytes, int at) => BinaryPrimitives.ReadInt64LittleEndian(bytes[at..]);
}

using System.Buffers.Binary;
using System.Globalization;
using System.Text;

namespace Junctra.Formats.Archives;

/// <summary>Fields of a TAR header, and the records and maps that belong to one (POSIX.1-2017 <c>pax</c>; GNU tar manual).</summary>
internal static class TarHeader
{
    /// <summary>Bytes of a block.</summary>
    public const int Block = 512;

    /// <summary>Most runs in which a file with holes may lie.</summary>
    public const int MaxRuns = 50_000;

    /// <summary>Header of an extended header, with no size and no sum yet.</summary>
    public static byte[] ExtendedHeader()
    {
        var header = new byte[Block];
        "././@PaxHeader"u8.CopyTo(header);
        "0000644\0"u8.CopyTo(header.AsSpan(100));
        "0000000\0"u8.CopyTo(header.AsSpan(108));
        "0000000\0"u8.CopyTo(header.AsSpan(116));
        "00000000000\0"u8.CopyTo(header.AsSpan(136));
        header[156] = (byte)'x';
        "ustar\0"u8.CopyTo(header.AsSpan(257));
        "00"u8.CopyTo(header.AsSpan(263));
        return header;
    }

    /// <summary>Sets the size of a header's data, and its sum.</summary>
    public static void SetSize(byte[] header, long size)
    {
        Encoding.ASCII.GetBytes(Convert.ToString(size, 8).PadLeft(11, '0') + "\0").CopyTo(header, 124);
        header.AsSpan(148, 8).Fill((byte)' ');
        var sum = 0;
        foreach (var value in header)
            sum += value;
        Encoding.ASCII.GetBytes(Convert.ToString(sum, 8).PadLeft(6, '0') + "\0 ").CopyTo(header, 148);
    }

    /// <summary>Records of the form <c>length name=value</c>; lengths are in bytes, and a value may hold line ends.</summary>
    public static List<(string Name, string Value)> Records(string text)
    {
        var records = new List<(string, string)>();
        var bytes = Encoding.UTF8.GetBytes(text);
        for (var at = 0; at < bytes.Length; )
        {
            var blank = bytes.AsSpan(at).IndexOf((byte)' ');
            if (
                blank <= 0
                || blank > 10
                || !int.TryParse(bytes.AsSpan(at, blank), NumberStyles.None, CultureInfo.InvariantCulture, out var length)
                || length <= blank + 1
                || length > bytes.Length - at
            )
                throw new InvalidDataException("An extended header in it is damaged.");
            var record = Encoding.UTF8.GetString(bytes.AsSpan(at + blank + 1, length - blank - 1)).TrimEnd('\n');
            var equals = record.IndexOf('=', StringComparison.Ordinal);
            if (equals <= 0)
                throw new InvalidDataException("An extended header in it is damaged.");
            records.Add((record[..equals], record[(equals + 1)..]));
            if (records.Count > 2 * MaxRuns)
                throw new InvalidDataException("An extended header in it is damaged.");
            at += length;
        }

        return records;
    }

    /// <summary>Runs of a map in old GNU form: an offset and a size in 12 bytes each.</summary>
    public static void ReadRuns(ReadOnlySpan<byte> entries, List<(long Offset, long Bytes)> runs)
    {
        for (; entries.Length >= 24; entries = entries[24..])
        {
            if (entries[0] == 0)
                continue;
            runs.Add((ReadSize(entries[..12]), ReadSize(entries.Slice(12, 12))));
        }
    }

    /// <summary>A decimal number of a map.</summary>
    /// <exception cref="InvalidDataException">It is none.</exception>
    public static long Number(string text) =>
        long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
            ? number
            : throw new InvalidDataException("The map of a file with holes in it is damaged.");

    /// <summary>Bytes that fill up the last block.</summary>
    public static long Padding(long bytes) => (Block - bytes % Block) % Block;

    /// <summary>Octal digits, or a binary number where the first bit is set.</summary>
    public static long ReadSize(ReadOnlySpan<byte> field)
    {
        if ((field[0] & 0x80) != 0)
            return BinaryPrimitives.ReadInt64BigEndian(field[4..]);
        long size = 0;
        foreach (var digit in field)
            if (digit is >= (byte)'0' and <= (byte)'7')
                size = size * 8 + digit - '0';
        return size;
    }
}

using System.Buffers.Binary;
using System.Text;

namespace Junctra.Formats.Archives;

/// <summary>
/// Watches the headers of a TAR on their way to its reader, which takes an extended header into memory whole, however large it
/// says it is: a few compressed kilobytes could ask for gigabytes. A name or an attribute is never that long; a header that is ends
/// the walk before it is read.
/// </summary>
/// <remarks>Follows the blocks of POSIX.1-2017 <c>pax</c>: a header of 512 bytes, its data, padding to 512. The size of a member may be given
/// anew by the extended header before it.</remarks>
internal sealed class TarGuard(Stream inner) : ForwardStream
{
    private const int Block = 512;
    private const int MostExtended = 1 << 20;
    private readonly byte[] header = new byte[Block];
    private readonly MemoryStream extended = new();
    private int headerBytes;
    private long dataLeft;
    private long paddingLeft;
    private bool isExtended;
    private long? nextSize;

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        // No further than the block at hand: what a bad header announces must not be read before the header was seen.
        var most = headerBytes > 0 || (dataLeft == 0 && paddingLeft == 0) ? Block - headerBytes : (int)Math.Min(buffer.Length, dataLeft > 0 ? dataLeft : paddingLeft);
        var count = await inner.ReadAsync(buffer[..Math.Min(buffer.Length, most)], cancel).ConfigureAwait(false);
        Follow(buffer.Span[..count]);
        return count;
    }

    private void Follow(ReadOnlySpan<byte> bytes)
    {
        if (headerBytes > 0 || (dataLeft == 0 && paddingLeft == 0))
        {
            bytes.CopyTo(header.AsSpan(headerBytes));
            headerBytes += bytes.Length;
            if (headerBytes == Block) ReadHeader();
        }
        else if (dataLeft > 0)
        {
            if (isExtended) extended.Write(bytes);
            dataLeft -= bytes.Length;
            if (dataLeft == 0 && isExtended) ReadExtended();
        }
        else
        {
            paddingLeft -= bytes.Length;
        }
    }

    private void ReadHeader()
    {
        headerBytes = 0;
        var type = (char)header[156];
        var size = ReadSize(header.AsSpan(124, 12));
        isExtended = type == 'x';
        if (type is 'x' or 'g' or 'L' or 'K')
        {
            if (size > MostExtended) throw new TrapException("The file is a trap: a header in it is longer than any name or attribute.");
        }
        else
        {
            size = nextSize ?? size;
            nextSize = null;
            // Links, devices and folders have no data, whatever their header says.
            if (type is '1' or '2' or '3' or '4' or '5' or '6') size = 0;
        }

        dataLeft = Math.Max(0, size);
        paddingLeft = (Block - dataLeft % Block) % Block;
        extended.SetLength(0);
    }

    /// <summary>Finds the size of the next member among records of the form <c>length name=value</c>.</summary>
    private void ReadExtended()
    {
        foreach (var record in Encoding.UTF8.GetString(extended.GetBuffer(), 0, (int)extended.Length).Split('\n'))
        {
            var name = record.IndexOf(" size=", StringComparison.Ordinal);
            if (name > 0 && long.TryParse(record[..name], out _) && long.TryParse(record[(name + 6)..], out var size)) nextSize = size;
        }
    }

    /// <summary>Octal digits, or a binary number where the first bit is set.</summary>
    private static long ReadSize(ReadOnlySpan<byte> field)
    {
        if ((field[0] & 0x80) != 0) return BinaryPrimitives.ReadInt64BigEndian(field[4..]);
        long size = 0;
        foreach (var digit in field)
            if (digit is >= (byte)'0' and <= (byte)'7') size = size * 8 + digit - '0';
        return size;
    }
}

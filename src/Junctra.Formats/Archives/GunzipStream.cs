using System.Buffers.Binary;
using System.IO.Compression;
using System.IO.Hashing;

namespace Junctra.Formats.Archives;

/// <summary>
/// Reads gzip (RFC 1952): one member, several in a row, or one that is padded with zeros. The library's reader holds each member against its trailer, and takes a
/// stream that is cut off, or goes on with other bytes, for whole. So a small member of our own follows the last byte: it comes out at the end if, and only if, the
/// bytes before it ended where a member ends.
/// </summary>
internal sealed class GunzipStream : ForwardStream
{
    private static readonly byte[] EndMark = [.. "that was all of it"u8];
    private static readonly byte[] PackedEndMark = Pack(EndMark);

    private readonly MarkedStream packed;
    private readonly GZipStream inflating;
    private readonly Crc32 crc = new();
    private readonly byte[] held = new byte[1 << 16];
    private int heldBytes;
    private bool isEnded;

    public GunzipStream(Stream packed)
    {
        this.packed = new MarkedStream(packed);
        inflating = new GZipStream(this.packed, CompressionMode.Decompress, leaveOpen: true);
    }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        // As many bytes as the mark has are always held back, so that it is never handed out.
        while (!isEnded && heldBytes <= EndMark.Length)
        {
            var count = await ReadAsyncOf(cancel).ConfigureAwait(false);
            if (count > 0)
            {
                heldBytes += count;
                continue;
            }

            isEnded = true;
            if (heldBytes >= EndMark.Length && held.AsSpan(heldBytes - EndMark.Length, EndMark.Length).SequenceEqual(EndMark)) heldBytes -= EndMark.Length;
            else await CheckPaddingAsync(cancel).ConfigureAwait(false);
        }

        var ready = Math.Min(buffer.Length, isEnded ? heldBytes : heldBytes - EndMark.Length);
        held.AsSpan(0, ready).CopyTo(buffer.Span);
        crc.Append(buffer.Span[..ready]);
        held.AsSpan(ready, heldBytes - ready).CopyTo(held);
        heldBytes -= ready;
        return ready;
    }

    private async ValueTask<int> ReadAsyncOf(CancellationToken cancel)
    {
        try
        {
            return await inflating.ReadAsync(held.AsMemory(heldBytes), cancel).ConfigureAwait(false);
        }
        catch (InvalidDataException error)
        {
            throw new InvalidDataException("Its compressed bytes are cut off or damaged.", error);
        }
    }

    /// <summary>The reader stopped before the mark: only zeros may follow, and the trailer before them must be that of all that came out.</summary>
    private async ValueTask CheckPaddingAsync(CancellationToken cancel)
    {
        var rest = new byte[4096];
        while (await packed.ReadAsync(rest, cancel).ConfigureAwait(false) > 0) { }
        var (sum, bytes) = (crc.Clone(), (uint)(Position + heldBytes));
        sum.Append(held.AsSpan(0, heldBytes));
        if (!packed.EndsWith(sum.GetCurrentHashAsUInt32(), bytes)) throw new InvalidDataException("It is cut off, damaged, or goes on after its end.");
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing) inflating.Dispose();
        base.Dispose(disposing);
    }

    private static byte[] Pack(byte[] bytes)
    {
        var to = new MemoryStream();
        using (var gzip = new GZipStream(to, CompressionLevel.Optimal)) gzip.Write(bytes);
        return to.ToArray();
    }

    /// <summary>The packed bytes, then the mark; remembers how they ended.</summary>
    private sealed class MarkedStream(Stream inner) : ForwardStream
    {
        private const int TrailerBytes = 8;
        private readonly byte[] last = new byte[2 * TrailerBytes];
        private int marked;
        private long zeros;
        private bool isInnerAtEnd;

        /// <summary>Whether zeros, and nothing but zeros, follow a trailer of a checksum and a length.</summary>
        public bool EndsWith(uint checksum, uint length)
        {
            Span<byte> trailer = stackalloc byte[TrailerBytes];
            BinaryPrimitives.WriteUInt32LittleEndian(trailer, checksum);
            BinaryPrimitives.WriteUInt32LittleEndian(trailer[4..], length);
            // Its last bytes may be zeros themselves.
            for (var own = 0; own <= TrailerBytes; own++)
            {
                if (own > zeros || trailer[(TrailerBytes - own)..].IndexOfAnyExcept((byte)0) >= 0) break;
                if (Before(own).SequenceEqual(trailer)) return zeros > own;
            }

            return false;
        }

        // The bytes that end with so many of the zeros.
        private byte[] Before(int own) => [.. last[(TrailerBytes + own)..], .. new byte[own]];

        protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
        {
            if (!isInnerAtEnd)
            {
                var count = await inner.ReadAsync(buffer, cancel).ConfigureAwait(false);
                if (count > 0)
                {
                    Remember(buffer.Span[..count]);
                    return count;
                }

                isInnerAtEnd = true;
            }

            var mark = Math.Min(buffer.Length, PackedEndMark.Length - marked);
            PackedEndMark.AsSpan(marked, mark).CopyTo(buffer.Span);
            marked += mark;
            return mark;
        }

        /// <summary>Keeps the last bytes before the run of zeros at the end.</summary>
        private void Remember(ReadOnlySpan<byte> read)
        {
            var end = read.LastIndexOfAnyExcept((byte)0) + 1;
            if (end == 0)
            {
                zeros += read.Length;
                return;
            }

            // Zeros from before belong to the bytes after all.
            for (var i = Math.Min(zeros, last.Length); i > 0; i--) Push(0);
            foreach (var value in read[Math.Max(0, end - last.Length)..end]) Push(value);
            zeros = read.Length - end;
        }

        private void Push(byte value)
        {
            last.AsSpan(1).CopyTo(last);
            last[^1] = value;
        }
    }
}

/// <summary>Holds what an archive says of a member, its length and CRC-32, against what comes out of it. Without a checksum only the length
/// is held: locked members may have a seal of their own instead.</summary>
internal sealed class CheckedMember(Stream inner, long length, uint? checksum) : ForwardStream
{
    private readonly Crc32 crc = new();

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        var count = await inner.ReadAsync(buffer, cancel).ConfigureAwait(false);
        crc.Append(buffer.Span[..count]);
        if (Position + count > length) throw new InvalidDataException("It is longer than its archive says.");
        if (count == 0 && Position < length) throw new InvalidDataException("It is shorter than its archive says.");
        if (count == 0 && checksum is { } told && crc.GetCurrentHashAsUInt32() != told) throw new InvalidDataException("Its bytes are not those that its archive has the checksum of.");
        return count;
    }
}

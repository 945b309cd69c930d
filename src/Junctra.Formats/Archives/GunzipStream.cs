using System.IO.Compression;
using System.IO.Hashing;

namespace Junctra.Formats.Archives;

/// <summary>
/// Reads gzip (RFC 1952): one member or several in a row, with or without zeros after the last. The library's reader holds each member
/// against its trailer, and takes a stream that is cut off, or goes on with other bytes, for whole. So a small member of our own follows
/// the last byte: it comes out at the end if, and only if, the bytes before it ended where a member ends. Zeros at the end are given to the
/// reader one at a time: how many of them belong to the last trailer only it can tell, and it leaves off at the first that does not.
/// </summary>
internal sealed class GunzipStream : ForwardStream
{
    private static readonly byte[] EndMark = [.. "that was all of it"u8];
    private static readonly byte[] PackedEndMark = Pack(EndMark);

    private readonly MarkedStream packed;
    private readonly GZipStream inflating;
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
            if (
                packed.IsMarkTaken
                && heldBytes >= EndMark.Length
                && held.AsSpan(heldBytes - EndMark.Length, EndMark.Length).SequenceEqual(EndMark)
            )
                heldBytes -= EndMark.Length;
            else if (!packed.IsLeftInZeros)
                throw new InvalidDataException("It is cut off, damaged, or goes on after its end.");
        }

        var ready = Math.Min(buffer.Length, isEnded ? heldBytes : heldBytes - EndMark.Length);
        held.AsSpan(0, ready).CopyTo(buffer.Span);
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

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            inflating.Dispose();
        base.Dispose(disposing);
    }

    private static byte[] Pack(byte[] bytes)
    {
        var to = new MemoryStream();
        using (var gzip = new GZipStream(to, CompressionLevel.Optimal))
            gzip.Write(bytes);
        return to.ToArray();
    }

    /// <summary>The packed bytes, the zeros they end with one at a time, then the mark.</summary>
    private sealed class MarkedStream(Stream inner) : ForwardStream
    {
        // Zeros that a trailer (a checksum and a length, RFC 1952 2.3.1) may end with, and one that follows it. Where a reader wants more,
        // it is not at an end.
        private const int MaxSingly = 9;

        private readonly byte[] chunk = new byte[1 << 16];
        private ReadOnlyMemory<byte> staged;
        private long held;
        private long released;
        private long taken;
        private int marked;
        private bool isInnerAtEnd;

        /// <summary>Whether the mark was asked for: every byte before it was used.</summary>
        public bool IsMarkTaken => marked > 0;

        /// <summary>Whether the reader left off among the zeros at the end: after all other bytes, and before the mark.</summary>
        public bool IsLeftInZeros => isInnerAtEnd && taken > 0 && marked == 0;

        protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
        {
            while (true)
            {
                if (released > 0)
                {
                    var zeros = (int)Math.Min(released, buffer.Length);
                    released -= zeros;
                    return Zeros(buffer, zeros);
                }

                if (staged.Length > 0)
                {
                    var count = Math.Min(staged.Length, buffer.Length);
                    staged[..count].CopyTo(buffer);
                    staged = staged[count..];
                    return count;
                }

                if (isInnerAtEnd)
                    return AtEnd(buffer);
                var read = await inner.ReadAsync(chunk, cancel).ConfigureAwait(false);
                isInnerAtEnd = read == 0;
                var end = chunk.AsSpan(0, read).LastIndexOfAnyExcept((byte)0) + 1;
                // Zeros wait until it is known whether anything follows them.
                if (end > 0)
                    (released, held, staged) = (held, 0, chunk.AsMemory(0, end));
                held += read - end;
            }
        }

        private int AtEnd(Memory<byte> buffer)
        {
            if (held > 0)
            {
                var zeros = taken < MaxSingly ? 1 : (int)Math.Min(held, buffer.Length);
                held -= zeros;
                taken += zeros;
                return Zeros(buffer, zeros);
            }

            var mark = Math.Min(buffer.Length, PackedEndMark.Length - marked);
            PackedEndMark.AsSpan(marked, mark).CopyTo(buffer.Span);
            marked += mark;
            return mark;
        }

        private static int Zeros(Memory<byte> buffer, int count)
        {
            buffer.Span[..count].Clear();
            return count;
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
        if (Position + count > length)
            throw new InvalidDataException("It is longer than its archive says.");
        if (count == 0 && Position < length)
            throw new InvalidDataException("It is shorter than its archive says.");
        if (count == 0 && checksum is { } told && crc.GetCurrentHashAsUInt32() != told)
            throw new InvalidDataException("Its bytes are not those that its archive has the checksum of.");
        return count;
    }
}

using System.Buffers.Binary;
using System.IO.Compression;
using System.IO.Hashing;
using K4os.Compression.LZ4.Streams;
using ZstdSharp;
using ZstdSharp.Unsafe;

namespace Junctra.Formats.Archives;

/// <summary>Opens what an image or an archive is wrapped in.</summary>
internal static class Unwrapping
{
    /// <summary>The unwrapped bytes of a gzip stream, an LZ4 frame or Zstandard frames. Damage of any kind ends in an
    /// <see cref="InvalidDataException"/> or an <see cref="EndOfStreamException"/>, at the latest at the end.</summary>
    public static Stream Open(ContentKind kind, Stream packed) => kind switch
    {
        ContentKind.Gzip => new GunzipStream(packed),
        ContentKind.Lz4 => LZ4Stream.Decode(packed, leaveOpen: true),
        ContentKind.Zstandard => new UnzstdStream(packed),
        _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "That is no wrapping."),
    };
}

/// <summary>
/// Reads Zstandard frames (RFC 8878) and lets the library hold each against its checksum. A frame may ask for a window of any size to look back
/// into; one that is larger than any usual level packs with is refused, or a few bytes could ask for gigabytes.
/// </summary>
internal sealed class UnzstdStream : ForwardStream
{
    /// <summary>32 MiB.</summary>
    private const int MostWindowLog = 25;
    private readonly DecompressionStream inflating;

    public UnzstdStream(Stream packed)
    {
        inflating = new DecompressionStream(packed, checkEndOfStream: true, leaveOpen: true);
        inflating.SetParameter(ZSTD_dParameter.ZSTD_d_windowLogMax, MostWindowLog);
    }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        try
        {
            return await inflating.ReadAsync(buffer, cancel).ConfigureAwait(false);
        }
        catch (ZstdException error)
        {
            throw new InvalidDataException(error.Code == ZSTD_ErrorCode.ZSTD_error_frameParameter_windowTooLarge
                ? "It needs more memory to unpack than is allowed: pack it at a usual level." : "Its compressed bytes are damaged.", error);
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing) inflating.Dispose();
        base.Dispose(disposing);
    }
}

/// <summary>
/// Reads one gzip stream (RFC 1952) and holds its trailer, CRC-32 and length, against what came out. The library's own reader
/// takes a stream that is cut off, or goes on with other bytes, for whole.
/// </summary>
internal sealed class GunzipStream : ForwardStream
{
    private readonly TailStream packed;
    private readonly GZipStream inflating;
    private readonly Crc32 crc = new();

    public GunzipStream(Stream packed)
    {
        this.packed = new TailStream(packed);
        inflating = new GZipStream(this.packed, CompressionMode.Decompress, leaveOpen: true);
    }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        int count;
        try
        {
            count = await inflating.ReadAsync(buffer, cancel).ConfigureAwait(false);
        }
        catch (InvalidDataException error)
        {
            throw new InvalidDataException("Its compressed bytes are damaged.", error);
        }

        crc.Append(buffer.Span[..count]);
        if (count == 0) await CheckTrailerAsync(cancel).ConfigureAwait(false);
        return count;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing) inflating.Dispose();
        base.Dispose(disposing);
    }

    private async ValueTask CheckTrailerAsync(CancellationToken cancel)
    {
        var rest = new byte[4096];
        while (await packed.ReadAsync(rest, cancel).ConfigureAwait(false) > 0) { }
        Span<byte> trailer = stackalloc byte[TailStream.Bytes];
        packed.Tail(trailer);
        if (BinaryPrimitives.ReadUInt32LittleEndian(trailer) != crc.GetCurrentHashAsUInt32() || BinaryPrimitives.ReadUInt32LittleEndian(trailer[4..]) != (uint)Position)
            throw new InvalidDataException("It is cut off, damaged, or goes on after its end.");
    }

    /// <summary>Remembers the last bytes that passed.</summary>
    private sealed class TailStream(Stream inner) : ForwardStream
    {
        public const int Bytes = 8;
        private readonly byte[] tail = new byte[Bytes];

        public void Tail(Span<byte> to) => tail.CopyTo(to);

        protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
        {
            var count = await inner.ReadAsync(buffer, cancel).ConfigureAwait(false);
            var read = buffer.Span[..count];
            if (count >= Bytes)
            {
                read[^Bytes..].CopyTo(tail);
            }
            else
            {
                tail.AsSpan(count).CopyTo(tail);
                read.CopyTo(tail.AsSpan(Bytes - count));
            }

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
        if (Position + count > length) throw new InvalidDataException("It is longer than its archive says.");
        if (count == 0 && Position < length) throw new InvalidDataException("It is shorter than its archive says.");
        if (count == 0 && checksum is { } told && crc.GetCurrentHashAsUInt32() != told) throw new InvalidDataException("Its bytes are not those that its archive has the checksum of.");
        return count;
    }
}

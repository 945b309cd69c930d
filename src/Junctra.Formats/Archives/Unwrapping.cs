using Junctra.Core.Facts;
using SharpCompress.Common;
using SharpCompress.Compressors.BZip2;
using SharpCompress.Compressors.Xz;
using ZstdSharp;
using ZstdSharp.Unsafe;

namespace Junctra.Formats.Archives;

/// <summary>Opens what an image or an archive is wrapped in.</summary>
internal static class Unwrapping
{
    /// <summary>The unwrapped bytes of gzip members, LZ4 or Zstandard frames, an xz or a bzip2 stream. Damage of any kind ends in an
    /// <see cref="InvalidDataException"/> or an <see cref="EndOfStreamException"/>, at the latest at the end.</summary>
    public static Stream Open(ContentKind kind, Stream packed) =>
        kind switch
        {
            ContentKind.Gzip => new GunzipStream(packed),
            ContentKind.Lz4 => new UnLz4Stream(packed),
            ContentKind.Zstandard => new UnzstdStream(packed),
            ContentKind.Xz => new BorrowedDecoder(packed, stream => new ValueTask<Stream>(new UnxzStream(stream))),
            ContentKind.Bzip2 => new BorrowedDecoder(packed, async stream =>
                await BZip2Stream
                    .CreateAsync(stream, SharpCompress.Compressors.CompressionMode.Decompress, true, true)
                    .ConfigureAwait(false)
            ),
            _ => throw new ArgumentOutOfRangeException(nameof(kind), kind, "That is no wrapping."),
        };
}

/// <summary>
/// Reads Zstandard frames (RFC 8878), skippable ones among them, and lets the library hold each against its checksum. A frame may ask for a
/// window of any size to look back into; one that is larger than this computer allows is refused, or a few bytes could ask for gigabytes.
/// </summary>
internal sealed class UnzstdStream : ForwardStream
{
    // 32 MiB is what any usual level packs with; 128 MiB is where the format's own tool stops unless it is told otherwise.
    private const int UsualWindowLog = 25;
    private const int LargestWindowLog = 27;
    private const int ShareOfMemory = 32;
    private readonly DecompressionStream inflating;
    private readonly int maxWindowLog = WindowLogFor(GC.GetGCMemoryInfo().TotalAvailableMemoryBytes);

    public UnzstdStream(Stream packed)
    {
        inflating = new DecompressionStream(packed, checkEndOfStream: true, leaveOpen: true);
        inflating.SetParameter(ZSTD_dParameter.ZSTD_d_windowLogMax, maxWindowLog);
    }

    /// <summary>The largest window, as a power of two, on a computer with so much memory.</summary>
    internal static int WindowLogFor(long memory) =>
        Math.Clamp((int)Math.Log2(Math.Max(1, memory / ShareOfMemory)), UsualWindowLog, LargestWindowLog);

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        try
        {
            return await inflating.ReadAsync(buffer, cancel).ConfigureAwait(false);
        }
        catch (ZstdException error)
        {
            throw new InvalidDataException(
                error.Code switch
                {
                    ZSTD_ErrorCode.ZSTD_error_frameParameter_windowTooLarge =>
                        $"It asks for more memory to be unpacked than the {ByteSize.Text(1L << maxWindowLog)} that are allowed on this computer: pack it with a smaller window.",
                    ZSTD_ErrorCode.ZSTD_error_dictionary_wrong or ZSTD_ErrorCode.ZSTD_error_dictionary_corrupted =>
                        "It is packed with a dictionary that did not come with it.",
                    _ => "Its compressed bytes are damaged.",
                },
                error
            );
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            inflating.Dispose();
        base.Dispose(disposing);
    }
}

/// <summary>
/// Reads xz streams, one or several in a row, with or without zeros between and after them (the .xz file format 1.2.1, section 2). The
/// library decodes one stream, holds its blocks against their checks, and takes no byte more than it has.
/// </summary>
internal sealed class UnxzStream(Stream packed) : ForwardStream
{
    private const int PaddingBytes = 4;

    private XZStream? decoding;

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        decoding ??= new XZStream(packed);
        while (true)
        {
            var count = await decoding.ReadAsync(buffer, cancel).ConfigureAwait(false);
            if (count > 0)
                return count;
            var next = new byte[PaddingBytes];
            int read;
            do read = await packed.ReadAtLeastAsync(next, PaddingBytes, throwOnEndOfStream: false, cancel).ConfigureAwait(false);
            while (read == PaddingBytes && next.AsSpan().IndexOfAnyExcept((byte)0) < 0);
            if (read == 0)
                return 0;
            if (read < PaddingBytes || !next.AsSpan().SequenceEqual((ReadOnlySpan<byte>)[0xFD, (byte)'7', (byte)'z', (byte)'X']))
                throw new InvalidDataException("It goes on after its end.");
            await decoding.DisposeAsync().ConfigureAwait(false);
            decoding = new XZStream(new PrefixedStream(next, packed));
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            decoding?.Dispose();
        base.Dispose(disposing);
    }
}

/// <summary>A decoder of a library that is opened at the first read, and whose own exceptions all mean damage.</summary>
internal sealed class BorrowedDecoder(Stream packed, Func<Stream, ValueTask<Stream>> open) : ForwardStream
{
    private readonly CountedStream counted = new(packed);
    private Stream? decoding;

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        try
        {
            decoding ??= await open(counted).ConfigureAwait(false);
            var count = await decoding.ReadAsync(buffer, cancel).ConfigureAwait(false);
            // What follows its end would vanish without a word.
            if (count == 0 && await counted.ReadAsync(new byte[1], cancel).ConfigureAwait(false) > 0)
                throw new InvalidDataException("It goes on after its end.");
            return count;
        }
        catch (Exception error)
            when (error
                    is SharpCompressException
                        or NotSupportedException
                        or IndexOutOfRangeException
                        or ArgumentException
                        or OverflowException
                        or InvalidOperationException
                        or NullReferenceException
                        or NotImplementedException
            )
        {
            throw new InvalidDataException("Its compressed bytes are damaged.", error);
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            decoding?.Dispose();
        base.Dispose(disposing);
    }
}

using System.Buffers;
using System.Buffers.Binary;

namespace Junctra.Formats.Sparse;

/// <summary>A sparse image contradicts itself; the message is one sentence about it.</summary>
public sealed class SparseFormatException(string message) : FormatException(message);

/// <summary>
/// Reads a sparse image from a forward-only stream, chunk by chunk, in constant memory. Everything the file claims about
/// itself is checked against what is there: sizes against counts, counts against the header, CRCs against the data.
/// </summary>
/// <remarks>Every fault of the file is an <see cref="SparseFormatException"/> with one sentence; a stream that ends early is
/// an <see cref="EndOfStreamException"/>.</remarks>
public sealed class SparseReader
{
    private const uint MaxBlockSize = 1 << 20;

    /// <summary>An image of 32 GiB has some ten thousand chunks; each is remembered while an image is sent in pieces.</summary>
    private const uint MaxChunks = 2_000_000;

    private static readonly byte[] Zeros = new byte[64 * 1024];

    private readonly Stream input;
    private readonly RunningCrc crc = new();
    private readonly byte[] scratch = new byte[SparseHeader.Size];
    private long position;
    private long nextBlock;
    private uint chunksRead;

    private SparseReader(Stream input, SparseHeader header, int extraChunkHeader, long position)
    {
        this.input = input;
        this.position = position;
        this.extraChunkHeader = extraChunkHeader;
        Header = header;
    }

    private readonly int extraChunkHeader;

    /// <summary>The image's header.</summary>
    public SparseHeader Header { get; }

    /// <summary>Reads the header.</summary>
    /// <exception cref="SparseFormatException">It is no sparse image, or of a version or size that cannot be read.</exception>
    public static async ValueTask<SparseReader> OpenAsync(Stream input, CancellationToken cancel = default)
    {
        var bytes = new byte[SparseHeader.Size];
        await input.ReadExactlyAsync(bytes, cancel).ConfigureAwait(false);
        if (!SparseHeader.IsSparse(bytes))
            throw new SparseFormatException("It does not begin like a sparse image.");
        var major = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(4));
        if (major != 1)
            throw new SparseFormatException($"It is a sparse image of version {major}; only version 1 is known.");
        var headerSize = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(8));
        var chunkHeaderSize = BinaryPrimitives.ReadUInt16LittleEndian(bytes.AsSpan(10));
        if (headerSize < SparseHeader.Size || chunkHeaderSize < SparseHeader.ChunkHeaderSize || headerSize > 4096 || chunkHeaderSize > 4096)
            throw new SparseFormatException($"Its headers claim {headerSize} and {chunkHeaderSize} bytes.");
        var header = new SparseHeader(
            BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(12)),
            BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(16)),
            BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(20)),
            BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(24))
        );
        if (header.BlockSize is 0 or > MaxBlockSize || header.BlockSize % 4 != 0)
            throw new SparseFormatException($"Its block size is {header.BlockSize}; it must be a multiple of 4, up to 1 MiB.");
        if (header.TotalChunks > MaxChunks)
            throw new SparseFormatException($"Its header claims {header.TotalChunks} chunks.");
        await SkipAsync(input, headerSize - SparseHeader.Size, cancel).ConfigureAwait(false);
        return new SparseReader(input, header, chunkHeaderSize - SparseHeader.ChunkHeaderSize, headerSize);
    }

    /// <summary>
    /// Reads all chunks and hands the expanded image on in order.
    /// </summary>
    /// <param name="chunk">Called before each chunk.</param>
    /// <param name="data">Called with expanded bytes and their offset: those of raw and fill chunks, and zeros for holes.
    /// The memory is only valid during the call.</param>
    /// <param name="cancel">Cancels.</param>
    public ValueTask ReadAllAsync(
        Action<SparseChunk>? chunk,
        Func<SparseChunk, ReadOnlyMemory<byte>, long, ValueTask>? data,
        CancellationToken cancel = default
    ) => ReadAllAsync(chunk, data, () => data is not null, cancel);

    /// <inheritdoc cref="ReadAllAsync(Action{SparseChunk}, Func{SparseChunk, ReadOnlyMemory{byte}, long, ValueTask}, CancellationToken)"/>
    /// <param name="chunk">Called before each chunk.</param>
    /// <param name="data">Called with expanded bytes and their offset.</param>
    /// <param name="isWanted">Whether fills and holes are still wanted; of those that are not, only the checksum is computed.</param>
    /// <param name="cancel">Cancels.</param>
    public async ValueTask ReadAllAsync(
        Action<SparseChunk>? chunk,
        Func<SparseChunk, ReadOnlyMemory<byte>, long, ValueTask>? data,
        Func<bool> isWanted,
        CancellationToken cancel
    )
    {
        var buffer = ArrayPool<byte>.Shared.Rent(1 << 18);
        try
        {
            while (chunksRead < Header.TotalChunks)
            {
                var next = await NextAsync(cancel).ConfigureAwait(false);
                chunk?.Invoke(next);
                var offset = next.FirstBlock * Header.BlockSize;
                var bytes = (long)next.Blocks * Header.BlockSize;
                if (next.Kind == SparseChunkKind.Raw)
                    await CopyRawAsync(next, offset, bytes, buffer, data, cancel).ConfigureAwait(false);
                else if (next.Kind != SparseChunkKind.Crc32)
                    await RepeatAsync(next, offset, bytes, buffer, data, isWanted, cancel).ConfigureAwait(false);
            }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }

        if (nextBlock != Header.TotalBlocks)
            throw new SparseFormatException($"Its chunks cover {nextBlock} blocks, its header says {Header.TotalBlocks}.");
        if (Header.Checksum != 0 && Header.Checksum != crc.Value)
            throw new SparseFormatException("The checksum in its header is not that of its data.");
    }

    private async ValueTask<SparseChunk> NextAsync(CancellationToken cancel)
    {
        var head = scratch.AsMemory(0, SparseHeader.ChunkHeaderSize);
        await input.ReadExactlyAsync(head, cancel).ConfigureAwait(false);
        await SkipAsync(input, extraChunkHeader, cancel).ConfigureAwait(false);
        position += SparseHeader.ChunkHeaderSize + extraChunkHeader;
        chunksRead++;
        var kind = (SparseChunkKind)BinaryPrimitives.ReadUInt16LittleEndian(head.Span);
        var blocks = BinaryPrimitives.ReadUInt32LittleEndian(head.Span[4..]);
        var dataBytes = BinaryPrimitives.ReadUInt32LittleEndian(head.Span[8..]) - (long)SparseHeader.ChunkHeaderSize - extraChunkHeader;
        var expected = kind switch
        {
            SparseChunkKind.Raw => (long)blocks * Header.BlockSize,
            SparseChunkKind.Fill or SparseChunkKind.Crc32 => 4,
            SparseChunkKind.DontCare => 0,
            _ => throw new SparseFormatException($"Chunk {chunksRead} is of the unknown kind 0x{(ushort)kind:X4}."),
        };
        if (dataBytes != expected)
            throw new SparseFormatException($"Chunk {chunksRead} claims {dataBytes} bytes of data; its {blocks} blocks need {expected}.");
        if (kind == SparseChunkKind.Crc32 && blocks != 0)
            throw new SparseFormatException($"Chunk {chunksRead} is a checksum and claims {blocks} blocks.");
        if (nextBlock + blocks > Header.TotalBlocks)
            throw new SparseFormatException($"Chunk {chunksRead} reaches past the {Header.TotalBlocks} blocks of the image.");

        uint value = 0;
        if (expected == 4 && kind != SparseChunkKind.Raw)
        {
            await input.ReadExactlyAsync(scratch.AsMemory(0, 4), cancel).ConfigureAwait(false);
            value = BinaryPrimitives.ReadUInt32LittleEndian(scratch);
        }

        if (kind == SparseChunkKind.Crc32 && value != crc.Value)
            throw new SparseFormatException($"The checksum in chunk {chunksRead} is not that of the data before it.");
        var chunk = new SparseChunk(kind, nextBlock, blocks, position, value);
        position += dataBytes;
        nextBlock += blocks;
        return chunk;
    }

    private async ValueTask CopyRawAsync(
        SparseChunk chunk,
        long offset,
        long bytes,
        byte[] buffer,
        Func<SparseChunk, ReadOnlyMemory<byte>, long, ValueTask>? data,
        CancellationToken cancel
    )
    {
        while (bytes > 0)
        {
            var part = buffer.AsMemory(0, (int)Math.Min(buffer.Length, bytes));
            await input.ReadExactlyAsync(part, cancel).ConfigureAwait(false);
            crc.Append(part.Span);
            if (data is not null)
                await data(chunk, part, offset).ConfigureAwait(false);
            offset += part.Length;
            bytes -= part.Length;
        }
    }

    private async ValueTask RepeatAsync(
        SparseChunk chunk,
        long offset,
        long bytes,
        byte[] buffer,
        Func<SparseChunk, ReadOnlyMemory<byte>, long, ValueTask>? data,
        Func<bool> isWanted,
        CancellationToken cancel
    )
    {
        crc.AppendRepeated(chunk.Kind == SparseChunkKind.Fill ? chunk.Value : 0, bytes);
        ReadOnlyMemory<byte> pattern = Zeros;
        if (chunk is { Kind: SparseChunkKind.Fill, Value: not 0 })
        {
            var filled = buffer.AsMemory(0, Zeros.Length);
            for (var i = 0; i < filled.Length; i += 4)
                BinaryPrimitives.WriteUInt32LittleEndian(filled.Span[i..], chunk.Value);
            pattern = filled;
        }

        while (bytes > 0)
        {
            cancel.ThrowIfCancellationRequested();
            if (!isWanted())
                return;
            var part = pattern[..(int)Math.Min(pattern.Length, bytes)];
            if (data is not null)
                await data(chunk, part, offset).ConfigureAwait(false);
            offset += part.Length;
            bytes -= part.Length;
        }
    }

    private static async ValueTask SkipAsync(Stream input, int bytes, CancellationToken cancel)
    {
        if (bytes > 0)
            await input.ReadExactlyAsync(new byte[bytes], cancel).ConfigureAwait(false);
    }
}

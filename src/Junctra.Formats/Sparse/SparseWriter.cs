using System.Buffers.Binary;

namespace Junctra.Formats.Sparse;

/// <summary>
/// Writes a sparse image to a forward-only stream. The counts stand in the header, so they must be known before; what is
/// then written is held against them.
/// </summary>
public sealed class SparseWriter
{
    private readonly Stream output;
    private readonly SparseHeader header;
    private readonly byte[] scratch = new byte[SparseHeader.Size];
    private long blocksWritten;
    private uint chunksWritten;

    private SparseWriter(Stream output, SparseHeader header)
    {
        this.output = output;
        this.header = header;
    }

    /// <summary>Begins an image by writing its header.</summary>
    public static async ValueTask<SparseWriter> BeginAsync(Stream output, SparseHeader header, CancellationToken cancel = default)
    {
        var writer = new SparseWriter(output, header);
        header.Write(writer.scratch);
        await output.WriteAsync(writer.scratch, cancel).ConfigureAwait(false);
        return writer;
    }

    /// <summary>Begins a raw chunk; the caller then writes exactly its bytes to the stream.</summary>
    public ValueTask BeginRawAsync(uint blocks, CancellationToken cancel = default) =>
        HeadAsync(SparseChunkKind.Raw, blocks, checked(blocks * header.BlockSize), cancel);

    /// <summary>Blocks filled with four bytes.</summary>
    public async ValueTask FillAsync(uint blocks, uint value, CancellationToken cancel = default)
    {
        await HeadAsync(SparseChunkKind.Fill, blocks, 4, cancel).ConfigureAwait(false);
        await ValueAsync(value, cancel).ConfigureAwait(false);
    }

    /// <summary>Blocks that stay as they are.</summary>
    public ValueTask DontCareAsync(uint blocks, CancellationToken cancel = default) =>
        HeadAsync(SparseChunkKind.DontCare, blocks, 0, cancel);

    /// <summary>CRC-32 of all that the chunks before expand to.</summary>
    public async ValueTask CrcAsync(uint crc, CancellationToken cancel = default)
    {
        await HeadAsync(SparseChunkKind.Crc32, 0, 4, cancel).ConfigureAwait(false);
        await ValueAsync(crc, cancel).ConfigureAwait(false);
    }

    /// <summary>Ends the image.</summary>
    /// <exception cref="InvalidOperationException">What was written is not what the header promised.</exception>
    public void End()
    {
        if (blocksWritten != header.TotalBlocks || chunksWritten != header.TotalChunks)
            throw new InvalidOperationException(
                $"The header promised {header.TotalBlocks} blocks in {header.TotalChunks} chunks; {blocksWritten} in {chunksWritten} were written."
            );
    }

    private async ValueTask HeadAsync(SparseChunkKind kind, uint blocks, uint dataBytes, CancellationToken cancel)
    {
        var head = scratch.AsMemory(0, SparseHeader.ChunkHeaderSize);
        BinaryPrimitives.WriteUInt16LittleEndian(head.Span, (ushort)kind);
        BinaryPrimitives.WriteUInt16LittleEndian(head.Span[2..], 0);
        BinaryPrimitives.WriteUInt32LittleEndian(head.Span[4..], blocks);
        BinaryPrimitives.WriteUInt32LittleEndian(head.Span[8..], SparseHeader.ChunkHeaderSize + dataBytes);
        blocksWritten += blocks;
        chunksWritten++;
        await output.WriteAsync(head, cancel).ConfigureAwait(false);
    }

    private async ValueTask ValueAsync(uint value, CancellationToken cancel)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(scratch, value);
        await output.WriteAsync(scratch.AsMemory(0, 4), cancel).ConfigureAwait(false);
    }
}

using Junctra.Core.Packages;

namespace Junctra.Formats.Sparse;

/// <summary>A run of an image within one piece.</summary>
/// <param name="Kind">Raw or fill.</param>
/// <param name="FirstBlock">First block of the image.</param>
/// <param name="Blocks">Blocks.</param>
/// <param name="SourceOffset">Where a raw run's bytes lie, from the start of the image as it is kept.</param>
/// <param name="Value">Four bytes of a fill.</param>
public readonly record struct PieceRun(SparseChunkKind Kind, long FirstBlock, uint Blocks, long SourceOffset, uint Value);

/// <summary>
/// One download to a phone: an image, or a share of it as a sparse image of its own that leaves all other blocks as they are.
/// </summary>
/// <param name="Runs">The runs; empty when the image is sent as it is kept.</param>
/// <param name="Header">The piece's own header; unused when the image is sent as it is kept.</param>
/// <param name="Bytes">Bytes on the wire.</param>
/// <param name="SourceEnd">How far into the image as kept this piece reaches; for progress.</param>
public sealed record SparsePiece(IReadOnlyList<PieceRun> Runs, SparseHeader Header, long Bytes, long SourceEnd)
{
    /// <summary>Whether the image goes over the wire as it is kept.</summary>
    public bool IsWhole => Runs.Count == 0;
}

/// <summary>
/// Splits an image that is larger than a phone takes at once. Raw images become sparse pieces; sparse images are cut along and
/// through their chunks. Every piece keeps to the limit, and together they write exactly the image's blocks, each once.
/// </summary>
public static class SparsePieces
{
    private const uint RawBlockSize = 4096;

    // A piece begins with a hole up to its first run and ends with one to the end of the image.
    private const int FixedCost = SparseHeader.Size + 2 * SparseHeader.ChunkHeaderSize;

    /// <summary>Plans the pieces of an image.</summary>
    /// <param name="image">The image as it is kept; for a sparse image it is read through once for its chunks.</param>
    /// <param name="format">How it is kept.</param>
    /// <param name="bytes">Its size as kept.</param>
    /// <param name="maxBytes">Largest download the phone takes.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="InvalidDataException">The phone takes too little at once for even one block, or the image is broken.</exception>
    public static async ValueTask<IReadOnlyList<SparsePiece>> PlanAsync(
        Stream image,
        ImageFormat format,
        long bytes,
        long maxBytes,
        CancellationToken cancel = default
    )
    {
        if (bytes <= maxBytes)
            return [new SparsePiece([], default, bytes, bytes)];
        if (format == ImageFormat.Raw)
        {
            var blocks = checked((uint)((bytes + RawBlockSize - 1) / RawBlockSize));
            return Split([new PieceRun(SparseChunkKind.Raw, 0, blocks, 0, 0)], RawBlockSize, blocks, maxBytes);
        }

        var runs = new List<PieceRun>();
        var reader = await SparseReader.OpenAsync(image, cancel).ConfigureAwait(false);
        await reader
            .ReadAllAsync(
                chunk =>
                {
                    if (chunk.Kind is SparseChunkKind.Raw or SparseChunkKind.Fill && chunk.Blocks > 0)
                        runs.Add(new PieceRun(chunk.Kind, chunk.FirstBlock, chunk.Blocks, chunk.DataOffset, chunk.Value));
                },
                null,
                cancel
            )
            .ConfigureAwait(false);
        return Split(runs, reader.Header.BlockSize, reader.Header.TotalBlocks, maxBytes);
    }

    /// <summary>Writes a piece.</summary>
    /// <param name="piece">The piece.</param>
    /// <param name="image">The image as it is kept, seekable; position 0 is its first byte.</param>
    /// <param name="output">Takes exactly <see cref="SparsePiece.Bytes"/> bytes.</param>
    /// <param name="cancel">Cancels.</param>
    public static async ValueTask WriteAsync(SparsePiece piece, Stream image, Stream output, CancellationToken cancel = default)
    {
        if (piece.IsWhole)
        {
            image.Position = 0;
            await CopyAsync(image, output, piece.Bytes, 0, cancel).ConfigureAwait(false);
            return;
        }

        var writer = await SparseWriter.BeginAsync(output, piece.Header, cancel).ConfigureAwait(false);
        long next = 0;
        foreach (var run in piece.Runs)
        {
            if (run.FirstBlock > next)
                await writer.DontCareAsync((uint)(run.FirstBlock - next), cancel).ConfigureAwait(false);
            if (run.Kind == SparseChunkKind.Fill)
            {
                await writer.FillAsync(run.Blocks, run.Value, cancel).ConfigureAwait(false);
            }
            else
            {
                await writer.BeginRawAsync(run.Blocks, cancel).ConfigureAwait(false);
                image.Position = run.SourceOffset;
                var bytes = (long)run.Blocks * piece.Header.BlockSize;
                // The last block of a raw image may be short; the rest of that block is sent as zeros.
                var here = Math.Min(bytes, image.Length - run.SourceOffset);
                await CopyAsync(image, output, here, bytes - here, cancel).ConfigureAwait(false);
            }

            next = run.FirstBlock + run.Blocks;
        }

        if (next < piece.Header.TotalBlocks)
            await writer.DontCareAsync((uint)(piece.Header.TotalBlocks - next), cancel).ConfigureAwait(false);
        writer.End();
    }

    private static List<SparsePiece> Split(List<PieceRun> runs, uint blockSize, uint totalBlocks, long maxBytes)
    {
        if (maxBytes < FixedCost + 2 * SparseHeader.ChunkHeaderSize + blockSize)
            throw new InvalidDataException(
                $"The phone takes {maxBytes} bytes at once; one block of {blockSize} bytes does not fit into that."
            );
        // A download's size is a 32-bit number; a raw chunk's too.
        maxBytes = Math.Min(maxBytes, int.MaxValue);
        var pieces = new List<SparsePiece>();
        var current = new List<PieceRun>();
        long used = FixedCost;
        foreach (var run in runs)
        {
            var rest = run;
            while (rest.Blocks > 0)
            {
                // A run may need a hole before it, inside the piece.
                var room = maxBytes - used - 2 * SparseHeader.ChunkHeaderSize;
                var fits =
                    rest.Kind == SparseChunkKind.Fill
                        ? (room >= 4 ? rest.Blocks : 0)
                        : Math.Min(rest.Blocks, Math.Max(0, room) / blockSize);
                if (fits == 0)
                {
                    Close();
                    continue;
                }

                var take = rest with { Blocks = (uint)fits };
                current.Add(take);
                used += 2 * SparseHeader.ChunkHeaderSize + (take.Kind == SparseChunkKind.Fill ? 4 : fits * blockSize);
                rest = rest with
                {
                    FirstBlock = rest.FirstBlock + fits,
                    Blocks = (uint)(rest.Blocks - fits),
                    SourceOffset = rest.SourceOffset + fits * blockSize,
                };
            }
        }

        Close();
        return pieces;

        void Close()
        {
            if (current.Count == 0)
                return;
            pieces.Add(Piece([.. current], blockSize, totalBlocks));
            current.Clear();
            used = FixedCost;
        }
    }

    private static SparsePiece Piece(PieceRun[] runs, uint blockSize, uint totalBlocks)
    {
        long next = 0,
            bytes = SparseHeader.Size,
            sourceEnd = 0;
        uint chunks = 0;
        foreach (var run in runs)
        {
            if (run.FirstBlock > next)
                Count(0);
            Count(run.Kind == SparseChunkKind.Fill ? 4 : (long)run.Blocks * blockSize);
            next = run.FirstBlock + run.Blocks;
            if (run.Kind == SparseChunkKind.Raw)
                sourceEnd = run.SourceOffset + (long)run.Blocks * blockSize;
        }

        if (next < totalBlocks)
            Count(0);
        return new SparsePiece(runs, new SparseHeader(blockSize, totalBlocks, chunks, 0), bytes, sourceEnd);

        void Count(long data)
        {
            chunks++;
            bytes += SparseHeader.ChunkHeaderSize + data;
        }
    }

    private static async ValueTask CopyAsync(Stream from, Stream to, long bytes, long zerosAfter, CancellationToken cancel)
    {
        var buffer = System.Buffers.ArrayPool<byte>.Shared.Rent(1 << 18);
        try
        {
            while (bytes > 0)
            {
                var read = await from.ReadAsync(buffer.AsMemory(0, (int)Math.Min(buffer.Length, bytes)), cancel).ConfigureAwait(false);
                if (read == 0)
                    throw new EndOfStreamException("The image ends before the size it was found to have.");
                await to.WriteAsync(buffer.AsMemory(0, read), cancel).ConfigureAwait(false);
                bytes -= read;
            }

            if (zerosAfter > 0)
            {
                Array.Clear(buffer, 0, (int)zerosAfter);
                await to.WriteAsync(buffer.AsMemory(0, (int)zerosAfter), cancel).ConfigureAwait(false);
            }
        }
        finally
        {
            System.Buffers.ArrayPool<byte>.Shared.Return(buffer);
        }
    }
}

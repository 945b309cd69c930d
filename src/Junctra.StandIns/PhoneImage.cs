using System.Buffers.Binary;
using System.Runtime.InteropServices;
using Junctra.Core.Twin;
using Junctra.Formats.Sparse;
using Microsoft.Win32.SafeHandles;

namespace Junctra.StandIns;

/// <summary>
/// An image that a simulated phone holds in memory, raw or sparse, read through once: damaged ones never reach a partition.
/// </summary>
internal sealed class PhoneImage
{
    private const int FillBytes = 64 * 1024;
    private readonly ReadOnlyMemory<byte> held;
    private readonly List<SparseChunk> chunks = [];
    private readonly uint blockSize;

    private PhoneImage(ReadOnlyMemory<byte> held, TwinPart? part, long expandedBytes) =>
        (this.held, Part, ExpandedBytes) = (held, part, expandedBytes);

    private PhoneImage(ReadOnlyMemory<byte> held, TwinPart? part, SparseHeader header, List<SparseChunk> chunks)
        : this(held, part, header.ExpandedBytes) => (blockSize, this.chunks) = (header.BlockSize, chunks);

    /// <summary>
    /// What it would be once it is written, from its first bytes; null for a sparse one that does not begin at the beginning: it goes on
    /// with what another has begun.
    /// </summary>
    public TwinPart? Part { get; }

    /// <summary>Its size once it is expanded.</summary>
    public long ExpandedBytes { get; }

    /// <summary>Reads an image through.</summary>
    /// <exception cref="PhoneRefusesException">It calls itself sparse and is not, or is damaged.</exception>
    public static async Task<PhoneImage> ReadAsync(ReadOnlyMemory<byte> held)
    {
        if (!SparseHeader.IsSparse(held.Span))
            return new PhoneImage(held, PhonePartitions.PartOf(DemoImages.Stamp(held.Span), whole: true), held.Length);
        var begins = new byte[PhonePartitions.Beginning];
        var has = 0;
        var chunks = new List<SparseChunk>();
        try
        {
            var reader = await SparseReader.OpenAsync(
                new MemoryStream(MemoryMarshal.TryGetArray(held, out var array) ? array.Array! : held.ToArray(), array.Offset, held.Length)
            );
            await reader.ReadAllAsync(
                chunk =>
                {
                    if (chunk.Kind is SparseChunkKind.Raw or SparseChunkKind.Fill)
                        chunks.Add(chunk);
                },
                (chunk, part, offset) =>
                {
                    if (chunk.Kind != SparseChunkKind.DontCare && offset == has && has < begins.Length)
                    {
                        var length = Math.Min(part.Length, begins.Length - has);
                        part[..length].CopyTo(begins.AsMemory(has));
                        has += length;
                    }

                    return ValueTask.CompletedTask;
                },
                () => has < begins.Length,
                CancellationToken.None
            );
            var part = has == 0 ? null : PhonePartitions.PartOf(DemoImages.Stamp(begins.AsSpan(0, has)), whole: true);
            return new PhoneImage(held, part, reader.Header, chunks);
        }
        catch (SparseFormatException error)
        {
            throw new PhoneRefusesException(error.Message);
        }
        catch (EndOfStreamException)
        {
            throw new PhoneRefusesException("It ends before its last chunk.");
        }
    }

    /// <summary>Writes it; what a sparse one leaves out stays as it was.</summary>
    public void WriteTo(SafeFileHandle file)
    {
        if (blockSize == 0)
        {
            RandomAccess.Write(file, held.Span, 0);
            return;
        }

        foreach (var chunk in chunks)
        {
            var (at, bytes) = (chunk.FirstBlock * blockSize, (long)chunk.Blocks * blockSize);
            if (chunk.Kind == SparseChunkKind.Raw)
            {
                RandomAccess.Write(file, held.Span.Slice((int)chunk.DataOffset, (int)bytes), at);
                continue;
            }

            var fill = new byte[Math.Min(FillBytes, bytes)];
            for (var i = 0; i < fill.Length; i += sizeof(uint))
                BinaryPrimitives.WriteUInt32LittleEndian(fill.AsSpan(i), chunk.Value);
            for (long done = 0; done < bytes; done += fill.Length)
                RandomAccess.Write(file, fill.AsSpan(0, (int)Math.Min(fill.Length, bytes - done)), at + done);
        }
    }
}

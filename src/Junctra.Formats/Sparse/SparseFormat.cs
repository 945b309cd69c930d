using System.Buffers.Binary;

namespace Junctra.Formats.Sparse;

/// <summary>Kinds of chunk of the open Android sparse image format, version 1.</summary>
public enum SparseChunkKind : ushort
{
    /// <summary>Blocks of data follow.</summary>
    Raw = 0xCAC1,

    /// <summary>Four bytes follow that fill all blocks.</summary>
    Fill = 0xCAC2,

    /// <summary>Nothing follows; the blocks stay as they are.</summary>
    DontCare = 0xCAC3,

    /// <summary>Four bytes follow: CRC-32 of all that was expanded so far.</summary>
    Crc32 = 0xCAC4,
}

/// <summary>
/// Header of a sparse image: 28 bytes, little-endian. Magic <c>0xED26FF3A</c>, version 1.0, header and chunk header sizes,
/// block size, blocks and chunks in all, CRC-32 of the expanded image or 0.
/// </summary>
/// <param name="BlockSize">Bytes a block: a multiple of 4, from 4 to 1 MiB.</param>
/// <param name="TotalBlocks">Blocks of the expanded image.</param>
/// <param name="TotalChunks">Chunks that follow.</param>
/// <param name="Checksum">CRC-32 of the expanded image, or 0 for none.</param>
public readonly record struct SparseHeader(uint BlockSize, uint TotalBlocks, uint TotalChunks, uint Checksum)
{
    /// <summary>First four bytes of a sparse image.</summary>
    public const uint Magic = 0xED26FF3A;

    /// <summary>Size of the header in bytes.</summary>
    public const int Size = 28;

    /// <summary>Size of a chunk's header in bytes.</summary>
    public const int ChunkHeaderSize = 12;

    /// <summary>Bytes of the expanded image.</summary>
    public long ExpandedBytes => (long)BlockSize * TotalBlocks;

    /// <summary>Whether bytes begin like a sparse image.</summary>
    public static bool IsSparse(ReadOnlySpan<byte> start) => start.Length >= 4 && BinaryPrimitives.ReadUInt32LittleEndian(start) == Magic;

    /// <summary>Writes the header.</summary>
    /// <param name="to">At least <see cref="Size"/> bytes.</param>
    public void Write(Span<byte> to)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(to, Magic);
        BinaryPrimitives.WriteUInt16LittleEndian(to[4..], 1);
        BinaryPrimitives.WriteUInt16LittleEndian(to[6..], 0);
        BinaryPrimitives.WriteUInt16LittleEndian(to[8..], Size);
        BinaryPrimitives.WriteUInt16LittleEndian(to[10..], ChunkHeaderSize);
        BinaryPrimitives.WriteUInt32LittleEndian(to[12..], BlockSize);
        BinaryPrimitives.WriteUInt32LittleEndian(to[16..], TotalBlocks);
        BinaryPrimitives.WriteUInt32LittleEndian(to[20..], TotalChunks);
        BinaryPrimitives.WriteUInt32LittleEndian(to[24..], Checksum);
    }
}

/// <summary>One chunk.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="FirstBlock">First block of the expanded image that it covers.</param>
/// <param name="Blocks">Blocks that it covers; 0 for a CRC.</param>
/// <param name="DataOffset">Where a raw chunk's bytes lie, from the start of the sparse image.</param>
/// <param name="Value">The four bytes of a fill or a CRC.</param>
public readonly record struct SparseChunk(SparseChunkKind Kind, long FirstBlock, uint Blocks, long DataOffset, uint Value);

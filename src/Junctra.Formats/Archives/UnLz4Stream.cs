using System.Buffers.Binary;
using K4os.Compression.LZ4;
using K4os.Hash.xxHash;

namespace Junctra.Formats.Archives;

/// <summary>
/// Reads LZ4 frames, one or several in a row, skippable frames between them, and holds every checksum and size in them against what is
/// there. The library decodes blocks; of its own reader of frames, checksums of blocks are passed over and a frame that names a dictionary
/// is no finding but an exception.
/// </summary>
/// <remarks>LZ4 Frame Format 1.6.4: a magic number, a descriptor with a checksum of its own, blocks that may lean on the 64 KiB before
/// them, an end mark, a checksum.</remarks>
internal sealed class UnLz4Stream(Stream packed) : ForwardStream
{
    private const uint Magic = 0x184D2204;
    private const uint SkippableMagic = 0x184D2A50;
    private const uint Stored = 0x80000000;
    private const int Window = 64 << 10;

    private readonly byte[] word = new byte[8];
    private byte[] block = [];
    private byte[] output = [];

    // What was decoded lies behind what the next block may lean on.
    private int from;
    private int to;
    private Frame? frame;
    private bool isAtEnd;

    /// <summary>What a frame's descriptor says, and how far it has come.</summary>
    private sealed class Frame
    {
        public required bool AreBlocksLinked { get; init; }
        public required bool HasBlockChecksums { get; init; }
        public required bool HasContentChecksum { get; init; }
        public required long? ContentBytes { get; init; }
        public required int MaxBlock { get; init; }
        public XXH32 Sum { get; } = new();
        public long Done { get; set; }
        public int History { get; set; }
    }

    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        while (from == to)
        {
            if (isAtEnd)
                return 0;
            if (frame is null)
                await OpenFrameAsync(cancel).ConfigureAwait(false);
            else
                await ReadBlockAsync(frame, cancel).ConfigureAwait(false);
        }

        var count = Math.Min(buffer.Length, to - from);
        output.AsSpan(from, count).CopyTo(buffer.Span);
        from += count;
        return count;
    }

    private async ValueTask OpenFrameAsync(CancellationToken cancel)
    {
        var read = await packed.ReadAtLeastAsync(word.AsMemory(0, 4), 4, throwOnEndOfStream: false, cancel).ConfigureAwait(false);
        if (read == 0)
        {
            isAtEnd = true;
            return;
        }

        if (read < 4)
            throw new EndOfStreamException();
        var magic = BinaryPrimitives.ReadUInt32LittleEndian(word);
        if ((magic & 0xFFFFFFF0) == SkippableMagic)
        {
            await SkipAsync(await WordAsync(cancel).ConfigureAwait(false), cancel).ConfigureAwait(false);
            return;
        }

        if (magic != Magic)
            throw new InvalidDataException("It goes on after its end.");
        var descriptor = new byte[14];
        await packed.ReadExactlyAsync(descriptor.AsMemory(0, 2), cancel).ConfigureAwait(false);
        var (flags, size) = (descriptor[0], descriptor[1]);
        if (flags >> 6 != 1 || (flags & 2) != 0 || (size & 0x8F) != 0 || (size >> 4 & 7) < 4)
            throw new InvalidDataException("Its descriptor is damaged, or of a version that is not known.");
        if ((flags & 1) != 0)
            throw new InvalidDataException("It is packed with a dictionary that did not come with it.");
        var length = 2 + ((flags & 8) != 0 ? 8 : 0);
        await packed.ReadExactlyAsync(descriptor.AsMemory(2, length - 2 + 1), cancel).ConfigureAwait(false);
        if ((byte)(XXH32.DigestOf(descriptor.AsSpan(0, length)) >> 8) != descriptor[length])
            throw new InvalidDataException("Its descriptor is damaged.");
        frame = new Frame
        {
            AreBlocksLinked = (flags & 0x20) == 0,
            HasBlockChecksums = (flags & 0x10) != 0,
            HasContentChecksum = (flags & 4) != 0,
            ContentBytes = (flags & 8) != 0 ? BinaryPrimitives.ReadInt64LittleEndian(descriptor.AsSpan(2)) : null,
            MaxBlock = 1 << (8 + 2 * (size >> 4 & 7)),
        };
        if (block.Length < frame.MaxBlock)
            block = new byte[frame.MaxBlock];
        if (output.Length < Window + frame.MaxBlock)
            output = new byte[Window + frame.MaxBlock];
        from = to = 0;
    }

    private async ValueTask ReadBlockAsync(Frame open, CancellationToken cancel)
    {
        var head = await WordAsync(cancel).ConfigureAwait(false);
        if (head == 0)
        {
            if (open.HasContentChecksum && await WordAsync(cancel).ConfigureAwait(false) != open.Sum.Digest())
                throw new InvalidDataException("The checksum of its content is not that of what is in it.");
            if (open.ContentBytes is { } told && told != open.Done)
                throw new InvalidDataException("It holds more or less than it says.");
            frame = null;
            return;
        }

        var bytes = (int)(head & ~Stored);
        if (bytes > open.MaxBlock)
            throw new InvalidDataException("A block of it claims more than its frame allows.");
        await packed.ReadExactlyAsync(block.AsMemory(0, bytes), cancel).ConfigureAwait(false);
        if (open.HasBlockChecksums && await WordAsync(cancel).ConfigureAwait(false) != XXH32.DigestOf(block.AsSpan(0, bytes)))
            throw new InvalidDataException("A block of it does not have the checksum that it names.");
        // The last 64 KiB move to the front, and the block comes behind them.
        var history = open.AreBlocksLinked ? Math.Min(Window, open.History) : 0;
        output.AsSpan(to - history, history).CopyTo(output);
        var decoded =
            (head & Stored) != 0 ? Copy(bytes, history)
            : history == 0 ? LZ4Codec.Decode(block.AsSpan(0, bytes), output.AsSpan(0, open.MaxBlock))
            : LZ4Codec.Decode(block.AsSpan(0, bytes), output.AsSpan(history, open.MaxBlock), output.AsSpan(0, history));
        if (decoded < 0)
            throw new InvalidDataException("A block of it is damaged.");
        (from, to) = (history, history + decoded);
        open.History = open.AreBlocksLinked ? to : 0;
        open.Done += decoded;
        open.Sum.Update(output.AsSpan(from, decoded));
    }

    private int Copy(int bytes, int at)
    {
        block.AsSpan(0, bytes).CopyTo(output.AsSpan(at));
        return bytes;
    }

    private async ValueTask<uint> WordAsync(CancellationToken cancel)
    {
        await packed.ReadExactlyAsync(word.AsMemory(0, 4), cancel).ConfigureAwait(false);
        return BinaryPrimitives.ReadUInt32LittleEndian(word);
    }

    private async ValueTask SkipAsync(long bytes, CancellationToken cancel)
    {
        var rest = new byte[(int)Math.Min(bytes, 1 << 16)];
        for (; bytes > 0; bytes -= Math.Min(bytes, rest.Length))
            await packed.ReadExactlyAsync(rest.AsMemory(0, (int)Math.Min(bytes, rest.Length)), cancel).ConfigureAwait(false);
    }
}

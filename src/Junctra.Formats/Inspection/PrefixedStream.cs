using System.Security.Cryptography;

namespace Junctra.Formats.Inspection;

/// <summary>A member from its first byte again, after its start was looked at; digests what passes.</summary>
internal sealed class PrefixedStream(byte[] start, Stream rest, long bytes, IncrementalHash digest) : Stream
{
    private long position;

    /// <summary>Bytes of the member that have not been read.</summary>
    public long BytesLeft => bytes - position;

    public override bool CanRead => true;
    public override bool CanSeek => false;
    public override bool CanWrite => false;
    public override long Length => bytes;

    public override long Position
    {
        get => position;
        set => throw new NotSupportedException();
    }

    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        int count;
        if (position < start.Length)
        {
            count = Math.Min(buffer.Length, start.Length - (int)position);
            start.AsMemory((int)position, count).CopyTo(buffer);
        }
        else
        {
            count = await rest.ReadAsync(buffer[..(int)Math.Min(buffer.Length, BytesLeft)], cancellationToken).ConfigureAwait(false);
        }

        digest.AppendData(buffer.Span[..count]);
        position += count;
        return count;
    }

    public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException("Members are read asynchronously.");
    public override void Flush() { }
    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();
    public override void SetLength(long value) => throw new NotSupportedException();
    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}

namespace Junctra.Formats.Archives;

/// <summary>
/// What the streams of a walk share: they are read forward only, one way of reading is written for both the waiting and the
/// blocking caller's sake, and nothing is ever written.
/// </summary>
internal abstract class ForwardStream : Stream
{
    private long position;

    public override bool CanRead => true;
    public override bool CanSeek => false;
    public override bool CanWrite => false;
    public override long Length => throw new NotSupportedException();

    /// <summary>Bytes that were read.</summary>
    public override long Position
    {
        get => position;
        set => throw new NotSupportedException();
    }

    public sealed override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        if (buffer.Length == 0)
            return 0;
        var count = await NextAsync(buffer, cancellationToken).ConfigureAwait(false);
        position += count;
        return count;
    }

    public sealed override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    public sealed override int Read(byte[] buffer, int offset, int count) =>
        throw new NotSupportedException("Packages are read asynchronously.");

    public override void Flush() { }

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    /// <summary>Reads the next bytes; 0 at the end.</summary>
    protected abstract ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel);
}

/// <summary>Counts what passes, and tells of it.</summary>
internal sealed class CountedStream(Stream inner, Action<int>? tell = null) : ForwardStream
{
    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        var count = await inner.ReadAsync(buffer, cancel).ConfigureAwait(false);
        tell?.Invoke(count);
        return count;
    }
}

/// <summary>Bytes that were read already, and then what follows them.</summary>
internal sealed class PrefixedStream(byte[] prefix, Stream rest) : ForwardStream
{
    protected override async ValueTask<int> NextAsync(Memory<byte> buffer, CancellationToken cancel)
    {
        if (Position >= prefix.Length)
            return await rest.ReadAsync(buffer, cancel).ConfigureAwait(false);
        var count = (int)Math.Min(buffer.Length, prefix.Length - Position);
        prefix.AsSpan((int)Position, count).CopyTo(buffer.Span);
        return count;
    }
}

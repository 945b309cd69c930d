namespace Junctra.Formats;

/// <summary>A part of a seekable file as a stream of its own, from position 0.</summary>
/// <param name="file">The file; nobody else may move its position meanwhile.</param>
/// <param name="offset">Where the part begins.</param>
/// <param name="length">Its length in bytes.</param>
/// <param name="leaveOpen">Whether the file outlives this stream.</param>
public sealed class SlicedStream(Stream file, long offset, long length, bool leaveOpen = true) : Stream
{
    private long position;

    /// <inheritdoc/>
    public override bool CanRead => true;

    /// <inheritdoc/>
    public override bool CanSeek => true;

    /// <inheritdoc/>
    public override bool CanWrite => false;

    /// <inheritdoc/>
    public override long Length => length;

    /// <inheritdoc/>
    public override long Position
    {
        get => position;
        set => position = value >= 0 ? value : throw new IOException("There is nothing before the beginning.");
    }

    /// <inheritdoc/>
    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        var most = Approach(buffer.Length);
        if (most == 0)
            return 0;
        var count = await file.ReadAsync(buffer[..most], cancellationToken).ConfigureAwait(false);
        position += count;
        return count;
    }

    /// <inheritdoc/>
    public override int Read(Span<byte> buffer)
    {
        var most = Approach(buffer.Length);
        if (most == 0)
            return 0;
        var count = file.Read(buffer[..most]);
        position += count;
        return count;
    }

    /// <inheritdoc/>
    public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    /// <inheritdoc/>
    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    /// <inheritdoc/>
    public override long Seek(long offset, SeekOrigin origin) =>
        Position =
            offset
            + (
                origin switch
                {
                    SeekOrigin.Begin => 0,
                    SeekOrigin.Current => position,
                    _ => length,
                }
            );

    /// <inheritdoc/>
    public override void Flush() { }

    /// <inheritdoc/>
    public override void SetLength(long value) => throw new NotSupportedException();

    /// <inheritdoc/>
    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    /// <inheritdoc/>
    protected override void Dispose(bool disposing)
    {
        if (disposing && !leaveOpen)
            file.Dispose();
        base.Dispose(disposing);
    }

    private int Approach(int wanted)
    {
        var most = (int)Math.Clamp(length - position, 0, wanted);
        if (most > 0 && file.Position != offset + position)
            file.Position = offset + position;
        return most;
    }
}

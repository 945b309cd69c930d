namespace Junctra.Link;

/// <summary>
/// A stream to the phone on which every write must be taken within the stall time. However long the whole takes, it goes on
/// while bytes move.
/// </summary>
internal sealed class StallGuardStream(Stream inner, TimeSpan stall) : Stream
{
    // Small enough that one write is a fair measure of whether bytes move.
    private const int Part = 64 * 1024;

    public override bool CanRead => false;
    public override bool CanSeek => false;
    public override bool CanWrite => true;
    public override long Length => throw new NotSupportedException();

    public override long Position
    {
        get => throw new NotSupportedException();
        set => throw new NotSupportedException();
    }

    public override async ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
    {
        using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancellationToken);
        while (buffer.Length > 0)
        {
            clock.CancelAfter(stall);
            var part = buffer[..Math.Min(Part, buffer.Length)];
            await inner.WriteAsync(part, clock.Token).ConfigureAwait(false);
            buffer = buffer[part.Length..];
        }
    }

    public override Task WriteAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        WriteAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    public override void Write(byte[] buffer, int offset, int count) =>
        throw new NotSupportedException("The link is written asynchronously.");

    public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    public override void Flush() { }

    public override Task FlushAsync(CancellationToken cancellationToken) => inner.FlushAsync(cancellationToken);

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();
}

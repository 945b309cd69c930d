using System.Security.Cryptography;

namespace Junctra.Formats.Inspection;

/// <summary>
/// A forward-only view of a file that digests every byte that passes and counts them, so that one reading serves both the
/// archive's reader and the file's digest.
/// </summary>
internal sealed class DigestingStream(Stream inner, IProgress<long>? progress) : Stream
{
    private const long ProgressEvery = 4 << 20;
    private readonly IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private long passed;
    private long told;

    public override bool CanRead => true;
    public override bool CanSeek => false;
    public override bool CanWrite => false;
    public override long Length => throw new NotSupportedException();

    public override long Position
    {
        get => passed;
        set => throw new NotSupportedException();
    }

    /// <summary>Lower-case hexadecimal digest of all bytes that passed.</summary>
    public string Digest() => Convert.ToHexStringLower(hash.GetCurrentHash());

    public override int Read(Span<byte> buffer) => Passed(buffer, inner.Read(buffer));

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        var count = await inner.ReadAsync(buffer, cancellationToken).ConfigureAwait(false);
        return Passed(buffer.Span, count);
    }

    public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    public override void Flush() { }
    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();
    public override void SetLength(long value) => throw new NotSupportedException();
    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    protected override void Dispose(bool disposing)
    {
        if (disposing) hash.Dispose();
        base.Dispose(disposing);
    }

    private int Passed(ReadOnlySpan<byte> buffer, int count)
    {
        hash.AppendData(buffer[..count]);
        passed += count;
        if (passed - told >= ProgressEvery)
        {
            told = passed;
            progress?.Report(passed);
        }

        return count;
    }
}

using System.IO.Compression;
using System.IO.Hashing;

namespace Junctra.Store.Exchange;

/// <summary>
/// A table of an archive while it is unpacked. A stranger's archive says how long it is and what its checksum is: what unpacks to more, to
/// less or to something else is refused, so that neither a small file fills the memory nor half a table is taken for all of it.
/// </summary>
internal sealed class UnpackedTable(ZipArchiveEntry entry, Stream packed) : Stream
{
    private readonly Crc32 crc = new();
    private long length;

    /// <exception cref="ExchangeException">It is not what the archive says of it.</exception>
    public override int Read(Span<byte> buffer) => Checked(buffer, packed.Read(buffer));

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    /// <exception cref="ExchangeException">It is not what the archive says of it.</exception>
    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        var read = await packed.ReadAsync(buffer, cancellationToken);
        return Checked(buffer.Span, read);
    }

    public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    private int Checked(ReadOnlySpan<byte> buffer, int read)
    {
        crc.Append(buffer[..read]);
        length += read;
        if (
            length > entry.Length
            || read == 0 && buffer.Length > 0 && (length < entry.Length || crc.GetCurrentHashAsUInt32() != entry.Crc32)
        )
            throw new ExchangeException($"{entry.Name} is damaged: it is not what the archive says of it.");
        return read;
    }

    public override bool CanRead => true;

    public override bool CanSeek => false;

    public override bool CanWrite => false;

    public override long Length => throw new NotSupportedException();

    public override long Position
    {
        get => length;
        set => throw new NotSupportedException();
    }

    public override void Flush() { }

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            packed.Dispose();
        base.Dispose(disposing);
    }
}

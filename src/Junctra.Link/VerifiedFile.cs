using System.IO.Hashing;
using System.Security.Cryptography;
using Microsoft.Win32.SafeHandles;

namespace Junctra.Link;

/// <summary>The package file is no longer what it was when its digest was read.</summary>
internal sealed class PackageChangedException(
    string message =
        "The package file was changed on this computer after its digest had been read. None of the changed bytes reached the phone."
) : IOException(message);

/// <summary>
/// A file whose digest is read once and whose bytes are held against that reading ever after. The file is opened once and stays
/// open, so that another one put in its place is never read; and every block is marked with a checksum while the digest is computed,
/// so that bytes changed within the file are noticed before they are handed on.
/// </summary>
internal sealed class VerifiedFile : IDisposable
{
    private const int BlockBytes = 1 << 18;
    private readonly SafeFileHandle file;
    private readonly List<UInt128> marks = [];
    private long length;

    /// <summary>Opens a file.</summary>
    /// <exception cref="IOException">It cannot be read; so for <see cref="UnauthorizedAccessException"/>.</exception>
    public VerifiedFile(string path) =>
        file = File.OpenHandle(path, FileMode.Open, FileAccess.Read, FileShare.Read | FileShare.Delete, FileOptions.SequentialScan);

    /// <summary>Reads the whole file; before this nothing can be read from it.</summary>
    /// <returns>SHA-256, lower-case hexadecimal.</returns>
    public async Task<string> ReadThroughAsync(CancellationToken cancel)
    {
        marks.Clear();
        length = 0;
        using var sha256 = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var (block, next) = (new byte[BlockBytes], new byte[BlockBytes]);
        var (count, mark) = await ReadMarkedAsync(block, 0).ConfigureAwait(false);
        while (count > 0)
        {
            length += count;
            marks.Add(mark);
            // The next block comes in and is marked while this one is digested, which takes longest.
            var reading = Task.Run(() => ReadMarkedAsync(next, length), cancel);
            sha256.AppendData(block, 0, count);
            (count, mark) = await reading.ConfigureAwait(false);
            (block, next) = (next, block);
        }

        return Convert.ToHexStringLower(sha256.GetCurrentHash());

        async Task<(int Count, UInt128 Mark)> ReadMarkedAsync(byte[] into, long at)
        {
            var read = await ReadBlockAsync(into, at, cancel).ConfigureAwait(false);
            return (read, XxHash128.HashToUInt128(into.AsSpan(0, read)));
        }
    }

    /// <summary>A part of the file as a stream; several may be read at once.</summary>
    public Stream Slice(long offset, long bytes) => new SlicedView(this, offset, bytes);

    /// <summary>All of the file as a stream.</summary>
    public Stream Whole() => Slice(0, length);

    public void Dispose() => file.Dispose();

    private async Task<int> ReadBlockAsync(byte[] block, long at, CancellationToken cancel)
    {
        var count = 0;
        while (count < block.Length)
        {
            var read = await RandomAccess.ReadAsync(file, block.AsMemory(count), at + count, cancel).ConfigureAwait(false);
            if (read == 0)
                break;
            count += read;
        }

        return count;
    }

    private async ValueTask<int> ReadCheckedBlockAsync(byte[] block, int number, CancellationToken cancel)
    {
        var count = await ReadBlockAsync(block, (long)number * BlockBytes, cancel).ConfigureAwait(false);
        if (number >= marks.Count || XxHash128.HashToUInt128(block.AsSpan(0, count)) != marks[number])
            throw new PackageChangedException();
        return count;
    }

    /// <summary>Reads block by block; what it hands on was checked.</summary>
    private sealed class SlicedView(VerifiedFile owner, long offset, long bytes) : Stream
    {
        private byte[] block = new byte[BlockBytes];
        private byte[] next = new byte[BlockBytes];
        private Task<int>? reading;
        private int nextNumber;
        private int blockNumber = -1;
        private int blockCount;
        private long position;

        public override bool CanRead => true;
        public override bool CanSeek => true;
        public override bool CanWrite => false;
        public override long Length => bytes;

        public override long Position
        {
            get => position;
            set => position = value >= 0 ? value : throw new IOException("There is nothing before the beginning.");
        }

        public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            if (position >= bytes || buffer.Length == 0)
                return 0;
            var at = offset + position;
            var number = (int)(at / BlockBytes);
            if (number != blockNumber)
            {
                blockNumber = -1;
                blockCount = await TakeBlockAsync(number, cancellationToken).ConfigureAwait(false);
                blockNumber = number;
            }

            var from = (int)(at % BlockBytes);
            var count = (int)Math.Min(Math.Min(buffer.Length, blockCount - from), bytes - position);
            if (count <= 0)
                return 0;
            block.AsMemory(from, count).CopyTo(buffer);
            position += count;
            return count;
        }

        /// <summary>Fills the block; the one after it comes in and is checked while this one is handed on.</summary>
        private async Task<int> TakeBlockAsync(int number, CancellationToken cancel)
        {
            var ahead = reading;
            reading = null;
            int count;
            if (ahead is not null && nextNumber == number)
            {
                count = await ahead.ConfigureAwait(false);
                (block, next) = (next, block);
            }
            else
            {
                await EndedAsync(ahead).ConfigureAwait(false);
                count = await owner.ReadCheckedBlockAsync(block, number, cancel).ConfigureAwait(false);
            }

            if ((long)(number + 1) * BlockBytes < offset + bytes)
            {
                nextNumber = number + 1;
                var into = next;
                reading = Task.Run(() => owner.ReadCheckedBlockAsync(into, number + 1, CancellationToken.None).AsTask());
            }

            return count;
        }

        /// <summary>A block that nobody wants any more has not failed for anybody.</summary>
        private static async Task EndedAsync(Task? reading)
        {
            if (reading is not null)
                await reading.ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }

        public override async ValueTask DisposeAsync()
        {
            await EndedAsync(reading).ConfigureAwait(false);
            reading = null;
            await base.DisposeAsync().ConfigureAwait(false);
        }

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                EndedAsync(reading).GetAwaiter().GetResult();
            base.Dispose(disposing);
        }

        public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
            ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

        // Only the reader of a ZIP's list reads in this way, a few kilobytes at a time.
        public override int Read(byte[] buffer, int offset, int count) =>
            ReadAsync(buffer.AsMemory(offset, count)).AsTask().GetAwaiter().GetResult();

        public override long Seek(long offset, SeekOrigin origin) =>
            Position =
                offset
                + (
                    origin switch
                    {
                        SeekOrigin.Begin => 0,
                        SeekOrigin.Current => position,
                        _ => bytes,
                    }
                );

        public override void Flush() { }

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
    }
}

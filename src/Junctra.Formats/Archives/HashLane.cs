using System.Buffers;
using System.Security.Cryptography;
using System.Threading.Channels;

namespace Junctra.Formats.Archives;

/// <summary>
/// SHA-256 of a stream, computed beside the reading. Digests are what an inspection spends its time on; where the same
/// reading needs two of them, each takes a lane and the processor's cores share the work.
/// </summary>
internal sealed class HashLane : IAsyncDisposable
{
    private const int BufferBytes = 1 << 18;
    private const int MaxWaiting = 12;

    private readonly Channel<(ReadOnlyMemory<byte> Bytes, byte[] Rented)> queue = Channel.CreateBounded<(ReadOnlyMemory<byte>, byte[])>(
        new BoundedChannelOptions(MaxWaiting) { SingleReader = true, SingleWriter = true }
    );

    private readonly IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly Task working;

    public HashLane() => working = Task.Run(WorkAsync);

    /// <summary>Adds bytes; they are copied.</summary>
    public async ValueTask AppendAsync(ReadOnlyMemory<byte> bytes, CancellationToken cancel)
    {
        while (bytes.Length > 0)
        {
            var part = bytes[..Math.Min(BufferBytes, bytes.Length)];
            var rented = ArrayPool<byte>.Shared.Rent(BufferBytes);
            part.CopyTo(rented);
            await queue.Writer.WriteAsync((rented.AsMemory(0, part.Length), rented), cancel).ConfigureAwait(false);
            bytes = bytes[part.Length..];
        }
    }

    /// <summary>Lower-case hexadecimal digest of all that was added; nothing may be added afterwards.</summary>
    public async Task<string> FinishAsync()
    {
        queue.Writer.TryComplete();
        await working.ConfigureAwait(false);
        return Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    public async ValueTask DisposeAsync()
    {
        queue.Writer.TryComplete();
        await working.ConfigureAwait(false);
        hash.Dispose();
    }

    private async Task WorkAsync()
    {
        await foreach (var (bytes, rented) in queue.Reader.ReadAllAsync().ConfigureAwait(false))
        {
            hash.AppendData(bytes.Span);
            ArrayPool<byte>.Shared.Return(rented);
        }
    }
}

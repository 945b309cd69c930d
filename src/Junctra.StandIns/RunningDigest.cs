using System.Threading.Channels;
using Junctra.Link.Bench;

namespace Junctra.StandIns;

/// <summary>
/// Digest of bytes that come part by part, computed on another core while the next part is on its way. The parts are not copied: they
/// must stay as they are until the digest is asked for.
/// </summary>
internal sealed class RunningDigest : IAsyncDisposable
{
    private readonly Channel<ReadOnlyMemory<byte>> parts = Channel.CreateUnbounded<ReadOnlyMemory<byte>>(
        new UnboundedChannelOptions { SingleReader = true, SingleWriter = true }
    );

    private readonly PieceDigest digest;
    private readonly Task digesting;

    /// <summary>Begins.</summary>
    /// <param name="name">Which one.</param>
    public RunningDigest(string name)
    {
        digest = PieceDigest.Of(name);
        digesting = Task.Run(DigestAsync);
    }

    /// <summary>Takes the next part; returns at once.</summary>
    public void Append(ReadOnlyMemory<byte> part) => parts.Writer.TryWrite(part);

    /// <summary>The digest of all parts, lower-case hexadecimal. Ends it.</summary>
    public async Task<string> EndAsync()
    {
        parts.Writer.TryComplete();
        await digesting;
        return digest.End();
    }

    /// <summary>Waits for the part at hand: its memory is somebody else's again afterwards.</summary>
    public async ValueTask DisposeAsync()
    {
        parts.Writer.TryComplete();
        await digesting;
        digest.Dispose();
    }

    private async Task DigestAsync()
    {
        await foreach (var part in parts.Reader.ReadAllAsync())
            digest.Append(part.Span);
    }
}

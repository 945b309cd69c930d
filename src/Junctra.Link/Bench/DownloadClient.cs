using System.Net.Sockets;
using System.Security.Cryptography;

namespace Junctra.Link.Bench;

/// <summary>
/// A writing session with a phone in download mode, in Junctra's own bench protocol: the target is confirmed by the phone, images come in
/// pieces with a digest each, and what is held in memory, being written and accepted is told apart by the phone. Specification:
/// <c>docs/protocols.md</c>. Survives any peer.
/// </summary>
public sealed class DownloadClient : IAsyncDisposable
{
    private const int MaxStates = 1_000;
    private readonly TcpClient tcp;
    private readonly NetworkStream stream;
    private readonly LinkClocks clocks;

    private DownloadClient(TcpClient tcp, LinkClocks clocks) => (this.tcp, stream, this.clocks) = (tcp, tcp.GetStream(), clocks);

    /// <summary>Words of the phone that decide nothing.</summary>
    public event Action<string>? Said;

    /// <summary>Most bytes that the phone holds of a piece; known once the session has begun.</summary>
    public long MaxPieceBytes { get; private set; }

    /// <summary>Connects and greets.</summary>
    /// <exception cref="LinkException">Nothing answers, or something else.</exception>
    public static async Task<DownloadClient> ConnectAsync(LinkAddress address, LinkClocks clocks, CancellationToken cancel = default)
    {
        var tcp = new TcpClient { NoDelay = true };
        try
        {
            using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            clock.CancelAfter(clocks.Connect);
            await tcp.ConnectAsync(address.Host, address.Port, clock.Token).ConfigureAwait(false);
            var client = new DownloadClient(tcp, clocks);
            await client.stream.WriteAsync(BenchWire.Greeting.ToArray(), clock.Token).ConfigureAwait(false);
            var theirs = new byte[BenchWire.Greeting.Length];
            await client.stream.ReadExactlyAsync(theirs, clock.Token).ConfigureAwait(false);
            if (theirs.AsSpan().SequenceEqual(BenchWire.Greeting))
                return client;
            throw new LinkException(
                LinkFault.NotUnderstood,
                $"What answers at {address} is no phone in download mode that is understood here."
            );
        }
        catch (OperationCanceledException error) when (!cancel.IsCancellationRequested)
        {
            var connected = tcp.Connected;
            tcp.Dispose();
            throw new LinkException(
                connected ? LinkFault.Silent : LinkFault.NoAnswer,
                connected ? $"Something at {address} took the connection but said nothing." : $"Nothing answers at {address}.",
                error
            );
        }
        catch (SocketException error)
        {
            tcp.Dispose();
            throw new LinkException(LinkFault.NoAnswer, $"Nothing answers at {address}.", error);
        }
        catch (IOException error)
        {
            tcp.Dispose();
            throw new LinkException(LinkFault.NoAnswer, $"The connection to {address} broke before it answered.", error);
        }
        catch
        {
            tcp.Dispose();
            throw;
        }
    }

    /// <summary>Begins the session: the phone confirms that it is the one that is meant, and that it knows the partitions.</summary>
    /// <exception cref="LinkException">It refuses, falls silent, or cannot be understood.</exception>
    public async Task BeginAsync(string serial, string modelCode, IEnumerable<AnnouncedImage> images, CancellationToken cancel = default)
    {
        var answer = await AskAsync(
                new Dictionary<string, object?>
                {
                    ["ask"] = "begin",
                    ["serial"] = serial,
                    ["model-code"] = modelCode,
                    ["images"] = images
                        .Select(image =>
                            (object?)new Dictionary<string, object?> { ["partition"] = image.Partition, ["sha256"] = image.Sha256 }
                        )
                        .ToList(),
                },
                "begin",
                clocks.Answer,
                "the begin of the session",
                cancel
            )
            .ConfigureAwait(false);
        if (answer.GetValueOrDefault("piece-bytes") is not long bytes || bytes <= 0)
            throw new LinkException(LinkFault.NotUnderstood, "The phone does not say how much it holds at once.");
        MaxPieceBytes = Math.Min(bytes, uint.MaxValue);
    }

    /// <summary>Sends a piece; the phone then holds it in memory, and nothing of it is written.</summary>
    /// <param name="partition">The image's partition.</param>
    /// <param name="bytes">How many bytes follow.</param>
    /// <param name="write">Writes exactly so many.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task SendPieceAsync(
        string partition,
        long bytes,
        Func<Stream, CancellationToken, ValueTask> write,
        CancellationToken cancel = default
    )
    {
        await AskAsync(
                new Dictionary<string, object?>
                {
                    ["ask"] = "piece",
                    ["partition"] = partition,
                    ["bytes"] = bytes,
                },
                "take the piece",
                clocks.Answer,
                "the announcement of data",
                cancel
            )
            .ConfigureAwait(false);
        using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        await LinkGuard
            .RunAsync(
                async () =>
                {
                    await using var guarded = new StallGuardStream(stream, clocks.Transfer);
                    await write(new DigestingStream(guarded, digest), cancel).ConfigureAwait(false);
                },
                "while data was sent",
                cancel
            )
            .ConfigureAwait(false);
        var answer = await AskAsync(
                new Dictionary<string, object?> { ["ask"] = "held", ["sha256"] = Convert.ToHexStringLower(digest.GetHashAndReset()) },
                "keep the data",
                clocks.Transfer,
                "the data",
                cancel
            )
            .ConfigureAwait(false);
        if (answer.GetValueOrDefault("state") is not "held")
            throw LinkGuard.Nonsense("was asked whether it holds the piece and did not say so");
    }

    /// <summary>Has the phone write what it holds, and waits until it says that it has accepted it.</summary>
    /// <param name="partition">The partition.</param>
    /// <param name="bytes">How much it holds, for the clock.</param>
    /// <param name="cancel">Cancels the wait, not the phone.</param>
    public async Task WriteAsync(string partition, long bytes, CancellationToken cancel = default)
    {
        var wait = clocks.Commit(bytes);
        var answer = await AskAsync(
                new Dictionary<string, object?> { ["ask"] = "write", ["partition"] = partition },
                $"write {partition}",
                wait,
                $"the command to write {partition}",
                cancel
            )
            .ConfigureAwait(false);
        for (var states = 0; answer.GetValueOrDefault("state") is "writing"; states++)
        {
            if (states > MaxStates)
                throw LinkGuard.Nonsense("says again and again that it writes, and never ends");
            answer = await AnswerAsync($"write {partition}", wait, $"the command to write {partition}", cancel).ConfigureAwait(false);
        }

        if (answer.GetValueOrDefault("state") is not "accepted")
            throw LinkGuard.Nonsense($"was told to write {partition} and did not say that it had");
    }

    /// <summary>Ends the session.</summary>
    /// <param name="restart">Whether the phone restarts; else it stays in its write mode.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task EndAsync(bool restart, CancellationToken cancel = default) =>
        await AskAsync(
                new Dictionary<string, object?> { ["ask"] = "end", ["restart"] = restart },
                "end the session",
                clocks.Answer,
                "the end of the session",
                cancel
            )
            .ConfigureAwait(false);

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        tcp.Dispose();
        return ValueTask.CompletedTask;
    }

    private async Task<IReadOnlyDictionary<string, object?>> AskAsync(
        IReadOnlyDictionary<string, object?> question,
        string what,
        TimeSpan wait,
        string after,
        CancellationToken cancel
    )
    {
        await LinkGuard
            .RunAsync(
                async () =>
                {
                    using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                    clock.CancelAfter(clocks.Answer);
                    await BenchWire.SendAsync(stream, question, clock.Token).ConfigureAwait(false);
                },
                "while a command was sent",
                cancel
            )
            .ConfigureAwait(false);
        return await AnswerAsync(what, wait, after, cancel).ConfigureAwait(false);
    }

    private async Task<IReadOnlyDictionary<string, object?>> AnswerAsync(string what, TimeSpan wait, string after, CancellationToken cancel)
    {
        IReadOnlyDictionary<string, object?> answer = new Dictionary<string, object?>();
        await LinkGuard
            .RunAsync(
                async () =>
                {
                    using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                    clock.CancelAfter(wait);
                    answer = await BenchWire.ReceiveAsync(stream, clock.Token).ConfigureAwait(false);
                },
                $"after {after}",
                cancel
            )
            .ConfigureAwait(false);
        if (BenchClient.Words(answer.GetValueOrDefault("says") as string) is { } words)
            Said?.Invoke(words);
        if (answer.GetValueOrDefault("ok") is true)
            return answer;
        throw new LinkException(
            LinkFault.Refused,
            $"The phone refused to {what}: “{BenchClient.Words(answer.GetValueOrDefault("why") as string) ?? "no reason given"}”."
        );
    }

    /// <summary>Passes bytes on and keeps their digest.</summary>
    private sealed class DigestingStream(Stream inner, IncrementalHash digest) : Stream
    {
        public override bool CanRead => false;
        public override bool CanSeek => false;
        public override bool CanWrite => true;
        public override long Length => throw new NotSupportedException();

        public override long Position
        {
            get => throw new NotSupportedException();
            set => throw new NotSupportedException();
        }

        public override ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
        {
            digest.AppendData(buffer.Span);
            return inner.WriteAsync(buffer, cancellationToken);
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
}

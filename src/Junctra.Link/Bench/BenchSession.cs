using System.Net.Sockets;
using System.Security.Cryptography;

namespace Junctra.Link.Bench;

/// <summary>
/// A connection to a phone in Junctra's own bench protocol, for as long as it lasts: images are written and files carried, with a digest
/// each, and what is held in memory, being written and accepted is told apart by the phone. Specification: <c>docs/protocols.md</c>.
/// Survives any peer.
/// </summary>
public sealed partial class BenchSession : IAsyncDisposable
{
    private const int MaxStates = 1_000;
    private const int WritesSince = 2;
    private const int Part = 64 * 1024;
    private readonly TcpClient tcp;
    private readonly NetworkStream stream;
    private readonly LinkClocks clocks;

    private BenchSession(TcpClient tcp, LinkClocks clocks) => (this.tcp, stream, this.clocks) = (tcp, tcp.GetStream(), clocks);

    /// <summary>Words of the phone that decide nothing.</summary>
    public event Action<string>? Said;

    /// <summary>Connects and greets.</summary>
    /// <exception cref="LinkException">Nothing answers, or something else.</exception>
    public static async Task<BenchSession> ConnectAsync(LinkAddress address, LinkClocks clocks, CancellationToken cancel = default)
    {
        var tcp = new TcpClient { NoDelay = true };
        try
        {
            using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            clock.CancelAfter(clocks.Connect);
            await tcp.ConnectAsync(address.Host, address.Port, clock.Token).ConfigureAwait(false);
            var client = new BenchSession(tcp, clocks);
            return await BenchWire.GreetAsync(client.stream, clock.Token).ConfigureAwait(false) switch
            {
                null => throw new LinkException(
                    LinkFault.NotUnderstood,
                    $"What answers at {address} is no phone that is understood here. It may be another mode or another device."
                ),
                < WritesSince => throw new LinkException(
                    LinkFault.NotUnderstood,
                    $"The phone at {address} speaks an older version of the protocol, in which nothing is written or copied."
                ),
                _ => client,
            };
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

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        tcp.Dispose();
        return ValueTask.CompletedTask;
    }

    /// <summary>Sends raw bytes between two messages, and asks whether they came whole.</summary>
    /// <param name="write">Writes exactly as many as were announced.</param>
    /// <param name="what">What the phone is to do with them: "keep …".</param>
    /// <param name="digestName">By what both ends hold them against each other.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>The state that the phone names.</returns>
    private async Task<string?> SendRawAsync(
        Func<Stream, CancellationToken, ValueTask> write,
        string what,
        string digestName,
        CancellationToken cancel
    )
    {
        using var digest = PieceDigest.Of(digestName);
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
                new Dictionary<string, object?> { ["ask"] = "held", [digest.Name] = digest.End() },
                what,
                clocks.Transfer,
                "the data",
                cancel
            )
            .ConfigureAwait(false);
        return answer.GetValueOrDefault("state") as string;
    }

    /// <summary>Takes raw bytes that follow an answer.</summary>
    /// <param name="bytes">How many.</param>
    /// <param name="to">Where they go.</param>
    /// <param name="taken">Told how many came so far.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>Their digest.</returns>
    private async Task<string> TakeRawAsync(long bytes, Stream to, Func<long, ValueTask> taken, CancellationToken cancel)
    {
        using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var buffer = new byte[Part];
        for (long have = 0; have < bytes; )
        {
            var got = 0;
            await LinkGuard
                .RunAsync(
                    async () =>
                    {
                        using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                        clock.CancelAfter(clocks.Transfer);
                        got = await stream
                            .ReadAsync(buffer.AsMemory(0, (int)Math.Min(Part, bytes - have)), clock.Token)
                            .ConfigureAwait(false);
                        if (got == 0)
                            throw new EndOfStreamException();
                    },
                    "while data came",
                    cancel
                )
                .ConfigureAwait(false);
            digest.AppendData(buffer.AsSpan(0, got));
            await to.WriteAsync(buffer.AsMemory(0, got), cancel).ConfigureAwait(false);
            have += got;
            await taken(have).ConfigureAwait(false);
        }

        return Convert.ToHexStringLower(digest.GetHashAndReset());
    }

    /// <summary>Asks for something that takes its time: the phone says again and again that it is at it, then that it is done.</summary>
    private async Task WorkAsync(IReadOnlyDictionary<string, object?> question, string what, TimeSpan wait, CancellationToken cancel)
    {
        var answer = await AskAsync(question, what, wait, $"the command to {what}", cancel).ConfigureAwait(false);
        for (var states = 0; answer.GetValueOrDefault("state") is "writing"; states++)
        {
            if (states > MaxStates)
                throw LinkGuard.Nonsense("says again and again that it writes, and never ends");
            answer = await AnswerAsync(what, wait, $"the command to {what}", cancel).ConfigureAwait(false);
        }

        if (answer.GetValueOrDefault("state") is not "accepted")
            throw LinkGuard.Nonsense($"was told to {what} and did not say that it had");
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
    private sealed class DigestingStream(Stream inner, PieceDigest digest) : Stream
    {
        private const int WorthAThread = 32 * 1024;

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
            // Where both take the processor's time, there is more than one.
            var digesting = Task.CompletedTask;
            if (digest.IsQuick || buffer.Length < WorthAThread)
                digest.Append(buffer.Span);
            else
                digesting = Task.Run(() => digest.Append(buffer.Span), CancellationToken.None);
            try
            {
                await inner.WriteAsync(buffer, cancellationToken).ConfigureAwait(false);
            }
            finally
            {
                // The buffer is its owner's again once this returns.
                await digesting.ConfigureAwait(false);
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
}

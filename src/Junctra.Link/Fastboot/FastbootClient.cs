using System.Net.Sockets;
using System.Text;

namespace Junctra.Link.Fastboot;

/// <summary>
/// Speaks the open fastboot protocol over TCP with whatever answers at an address. Survives any peer: every wait has a
/// clock, every length a limit, and every fault is a <see cref="LinkException"/>. Not for use by two callers at once.
/// </summary>
public sealed class FastbootClient : IAsyncDisposable
{
    private const int SendBufferBytes = 256 * 1024;

    /// <summary>Messages of INFO before one answer.</summary>
    private const int MaxInfo = 1000;

    private readonly TcpClient tcp;
    private readonly NetworkStream stream;
    private readonly LinkClocks clocks;

    private FastbootClient(TcpClient tcp, LinkClocks clocks)
    {
        this.tcp = tcp;
        this.clocks = clocks;
        stream = tcp.GetStream();
    }

    /// <summary>Words of the phone that decide nothing; cleaned, at most 300 characters each.</summary>
    public event Action<string>? Said;

    /// <summary>Connects and exchanges the greeting.</summary>
    /// <exception cref="LinkException">Nothing answers, or what answers does not speak fastboot.</exception>
    public static async Task<FastbootClient> ConnectAsync(LinkAddress address, LinkClocks clocks, CancellationToken cancel = default)
    {
        // A small buffer: what counts as given to the phone should not lie about in this computer.
        var tcp = new TcpClient { NoDelay = true, SendBufferSize = SendBufferBytes };
        try
        {
            using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
            clock.CancelAfter(clocks.Connect);
            try
            {
                await tcp.ConnectAsync(address.Host, address.Port, clock.Token).ConfigureAwait(false);
            }
            catch (Exception error) when (error is SocketException or OperationCanceledException && !cancel.IsCancellationRequested)
            {
                throw new LinkException(LinkFault.NoAnswer, $"Nothing answers at {address}.", error);
            }

            var client = new FastbootClient(tcp, clocks);
            await client.GreetAsync(address, clock.Token, cancel).ConfigureAwait(false);
            return client;
        }
        catch
        {
            tcp.Dispose();
            throw;
        }
    }

    private async Task GreetAsync(LinkAddress address, CancellationToken clock, CancellationToken cancel)
    {
        var theirs = new byte[FastbootWire.Greeting.Length];
        try
        {
            await stream.WriteAsync(FastbootWire.Greeting.ToArray(), clock).ConfigureAwait(false);
            await stream.ReadExactlyAsync(theirs, clock).ConfigureAwait(false);
        }
        catch (OperationCanceledException error) when (!cancel.IsCancellationRequested)
        {
            throw new LinkException(LinkFault.Silent, $"Something at {address} took the connection but said nothing.", error);
        }
        catch (IOException error)
        {
            throw new LinkException(
                LinkFault.Lost,
                $"What answers at {address} closed the connection at once. Is another program connected to the phone?",
                error
            );
        }

        if (
            theirs[0] != 'F'
            || theirs[1] != 'B'
            || !char.IsAsciiDigit((char)theirs[2])
            || !char.IsAsciiDigit((char)theirs[3])
            || theirs.AsSpan(2).SequenceEqual("00"u8)
        )
            throw new LinkException(
                LinkFault.NotUnderstood,
                $"What answers at {address} does not speak fastboot. It may be another mode or another device."
            );
    }

    /// <summary>A variable of the bootloader, or null when it has none of that name.</summary>
    public async Task<string?> GetVariableAsync(string name, CancellationToken cancel = default)
    {
        await SendCommandAsync("getvar:" + name, cancel).ConfigureAwait(false);
        var answer = await ReceiveAnswerAsync(clocks.Answer, $"the question for {name}", cancel).ConfigureAwait(false);
        return answer.Kind switch
        {
            FastbootAnswerKind.Okay => answer.Text,
            FastbootAnswerKind.Fail => null,
            _ => throw LinkGuard.Nonsense($"answered the question for {name} with data"),
        };
    }

    /// <summary>Gives the phone bytes to hold in its memory.</summary>
    /// <param name="bytes">How many; at most what the phone said it takes at once.</param>
    /// <param name="write">Writes exactly so many bytes to the stream it is given.</param>
    /// <param name="cancel">Cancels; the phone then holds nothing.</param>
    public async Task DownloadAsync(long bytes, Func<Stream, CancellationToken, ValueTask> write, CancellationToken cancel = default)
    {
        ArgumentOutOfRangeException.ThrowIfGreaterThan(bytes, uint.MaxValue);
        await SendCommandAsync($"download:{bytes:x8}", cancel).ConfigureAwait(false);
        var answer = await ReceiveAnswerAsync(clocks.Answer, "the announcement of data", cancel).ConfigureAwait(false);
        if (answer.Kind == FastbootAnswerKind.Fail)
            throw Refused("take the data", answer.Text);
        if (answer.Kind != FastbootAnswerKind.Data || answer.Bytes != bytes)
            throw LinkGuard.Nonsense($"was offered {bytes} bytes and answered {Shown(answer)}");

        await using (var guarded = new StallGuardStream(stream, clocks.Transfer))
        {
            await LinkGuard
                .RunAsync(
                    async () =>
                    {
                        await FastbootWire.SendLengthAsync(guarded, bytes, cancel).ConfigureAwait(false);
                        await write(guarded, cancel).ConfigureAwait(false);
                    },
                    "while data was sent",
                    cancel
                )
                .ConfigureAwait(false);
        }

        answer = await ReceiveAnswerAsync(clocks.Transfer, "the data", cancel).ConfigureAwait(false);
        if (answer.Kind == FastbootAnswerKind.Fail)
            throw Refused("keep the data", answer.Text);
        if (answer.Kind != FastbootAnswerKind.Okay)
            throw LinkGuard.Nonsense("answered the data with more data");
    }

    /// <summary>Has the phone write what it holds to a partition.</summary>
    /// <param name="partition">The partition.</param>
    /// <param name="bytes">How much it holds, for the clock.</param>
    /// <param name="cancel">Cancels the wait, not the phone.</param>
    public Task FlashAsync(string partition, long bytes, CancellationToken cancel = default) =>
        CommitAsync("flash:" + partition, $"write {partition}", bytes, cancel);

    /// <summary>Has the phone erase a partition.</summary>
    /// <param name="partition">The partition.</param>
    /// <param name="bytes">Its size, for the clock.</param>
    /// <param name="cancel">Cancels the wait, not the phone.</param>
    public Task EraseAsync(string partition, long bytes, CancellationToken cancel = default) =>
        CommitAsync("erase:" + partition, $"erase {partition}", bytes, cancel);

    /// <summary>Restarts the phone, and waits until it has let go of the connection.</summary>
    /// <param name="command">The command, one of those of the open protocol that restart.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task RestartAsync(string command, CancellationToken cancel = default)
    {
        try
        {
            await CommitAsync(command, "restart", 0, cancel).ConfigureAwait(false);
        }
        catch (LinkException error) when (error.Fault == LinkFault.Lost)
        {
            // Some bootloaders are gone before they have answered: letting go of the link is what a restart does.
            return;
        }

        // Until the old connection is gone, a new one would reach the bootloader that is about to end.
        using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        clock.CancelAfter(clocks.Answer);
        try
        {
            await stream.ReadAsync(new byte[1], clock.Token).ConfigureAwait(false);
        }
        catch (Exception error) when (error is IOException or OperationCanceledException && !cancel.IsCancellationRequested)
        {
            // Closed hard, or still open: both are settled by whether the phone answers anew.
        }
    }

    /// <inheritdoc/>
    public ValueTask DisposeAsync()
    {
        tcp.Dispose();
        return ValueTask.CompletedTask;
    }

    private async Task CommitAsync(string command, string what, long bytes, CancellationToken cancel)
    {
        await SendCommandAsync(command, cancel).ConfigureAwait(false);
        var answer = await ReceiveAnswerAsync(clocks.Commit(bytes), $"the command to {what}", cancel, works: true).ConfigureAwait(false);
        if (answer.Kind == FastbootAnswerKind.Fail)
            throw Refused(what, answer.Text);
        if (answer.Kind != FastbootAnswerKind.Okay)
            throw LinkGuard.Nonsense($"was told to {what} and answered {Shown(answer)}");
    }

    private Task SendCommandAsync(string command, CancellationToken cancel)
    {
        var bytes = Encoding.ASCII.GetBytes(command);
        if (bytes.Length > FastbootWire.MaxCommandBytes)
            throw new ArgumentException("The command is longer than the protocol allows.", nameof(command));
        return LinkGuard.RunAsync(
            async () =>
            {
                using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                clock.CancelAfter(clocks.Answer);
                await FastbootWire.SendAsync(stream, bytes, clock.Token).ConfigureAwait(false);
            },
            "while a command was sent",
            cancel
        );
    }

    /// <summary>The phone's answer. While the phone works, a message of INFO shows that it lives and starts the clock anew;
    /// a plain question is answered within its time, however much is said before.</summary>
    private async Task<FastbootAnswer> ReceiveAnswerAsync(TimeSpan wait, string after, CancellationToken cancel, bool works = false)
    {
        var answer = default(FastbootAnswer);
        await LinkGuard
            .RunAsync(
                async () =>
                {
                    using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
                    clock.CancelAfter(wait);
                    for (var messages = 0; ; messages++)
                    {
                        if (messages > MaxInfo)
                            throw new InvalidDataException("It keeps talking and never answers.");
                        if (works)
                            clock.CancelAfter(wait);
                        answer = FastbootAnswer.Read(
                            await FastbootWire.ReceiveAsync(stream, FastbootWire.MaxAnswerBytes, clock.Token).ConfigureAwait(false)
                        );
                        if (answer.Kind != FastbootAnswerKind.Info)
                            return;
                        Said?.Invoke(answer.Text);
                    }
                },
                $"after {after}",
                cancel
            )
            .ConfigureAwait(false);
        return answer;
    }

    private static LinkException Refused(string what, string text) => new(LinkFault.Refused, $"The phone refused to {what}: “{text}”.");

    private static string Shown(FastbootAnswer answer) => $"{answer.Kind.ToString().ToUpperInvariant()} {answer.Text}".TrimEnd();
}

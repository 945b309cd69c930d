using System.Net;
using System.Net.Sockets;
using Junctra.Link.Bench;

namespace Junctra.StandIns;

/// <summary>The other side of Junctra's own bench protocol.</summary>
internal static class BenchServer
{
    /// <summary>Answers one connection: greeting, then question and answer until the other side closes.</summary>
    /// <param name="stream">The connection.</param>
    /// <param name="answer">The answer to a question, and what follows once it was given.</param>
    /// <param name="closed">The port closes.</param>
    public static async Task AnswerAsync(
        NetworkStream stream,
        Func<IReadOnlyDictionary<string, object?>, (IReadOnlyDictionary<string, object?> Answer, Func<Task>? Then)> answer,
        CancellationToken closed
    )
    {
        await stream.WriteAsync(BenchWire.Greeting.ToArray(), closed);
        var greeting = new byte[BenchWire.Greeting.Length];
        await stream.ReadExactlyAsync(greeting, closed);
        if (!greeting.AsSpan().SequenceEqual(BenchWire.Greeting))
            return;
        while (true)
        {
            var (said, then) = answer(await BenchWire.ReceiveAsync(stream, closed));
            await BenchWire.SendAsync(stream, said, closed);
            // Not awaited: what follows may close this very port.
            if (then is not null)
                _ = then();
        }
    }

    public static Dictionary<string, object?> No(string why) => new() { ["ok"] = false, ["why"] = why };

    /// <summary>The computer's list of phones, on a port of its own, until the program ends.</summary>
    public static async Task ServeListAsync(int port, Func<string, IReadOnlyList<object?>> list, CancellationToken ending)
    {
        var listener = new TcpListener(IPAddress.Loopback, port);
        listener.Start();
        try
        {
            while (true)
            {
                using var tcp = await listener.AcceptTcpClientAsync(ending);
                try
                {
                    await AnswerAsync(
                        tcp.GetStream(),
                        question =>
                            question.GetValueOrDefault("ask") is "list"
                                ? (
                                    new Dictionary<string, object?>
                                    {
                                        ["ok"] = true,
                                        ["phones"] = list(question.GetValueOrDefault("port") as string ?? ""),
                                    },
                                    null
                                )
                                : (No("no such question"), null),
                        ending
                    );
                }
                catch (Exception error) when (error is IOException or InvalidDataException or SocketException)
                {
                    // The next question, please.
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The program ends.
        }
        finally
        {
            listener.Stop();
        }
    }
}

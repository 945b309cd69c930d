using System.Net.Sockets;
using System.Security.Cryptography;
using Junctra.Core.Twin;
using Junctra.Link.Bench;

namespace Junctra.StandIns;

/// <summary>One connection of a simulated phone in download mode: questions, or a session that writes (<c>docs/protocols.md</c>).</summary>
internal sealed class DownloadSession(
    BenchPhone phone,
    NetworkStream stream,
    StandInPace pace,
    Func<IReadOnlyDictionary<string, object?>, (IReadOnlyDictionary<string, object?> Answer, Func<Task>? Then)> otherwise
)
{
    private const string EndSession = "end-session";
    private HashSet<string> announced = [];
    private (string Partition, Memory<byte> Bytes)? held;
    private bool hasBegun;
    private byte[] room = [];

    public async Task RunAsync(CancellationToken closed)
    {
        await stream.WriteAsync(BenchWire.Greeting.ToArray(), closed);
        var greeting = new byte[BenchWire.Greeting.Length];
        await stream.ReadExactlyAsync(greeting, closed);
        if (!greeting.AsSpan().SequenceEqual(BenchWire.Greeting))
            return;
        while (true)
        {
            var question = await BenchWire.ReceiveAsync(stream, closed);
            try
            {
                await ObeyAsync(question, closed);
            }
            catch (PhoneRefusesException refusal)
            {
                await SayAsync(BenchServer.No(refusal.Message), closed);
            }
        }
    }

    private async Task ObeyAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        switch (question.GetValueOrDefault("ask"))
        {
            case "begin":
                Begin(question);
                await SayAsync(new() { ["ok"] = true, ["piece-bytes"] = (long)pace.MaxDownload }, closed);
                break;
            case "piece":
                await TakeAsync(question, closed);
                break;
            case "write":
                await WriteAsync(question, closed);
                break;
            case "end":
                if (!hasBegun)
                    throw new PhoneRefusesException("no session has begun");
                await SayAsync(new() { ["ok"] = true }, closed);
                hasBegun = false;
                // The restart closes the port, and this connection with it; until then nobody else is served.
                if (question.GetValueOrDefault("restart") is not true)
                    break;
                _ = phone.DoAsync(new Command(EndSession));
                await Task.Delay(Timeout.Infinite, closed);
                break;
            default:
                var (answer, then) = otherwise(question);
                await BenchWire.SendAsync(stream, answer, closed);
                if (then is not null)
                    _ = then();
                break;
        }
    }

    private void Begin(IReadOnlyDictionary<string, object?> question)
    {
        if (question.GetValueOrDefault("serial") as string != phone.State.Serial)
            throw new PhoneRefusesException("another serial");
        if (question.GetValueOrDefault("model-code") as string != (phone.Faults.Product ?? phone.State.Model))
            throw new PhoneRefusesException("another model");
        var names = (question.GetValueOrDefault("images") as IReadOnlyList<object?> ?? [])
            .OfType<IReadOnlyDictionary<string, object?>>()
            .Select(image => image.GetValueOrDefault("partition") as string ?? "")
            .ToList();
        if (names.Count == 0)
            throw new PhoneRefusesException("nothing is announced");
        if (names.FirstOrDefault(name => phone.Twin.SpecOf(name) is null) is { } unknown)
            throw new PhoneRefusesException($"no partition {unknown}");
        (announced, hasBegun, held) = ([.. names], true, null);
    }

    private async Task TakeAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var partition = Announced(question);
        if (question.GetValueOrDefault("bytes") is not long bytes || bytes <= 0 || bytes > pace.MaxDownload)
            throw new PhoneRefusesException($"at most {pace.MaxDownload} bytes at once");
        await SayAsync(new() { ["ok"] = true }, closed);
        if (room.Length < bytes)
            room = GC.AllocateUninitializedArray<byte>((int)bytes);
        var data = room.AsMemory(0, (int)bytes);
        held = null;
        await FaultStriker.ReadAsync(stream, data, phone.Faults, pace, closed);
        var end = await BenchWire.ReceiveAsync(stream, closed);
        if (
            end.GetValueOrDefault("ask") is not "held"
            || end.GetValueOrDefault("sha256") as string != Convert.ToHexStringLower(SHA256.HashData(data.Span))
        )
            throw new PhoneRefusesException("the data came damaged");
        held = (partition, data);
        await SayAsync(new() { ["ok"] = true, ["state"] = "held" }, closed);
    }

    private async Task WriteAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var partition = Announced(question);
        if (held is not { } piece || piece.Partition != partition)
            throw new PhoneRefusesException("nothing is held for it");
        FaultStriker.Refuse(phone.Faults);
        await SayAsync(
            new()
            {
                ["ok"] = true,
                ["state"] = "writing",
                ["says"] = $"writing {partition}",
            },
            closed
        );
        await FaultStriker.LingerAsync(phone.Faults, closed);
        await phone.FlashAsync(partition, piece.Bytes, closed);
        phone.Log.Enqueue(new Accepted("write", partition, piece.Bytes.Length));
        held = null;
        await SayAsync(new() { ["ok"] = true, ["state"] = "accepted" }, closed);
    }

    private string Announced(IReadOnlyDictionary<string, object?> question)
    {
        if (!hasBegun)
            throw new PhoneRefusesException("no session has begun");
        return question.GetValueOrDefault("partition") is string partition && announced.Contains(partition)
            ? partition
            : throw new PhoneRefusesException("that image was not announced");
    }

    private ValueTask SayAsync(Dictionary<string, object?> answer, CancellationToken closed)
    {
        if (phone.Faults.AnswerWith is { } other)
        {
            phone.Faults.AnswerWith = null;
            answer = new() { ["ok"] = true, ["state"] = other };
        }

        return BenchWire.SendAsync(stream, answer, closed);
    }
}

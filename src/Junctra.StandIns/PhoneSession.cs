using System.Net.Sockets;
using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Core.Twin;
using Junctra.Link.Bench;

namespace Junctra.StandIns;

/// <summary>
/// One connection of a simulated phone that speaks Junctra's own protocol: questions, a session that writes where its mode takes writes,
/// and
/// files where its mode gives them (<c>docs/protocols.md</c>).
/// </summary>
internal sealed partial class PhoneSession(
    BenchPhone phone,
    NetworkStream stream,
    StandInPace pace,
    Func<IReadOnlyDictionary<string, object?>, (IReadOnlyDictionary<string, object?> Answer, Func<Task>? Then)> otherwise
)
{
    private const string EndSession = "end-session";
    private const int WritesSince = 2;
    private HashSet<string> announced = [];
    private (string Partition, Memory<byte> Bytes)? held;
    private bool hasBegun;
    private byte[] room = [];

    public async Task RunAsync(CancellationToken closed)
    {
        if (await BenchWire.GreetAsync(stream, closed) is not { } version)
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

            // An older computer asks once.
            if (version < WritesSince)
                return;
        }
    }

    private async Task ObeyAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        switch (question.GetValueOrDefault("ask"))
        {
            case "begin":
                Begin(question);
                await SayAsync(
                    new Dictionary<string, object?>
                    {
                        ["ok"] = true,
                        ["piece-bytes"] = (long)pace.MaxDownload,
                        ["piece-digest"] = PieceDigest.Quick,
                    },
                    closed
                );
                break;
            case "piece":
                await TakeAsync(question, closed);
                break;
            case "write":
                await WriteAsync(question, closed);
                break;
            case "layout":
                await LayOutAsync(question, closed);
                break;
            case "loader":
                await TakeLoaderAsync(question, closed);
                break;
            case "end":
                await EndAsync(question, closed);
                break;
            case "files":
                await ListAsync(question, closed);
                break;
            case "put":
                await PutAsync(question, closed);
                break;
            case "fetch":
                await FetchAsync(question, closed);
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
        var stage = phone.State.Stage;
        if (stage is not (PhoneStage.Download or PhoneStage.CustomRecovery or PhoneStage.Emergency))
            throw new PhoneRefusesException("nothing is written here");
        if (stage == PhoneStage.Emergency)
        {
            if (!phone.State.HasLoader)
                throw new PhoneRefusesException("no loader runs");
            if (question.GetValueOrDefault(FactName.ChipFamily.Value) as string != phone.Twin.Model.ChipFamily)
                throw new PhoneRefusesException("another chip");
        }
        else if (question.GetValueOrDefault(FactName.Serial.Value) as string != phone.State.Serial)
        {
            throw new PhoneRefusesException("another serial");
        }
        else if (question.GetValueOrDefault(FactName.ModelCode.Value) as string != (phone.Faults.Product ?? phone.State.Model))
        {
            throw new PhoneRefusesException("another model");
        }

        var names = (question.GetValueOrDefault("images") as IReadOnlyList<object?> ?? [])
            .OfType<IReadOnlyDictionary<string, object?>>()
            .Select(image => image.GetValueOrDefault("partition") as string ?? "")
            .ToList();
        if (names.FirstOrDefault(name => phone.Twin.SpecOf(name) is null) is { } unknown)
            throw new PhoneRefusesException($"no partition {unknown}");
        (announced, hasBegun, held) = ([.. names], true, null);
    }

    private async Task TakeAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var partition = Announced(question);
        var data = await TakeRawAsync(question, PieceDigest.Quick, closed);
        held = (partition, data);
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true, ["state"] = "held" }, closed);
    }

    /// <summary>Takes as many raw bytes as a message announces, up to what it holds at once, and the digest that follows them.</summary>
    /// <exception cref="PhoneRefusesException">Too many, or the digest differs.</exception>
    private async Task<Memory<byte>> TakeRawAsync(
        IReadOnlyDictionary<string, object?> question,
        string digestName,
        CancellationToken closed
    )
    {
        if (question.GetValueOrDefault("bytes") is not long bytes || bytes <= 0 || bytes > pace.MaxDownload)
            throw new PhoneRefusesException($"at most {pace.MaxDownload} bytes at once");
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true }, closed);
        if (room.Length < bytes)
            room = GC.AllocateUninitializedArray<byte>((int)bytes);
        var data = room.AsMemory(0, (int)bytes);
        held = null;
        // Digested while the rest still comes: afterwards it would cost the computer the same time again.
        using var digest = PieceDigest.Of(digestName);
        await FaultStriker.ReadAsync(stream, data, phone, pace, part => digest.Append(part.Span), closed);
        var came = digest.End();
        // A computer may say the full digest all the same.
        await CameWholeAsync(name => name == digestName ? came : Convert.ToHexStringLower(SHA256.HashData(data.Span)), closed);
        return data;
    }

    /// <summary>Hears the digest of what was sent.</summary>
    /// <param name="digestOf">The digest of what came, by the name of the digest.</param>
    /// <param name="closed">Ends the wait.</param>
    /// <exception cref="PhoneRefusesException">It is another than that of what came.</exception>
    private async Task CameWholeAsync(Func<string, string> digestOf, CancellationToken closed)
    {
        var end = await BenchWire.ReceiveAsync(stream, closed);
        var name = end.ContainsKey(PieceDigest.Full) ? PieceDigest.Full : PieceDigest.Quick;
        if (end.GetValueOrDefault("ask") is not "held" || end.GetValueOrDefault(name) as string != digestOf(name))
            throw new PhoneRefusesException("the data came damaged");
    }

    private async Task WriteAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        var partition = Announced(question);
        if (held is not { } piece || piece.Partition != partition)
            throw new PhoneRefusesException("nothing is held for it");
        FaultStriker.Refuse(phone.Faults);
        await WorkAsync(
            $"writing {partition}",
            async () =>
            {
                await phone.FlashAsync(partition, piece.Bytes, closed);
                phone.Log.Enqueue(new Accepted("write", partition, piece.Bytes.Length));
                held = null;
            },
            closed
        );
    }

    private async Task LayOutAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        if (!hasBegun)
            throw new PhoneRefusesException("no session has begun");
        if (phone.State.Stage != PhoneStage.Download)
            throw new PhoneRefusesException("no layout is written here");
        var sizes = (question.GetValueOrDefault("partitions") as IReadOnlyList<object?> ?? [])
            .OfType<IReadOnlyDictionary<string, object?>>()
            .Select(part =>
                (Name: part.GetValueOrDefault("partition") as string ?? "", Bytes: part.GetValueOrDefault("bytes") as long? ?? 0)
            )
            .ToList();
        if (
            sizes.Count == 0
            || sizes.Exists(part => part.Name.Length == 0 || part.Bytes <= 0)
            || sizes.DistinctBy(part => part.Name).Count() < sizes.Count
        )
            throw new PhoneRefusesException("that is no layout");
        FaultStriker.Refuse(phone.Faults);
        await WorkAsync(
            "writing the layout",
            async () =>
            {
                await phone.LayOutAsync(sizes.ToDictionary(part => part.Name, part => part.Bytes), closed);
                phone.Log.Enqueue(new Accepted("layout", "", 0));
            },
            closed
        );
    }

    private async Task TakeLoaderAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        if (phone.State.Stage != PhoneStage.Emergency)
            throw new PhoneRefusesException("no loader is taken here");
        var loader = DemoImages.Stamp((await TakeRawAsync(question, PieceDigest.Full, closed)).Span);
        if (loader?.GetValueOrDefault("part") != "loader" || loader.GetValueOrDefault("chip") != phone.Twin.Model.ChipFamily)
            throw new PhoneRefusesException("it is not signed for this chip");
        _ = int.TryParse(loader.GetValueOrDefault("revision"), out var revision);
        await phone.DoAsync(new SupplyLoader(revision));
        if (!phone.State.HasLoader)
            throw new PhoneRefusesException("it does not start");
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true, ["state"] = "runs" }, closed);
    }

    private async Task EndAsync(IReadOnlyDictionary<string, object?> question, CancellationToken closed)
    {
        if (!hasBegun)
            throw new PhoneRefusesException("no session has begun");
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true }, closed);
        hasBegun = false;
        if (question.GetValueOrDefault("restart") is not true)
            return;
        // The restart closes the port, and this connection with it; until then nobody else is served.
        _ = phone.DoAsync(phone.State.Stage == PhoneStage.Download ? new Command(EndSession) : new ForcedRestart());
        await Task.Delay(Timeout.Infinite, closed);
    }

    /// <summary>Says that it is at it, does it, and says that it is done.</summary>
    private async Task WorkAsync(string says, Func<Task> work, CancellationToken closed)
    {
        await SayAsync(
            new Dictionary<string, object?>
            {
                ["ok"] = true,
                ["state"] = "writing",
                ["says"] = says,
            },
            closed
        );
        await FaultStriker.LingerAsync(phone.Faults, closed);
        await work();
        await SayAsync(new Dictionary<string, object?> { ["ok"] = true, ["state"] = "accepted" }, closed);
    }

    private string Announced(IReadOnlyDictionary<string, object?> question)
    {
        if (!hasBegun)
            throw new PhoneRefusesException("no session has begun");
        return question.GetValueOrDefault("partition") is string partition && announced.Contains(partition)
            ? partition
            : throw new PhoneRefusesException("that image was not announced");
    }

    private async ValueTask SayAsync(IReadOnlyDictionary<string, object?> answer, CancellationToken closed)
    {
        if (phone.Faults.AnswerWith is { } other)
        {
            phone.Faults.AnswerWith = null;
            answer = new Dictionary<string, object?> { ["ok"] = true, ["state"] = other };
        }

        if (phone.Faults.AnnounceLength is { } length)
        {
            phone.Faults.AnnounceLength = null;
            var head = new byte[4];
            System.Buffers.Binary.BinaryPrimitives.WriteInt32BigEndian(head, (int)Math.Clamp(length, int.MinValue, int.MaxValue));
            await stream.WriteAsync(head, closed);
            return;
        }

        await BenchWire.SendAsync(stream, answer, closed);
    }
}

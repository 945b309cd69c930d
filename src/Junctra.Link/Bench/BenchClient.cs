using System.Net.Sockets;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;

namespace Junctra.Link.Bench;

/// <summary>
/// Speaks Junctra's own bench protocol: with a phone in download mode, recovery, the running system or chip emergency mode,
/// and with the computer's list of phones. One question, one answer, then the connection ends. Survives any peer.
/// </summary>
public static class BenchClient
{
    /// <summary>Reads what a phone says of itself. Changes nothing on it.</summary>
    /// <exception cref="LinkException">It does not answer, or cannot be understood.</exception>
    public static async Task<PhoneReading> ReadAsync(
        LinkAddress address,
        LinkClocks clocks,
        ModelCatalogue catalogue,
        DateTimeOffset at,
        string recordedBy,
        CancellationToken cancel = default
    )
    {
        var answer = await AskAsync(address, clocks, new Dictionary<string, object?> { ["ask"] = "who" }, cancel).ConfigureAwait(false);
        var facts = new List<Fact>();
        var remarks = new List<string>();
        if (PhoneModes.Parse(Text(answer, "mode")) is not { } mode)
            throw new LinkException(LinkFault.NotUnderstood, $"What answers at {address} does not say in which mode it is.");
        facts.Add(FactName.Mode.Claim(mode, FactSource.Link, at, recordedBy));
        facts.Add(FactName.Reached(mode).Claim(true, FactSource.Link, at, recordedBy));
        // A running system that is not its maker's may say anything.
        var source =
            mode is PhoneMode.System
            && answer.GetValueOrDefault("facts") is IReadOnlyDictionary<string, object?> told
            && FactName.DeviceStatus.TryRead(Text(told, FactName.DeviceStatus.Value) ?? "", out var status)
            && status == DeviceStatus.Custom
                ? FactSource.CustomSystem
                : FactSource.Link;
        foreach (
            var (name, value) in answer.GetValueOrDefault("facts") as IReadOnlyDictionary<string, object?>
                ?? new Dictionary<string, object?>()
        )
        {
            if (FactName.Parse(name) is not { } fact || value?.ToString() is not { } text)
                remarks.Add($"It says {Plain(name)}, which is no fact that is known here.");
            else if (fact.Normalise(text) is { } normal)
                facts.Add(new Fact(fact, normal, source, at, recordedBy));
            else
                remarks.Add($"It says “{Plain(text)}” for its {fact.Label.ToLowerInvariant()}, which is no value of it.");
        }

        return new PhoneReading(BuildFacts.With(facts, catalogue), remarks);
    }

    /// <summary>Gives a phone a command of the catalogue.</summary>
    /// <returns>Null, or why it does not obey, in its own words.</returns>
    /// <exception cref="LinkException">It does not answer, or cannot be understood.</exception>
    public static async Task<string?> CommandAsync(
        LinkAddress address,
        LinkClocks clocks,
        string command,
        CancellationToken cancel = default
    )
    {
        try
        {
            await AskAsync(address, clocks, new Dictionary<string, object?> { ["ask"] = "do", ["command"] = command }, cancel)
                .ConfigureAwait(false);
            return null;
        }
        catch (LinkException error) when (error.Fault == LinkFault.Refused)
        {
            return error.Message;
        }
    }

    /// <summary>What a computer lists at a port of the bench.</summary>
    /// <exception cref="LinkException">It does not answer, or cannot be understood.</exception>
    public static async Task<IReadOnlyList<ListedPhone>> ListAsync(
        LinkAddress address,
        LinkClocks clocks,
        string port,
        CancellationToken cancel = default
    )
    {
        var answer = await AskAsync(address, clocks, new Dictionary<string, object?> { ["ask"] = "list", ["port"] = port }, cancel)
            .ConfigureAwait(false);
        if (answer.GetValueOrDefault("phones") is not IReadOnlyList<object?> phones)
            throw new LinkException(LinkFault.NotUnderstood, $"The list at {address} is none.");
        return
        [
            .. phones
                .OfType<IReadOnlyDictionary<string, object?>>()
                .Select(phone => new ListedPhone(
                    Plain(Text(phone, "serial")),
                    PhoneModes.Parse(Text(phone, "mode")) ?? PhoneMode.Unknown,
                    phone.GetValueOrDefault("warning") is true,
                    phone.GetValueOrDefault("allowed") is not false,
                    Plain(Text(phone, "address"))
                )),
        ];
    }

    private static async Task<IReadOnlyDictionary<string, object?>> AskAsync(
        LinkAddress address,
        LinkClocks clocks,
        IReadOnlyDictionary<string, object?> question,
        CancellationToken cancel
    )
    {
        using var clock = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        clock.CancelAfter(clocks.Answer);
        using var tcp = new TcpClient { NoDelay = true };
        try
        {
            await tcp.ConnectAsync(address.Host, address.Port, clock.Token).ConfigureAwait(false);
            var stream = tcp.GetStream();
            if (await BenchWire.GreetAsync(stream, clock.Token).ConfigureAwait(false) is null)
                throw new LinkException(
                    LinkFault.NotUnderstood,
                    $"What answers at {address} is no phone that is understood here. It may be another mode or another device."
                );
            await BenchWire.SendAsync(stream, question, clock.Token).ConfigureAwait(false);
            var answer = await BenchWire.ReceiveAsync(stream, clock.Token).ConfigureAwait(false);
            if (answer.GetValueOrDefault("ok") is true)
                return answer;
            throw new LinkException(LinkFault.Refused, $"It refuses: “{Plain(Text(answer, "why")) ?? "no reason given"}”.");
        }
        catch (OperationCanceledException error) when (!cancel.IsCancellationRequested)
        {
            throw new LinkException(
                tcp.Connected ? LinkFault.Silent : LinkFault.NoAnswer,
                tcp.Connected ? $"Something at {address} took the connection but said nothing." : $"Nothing answers at {address}.",
                error
            );
        }
        catch (SocketException error)
        {
            throw new LinkException(LinkFault.NoAnswer, $"Nothing answers at {address}.", error);
        }
        catch (InvalidDataException error)
        {
            throw new LinkException(LinkFault.NotUnderstood, $"What answers at {address} cannot be understood: {error.Message}", error);
        }
        catch (IOException error)
        {
            throw new LinkException(LinkFault.Lost, $"The connection to {address} broke before it answered.", error);
        }
    }

    private static string? Text(IReadOnlyDictionary<string, object?> map, string key) => map.GetValueOrDefault(key) as string;

    internal static string? Words(string? text) => Plain(text);

    /// <summary>A peer's words, without what a screen could not show, at most 300 characters.</summary>
    private static string? Plain(string? text) =>
        text is null ? null
        : new string([.. text.Take(300).Select(c => char.IsControl(c) ? ' ' : c)]).Trim() is { Length: > 0 } plain ? plain
        : null;
}

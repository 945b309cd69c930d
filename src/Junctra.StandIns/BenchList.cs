using System.Collections.Concurrent;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>What is to go wrong with a computer's list at a port.</summary>
internal sealed record ListFaults
{
    /// <summary>The phone is not listed, as with a cable that carries no data.</summary>
    public bool Unlisted { get; init; }

    /// <summary>It has a warning mark.</summary>
    public bool Warning { get; init; }

    /// <summary>It has not allowed this computer.</summary>
    public bool Unauthorised { get; init; }

    /// <summary>It shows no serial.</summary>
    public bool HideSerial { get; init; }

    /// <summary>It is listed in this mode whatever it is in; null for its own.</summary>
    public string? Mode { get; init; }

    /// <summary>Name of another phone that is on the same port, or null.</summary>
    public string? Other { get; init; }

    /// <summary>Every so many looks the list is empty, as with a cable that is about to break; 0 for never.</summary>
    public int FlakyEvery { get; init; }
}

/// <summary>The list of phones of the bench's computer, as its ports hear them.</summary>
internal sealed class BenchList(IReadOnlyDictionary<string, BenchPhone> phones)
{
    private static readonly IReadOnlyDictionary<string, ListFaults> AtFirst = new Dictionary<string, ListFaults>(
        StringComparer.OrdinalIgnoreCase
    )
    {
        ["D"] = new ListFaults { Other = "X" },
    };

    private readonly ConcurrentDictionary<string, ListFaults> faults = new(AtFirst, StringComparer.OrdinalIgnoreCase);
    private int looks;

    public ListFaults this[string port]
    {
        get => faults.GetValueOrDefault(port) ?? new ListFaults();
        set => faults[port] = value;
    }

    /// <summary>All ports as they were at first.</summary>
    public void Renew()
    {
        looks = 0;
        faults.Clear();
        foreach (var (port, wrong) in AtFirst)
            faults[port] = wrong;
    }

    /// <summary>What is listed at a port.</summary>
    public IReadOnlyList<object?> At(string port)
    {
        var wrong = this[port];
        if (wrong.FlakyEvery > 0 && Interlocked.Increment(ref looks) % wrong.FlakyEvery == 0)
            return [];
        var listed = new List<object?>();
        if (phones.TryGetValue(port, out var phone) && phone.Port != 0 && !wrong.Unlisted && Hears(phone.State))
            listed.Add(Entry(phone, wrong));
        // A driver that nobody installed shows a warning mark and no serial.
        if (wrong.Other is { } name && phones.TryGetValue(name, out var other) && Hears(other.State))
            listed.Insert(
                0,
                Entry(
                    other,
                    new ListFaults
                    {
                        Warning = true,
                        HideSerial = true,
                        Mode = PhoneMode.Unknown.Id(),
                    }
                )
            );
        return listed;
    }

    private static bool Hears(TwinState state) => PhoneTwin.LinkOf(state) is not null;

    private static Dictionary<string, object?> Entry(BenchPhone phone, ListFaults wrong) =>
        new()
        {
            ["serial"] = wrong.HideSerial || phone.State.Stage == PhoneStage.Emergency ? null : phone.State.Serial,
            ["mode"] = wrong.Mode ?? phone.State.Mode.Id(),
            ["warning"] = wrong.Warning,
            ["allowed"] = !wrong.Unauthorised && PhoneTwin.IsAllowed(phone.State),
            ["address"] = phone.Port == 0 || wrong.Warning ? null : $"127.0.0.1:{phone.Port}",
        };
}

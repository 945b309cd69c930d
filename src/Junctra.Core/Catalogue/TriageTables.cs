using Junctra.Core.Facts;
using Junctra.Core.Matching;

namespace Junctra.Core.Catalogue;

/// <summary>How much a way out takes from the phone, the least first. The least destructive remedy comes first.</summary>
public enum Toll
{
    /// <summary>Looking changes nothing.</summary>
    Look,

    /// <summary>Charging.</summary>
    Charge,

    /// <summary>Keys, cables and ports.</summary>
    Keys,

    /// <summary>Wiping the cache.</summary>
    Cache,

    /// <summary>A write that keeps the data.</summary>
    KeepDataWrite,

    /// <summary>Wiping the user data.</summary>
    Wipe,

    /// <summary>A write that erases the data.</summary>
    CleanWrite,

    /// <summary>Writing in chip emergency mode.</summary>
    EmergencyMode,

    /// <summary>Opening the phone.</summary>
    Opening,
}

/// <summary>Words for tolls.</summary>
public static class Tolls
{
    /// <summary>The toll as a technician says it.</summary>
    public static string Label(this Toll toll) =>
        toll switch
        {
            Toll.Look => "look",
            Toll.Charge => "charge",
            Toll.Keys => "keys and cable",
            Toll.Cache => "wipe the cache",
            Toll.KeepDataWrite => "write, data kept",
            Toll.Wipe => "wipe",
            Toll.CleanWrite => "write, clean",
            Toll.EmergencyMode => "emergency mode",
            Toll.Opening => "opening",
            _ => throw new ArgumentOutOfRangeException(nameof(toll), toll, null),
        };
}

/// <summary>What a check can cost the phone.</summary>
public enum CheckRisk
{
    /// <summary>Nothing.</summary>
    None,

    /// <summary>A restart, or a mode that the phone must be led out of again.</summary>
    Low,

    /// <summary>It may cost data, or leave the phone worse than it was.</summary>
    High,
}

/// <summary>What to do about a fault class.</summary>
/// <param name="Id">Id, for example <c>full-stock</c>; classes that share it lead to the same work.</param>
/// <param name="Title">What is done, in a few words.</param>
/// <param name="Paths">Letters of the plan's paths, the first one first; empty where nothing is written.</param>
/// <param name="Toll">The most that it takes from the phone when it goes as meant.</param>
/// <param name="Words">How it goes, in a sentence or two.</param>
/// <param name="Station">Slug of the station where the work goes on, or null where the job stops.</param>
public sealed record WayOut(string Id, string Title, IReadOnlyList<string> Paths, Toll Toll, string Words, string? Station);

/// <summary>How often a class is met, for some phones differently.</summary>
/// <param name="Usual">Weight among all classes, above 0.</param>
/// <param name="ByMaker">Weights for makers where they differ.</param>
/// <param name="ByKeyFamily">Weights for key families where they differ; a maker's own goes before.</param>
public sealed record Prior(double Usual, IReadOnlyDictionary<string, double> ByMaker, IReadOnlyDictionary<string, double> ByKeyFamily)
{
    /// <summary>The weight for a phone.</summary>
    public double For(string? maker, string? keyFamily) =>
        maker is not null && ByMaker.TryGetValue(maker, out var own) ? own
        : keyFamily is not null && ByKeyFamily.TryGetValue(keyFamily, out var family) ? family
        : Usual;
}

/// <summary>A fault class: one of the things that can be wrong.</summary>
/// <param name="Id">Id, for example <c>damaged-system</c>.</param>
/// <param name="Label">Its name.</param>
/// <param name="Looks">How it looks.</param>
/// <param name="Prior">How often it is met.</param>
/// <param name="WayOut">What to do about it.</param>
public sealed record FaultClass(string Id, string Label, string Looks, Prior Prior, WayOut WayOut);

/// <summary>What an outcome means for the rules of the bench, which come before any probability.</summary>
public enum BenchSign
{
    /// <summary>Nothing by itself.</summary>
    None,

    /// <summary>No reaction at all.</summary>
    NoReaction,

    /// <summary>It reaches its write mode, and the computer sees it there.</summary>
    WriteModeSeen,

    /// <summary>It reaches its write mode, and the computer does not see it.</summary>
    WriteModeUnseen,

    /// <summary>It was charged for long enough on a known-good charger.</summary>
    Charged,
}

/// <summary>One answer to a check.</summary>
/// <param name="Id">Id.</param>
/// <param name="Label">What the phone shows, or what was said.</param>
/// <param name="Likelihood">How likely this answer is, by class, in the order of <see cref="TriageTables.Classes"/>; each above 0, and the
/// answers of one check add up to 1 for every class.</param>
/// <param name="Facts">Values of facts that are this answer: where the fact is known, nobody is asked.</param>
/// <param name="Mode">The mode that the phone is in with this answer, or null.</param>
/// <param name="Reached">Modes that it was seen to reach with this answer, or, where false, not to reach.</param>
/// <param name="Sign">What it means for the rules of the bench.</param>
/// <param name="Goal">What the phone is to be written for with this answer, where it says so.</param>
public sealed record CheckOutcome(
    string Id,
    string Label,
    IReadOnlyList<double> Likelihood,
    IReadOnlyList<(FactName Name, string Value)> Facts,
    PhoneMode? Mode = null,
    IReadOnlyList<(PhoneMode Mode, bool Reached)>? Reached = null,
    BenchSign Sign = BenchSign.None,
    JobGoal? Goal = null
);

/// <summary>A check: something that is looked at, tried or asked, with what can come out.</summary>
/// <param name="Id">Id.</param>
/// <param name="Ask">The question.</param>
/// <param name="How">How it is done, in a sentence or two.</param>
/// <param name="Minutes">Minutes of hands and waiting, above 0.</param>
/// <param name="Risk">What it can cost the phone.</param>
/// <param name="AtIntake">Whether it is asked at the counter, where more than four answers fit.</param>
/// <param name="IsCharging">Whether it charges the phone, which is never done when it is wet, swollen, hot or crushed.</param>
/// <param name="Outcomes">What can come out.</param>
/// <param name="Records">Source with which an answer's facts are recorded, or null where an answer tells no fact of the list.</param>
public sealed record TriageCheck(
    string Id,
    string Ask,
    string How,
    double Minutes,
    CheckRisk Risk,
    bool AtIntake,
    bool IsCharging,
    IReadOnlyList<CheckOutcome> Outcomes,
    FactSource? Records = null
)
{
    /// <summary>
    /// The facts that follow from an answer: what the outcome says of the phone, the mode it is in, the modes it was seen to reach.
    /// </summary>
    public IEnumerable<Fact> FactsOf(CheckOutcome outcome, DateTimeOffset at, string by)
    {
        if (Records is { } source)
        {
            // Where several values are the same answer, which of them it is stays unknown.
            foreach (
                var fact in outcome.Facts.Where(fact => !fact.Name.IsReached && outcome.Facts.Count(other => other.Name == fact.Name) == 1)
            )
                yield return new Fact(fact.Name, fact.Value, source, at, by);
        }

        if (outcome.Mode is { } mode)
            yield return new Fact(FactName.Mode, mode.Id(), AtIntake ? FactSource.Customer : FactSource.Seen, at, by);
        // What a customer tells of a mode is no sight of it.
        if (AtIntake)
            yield break;
        foreach (var (reached, was) in outcome.Reached ?? [])
            yield return FactName.Reached(reached).Claim(was, FactSource.Seen, at, by);
    }

    /// <summary>The outcome of that id, or null.</summary>
    public CheckOutcome? Outcome(string? id) => Outcomes.FirstOrDefault(outcome => outcome.Id == id);
}

/// <summary>Fault classes, and the checks that tell them apart: the shop's tables.</summary>
/// <param name="Classes">The classes.</param>
/// <param name="Checks">The checks.</param>
/// <param name="ChargeFirst">What to do with a phone that shows no reaction and was not charged yet.</param>
/// <param name="Aside">What to do with a phone that is wet, swollen, hot or crushed.</param>
public sealed record TriageTables(IReadOnlyList<FaultClass> Classes, IReadOnlyList<TriageCheck> Checks, WayOut? ChargeFirst, WayOut? Aside)
{
    /// <summary>Most answers that a check at the bench can have: they lie on the keys 1 to 4.</summary>
    public const int MaxOutcomes = 4;

    /// <summary>Tables that know nothing.</summary>
    public static TriageTables Empty { get; } = new([], [], null, null);

    /// <summary>The class of that id, or null.</summary>
    public FaultClass? Class(string? id) => Classes.FirstOrDefault(c => c.Id == id);

    /// <summary>The check of that id, or null.</summary>
    public TriageCheck? Check(string? id) => Checks.FirstOrDefault(check => check.Id == id);

    /// <summary>The checks that are asked at the counter.</summary>
    public IEnumerable<TriageCheck> AtIntake => Checks.Where(check => check.AtIntake);
}

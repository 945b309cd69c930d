using System.Text.Json.Serialization;

namespace Junctra.Core.Plans;

/// <summary>What a break in a step leaves, from harmless to final.</summary>
public enum RiskKind
{
    /// <summary>The phone is as it came.</summary>
    SafeToStop,

    /// <summary>Keys, or nothing at all, bring it back to where the plan can begin again, and it ends well.</summary>
    KeysBringItBack,

    /// <summary>Only chip emergency mode is left.</summary>
    OnlyEmergency,

    /// <summary>No way back is known.</summary>
    NotRecoverable,
}

/// <summary>What a break in a step would mean, at the worst point of it and by the worst mistake.</summary>
/// <param name="Step">Number of the step.</param>
/// <param name="Risk">What would be left.</param>
/// <param name="DataGone">Whether data that were to be kept would be gone.</param>
/// <param name="By">The mistake that does it; empty where none does harm.</param>
/// <param name="At">Where the phone would be then; empty where that does not matter.</param>
/// <param name="Partition">Of a step that sends several images, the one whose turn it is; null for the step as a whole.</param>
public sealed record StepRisk(int Step, RiskKind Risk, bool DataGone, string By = "", string At = "", string? Partition = null)
{
    /// <summary>Of a step that is not known.</summary>
    public static StepRisk None { get; } = new(0, RiskKind.SafeToStop, false);

    /// <summary>The worse of two of one step.</summary>
    public static StepRisk Worse(StepRisk a, StepRisk b) => (b.Risk > a.Risk ? b : a) with { DataGone = a.DataGone || b.DataGone };

    /// <summary>Whether a step must be finished once it has begun.</summary>
    public bool IsNoReturn => Risk >= RiskKind.OnlyEmergency;

    /// <summary>The same in words.</summary>
    public string Words =>
        (Step, Risk) switch
        {
            (0, _) => "",
            (_, RiskKind.SafeToStop) => "Nothing on the phone has changed. Begin again.",
            (_, RiskKind.KeysBringItBack) =>
                $"The phone can be brought back by keys{(At.Length > 0 ? $" from {At}" : "")}. Begin again from the start.{Data}",
            (_, RiskKind.OnlyEmergency) => $"{Cause}only chip emergency mode is left: the phone may not answer again.{Data}",
            _ => $"{Cause}no way back is known.{Data}",
        };

    /// <summary>The same as a sentence by itself.</summary>
    public string Sentence =>
        Words.Length == 0 ? ""
        : By.Length > 0 && IsNoReturn ? Words
        : $"If it breaks here: {char.ToLowerInvariant(Words[0])}{Words[1..]}";

    private string Data => DataGone ? " The data would be gone." : "";

    private string Cause => By.Length > 0 ? $"If {By} now, " : "";
}

/// <summary>What playing a plan on a twin of the phone found, before a real phone is touched.</summary>
/// <param name="WhyNot">The first act that the twin refuses, in a sentence; null where the plan goes through.</param>
/// <param name="Fates">What becomes of what a customer cares about.</param>
/// <param name="Expectations">What is to be read afterwards.</param>
/// <param name="Risks">What a break in each step would mean.</param>
/// <param name="Branches">How many twins were played: one for each combination of what nobody knows and what matters.</param>
public sealed record Rehearsal(
    string? WhyNot,
    IReadOnlyList<Fate> Fates,
    IReadOnlyList<Expectation> Expectations,
    IReadOnlyList<StepRisk> Risks,
    int Branches
)
{
    /// <summary>
    /// What nobody knows and how the plan goes depends on, the one first whose reading would tell most: between its values lies the
    /// greatest difference in what may go wrong. Asked before a write; a plan that was begun is kept without it.
    /// </summary>
    [JsonIgnore]
    public IReadOnlyList<OpenFact> OpenFacts { get; init; } = [];

    /// <summary>Of a plan that was not rehearsed yet.</summary>
    public static Rehearsal None { get; } = new(null, [], [], [], 0);

    /// <summary>Of a plan that the twin refuses.</summary>
    public static Rehearsal Fails(string why) => None with { WhyNot = why };
}

using Junctra.Core.Catalogue;

namespace Junctra.Core.Triage;

/// <summary>Whether the cell, or the phone around it, allows any current.</summary>
public enum CellState
{
    /// <summary>Nothing was seen.</summary>
    Sound,

    /// <summary>Wet.</summary>
    Wet,

    /// <summary>Swollen.</summary>
    Swollen,

    /// <summary>Hot by itself.</summary>
    Hot,

    /// <summary>Crushed, bent or punctured.</summary>
    Crushed,
}

/// <summary>What is known of the phone besides the observations.</summary>
/// <param name="Maker">Its maker, or null.</param>
/// <param name="KeyFamily">Id of its key family, or null.</param>
/// <param name="Cell">State of the cell as seen at the counter.</param>
/// <param name="Skipped">Checks that somebody could not tell anything from; they are not offered again.</param>
public sealed record TriageCase(
    string? Maker = null,
    string? KeyFamily = null,
    CellState Cell = CellState.Sound,
    IReadOnlyCollection<string>? Skipped = null
);

/// <summary>A fault class and how probable it is.</summary>
/// <param name="Class">The class.</param>
/// <param name="Chance">From 0 to 1; those of all candidates add up to 1.</param>
/// <param name="Evidence">What speaks for it and against it, the strongest first.</param>
public sealed record Candidate(FaultClass Class, double Chance, IReadOnlyList<Evidence> Evidence)
{
    /// <summary>The chance in words.</summary>
    public string Words =>
        Chance switch
        {
            >= 0.95 => "almost certain",
            >= 0.8 => "very likely",
            >= 0.5 => "likely",
            >= 0.2 => "possible",
            >= 0.05 => "not likely",
            _ => "hardly",
        };
}

/// <summary>What one observation says of one class.</summary>
/// <param name="Check">The check.</param>
/// <param name="Outcome">What came out.</param>
/// <param name="Bits">Above 0 it speaks for the class, below 0 against it; one bit doubles the odds.</param>
public sealed record Evidence(TriageCheck Check, CheckOutcome Outcome, double Bits);

/// <summary>A check that is still open, and what it is worth.</summary>
/// <param name="Check">The check.</param>
/// <param name="Bits">Information that it brings on average.</param>
/// <param name="ChangesWork">Whether some outcome of it would change what to do.</param>
public sealed record OpenCheck(TriageCheck Check, double Bits, bool ChangesWork)
{
    /// <summary>Information for each minute.</summary>
    public double BitsPerMinute => Bits / Check.Minutes;
}

/// <summary>Two observations that no fault class explains together.</summary>
/// <param name="First">The one.</param>
/// <param name="Second">The other.</param>
public sealed record Contradiction(Evidence First, Evidence Second);

/// <summary>A rule of the bench that holds before any probability.</summary>
/// <param name="Title">The rule.</param>
/// <param name="Sentence">Why it holds here, and what follows.</param>
/// <param name="IsStop">Whether the job stops there and then.</param>
/// <param name="IsGood">Whether it is good news.</param>
public sealed record BenchRule(string Title, string Sentence, bool IsStop = false, bool IsGood = false);

/// <summary>What the observations so far say.</summary>
/// <param name="Candidates">All classes, the most probable first.</param>
/// <param name="Open">Checks that are still worth something, the next one first; empty when nothing more needs to be asked.</param>
/// <param name="IsSettled">Whether further checks would not change what to do.</param>
/// <param name="Why">Why it is settled, or what is still open.</param>
/// <param name="WaysOut">Ways out of the candidates that are still credible, from the least to the most destructive, with their
/// chances.</param>
/// <param name="WayOut">What to do, once it is settled; before that, what the leading candidate asks for.</param>
/// <param name="Rules">Rules of the bench that hold.</param>
/// <param name="Contradictions">Observations that contradict each other.</param>
public sealed record Diagnosis(
    IReadOnlyList<Candidate> Candidates,
    IReadOnlyList<OpenCheck> Open,
    bool IsSettled,
    string Why,
    IReadOnlyList<(WayOut Way, double Chance)> WaysOut,
    WayOut? WayOut,
    IReadOnlyList<BenchRule> Rules,
    IReadOnlyList<Contradiction> Contradictions
)
{
    /// <summary>The most probable class, or null where the tables are empty.</summary>
    public Candidate? Leading => Candidates.Count > 0 ? Candidates[0] : null;

    /// <summary>The check to do next, or null.</summary>
    public OpenCheck? Next => IsSettled || Open.Count == 0 ? null : Open[0];
}

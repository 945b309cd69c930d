using Junctra.Core.Facts;

namespace Junctra.Core.Matching;

/// <summary>What a rule says of a package on a phone, best first; the whole is the worst of its parts.</summary>
public enum Verdict
{
    /// <summary>Nothing stands against it.</summary>
    Go = 0,

    /// <summary>Allowed, with a named consequence that somebody accepts.</summary>
    Care = 1,

    /// <summary>A fact is missing.</summary>
    Ask = 2,

    /// <summary>Never; there is no override.</summary>
    Stop = 3,
}

/// <summary>What one rule says, with its reasons.</summary>
/// <param name="RuleId">The rule, for example <c>M04</c>.</param>
/// <param name="Title">The rule's short name.</param>
/// <param name="Verdict">What it says.</param>
/// <param name="Sentence">Why, in a sentence a counter clerk understands.</param>
/// <param name="FactsUsed">The facts of the phone it looked at.</param>
/// <param name="NeedsCleanWrite">Whether it allows the package only with the user data erased.</param>
/// <param name="OtherSchools">What it would say by other schools, where that differs; null where no school decides it.</param>
/// <param name="Consequences">What somebody accepts who goes on; null where there is nothing to accept.</param>
/// <param name="IsIdle">Whether the rule does not concern this package or phone.</param>
/// <param name="School">The school that decides it here, in words; null where none does.</param>
public sealed record RuleResult(
    RuleId RuleId,
    string Title,
    Verdict Verdict,
    string Sentence,
    IReadOnlyList<Fact> FactsUsed,
    bool NeedsCleanWrite = false,
    IReadOnlyList<SchoolAnswer>? OtherSchools = null,
    IReadOnlyList<Consequence>? Consequences = null,
    bool IsIdle = false,
    string? School = null
);

/// <summary>What a rule says by another school.</summary>
/// <param name="School">The school, in words.</param>
/// <param name="Verdict">Its verdict.</param>
/// <param name="Sentence">Why.</param>
/// <param name="Question">The question, in words; empty in reports from before there was more than one.</param>
public sealed record SchoolAnswer(string School, Verdict Verdict, string Sentence, string Question = "");

/// <summary>What all rules say of one package on one phone.</summary>
/// <param name="PackageId">Digest of the package file.</param>
/// <param name="PackageTitle">The package's name for people.</param>
/// <param name="Results">One result for each rule, in rule order.</param>
public sealed record MatchReport(string PackageId, string PackageTitle, IReadOnlyList<RuleResult> Results)
{
    // What is worth saying of a package against which nothing stands.
    private static readonly RuleId[] SaidOfAGo = [RuleId.Model, RuleId.Revision, RuleId.Backup, RuleId.Card];

    /// <summary>The worst of the parts.</summary>
    public Verdict Verdict => Results.Max(result => result.Verdict);

    /// <summary>
    /// The sentence to read first: that of the first among the worst results. Where nothing stands against the package,
    /// what it is for, what it does to the floor, and, of a backup or a card update, that it is the right one.
    /// </summary>
    public string Headline =>
        Verdict == Verdict.Go
            ? string.Join(
                " ",
                Results.Where(result => SaidOfAGo.Contains(result.RuleId) && !result.IsIdle).Select(result => result.Sentence)
            )
            : Results.First(result => result.Verdict == Verdict).Sentence;

    /// <summary>Whether a plan must erase the user data, whatever the customer wished.</summary>
    public bool NeedsCleanWrite => Results.Any(result => result.NeedsCleanWrite);

    /// <summary>What somebody accepts who writes it, each once, in rule order.</summary>
    public IReadOnlyList<Consequence> Consequences =>
        [.. Results.SelectMany(result => result.Consequences ?? []).DistinctBy(consequence => consequence.Text)];

    /// <summary>Whether a plan may be made with it. No override exists.</summary>
    public bool MayBeChosen => Verdict <= Verdict.Care;

    /// <summary>
    /// Whether a job may be planned with it. A phone without any reaction shows what is asked for only after its rescue: whether that is
    /// worth it, and how it goes, must be known before. Its gate stays closed until all is known.
    /// </summary>
    /// <param name="policy">What shop and customer decided.</param>
    public bool MayBePlanned(MatchPolicy policy) => MayBeChosen || policy.NeedsBoardRescue && Verdict == Verdict.Ask;

    // What only the phone itself tells: its revision and floor, its build, its lock, its radio, and what comes after its rescue.
    private static readonly RuleId[] ToldAfterRescue = [RuleId.Revision, RuleId.Direction, RuleId.Lock, RuleId.Reachable, RuleId.Radio];

    /// <summary>
    /// Whether nothing is open but what a phone without any reaction tells only after its rescue. Its run reads the phone then, before
    /// anything but the boot chain is written, and ends where it differs.
    /// </summary>
    public bool IsToldAfterRescue =>
        Verdict == Verdict.Ask && Results.All(result => result.Verdict <= Verdict.Care || ToldAfterRescue.Contains(result.RuleId));
}

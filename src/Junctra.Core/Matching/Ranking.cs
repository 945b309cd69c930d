using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>One thing by which candidates are put in order.</summary>
/// <param name="Compare">Below zero where the first comes before the second.</param>
/// <param name="Why">What is better about the one that comes first, as the end of a sentence; the better one is given first.</param>
public sealed record RankCriterion(Func<Candidate, Candidate, int> Compare, Func<Candidate, Candidate, string> Why);

/// <summary>A package that was judged.</summary>
/// <param name="Report">What the rules say.</param>
/// <param name="Package">The package.</param>
public sealed record Candidate(MatchReport Report, Package Package)
{
    // Asked for at every comparison.
    private readonly Dictionary<RuleId, Verdict> verdicts = Report.Results.ToDictionary(result => result.RuleId, result => result.Verdict);

    /// <summary>The verdict of the whole.</summary>
    internal Verdict Verdict { get; } = Report.Verdict;

    /// <summary>Whether it is what its publisher sent out.</summary>
    internal Wholeness Wholeness { get; } = Package.Whole().State;

    /// <summary>The highest revision that it claims, or null.</summary>
    internal int? Highest { get; } = Package.Revisions is { Count: > 0 } revisions ? revisions[^1].Number : null;

    /// <summary>Whether it may only be written with the data erased.</summary>
    internal bool NeedsCleanWrite { get; } = Report.NeedsCleanWrite;

    /// <summary>The verdict of one rule.</summary>
    internal Verdict Of(RuleId rule) => verdicts[rule];
}

/// <summary>Puts judged packages in order, and says of any two why one comes before the other.</summary>
public sealed class Ranking : IComparer<Candidate>
{
    private readonly ModelCatalogue catalogue;

    /// <summary>
    /// The order that holds with a catalogue and a policy: a job that revives a phone prefers the revision that it has, an update the
    /// newest build.
    /// </summary>
    public Ranking(ModelCatalogue catalogue, MatchPolicy? policy = null)
    {
        this.catalogue = catalogue;
        RankCriterion newest = new((a, b) => CompareBuilds(b.Package.Build, a.Package.Build), (_, _) => "it is the newer build");
        RankCriterion irreversible = new(
            (a, b) => Highest(a).CompareTo(Highest(b)),
            (a, b) =>
                $"it takes fewer steps that cannot be undone: bootloader revision {Highest(a)}, and {(Highest(b) == int.MaxValue ? "one that is not known" : Highest(b))}"
        );
        RankCriterion root = new(
            (a, b) => VerdictOf(a, RuleId.KeepRoot).CompareTo(VerdictOf(b, RuleId.KeepRoot)),
            (_, _) => "root stays with it"
        );
        var isUpdate = policy is { Goal: JobGoal.Update or JobGoal.KeepRoot } or { Revision: RevisionSchool.Newest };
        Criteria =
        [
            new((a, b) => a.Verdict.CompareTo(b.Verdict), (a, b) => $"its verdict is {Word(a)}, the other's is {Word(b)}"),
            new((a, b) => VerdictOf(a, RuleId.Model).CompareTo(VerdictOf(b, RuleId.Model)), (_, _) => "it is for this very model"),
            .. policy is { Goal: JobGoal.KeepRoot } ? [root] : Array.Empty<RankCriterion>(),
            isUpdate ? newest : irreversible,
            new((a, b) => VerdictOf(a, RuleId.Region).CompareTo(VerdictOf(b, RuleId.Region)), (_, _) => "it is for the phone's own region"),
            new((a, b) => a.NeedsCleanWrite.CompareTo(b.NeedsCleanWrite), (_, _) => "the data may stay"),
            new((a, b) => a.Wholeness.CompareTo(b.Wholeness), (_, _) => "it is proved to be what its publisher sent out"),
            isUpdate ? irreversible : newest,
            new((a, b) => a.Package.Contents.SizeBytes.CompareTo(b.Package.Contents.SizeBytes), (_, _) => "it is the smaller file"),
            new((a, b) => string.CompareOrdinal(a.Package.Id, b.Package.Id), (_, _) => "nothing sets them apart but their digests"),
        ];
    }

    /// <summary>The criteria, the first that differs decides.</summary>
    public IReadOnlyList<RankCriterion> Criteria { get; }

    /// <inheritdoc/>
    public int Compare(Candidate? a, Candidate? b) =>
        a is null || b is null
            ? (a is null ? 0 : 1) - (b is null ? 0 : 1)
            : Criteria.Select(criterion => criterion.Compare(a, b)).FirstOrDefault(order => order != 0);

    /// <summary>Why one of two comes before the other, in one sentence.</summary>
    public string Why(Candidate a, Candidate b)
    {
        foreach (var criterion in Criteria)
        {
            var order = criterion.Compare(a, b);
            if (order == 0)
                continue;
            var (first, second) = order < 0 ? (a, b) : (b, a);
            return $"{first.Report.PackageTitle} comes before {second.Report.PackageTitle}: {criterion.Why(first, second)}.";
        }

        return "They are the same package.";
    }

    private static Verdict VerdictOf(Candidate candidate, RuleId rule) => candidate.Of(rule);

    private static string Word(Candidate candidate) => candidate.Report.Verdict.ToString().ToLowerInvariant();

    /// <summary>The revision that a package raises a floor to; 0 where the maker's phones have none to raise.</summary>
    private int Highest(Candidate candidate)
    {
        var makers = candidate.Package.Says(FactName.ModelCode).Select(catalogue.MakerOf).ToList();
        return makers.Count > 0 && makers.All(maker => maker is { HasRollbackFuses: false }) ? 0 : candidate.Highest ?? int.MaxValue;
    }

    /// <summary>
    /// An order of all builds: by the maker's own order where there is one, else by model and by the string. One that is not known comes
    /// before all.
    /// </summary>
    private int CompareBuilds(BuildReading? a, BuildReading? b)
    {
        if (a is null || b is null)
            return (a is null ? 0 : 1) - (b is null ? 0 : 1);
        if (a.Model != b.Model || a.Maker != b.Maker)
            return string.CompareOrdinal(b.Model + b.Maker, a.Model + a.Maker);
        return catalogue.Makers.FirstOrDefault(maker => maker.Name == a.Maker)?.Grammar.Compare(a, b)
            ?? string.CompareOrdinal(a.Build, b.Build);
    }
}

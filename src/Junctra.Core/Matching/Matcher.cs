using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Judges packages for a phone.</summary>
public static class Matcher
{
    /// <summary>All rules, in the order in which people think of them.</summary>
    public static IReadOnlyList<IMatchRule> Rules { get; } =
        [new M01Model(), new M04Revision(), new M07Intact(), new M10Fits(), new M12Lock()];

    /// <summary>What every rule says of one package on one phone.</summary>
    public static MatchReport Match(Phone phone, Package package, ModelCatalogue catalogue)
    {
        var c = new MatchCase(phone, package, catalogue);
        return new MatchReport(package.Id, package.Title, [.. Rules.Select(rule => Name(rule, rule.Judge(c), phone))]);
    }

    /// <summary>
    /// Judges a library and puts the best first: by verdict, then the lowest bootloader revision (fewest irreversible
    /// steps), then the newest build, then the smaller file. Builds that cannot be compared keep their order.
    /// </summary>
    public static IReadOnlyList<(MatchReport Report, Package Package)> Rank(Phone phone, IEnumerable<Package> library, ModelCatalogue catalogue)
    {
        return [.. library
            .Select(package => (Report: Match(phone, package, catalogue), Package: package))
            .OrderBy(pair => pair.Report.Verdict)
            .ThenBy(pair => pair.Package.Revisions.DefaultIfEmpty(int.MaxValue).Max())
            .ThenByDescending(pair => pair.Package.Build, Comparer<BuildReading?>.Create((a, b) => CompareBuilds(a, b, catalogue)))
            .ThenBy(pair => pair.Package.Contents.SizeBytes)];
    }

    private static int CompareBuilds(BuildReading? a, BuildReading? b, ModelCatalogue catalogue)
    {
        if (a is null || b is null) return (a is null ? 0 : 1) - (b is null ? 0 : 1);
        // Builds of different models have no order of their own; sorting still needs one that is total.
        if (a.Model != b.Model) return string.CompareOrdinal(b.Model, a.Model);
        return catalogue.Makers.FirstOrDefault(maker => maker.Name == a.Maker)?.Grammar.Compare(a, b) ?? 0;
    }

    private static RuleResult Name(IMatchRule rule, Judgement judgement, Phone phone) =>
        new(rule.Id, rule.Title, judgement.Verdict, judgement.Sentence, [.. rule.Needs.SelectMany(name => phone[name].Claims)]);
}

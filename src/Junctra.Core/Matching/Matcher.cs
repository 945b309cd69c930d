using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Judges packages for a phone.</summary>
public static class Matcher
{
    /// <summary>All rules, in the order in which people think of them.</summary>
    public static IReadOnlyList<IMatchRule> Rules { get; } =
        [new M01Model(), new M02Chip(), new M04Revision(), new M05Direction(), new M06Region(), new M07Intact(), new M09Complete(), new M10Fits(), new M12Lock()];

    /// <summary>What every rule says of one package on one phone.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="package">The package.</param>
    /// <param name="catalogue">Makers and models.</param>
    /// <param name="policy">What shop and customer have decided; the careful one when nobody has.</param>
    public static MatchReport Match(Phone phone, Package package, ModelCatalogue catalogue, MatchPolicy? policy = null)
    {
        var c = new MatchCase(phone, package, catalogue, policy ?? MatchPolicy.Careful);
        return new MatchReport(package.Id, package.Title, [.. Rules.Select(rule => Name(rule, rule.Judge(c), phone))]);
    }

    /// <summary>
    /// Judges a library and puts the best first: by verdict, then those for this very model, then the lowest bootloader revision (fewest irreversible
    /// steps), then the phone's own region, then data kept, then the newest build, then the smaller file. Builds that cannot be
    /// compared keep their order.
    /// </summary>
    /// <inheritdoc cref="Match"/>
    public static IReadOnlyList<(MatchReport Report, Package Package)> Rank(
        Phone phone, IEnumerable<Package> library, ModelCatalogue catalogue, MatchPolicy? policy = null)
    {
        return [.. library
            .Select(package => (Report: Match(phone, package, catalogue, policy), Package: package))
            .OrderBy(pair => pair.Report.Verdict)
            .ThenBy(pair => pair.Report.Results.First(result => result.RuleId == "M01").Verdict)
            .ThenBy(pair => pair.Package.Revisions.DefaultIfEmpty(int.MaxValue).Max())
            .ThenBy(pair => pair.Report.Results.First(result => result.RuleId == "M06").Verdict)
            .ThenBy(pair => pair.Report.NeedsCleanWrite)
            .ThenByDescending(pair => pair.Package.Build, Comparer<BuildReading?>.Create((a, b) => CompareBuilds(a, b, catalogue)))
            .ThenBy(pair => pair.Package.Contents.SizeBytes)];
    }

    /// <summary>
    /// Where nothing may be chosen: the packages for this very model that come closest, those with the fewest stops and then the
    /// fewest questions first. A package for another phone is never near, nor is a file that names no model.
    /// </summary>
    /// <param name="ranked">What <see cref="Rank"/> gave.</param>
    /// <param name="most">How many.</param>
    public static IReadOnlyList<MatchReport> NearMisses(IEnumerable<(MatchReport Report, Package Package)> ranked, int most = 3)
    {
        var candidates = ranked.ToList();
        return candidates.Any(pair => pair.Report.MayBeChosen) ? [] :
        [
            .. candidates.Where(pair => pair.Package.Says(FactName.ModelCode).Count > 0).Select(pair => pair.Report).Where(report => !report.Results.Any(result => result is { Verdict: Verdict.Stop, RuleId: "M01" or "M02" }))
                .OrderBy(report => report.Results.Count(result => result.Verdict == Verdict.Stop))
                .ThenBy(report => report.Results.Count(result => result.Verdict == Verdict.Ask))
                .Take(most),
        ];
    }

    private static int CompareBuilds(BuildReading? a, BuildReading? b, ModelCatalogue catalogue)
    {
        if (a is null || b is null) return (a is null ? 0 : 1) - (b is null ? 0 : 1);
        // Builds of different models have no order of their own; sorting still needs one that is total.
        if (a.Model != b.Model) return string.CompareOrdinal(b.Model, a.Model);
        return catalogue.Makers.FirstOrDefault(maker => maker.Name == a.Maker)?.Grammar.Compare(a, b) ?? 0;
    }

    private static RuleResult Name(IMatchRule rule, Judgement judgement, Phone phone) =>
        new(rule.Id, rule.Title, judgement.Verdict, judgement.Sentence, [.. rule.Needs.SelectMany(name => phone[name].Claims)], judgement.NeedsCleanWrite);
}

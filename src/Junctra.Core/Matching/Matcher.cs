using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Judges packages for a phone.</summary>
public static class Matcher
{
    /// <summary>All rules, in the order in which people think of them (specification: section 6 of the job).</summary>
    public static IReadOnlyList<IMatchRule> Rules { get; } =
    [
        new M01Model(),
        new M02Chip(),
        new M03Carrier(),
        new M04Revision(),
        new M05Direction(),
        new M06Region(),
        new M07Intact(),
        new M08Provenance(),
        new M09Complete(),
        new M10Fits(),
        new M11Incremental(),
        new M12Lock(),
        new M13KeepRoot(),
        new M14Reachable(),
        new M15Radio(),
        new M16Wish(),
        new M17Backup(),
        new M18Card(),
        new M19Loader(),
    ];

    /// <summary>What every rule says of one package on one phone.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="package">The package.</param>
    /// <param name="catalogue">Makers and models.</param>
    /// <param name="policy">What shop and customer have decided; the careful one when nobody has.</param>
    /// <param name="around">What else lies in the library; nothing, where it is left out.</param>
    public static MatchReport Match(
        Phone phone,
        Package package,
        ModelCatalogue catalogue,
        MatchPolicy? policy = null,
        Surroundings? around = null
    ) => Report(new MatchCase(phone, package, catalogue, policy ?? MatchPolicy.Careful, around));

    internal static MatchReport Report(MatchCase c) => new(c.Package.Id, c.Package.Title, [.. Rules.Select(rule => Result(rule, c))]);

    /// <summary>Whether a package may be chosen, without the reasons.</summary>
    internal static bool MayBeChosen(MatchCase c) => Rules.All(rule => rule.Judge(c).Verdict <= Verdict.Care);

    /// <summary>Judges a library and puts the best first, in the order of <see cref="Ranking"/>.</summary>
    /// <inheritdoc cref="Match"/>
    public static IReadOnlyList<(MatchReport Report, Package Package)> Rank(
        Phone phone,
        IEnumerable<Package> library,
        ModelCatalogue catalogue,
        MatchPolicy? policy = null
    )
    {
        var packages = library.ToList();
        var around = new Surroundings(packages, catalogue);
        return
        [
            .. packages
                .Select(package => new Candidate(Match(phone, package, catalogue, policy, around), package))
                .Order(new Ranking(catalogue, policy))
                .Select(candidate => (candidate.Report, candidate.Package)),
        ];
    }

    /// <summary>
    /// Where nothing may be chosen: the packages for this very model that come closest, each with the least that would open it; those that
    /// the fewest changes open first, then those without a way, by their fewest stops. A package for another phone is never near, nor is a
    /// file that names no model.
    /// </summary>
    /// <param name="phone">The phone.</param>
    /// <param name="ranked">What <see cref="Rank"/> gave.</param>
    /// <param name="catalogue">Makers and models.</param>
    /// <param name="policy">What shop and customer have decided.</param>
    /// <param name="most">How many.</param>
    public static IReadOnlyList<NearMiss> Nearest(
        Phone phone,
        IEnumerable<(MatchReport Report, Package Package)> ranked,
        ModelCatalogue catalogue,
        MatchPolicy? policy = null,
        int most = 3
    )
    {
        var candidates = ranked.ToList();
        if (candidates.Any(pair => pair.Report.MayBeChosen))
            return [];
        var around = new Surroundings([.. candidates.Select(pair => pair.Package)], catalogue);
        return
        [
            .. candidates
                .Where(pair =>
                    pair.Package.Says(FactName.ModelCode).Count > 0
                    && !pair.Report.Results.Any(result =>
                        result.Verdict == Verdict.Stop && (result.RuleId == RuleId.Model || result.RuleId == RuleId.Chip)
                    )
                )
                // The rules are asked again many times for each: only for those that stand nearest.
                .OrderBy(pair => pair.Report.Results.Count(result => result.Verdict == Verdict.Stop))
                .ThenBy(pair => pair.Report.Results.Count(result => result.Verdict == Verdict.Ask))
                .Take(most * 4)
                .Select(pair => NearMisses.Of(phone, pair.Package, catalogue, policy ?? MatchPolicy.Careful, around))
                .OrderBy(miss => miss.NoWay is not null)
                .ThenBy(miss => miss.ChangesGoal)
                .ThenBy(miss => miss.Changes.Count)
                .ThenBy(miss => miss.Report.Results.Count(result => result.Verdict == Verdict.Stop))
                .ThenBy(miss => miss.Minutes)
                .Take(most),
        ];
    }

    private static RuleResult Result(IMatchRule rule, MatchCase c)
    {
        var judgement = rule.Judge(c);
        var others = Others(rule, c, judgement);
        return new RuleResult(
            rule.Id,
            rule.Title,
            judgement.Verdict,
            judgement.Sentence,
            Used(rule, c),
            judgement.NeedsCleanWrite,
            others,
            judgement.Consequences.Count > 0 ? judgement.Consequences : null,
            judgement.Said.IsIdle,
            others is null ? null : Schools.All.First(question => question.RuleId == rule.Id).Of(c.Policy).Label
        );
    }

    private static IReadOnlyList<Fact> Used(IMatchRule rule, MatchCase c)
    {
        var claims = c.Phone.ClaimsOf(rule.Needs);
        var besides = rule.Besides(c).Except(claims).ToList();
        return besides.Count == 0 ? claims : [.. claims, .. besides];
    }

    /// <summary>What a rule would say by the other schools of its question, where any of them would say something else.</summary>
    private static List<SchoolAnswer>? Others(IMatchRule rule, MatchCase c, Judgement now)
    {
        if (Schools.All.FirstOrDefault(question => question.RuleId == rule.Id) is not { } question)
            return null;
        var answers = question
            .Choices.Where(choice => choice != question.Of(c.Policy))
            .Select(choice => (Choice: choice, Judgement: rule.Judge(c with { Policy = question.Apply(c.Policy, choice) })))
            .Where(other => !other.Judgement.IsAs(now))
            .Select(other => new SchoolAnswer(other.Choice.Label, other.Judgement.Verdict, other.Judgement.Sentence, question.Title))
            .ToList();
        return answers.Count > 0 ? answers : null;
    }
}

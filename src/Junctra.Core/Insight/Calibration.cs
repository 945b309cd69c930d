using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Insight;

/// <summary>How often Junctra was right: what it said before, beside what happened (specification: section 11 of the job).</summary>
public static class Calibration
{
    /// <summary>Of the slow times that are said, so many should not be passed.</summary>
    public static (double From, double To) AimOfTimes { get; } = (0.85, 0.95);

    // Of what is called go, fewer than that may fail before it is a finding about the rules.
    private const double AimOfGo = 0.9;

    /// <summary>The answers, where Junctra was wrong first.</summary>
    /// <param name="log">What the shop has written down.</param>
    public static IReadOnlyList<InsightSection> Of(ShopLog log) =>
        [
            .. new[] { Promises(log), Times(log), Findings(log), Verdicts(log), Rules(log), Risks(log) }
                .OfType<InsightSection>()
                .OrderBy(section => !section.IsWrong),
        ];

    private static InsightSection? Promises(ShopLog log)
    {
        var over = log.Promises.Where(promise => promise.WasKept is not null).ToList();
        if (over.Count == 0)
            return null;
        (string Key, string Label, Func<double?, bool> Is)[] bins =
        [
            ("good", "said to hold in 90 of 100 and more", chance => chance >= 0.9),
            ("doubtful", "said to hold in 50 to 90 of 100", chance => chance is >= 0.5 and < 0.9),
            ("bad", "said to hold in less than 50 of 100", chance => chance < 0.5),
            ("unsaid", "nothing was said of them", chance => chance is null),
        ];
        var figures = bins.Select(bin => (Key: bin.Key, Of: over.Where(promise => bin.Is(promise.Chance)).ToList(), bin.Label))
            .Where(bin => bin.Of.Count > 0)
            .Select(bin => (bin.Of, Figure: Shares.Figure(bin.Key, bin.Label, bin.Of, Kept, promise => promise.Job)))
            .ToList();
        // More were said to hold than all that the cases allow.
        var boasts = figures
            .Where(bin => bin.Of[0].Chance is not null && bin.Figure.Between!.Value.High < bin.Of.Average(promise => promise.Chance!.Value))
            .ToList();
        return new InsightSection(
            "promises",
            "Promises",
            $"The phone was ready when it was promised in {Shares.Words(over.Count(Kept), over.Count)} of the jobs. "
                + (
                    boasts.Count > 0
                        ? $"Junctra was too sure: {boasts[0].Figure.Label}, and kept only in {boasts[0].Figure.Words}."
                        : "What was said of them holds, and the chances of the days to come are drawn by it."
                ),
            [.. figures.Select(bin => bin.Figure)]
        )
        {
            IsWrong = boasts.Count > 0,
            AreShares = true,
        };

        static bool Kept(LoggedPromise promise) => promise.WasKept == true;
    }

    private static InsightSection? Times(ShopLog log)
    {
        if (log.Times.Count == 0)
            return null;
        var (held, all) = (log.Times.Count(Held), log.Times.Count);
        var (low, high) = Shares.Between(held, all);
        var wrong = high < AimOfTimes.From || low > AimOfTimes.To;
        var kinds = log
            .Times.GroupBy(time => time.Kind)
            .OrderBy(group => group.Key)
            .Select(group => Shares.Figure($"{group.Key}", group.Key.Label(), [.. group], Held, time => time.Job))
            .ToList();
        return new InsightSection(
            "times",
            "Times that were said",
            $"Of {all} times, {Shares.Percent(held, all)} stayed under the slow time that was said; the aim is 85 to 95 %. "
                + (
                    high < AimOfTimes.From ? "Too few: what Junctra said was too short."
                    : low > AimOfTimes.To ? "Too many: what Junctra said was longer than need be."
                    : "They can be relied on."
                ),
            kinds
        )
        {
            IsWrong = wrong,
            Aim = AimOfTimes,
            AreShares = true,
        };

        static bool Held(SaidTime time) => time.Took <= time.SaidSlow;
    }

    private static InsightSection? Findings(ShopLog log)
    {
        var over = log.Jobs.Where(job => job is { FirstFinding.Length: > 0, HandedBackAt: not null }).ToList();
        if (over.Count == 0)
            return null;
        (string Key, string Label, double From, double To)[] bins =
        [
            ("low", "said with under 50 %", 0, 0.5),
            ("middle", "said with 50 to 80 %", 0.5, 0.8),
            ("high", "said with 80 % and more", 0.8, 1.01),
        ];
        var right = over.Count(Right);
        var figures = bins.Select(bin => (bin, Jobs: over.Where(job => job.FirstChance >= bin.From && job.FirstChance < bin.To).ToList()))
            .Where(pair => pair.Jobs.Count > 0)
            .Select(pair => (pair.Jobs, Figure: Shares.Figure(pair.bin.Key, pair.bin.Label, pair.Jobs, Right, job => job.Id)))
            .ToList();
        // More sure than right: what was said on average lies above all that the cases allow.
        var boasts = figures.Where(pair => pair.Figure.Between!.Value.High < pair.Jobs.Average(job => job.FirstChance!.Value)).ToList();
        return new InsightSection(
            "findings",
            "First findings",
            $"The first finding stood until the end, and the phone went out as it should, in {Shares.Words(right, over.Count)} of the jobs. "
                + (
                    boasts.Count > 0
                        ? $"Junctra was too sure: {string.Join(", ", boasts.Select(pair => pair.Figure.Label))}, and right only in {boasts[0].Figure.Words}."
                        : "What it said of its own certainty holds."
                ),
            [.. figures.Select(pair => pair.Figure)]
        )
        {
            IsWrong = boasts.Count > 0,
            AreShares = true,
        };

        // A phone that was not worth opening, or had nothing wrong, was found out right as well.
        static bool Right(LoggedJob job) =>
            job.FirstFinding == job.Finding && job.Outcome is JobOutcome.InOrder or JobOutcome.AsItCame or JobOutcome.SetApart;
    }

    private static List<(LoggedRun Run, Verdict Verdict)> Judged(ShopLog log) =>
        [.. log.Runs.Where(run => run is { Went: not null, Verdicts.Count: > 0 }).Select(run => (run, run.Verdicts.Values.Max()))];

    private static InsightSection? Verdicts(ShopLog log)
    {
        var judged = Judged(log);
        if (judged.Count == 0)
            return null;
        var go = judged.Where(one => one.Verdict == Verdict.Go).ToList();
        var went = go.Count(one => one.Run.Went == true);
        return new InsightSection(
            "verdicts",
            "Verdicts on packages",
            go.Count == 0
                ? "No run was begun with a package that all rules call go."
                : $"Of what was called go, {Shares.Words(went, go.Count)} went as planned.",
            [
                .. judged
                    .GroupBy(one => one.Verdict)
                    .OrderBy(group => group.Key)
                    .Select(group =>
                        Shares.Figure(
                            $"{group.Key}",
                            $"called {group.Key.ToString().ToLowerInvariant()}",
                            [.. group],
                            one => one.Run.Went == true,
                            one => one.Run.Job
                        )
                    ),
            ]
        )
        {
            IsWrong = go.Count > 0 && Shares.Between(went, go.Count).High < AimOfGo,
            AreShares = true,
        };
    }

    private static InsightSection? Rules(ShopLog log)
    {
        var judged = Judged(log);
        if (judged.Count == 0)
            return null;
        // Most rules let most packages through: those of which the log says the same are told together.
        var rules = judged
            .SelectMany(one => one.Run.Verdicts.Where(pair => pair.Value == Verdict.Go).Select(pair => (Rule: pair.Key, one.Run)))
            .GroupBy(pair => pair.Rule)
            .Select(group =>
                Shares.Figure($"{group.Key}", Title(group.Key), [.. group], pair => pair.Run.Went == true, pair => pair.Run.Job)
            )
            .GroupBy(figure => figure.Words)
            .Select(same => same.First() with { Label = Together([.. same.Select(figure => figure.Label)]) })
            .OrderBy(figure => figure.Value)
            .ThenByDescending(figure => figure.Jobs.Count)
            .ToList();
        var worst = rules[0];
        return new InsightSection(
            "rules",
            "Rule by rule",
            rules.All(rule => rule.Value >= 1)
                ? "Whatever a rule let through went as planned."
                : $"Of what a rule let through, least often went as planned what {worst.Label} let through: {worst.Words}.",
            rules
        )
        {
            IsWrong = rules.Exists(rule => rule.Between!.Value.High < AimOfGo),
            AreShares = true,
        };
    }

    private static string Together(IReadOnlyList<string> titles) =>
        titles.Count <= 2 ? string.Join(" and ", titles) : $"{titles[0]}, {titles[1]} and {titles.Count - 2} others";

    private static string Title(RuleId rule) => Matcher.Rules.FirstOrDefault(one => one.Id == rule)?.Title ?? rule.Value;

    private static InsightSection? Risks(ShopLog log)
    {
        var broke = log.Runs.Where(run => run is { Risk: not null, CameBack: not null }).ToList();
        if (broke.Count == 0)
            return null;
        var promised = broke.Where(run => run.Risk <= RiskKind.KeysBringItBack).ToList();
        var lost = promised.Where(run => run.CameBack == false).ToList();
        return new InsightSection(
            "risks",
            "Writes that broke",
            $"{broke.Count} writes broke after the phone was touched. "
                + (
                    promised.Count == 0 ? "Of none was it said that keys bring it back."
                    : lost.Count == 0
                        ? $"Of all {promised.Count} of which it was said that they can be brought back, the phone came in order."
                    : $"Of {promised.Count} of which it was said that they can be brought back, {lost.Count} did not come in order."
                ),
            [
                .. broke
                    .GroupBy(run => run.Risk!.Value)
                    .OrderBy(group => group.Key)
                    .Select(group =>
                        Shares.Figure($"{group.Key}", Words(group.Key), [.. group], run => run.CameBack == true, run => run.Job)
                    ),
            ]
        )
        {
            IsWrong = lost.Count > 0,
            AreShares = true,
        };
    }

    private static string Words(RiskKind risk) =>
        risk switch
        {
            RiskKind.SafeToStop => "said: nothing has changed",
            RiskKind.KeysBringItBack => "said: keys bring it back",
            RiskKind.OnlyEmergency => "said: only emergency mode is left",
            _ => "said: no way back is known",
        };
}

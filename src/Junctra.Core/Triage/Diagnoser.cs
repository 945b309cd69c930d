using Junctra.Core.Catalogue;

namespace Junctra.Core.Triage;

/// <summary>
/// Reasons from observations to fault classes (specification: triage, section 4 of the job). Plain Bayes: the classes exclude each
/// other, observations count independently, what was not answered is left out. The rules of the bench go before any of it.
/// </summary>
public static class Diagnoser
{
    /// <summary>From this chance on, what a class asks for is done.</summary>
    public const double Enough = 0.93;

    // A class below this is not worth a way out of its own.
    private const double Credible = 0.08;

    // An outcome that hardly ever comes is no reason for a check.
    private const double WorthAsking = 0.04;

    // Below this a check says next to nothing.
    private const double MinBits = 0.02;

    // A class that explains an observation gives it at least this likelihood.
    private const double Explains = 0.12;

    /// <summary>What the observations say.</summary>
    /// <param name="tables">The shop's tables.</param>
    /// <param name="c">What is known of the phone besides.</param>
    /// <param name="observations">Observations; of a check that occurs twice, the last.</param>
    public static Diagnosis Of(TriageTables tables, TriageCase c, IReadOnlyList<Observation> observations)
    {
        var seen = Seen(tables, observations);
        var rules = BenchRules(tables, c, seen);
        if (tables.Classes.Count == 0)
            return new Diagnosis([], [], true, "The catalogue holds no fault classes.", [], null, rules, []);

        var chances = Chances(tables, c, seen);
        var candidates = Candidates(tables, chances, seen);
        var contradictions = Contradictions(tables, seen);
        if (c.Cell != CellState.Sound)
            return new Diagnosis(
                candidates,
                [],
                true,
                "The cell comes first: nothing is tried on this phone.",
                [],
                tables.Aside,
                rules,
                contradictions
            );

        var ways = WaysOut(tables, chances, seen);
        var open = OpenChecks(tables, c, chances, seen);
        // Power comes before everything else: what nothing answers is judged dead only after it.
        if (
            NeedsCharging(seen)
            && open.FirstOrDefault(one => one.Check.Outcomes.Any(outcome => outcome.Sign == BenchSign.Charged)) is { } charge
        )
            return new Diagnosis(
                candidates,
                [charge, .. open.Where(check => check != charge)],
                false,
                "Power first: until it was charged, nothing else can be told.",
                ways,
                tables.ChargeFirst,
                rules,
                contradictions
            );

        var offered = Offered(open);
        var lead = ways[0];
        foreach (var way in ways)
            if (way.Chance > lead.Chance)
                lead = way;
        var isSure = lead.Chance >= Enough;
        var isSettled = isSure || offered.Count == 0;
        var why =
            isSure ? $"Further checks would hardly change what to do: {Percent(lead.Chance)} of what fits leads to the same work."
            : isSettled ? "No check that is left would change what to do. Begin with what takes least from the phone."
            : seen.Count == 0 ? "Nothing was observed yet."
            : $"{Percent(lead.Chance)} of what fits leads to the same work; {offered.Count} check{(offered.Count == 1 ? "" : "s")} can still change that.";
        // Where it stays open, what takes least from the phone is tried first.
        var chosen = isSettled && !isSure ? ways[0].Way : lead.Way;
        return new Diagnosis(candidates, offered, isSettled, why, ways, chosen, rules, contradictions);
    }

    /// <summary>
    /// The chance of each class, in the tables' order. Computed in the logarithm, so that many observations cannot run into 0.
    /// </summary>
    public static IReadOnlyList<double> Chances(TriageTables tables, TriageCase c, IReadOnlyList<Observation> observations) =>
        Chances(tables, c, Seen(tables, observations));

    private static double[] Chances(TriageTables tables, TriageCase c, List<Evidence> seen)
    {
        var logs = tables
            .Classes.Select(
                (fault, i) => Math.Log(fault.Prior.For(c.Maker, c.KeyFamily)) + seen.Sum(one => Math.Log(one.Outcome.Likelihood[i]))
            )
            .ToArray();
        var highest = logs.Max();
        var weights = logs.Select(log => Math.Exp(log - highest)).ToArray();
        var sum = weights.Sum();
        return [.. weights.Select(weight => weight / sum)];
    }

    private static List<Evidence> Seen(TriageTables tables, IReadOnlyList<Observation> observations) =>
        [
            .. observations
                .GroupBy(observation => observation.CheckId)
                .Select(group => group.Last())
                .Select(observation => (Check: tables.Check(observation.CheckId), observation.OutcomeId))
                .Where(pair => pair.Check?.Outcome(pair.OutcomeId) is not null)
                .Select(pair => new Evidence(pair.Check!, pair.Check!.Outcome(pair.OutcomeId)!, 0)),
        ];

    private static List<Candidate> Candidates(TriageTables tables, double[] chances, List<Evidence> seen) =>
        [
            .. tables
                .Classes.Select(
                    (fault, i) =>
                        new Candidate(
                            fault,
                            chances[i],
                            [
                                .. seen.Select(one =>
                                        one with
                                        {
                                            Bits = Math.Log2(one.Outcome.Likelihood[i] / one.Outcome.Likelihood.Average()),
                                        }
                                    )
                                    .OrderByDescending(one => Math.Abs(one.Bits)),
                            ]
                        )
                )
                .OrderByDescending(candidate => candidate.Chance),
        ];

    private static List<OpenCheck> OpenChecks(TriageTables tables, TriageCase c, double[] chances, List<Evidence> seen)
    {
        var before = Entropy(chances);
        var lead = LeadingWay(tables, chances);
        var open = new List<OpenCheck>();
        foreach (
            var check in tables.Checks.Where(check =>
                !seen.Any(one => one.Check == check)
                && c.Skipped?.Contains(check.Id) is not true
                && !(check.IsCharging && c.Cell != CellState.Sound)
            )
        )
        {
            double after = 0;
            var changes = false;
            foreach (var outcome in check.Outcomes)
            {
                var joint = chances.Select((chance, i) => chance * outcome.Likelihood[i]).ToArray();
                var probability = joint.Sum();
                double[] posterior = [.. joint.Select(value => value / probability)];
                after += probability * Entropy(posterior);
                changes |= probability >= WorthAsking && LeadingWay(tables, posterior) != lead;
            }

            open.Add(new OpenCheck(check, Math.Max(0, before - after), changes));
        }

        return [.. open.OrderByDescending(one => one.BitsPerMinute).ThenBy(one => one.Check.Id, StringComparer.Ordinal)];
    }

    /// <summary>Checks that are worth asking, none of more risk than is needed.</summary>
    private static List<OpenCheck> Offered(List<OpenCheck> open)
    {
        foreach (var risk in Enum.GetValues<CheckRisk>())
        {
            var useful = open.Where(one => one.Check.Risk <= risk && one.Bits >= MinBits).ToList();
            // One answer alone may not turn the work around while two would: what brings real information counts too.
            if (useful.Any(one => one.ChangesWork || one.Bits >= 0.15))
                return useful;
        }

        return [];
    }

    private static List<(WayOut Way, double Chance)> WaysOut(TriageTables tables, double[] chances, List<Evidence> seen)
    {
        var needNotBeOpened = seen.Any(one => one.Outcome.Sign == BenchSign.WriteModeSeen);
        var ways = tables
            .Classes.Select((fault, i) => (fault.WayOut, Chance: chances[i]))
            .GroupBy(pair => pair.WayOut.Id)
            .Select(group => (Way: group.First().WayOut, Chance: group.Sum(pair => pair.Chance)))
            .ToList();
        var allowed = needNotBeOpened ? ways.Where(way => way.Way.Toll < Toll.Opening).ToList() : ways;
        var most = allowed.Max(way => way.Chance);
        return
        [
            .. allowed
                .Where(way => way.Chance >= Math.Min(Credible, most))
                .OrderBy(way => way.Way.Toll)
                .ThenByDescending(way => way.Chance),
        ];
    }

    private static string LeadingWay(TriageTables tables, double[] chances) =>
        tables
            .Classes.Select((fault, i) => (fault.WayOut.Id, Chance: chances[i]))
            .GroupBy(pair => pair.Id)
            .MaxBy(group => group.Sum(pair => pair.Chance))!
            .Key;

    private static bool NeedsCharging(List<Evidence> seen) =>
        seen.Any(one => one.Outcome.Sign == BenchSign.NoReaction)
        && !seen.Any(one => one.Outcome.Sign is BenchSign.Charged or BenchSign.WriteModeSeen or BenchSign.WriteModeUnseen);

    private static List<BenchRule> BenchRules(TriageTables tables, TriageCase c, List<Evidence> seen)
    {
        var rules = new List<BenchRule>();
        if (c.Cell != CellState.Sound)
        {
            rules.Add(
                new BenchRule(
                    "Set it apart",
                    $"{c.Cell}: no charger, no cable, no heat, no prying. Isolate it outdoors or in sand and follow the local fire and waste rules. Nothing else is done with this phone.",
                    true
                )
            );
            return rules;
        }

        if (seen.Any(one => one.Outcome.Sign == BenchSign.WriteModeSeen))
            rules.Add(new BenchRule("It need not be opened", "It reaches its write mode and the computer sees it there.", IsGood: true));
        else if (seen.Any(one => one.Outcome.Sign == BenchSign.WriteModeUnseen))
            rules.Add(
                new BenchRule(
                    "The link, not the phone",
                    "It reaches its write mode and is not seen. Enter recovery and choose the restart to the bootloader: that often brings up a write mode that does connect."
                )
            );
        if (NeedsCharging(seen))
            rules.Add(
                new BenchRule(
                    "Power first",
                    "It shows no reaction: 30 minutes on a known-good charger with the current watched, before anything else. Never if it is wet, swollen, hot or crushed."
                )
            );
        return rules;
    }

    /// <summary>Pairs of observations of which each is explained by some class, and both together by none.</summary>
    private static List<Contradiction> Contradictions(TriageTables tables, List<Evidence> seen)
    {
        var found = new List<Contradiction>();
        for (var i = 0; i < seen.Count; i++)
        {
            for (var j = i + 1; j < seen.Count; j++)
            {
                var (a, b) = (seen[i].Outcome.Likelihood, seen[j].Outcome.Likelihood);
                if (
                    a.Any(value => value >= Explains)
                    && b.Any(value => value >= Explains)
                    && Enumerable.Range(0, tables.Classes.Count).All(k => Math.Min(a[k], b[k]) < Explains)
                )
                    found.Add(new Contradiction(seen[i], seen[j]));
            }
        }

        return found;
    }

    private static double Entropy(double[] chances) => -chances.Where(chance => chance > 0).Sum(chance => chance * Math.Log2(chance));

    private static string Percent(double chance) => $"{Math.Min(99, Math.Round(chance * 100))} %";
}

using Junctra.Core.Facts;
using Junctra.Formats.MatchFiles;
using Junctra.Formats.PlanFiles;

namespace Junctra.Cli;

/// <summary>The reports for people at a terminal.</summary>
internal static class Print
{
    public static void Package(PackageReport report, TextWriter to)
    {
        to.WriteLine(
            $"{report.Title}  {report.Kind}, {ByteSize.Text(report.SizeBytes)}, {(report.IsIntact ? "nothing against it" : "not to be written")}"
        );
        to.WriteLine($"sha256 {report.Sha256}");
        foreach (var finding in report.Findings)
            to.WriteLine($"  {(finding.Weight == "fatal" ? "STOP" : "note")}  {finding.Text}");
        foreach (var group in report.Statements.GroupBy(said => (said.Fact, said.Value)))
            to.WriteLine($"  says  {group.Key.Fact} = {group.Key.Value}  ({string.Join("; ", group.Select(said => said.Where))})");
        foreach (var image in report.Images)
        {
            to.WriteLine(
                $"  image {image.Partition, -12} {image.Format}{(image.Wrapping == "none" ? "" : " in " + image.Wrapping)}, "
                    + $"{ByteSize.Text(image.Bytes)} as sent, {ByteSize.Text(image.ExpandedBytes)} expanded, digest {Plain(image.Digest)}  {image.Member}"
            );
        }

        foreach (var member in report.Members.Where(member => !report.Images.Any(image => image.Member == member.Name)))
            to.WriteLine($"  other {Plain(member.Kind)}, {ByteSize.Text(member.Bytes)}  {member.Name}");
    }

    public static void Match(MatchReportFile report, TextWriter to)
    {
        foreach (var fact in report.Phone.Facts)
            to.WriteLine(
                $"  {fact.Fact} = {string.Join(" or ", fact.Claims.Select(claim => $"{claim.Value} ({Plain(claim.Source)})"))}{(fact.State == "conflicting" ? "  sources disagree" : "")}"
            );
        to.WriteLine(
            $"  schools: region {report.Policy.Region}, revision {report.Policy.Revision}, origin {report.Policy.Origin}, missing digests {report.Policy.Digests}"
        );
        to.WriteLine(
            $"  written for {Plain(report.Policy.Goal)}, version {Plain(report.Policy.Version)}, data {Plain(report.Policy.Data)}"
        );
        foreach (var candidate in report.Candidates)
        {
            to.WriteLine();
            to.WriteLine(
                $"{candidate.Verdict.ToUpperInvariant(), -5} {candidate.Title}  {candidate.File}{(candidate.NeedsCleanWrite ? "  only with the data erased" : "")}"
            );
            foreach (var consequence in candidate.MayBeChosen ? candidate.Consequences : [])
                to.WriteLine($"      accepts: {consequence.Text}");
            foreach (var rule in candidate.Rules)
                to.WriteLine($"      {rule.Rule} {rule.Title, -10} {rule.Verdict, -5} {rule.Sentence}");
        }

        if (report.Candidates.Count == 0)
            to.WriteLine("The library holds no package.");
        foreach (var miss in report.NearMisses)
            to.WriteLine(
                $"{Environment.NewLine}Nearest: {miss.Title}. {string.Join(" ", miss.Between)}{Environment.NewLine}  {(miss.NoWay is null ? string.Join(" And: ", miss.OpensWith) : "No way.")}"
            );
        foreach (var file in report.Arriving)
            to.WriteLine($"Still arriving, not looked at: {file}");
    }

    public static void Route(RouteFile report, TextWriter to)
    {
        to.WriteLine(
            report.Minutes is { } minutes
                ? $"From {Plain(report.From)} into {Plain(report.To)}: about {minutes:0.0} min"
                : $"From {Plain(report.From)} into {Plain(report.To)}: no way. {report.WhyNone}"
        );
        foreach (var leg in report.Legs)
        {
            to.WriteLine($"  {leg.Name}  to {Plain(leg.To)}, {leg.Minutes:0.0} min, fails {leg.FailChance * 100:0} of 100");
            foreach (var word in leg.Words)
                to.WriteLine($"      {word}");
        }

        foreach (var need in report.Presumed)
            to.WriteLine($"  taken to be so: {need}");
        foreach (var other in report.Others)
            to.WriteLine($"  or, {other.Minutes:0.0} min: {string.Join(", ", other.Legs)}");
        foreach (var opener in report.Openers)
            to.WriteLine(
                $"  with {opener.Fact} {opener.Value}{(opener.KnownToBeOtherwise ? ", which it is not" : "")}: {opener.Minutes:0.0} min"
            );
    }

    public static void Plan(PlanFile report, TextWriter to)
    {
        if (report.Title is null)
        {
            to.WriteLine("No plan.");
            foreach (var why in report.Refusals)
                to.WriteLine($"  {why}");
            return;
        }

        to.WriteLine(
            $"{report.Title}: about {report.TypicalSeconds / 60:0} min, at worst {report.SlowSeconds / 60:0}. {(report.ErasesData == true ? "Erases the data." : "Keeps the data.")}"
        );
        if (report.Verdict is not null)
            to.WriteLine($"  the match says {report.Verdict}");
        to.WriteLine(
            $"  for serial {report.Target!.Serial ?? "not read"}, {report.Target.ModelCode}, floor {report.Target.RollbackFloor?.ToString() ?? "none known"}, {report.Target.LockState ?? "lock not known"}"
        );
        Steps(report.Steps);
        if (report.IfItLoops.Count > 0)
            to.WriteLine("  If it loops afterwards, as agreed:");
        Steps(report.IfItLoops);

        void Steps(IReadOnlyList<StepReport> steps)
        {
            foreach (var step in steps)
                to.WriteLine(
                    $"{step.Number, 4} {Plain(step.By), -13} {step.Title}{(step.Bytes > 0 ? $", {ByteSize.Text(step.Bytes)}" : "")}, {step.TypicalSeconds:0} s{(step.MayStopBefore ? ", may be stopped before" : "")}"
                );
        }
    }

    public static void Ways(WaysFile report, TextWriter to)
    {
        foreach (var way in report.Ways)
        {
            if (way.Cost is { } cost)
                to.WriteLine(
                    $"{way.Path}  {way.Title}: data {cost.Data}, worst {Plain(cost.WorstRisk)}, {cost.StepsForHands} steps for hands, {cost.TypicalMinutes:0} to {cost.SlowMinutes:0} min; gates: {string.Join(", ", way.Gates.Select(gate => gate.Id))}"
                );
            else
                to.WriteLine($"{way.Path}  {way.Title}: not as things stand. {string.Join(" ", way.Plan.Refusals)}");
        }

        foreach (var missing in report.Missing)
            to.WriteLine($"{missing.Path}  {missing.Title}: {missing.Why}");
    }

    public static void Rehearsal(RehearsalFile report, TextWriter to)
    {
        to.WriteLine(
            report.Title is null
                ? "No plan that could be rehearsed."
                : $"{report.Title}, rehearsed on {report.Twins} twin{(report.Twins == 1 ? "" : "s")}"
        );
        foreach (var why in report.Refusals)
            to.WriteLine($"  {why}");
        foreach (var step in report.Steps)
            to.WriteLine(
                $"{step.Number, 4} {Plain(step.Risk), -20} {step.Title}{(step.Partition is null ? "" : $", {step.Partition}")}. {step.Words}"
            );
        foreach (var fate in report.Fates)
            to.WriteLine($"  {fate.Thing}: {fate.Word}. {fate.Reason}");
        foreach (var expected in report.Expectations)
            to.WriteLine($"  to be read: {expected.Fact} = {expected.Value}{(expected.IsNeeded ? "" : ", if it can be")} ({expected.Why})");
    }

    public static void Triage(TriageFile report, TextWriter to)
    {
        foreach (var one in report.Observed)
            to.WriteLine($"  seen: {one.Check} = {one.Outcome} ({one.Label}{(one.FromFact is null ? "" : $", by {one.FromFact}")})");
        foreach (var rule in report.Rules.Concat(report.Contradictions.Select(pair => $"These contradict each other: {pair}.")))
            to.WriteLine($"  {rule}");
        foreach (var candidate in report.Classes.Where(candidate => candidate.Chance >= 0.005))
            to.WriteLine($"{candidate.Chance * 100, 5:0} of 100  {candidate.Label} ({candidate.Id})");
        to.WriteLine(report.Why);
        if (report.Next is { } next)
        {
            to.WriteLine($"Next: {next.Ask} {next.How} About {next.Minutes:0.#} min, worth {next.Bits:0.00} bits.");
            foreach (var outcome in next.Outcomes)
                to.WriteLine($"  --saw {next.Check}={outcome.Id}  {outcome.Label}");
        }

        if (report.WayOut is { } way)
            to.WriteLine($"{(report.IsSettled ? "Do" : "Most likely")}: {way.Title}. {way.Words}");
    }

    private static string Plain(string word) => word.Replace('-', ' ');
}

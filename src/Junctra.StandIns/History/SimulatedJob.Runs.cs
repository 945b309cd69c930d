using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Insight;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Store;

namespace Junctra.StandIns.History;

/// <summary>What is chosen, planned, carried out and checked.</summary>
internal sealed partial class SimulatedJob
{
    private const double Surprises = 0.008;
    private static readonly FactName[] OverLink =
    [
        FactName.Serial,
        FactName.ModelCode,
        FactName.LockState,
        FactName.RollbackFloor,
        FactName.BootloaderRevision,
    ];

    private Package? chosen;

    private PlannedRun? Begin(FaultClass finding)
    {
        var policy = MatchPolicy.Careful with { DataMayGo = row.DataWish == DataWish.MayGo, Goal = Goal };
        if (finding.WayOut.Paths is ["K", ..])
            return Plan(null, null, policy, "K");
        var around = new Surroundings(shop.Library, Catalogue);
        var ranked = shop.For(model)
            .Select(package => (Report: Matcher.Match(Phone, package, Catalogue, policy, around), Package: package))
            .Where(pair => pair.Report.MayBeChosen)
            .OrderBy(pair => pair.Package == chosen ? -1 : (int)pair.Report.Verdict)
            .ThenBy(pair => pair.Package.Title, StringComparer.Ordinal);
        foreach (var (report, package) in ranked)
            if (Plan(package, report, policy, null) is { } planned)
            {
                chosen = package;
                return planned;
            }

        return null;
    }

    private JobGoal Goal =>
        row.TriageAnswers.SelectMany(answer =>
                Catalogue.Triage.Check(answer.CheckId)!.Outcomes.Where(outcome => outcome.Id == answer.OutcomeId)
            )
            .Select(outcome => outcome.Goal)
            .FirstOrDefault(goal => goal is JobGoal.Update)
        ?? JobGoal.Stock;

    private PlannedRun? Plan(Package? package, MatchReport? report, MatchPolicy policy, string? letter)
    {
        var @case = PathCase.Of(Phone, package, policy.DataMayGo, Catalogue, policy, report) with
        {
            UsualPaths = Catalogue.Triage.Class(row.FaultClassId)?.WayOut.Paths ?? [],
            Times = new JobTimes(shop.Estimates, Catalogue.Figures, model.Code, cable.Label, hands.Name),
        };
        if (PathList.Compile(@case, letter).Plan is not { } plan || plan.ClosesLock)
            return null;
        row.PackageId = package?.Id;
        row.Path = package is null ? plan.Choice.Path : null;
        row.ErasesData = plan.ErasesData;
        var gates = Gates.Evaluate(
            new GateCase(plan, package, Phone, report, true, long.MaxValue, package?.Contents.SizeBytes, [Port], [], Catalogue.Figures)
        );
        ByHands(3 * Dice.Strays(0.4) * hands.Slower, Found with { Plan = plan });
        foreach (var gate in gates.Where(gate => gate.Options.Count > 0))
            row.Answers.Add(
                new GateAnswerRow
                {
                    PlanKey = plan.Key,
                    PackageId = package?.Id,
                    ErasesData = plan.ErasesData,
                    GateId = gate.Id.Value,
                    OptionId = gate.Options[0].Id,
                    Text = gate.Options[0].Text,
                    At = now,
                    By = hands.Name,
                }
            );
        return new PlannedRun(plan, report, package);
    }

    /// <summary>Carries a plan out, and begins again with another cable where it broke.</summary>
    /// <returns>What went through to its end, where the phone came up; else null.</returns>
    private PlannedRun? CarryOut(PlannedRun planned)
    {
        for (var again = 0; again < 2; again++)
        {
            var run = new SimulatedRun(shop, model, hands, cable, Phone, planned.Plan, now);
            var ended = run.Play();
            Work.AddRange(DoneWork.Of(planned.Plan, ended.Journal, Found));
            var stored = new RunRow
            {
                Id = int.Parse(row.Ticket) * 10 + row.Runs.Count,
                PackageId = planned.Package?.Id,
                Plan = planned.Plan,
                Report = planned.Report,
                PackageTitle = planned.Package?.Title ?? "",
                PortName = planned.Plan.NeedsLink ? Port : null,
                Address = null,
                Status = ended.State.Status,
                BegunAt = now,
                QueuedAt = now,
                BegunBy = hands.Name,
                EndedAt = ended.EndedAt,
            };
            row.Runs.Add(stored);
            row.PortName = stored.PortName;
            journal[stored.Id] = ended.Journal;
            Note(hands.Name, $"Began: {planned.Plan.Title}. All gates held, the ticket number was typed.");
            // What was read before is void for all that the run touched, as the journal of a real one has it.
            foreach (var fact in row.Facts.Where(fact => fact.Counts && new FactName(fact.Name).ExpiresBy(ended.State.TouchedBy)))
                fact.ExpiredAt = ended.EndedAt;
            now = ended.Journal[^1].At;
            if (ended.State.Status == RunStatus.Finished)
                return ended.CameUp ? planned : null;
            ByHands(4 * Dice.Strays(0.5), Found);
            cable = Dice.Pick(SimulatedShop.Cables, one => one == cable ? 0 : one.Used);
            GetSeen();
            Add(FactName.Mode, ended.Mode.Id(), FactSource.Seen, hands.Name);
            Read();
            if (Begin(Catalogue.Triage.Class(row.FaultClassId)!) is not { } next)
                return null;
            planned = next;
        }

        return null;
    }

    private void Check(PlannedRun planned)
    {
        ByHands(
            3 * Dice.Strays(0.35) * hands.Slower,
            Found with
            {
                Plan = planned.Plan,
                Run = RunState.Of(planned.Plan, journal[row.Runs[^1].Id]),
            }
        );
        foreach (var expectation in planned.Plan.Rehearsal.Expectations)
        {
            // Now and then nobody looks at what need not be read, and hardly ever something is otherwise.
            if (!expectation.IsNeeded && Dice.Chance(0.35))
                continue;
            var source = OverLink.Contains(expectation.Fact) ? FactSource.Link : FactSource.Settings;
            row.Facts.Add(FactRow.Of(new Fact(expectation.Fact, Shown(expectation), source, now, hands.Name)));
        }
    }

    /// <summary>What the phone shows: what the twin came to, and once in a while something else, as phones do.</summary>
    private string Shown(Expectation expectation) =>
        expectation.Fact.Definition.Form.Words is { Count: > 1 } words
        && !expectation.IsNeeded
        && Dice.Chance(Surprises)
        && words.Select(word => word.Value).FirstOrDefault(word => !expectation.IsMetBy(word)) is { } other
            ? other
            : expectation.Value;
}

using Junctra.Core;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;

namespace Junctra.Cli;

/// <summary>A plan, or why there is none.</summary>
internal sealed record PlanFile(
    string Format,
    int Version,
    string? Path,
    string? Title,
    string? Key,
    bool? ErasesData,
    string? Verdict,
    TargetReport? Target,
    string? Package,
    double? TypicalSeconds,
    double? SlowSeconds,
    IReadOnlyList<StepReport> Steps,
    IReadOnlyList<StepReport> IfItLoops,
    IReadOnlyList<string> Refusals
)
{
    public static PlanFile Of(PlanOutcome outcome, MatchReport? match)
    {
        var plan = outcome.Plan;
        return new PlanFile(
            "junctra-plan",
            1,
            plan?.Choice.Path,
            plan?.Title,
            plan?.Key,
            plan?.ErasesData,
            match is null ? null : EnumNames.Of(match.Verdict),
            plan is null
                ? null
                : new TargetReport(
                    plan.Target.Serial,
                    plan.Target.ModelCode,
                    plan.Target.RollbackFloor?.Number,
                    plan.Target.LockState is { } state ? FactName.LockState.Write(state) : null
                ),
            plan?.Package?.Id,
            plan?.TotalSeconds.Typical,
            plan?.TotalSeconds.Slow,
            [.. (plan?.Steps ?? []).Select(StepReport.Of)],
            [.. (plan?.IfItLoops ?? []).Select(StepReport.Of)],
            outcome.Refusals
        );
    }
}

internal sealed record TargetReport(string? Serial, string ModelCode, int? RollbackFloor, string? LockState);

internal sealed record StepReport(
    int Number,
    string By,
    string? In,
    string Title,
    IReadOnlyList<string> Touches,
    long Bytes,
    double TypicalSeconds,
    double SlowSeconds,
    bool MayStopBefore
)
{
    public static StepReport Of(PlanStep step) =>
        new(
            step.Number,
            EnumNames.Of(step.Act.By),
            step.Act.In?.Id(),
            step.Title,
            [.. step.Act.Touches.Select(touch => touch.Partition)],
            step.Bytes,
            step.Seconds.Typical,
            step.Seconds.Slow,
            step.MayStopBefore
        );
}

/// <summary>What the rehearsal of a plan found.</summary>
internal sealed record RehearsalFile(
    string Format,
    int Version,
    string? Title,
    string? Key,
    int Twins,
    IReadOnlyList<RiskReport> Steps,
    IReadOnlyList<FateReport> Fates,
    IReadOnlyList<ExpectationReport> Expectations,
    IReadOnlyList<string> Refusals
)
{
    public static RehearsalFile Of(PlanOutcome outcome)
    {
        var plan = outcome.Plan;
        var found = plan?.Rehearsal ?? Rehearsal.None;
        return new RehearsalFile(
            "junctra-rehearsal",
            1,
            plan?.Title,
            plan?.Key,
            found.Branches,
            [
                .. (plan?.Steps ?? [])
                    .Where(step => !step.Act.FollowsTheRun)
                    .SelectMany(step => found.Risks.Where(risk => risk.Step == step.Number).Select(risk => RiskReport.Of(step, risk))),
            ],
            [.. found.Fates.Select(fate => new FateReport(fate.Thing, EnumNames.Of(fate.Kind), fate.Word, fate.Reason))],
            [
                .. found.Expectations.Select(expected => new ExpectationReport(
                    expected.Fact.Value,
                    expected.Value,
                    expected.Why,
                    expected.IsNeeded
                )),
            ],
            outcome.Refusals
        );
    }
}

internal sealed record RiskReport(int Number, string Title, string? Partition, string Risk, bool DataGone, string? By, string Words)
{
    public static RiskReport Of(PlanStep step, StepRisk risk) =>
        new(
            step.Number,
            step.Title,
            risk.Partition,
            EnumNames.Of(risk.Risk),
            risk.DataGone,
            risk.By.Length > 0 ? risk.By : null,
            risk.Words
        );
}

internal sealed record FateReport(string Thing, string Kind, string Word, string Reason);

internal sealed record ExpectationReport(string Fact, string Value, string Why, bool IsNeeded);

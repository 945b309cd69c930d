using Junctra.Core;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;

namespace Junctra.Formats.PlanFiles;

/// <summary>A plan, or why there is none.</summary>
/// <param name="Format"><c>junctra-plan</c>.</param>
/// <param name="Version">1; members may be added, none is taken away.</param>
/// <param name="Path">Letter of the path.</param>
/// <param name="Title">Its name, with the package's.</param>
/// <param name="Key">Tells this plan from every other.</param>
/// <param name="ErasesData">Whether the user data are erased.</param>
/// <param name="Verdict">What the match says of the package, or null without one.</param>
/// <param name="Target">The phone.</param>
/// <param name="Package">Digest of the package, or null.</param>
/// <param name="TypicalSeconds">How long it usually takes.</param>
/// <param name="SlowSeconds">How long it takes if it is slow.</param>
/// <param name="Steps">The steps, in order.</param>
/// <param name="IfItLoops">What was agreed on for a phone that loops afterwards.</param>
/// <param name="Refusals">Why there is no plan; empty with one.</param>
public sealed record PlanFile(
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
    /// <summary>Makes it.</summary>
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

/// <summary>The phone of a plan; null for what is not known.</summary>
/// <param name="Serial">Serial.</param>
/// <param name="ModelCode">Model code.</param>
/// <param name="RollbackFloor">Rollback floor.</param>
/// <param name="LockState">Lock state.</param>
public sealed record TargetReport(string? Serial, string ModelCode, int? RollbackFloor, string? LockState);

/// <summary>A step of a plan.</summary>
/// <param name="Number">From 1.</param>
/// <param name="By"><c>computer</c>, <c>link</c>, <c>hands</c> or <c>phone</c>.</param>
/// <param name="In">The mode that it needs, or null.</param>
/// <param name="Title">What it does.</param>
/// <param name="Touches">Partitions that it writes or erases.</param>
/// <param name="Bytes">Bytes over the link.</param>
/// <param name="TypicalSeconds">How long it usually takes.</param>
/// <param name="SlowSeconds">How long it takes if it is slow.</param>
/// <param name="MayStopBefore">Whether a run may be ended before it.</param>
public sealed record StepReport(
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
    /// <summary>Makes it.</summary>
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

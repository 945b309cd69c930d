using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The plan, its gates, and the one deliberate act that makes bytes flow.</summary>
public sealed class PlanModel(JobLoader jobs, ChoiceService choices, Planner planner) : JobPage(jobs)
{
    private const double StripWidth = 960;

    public override Station Station => Station.Plan;

    private PlannedJob planned = PlannedJob.None;

    public Package? Package => planned.Package;

    public Plan? Plan => planned.Plan;

    public IReadOnlyList<string> Refusals => planned.Refusals;

    public MatchReport? Report => planned.Report;

    /// <summary>Whether all that stands against a plan is that this package may only be written with the user data erased.</summary>
    public bool CostsTheData => Plan is null && Refusals.Count == 1 && Report is { NeedsCleanWrite: true } && !Job.Row.ErasesData;

    public IReadOnlyList<Gate> Gates => planned.Gates;

    public PartitionStrip? Strip { get; private set; }

    public bool GatesOpen { get; private set; }

    /// <summary>What cannot be undone, in one sentence.</summary>
    public string Danger =>
        Plan is null
            ? ""
            : string.Join(
                " ",
                [
                    Plan.Package is { } use ? $"{use.Title} is written over this phone." : "Nothing is written.",
                    Plan.ClosesLock ? "Its lock is closed." : "",
                    Plan.ErasesData ? "All that is on it is erased."
                    : Plan.Writes ? "Its data may be lost if it loops."
                    : "",
                    Plan.RaisesFloor ? $"Its floor rises from {Plan.Target.RollbackFloor} to {Plan.Package?.Revision} for ever." : "",
                ]
            );

    /// <summary>Tells this plan from another for the same job: answers and the typed ticket are for the plan on the page.</summary>
    public string PlanKey => Plan?.Key ?? "";

    /// <summary>Paths that can be gone without a package, where none is chosen.</summary>
    public IReadOnlyList<IPath> WithoutPackage => planned.WithoutPackage;

    /// <summary>Signal of a step's risk.</summary>
    public static string ChipOf(StepRisk risk) =>
        risk.Risk switch
        {
            RiskKind.SafeToStop => "go",
            RiskKind.KeysBringItBack => "care",
            _ => "stop",
        };

    /// <summary>A step's risk in a word or two.</summary>
    public static string WordOf(StepRisk risk) =>
        risk.Risk switch
        {
            RiskKind.SafeToStop => "safe to stop",
            RiskKind.KeysBringItBack => "keys bring it back",
            RiskKind.OnlyEmergency => "no way back",
            _ => "not recoverable",
        };

    public static string ChipOf(FateKind kind) =>
        kind switch
        {
            FateKind.Kept => "go",
            FateKind.Replaced => "care",
            FateKind.Unknown => "ask",
            _ => "stop",
        };

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        GatesOpen = Request.Query.ContainsKey("gates") || HttpMethods.IsPost(Request.Method);
        planned = await planner.PlanAsync(Job, cancel);
        if (Plan is not null)
            Strip = PartitionStrip.OfPlan(Plan, Job.Model!, StripWidth);
    }

    public async Task<IActionResult> OnPostPathAsync(bool erase, CancellationToken cancel) =>
        After(await choices.ChooseDataAsync(Job, erase, Who, cancel), Station.Plan);

    /// <summary>Chooses a path that takes no package, or goes back to the packages.</summary>
    public async Task<IActionResult> OnPostBareAsync(string? path, CancellationToken cancel) =>
        After(await choices.ChoosePathAsync(Job, path, Who, cancel), Station.Plan);

    public async Task<IActionResult> OnPostAnswersAsync(string? planFor, CancellationToken cancel)
    {
        if (await AnswerAsync(planFor, cancel) is { } why)
            return Refused(why);
        Done = "Answers kept.";
        return Redirect(Request.Path + "?gates=1#gates");
    }

    public async Task<IActionResult> OnPostBeginAsync(string? typed, string? planFor, CancellationToken cancel)
    {
        if (await AnswerAsync(planFor, cancel) is { } why)
            return Refused(why);
        if (await planner.BeginTypedAsync(Job, planned, typed, Who, cancel) is not { } refusal)
            return To(Station.Write);
        await ReloadAsync(cancel);
        return Refused(refusal);
    }

    private async Task<string?> AnswerAsync(string? planFor, CancellationToken cancel)
    {
        var form = await Request.ReadFormAsync(cancel);
        var (gates, refusal) = await planner.AnswerPageAsync(Job, planned, planFor, gate => form["gate." + gate], Who, cancel);
        planned = planned with { Gates = gates };
        return refusal;
    }
}

using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The plan, its gates, and the one deliberate act that makes bytes flow.</summary>
public sealed class PlanModel(JobLoader jobs, JobStore store, JunctraDb db, Planner planner) : JobPage(jobs)
{
    private const double StripWidth = 960;

    public override Station Station => Station.Plan;

    public Package? Package { get; private set; }

    public Plan? Plan { get; private set; }

    public IReadOnlyList<string> Refusals { get; private set; } = [];

    public MatchReport? Report { get; private set; }

    /// <summary>Whether all that stands against a plan is that this package may only be written with the user data erased.</summary>
    public bool CostsTheData => Plan is null && Refusals.Count == 1 && Report is { NeedsCleanWrite: true } && !Job.Row.ErasesData;

    public IReadOnlyList<Gate> Gates { get; private set; } = [];

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
                    Plan.ErasesData ? "All that is on it is erased." : "Its data may be lost if it loops.",
                    Plan.RaisesFloor ? $"Its floor rises from {Plan.Target.RollbackFloor} to {Plan.Package?.Revision} for ever." : "",
                ]
            );

    /// <summary>Tells this plan from another for the same job: answers and the typed ticket are for the plan on the page.</summary>
    public string PlanKey => Plan?.Key ?? "";

    /// <summary>Paths that can be gone without a package, where none is chosen.</summary>
    public IReadOnlyList<IPath> WithoutPackage { get; private set; } = [];

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
        var planned = await planner.PlanAsync(Job, cancel);
        (Package, Report, Plan, Refusals, Gates) = (planned.Package, planned.Report, planned.Plan, planned.Refusals, planned.Gates);
        WithoutPackage = planned.WithoutPackage;
        if (Plan is not null)
            Strip = PartitionStrip.OfPlan(Plan, Job.Model!, StripWidth);
    }

    public async Task<IActionResult> OnPostPathAsync(bool erase, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        Job.Row.ErasesData = erase;
        store.Note(Job.Row.Id, Who, erase ? "Path: the user data is erased." : "Path: the user data is kept.");
        await db.SaveChangesAsync(cancel);
        return To(Station.Plan);
    }

    /// <summary>Chooses a path that takes no package, or goes back to the packages.</summary>
    public async Task<IActionResult> OnPostBareAsync(string? path, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (path is not null && PathList.Find(path) is null)
            return Refused("That path is not known.");
        Job.Row.Path = path;
        if (path is not null)
            Job.Row.PackageId = null;
        store.Note(Job.Row.Id, Who, path is null ? "Path: with a package." : $"Path: {PathList.Find(path)!.Title}.");
        await db.SaveChangesAsync(cancel);
        return To(Station.Plan);
    }

    public async Task<IActionResult> OnPostAnswersAsync(string? planFor, CancellationToken cancel)
    {
        if (await TakeAnswersAsync(planFor, cancel) is { } why)
            return Refused(why);
        Done = "Answers kept.";
        return Redirect(Request.Path + "?gates=1#gates");
    }

    public async Task<IActionResult> OnPostBeginAsync(string? typed, string? planFor, CancellationToken cancel)
    {
        if (await TakeAnswersAsync(planFor, cancel) is { } why)
            return Refused(why);
        var closed = Gates.Where(gate => !gate.Holds).Select(gate => gate.Title).ToList();
        if (closed.Count > 0)
            return Refused($"Nothing was written. Still closed: {string.Join(", ", closed)}.");
        if (!string.Equals(typed?.Trim(), Job.Row.Ticket, StringComparison.OrdinalIgnoreCase))
            return Refused($"Nothing was written. “{typed?.Trim()}” is not the ticket of this phone; its label says {Job.Row.Ticket}.");
        if (await planner.BeginAsync(Job, Plan!, Who, cancel) is not { } refusal)
            return To(Station.Write);
        db.ChangeTracker.Clear();
        await ReloadAsync(cancel);
        return Refused(refusal);
    }

    /// <summary>Stores what was ticked. Answers that were taken back are removed; the audit keeps both.</summary>
    private async Task<string?> TakeAnswersAsync(string? planFor, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return frozen;
        if (Plan is null)
            return "There is no plan to answer for.";
        if (planFor != PlanKey)
            return "The plan of this job was changed meanwhile. Nothing was written and no answer kept: look at it again.";
        var form = await Request.ReadFormAsync(cancel);
        await planner.AnswerAsync(Job, Plan, Gates, gate => form["gate." + gate], Who, cancel);
        await EvaluateAsync(cancel);
        return null;
    }

    private async Task EvaluateAsync(CancellationToken cancel) => Gates = await planner.GatesAsync(Job, Package, Report, Plan!, cancel);
}

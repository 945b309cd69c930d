using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>As intended or not, by reading.</summary>
public sealed class CheckModel(
    JobLoader jobs,
    JobStore store,
    PhoneVisits visits,
    Planner planner,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    private static readonly PhoneMode[] Shown = [PhoneMode.SetupWizard, PhoneMode.System, PhoneMode.BootLoop];

    public override Station Station => Station.Check;

    public bool IsPassed => Checker.IsPassed(Job.Checks);

    public PhoneMode? ModeNow => PhoneModes.Parse(Job.Phone[FactName.Mode].Value);

    /// <summary>What was agreed on for a phone that loops, where it does; null where there is nothing to begin.</summary>
    public PlannedJob? Fallback { get; private set; }

    public double StuckMinutes => catalogue.Figures.FirstBootStuckMinutes;

    public string FirstBoot =>
        Say.Band(new Band(catalogue.Figures.FirstBootMinutes.Typical * 60, catalogue.Figures.FirstBootMinutes.Slow * 60));

    public string SinceWrite =>
        Job.LastRun?.EndedAt is { } ended ? $"It restarted {Math.Max(0, (int)(time.GetUtcNow() - ended).TotalMinutes)} min ago." : "";

    /// <summary>The keys back into the write mode, from where the phone is after its first boot.</summary>
    public PlannedRoute? Back =>
        Job.Model is { } model && !IsPassed
            ? Router.Best(
                Job.Phone,
                model,
                ModeNow is { } mode && Shown.Contains(mode) ? mode : PhoneMode.SetupWizard,
                model.WriteMode,
                catalogue
            )
            : null;

    /// <summary>Why there is nothing to note here yet: what a first boot shows is of the write that came before it.</summary>
    private string? WhyNotYet =>
        Job.LastRun is not { Status: RunStatus.Finished }
            ? "Nothing was written to the end yet, so there is no first boot to note. What the phone shows now belongs under Route."
            : null;

    protected override async Task PrepareAsync(CancellationToken cancel) => Fallback = await planner.FallbackAsync(Job, cancel);

    /// <summary>The row of a claim, so that a wrong reading can be withdrawn where it stands in the way.</summary>
    public FactRow? RowOf(Fact claim) =>
        Job.Row.Facts.LastOrDefault(row =>
            row.Counts && row.Name == claim.Name.Value && row.Value == claim.Value && row.Source == claim.Source && row.At == claim.At
        );

    public static Verdict SignalOf(CheckLine line) =>
        line.State switch
        {
            CheckState.AsIntended => Verdict.Go,
            CheckState.Differs => Verdict.Stop,
            _ => line.Expectation.IsNeeded ? Verdict.Ask : Verdict.Care,
        };

    public static string WordOf(CheckLine line) =>
        line.State switch
        {
            CheckState.AsIntended => "as intended",
            CheckState.Differs => "differs",
            _ => "not read",
        };

    public async Task<IActionResult> OnPostReadAsync(CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (Job.LastRun is not { } run)
            return Refused("Nothing was written yet.");
        if ((run.PortName ?? Job.Row.PortName) is not { } port)
            return Refused("This phone was read at no port yet. Read it under Route.");
        var visit = await visits.ReadAsync(Job.Row, port, Who, cancel);
        if (visit.Reading is null)
            return Refused(
                $"{visit.Problem} Bring the phone into {(Job.Model?.WriteMode ?? PhoneMode.Fastboot).Label()} first, with the cable in."
            );
        Done = $"Read {visit.Reading.Facts.Count} facts.";
        return To(Station.Check);
    }

    public async Task<IActionResult> OnPostShowsAsync(string? mode, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (WhyNotYet is { } early)
            return Refused(early);
        if (PhoneModes.Parse(mode) is not { } shown || !Shown.Contains(shown))
            return Refused("That is no screen of a first boot.");
        await store.AddFactsAsync(Job.Row, RouteService.FactsOf(shown, time.GetUtcNow(), Who), cancel);
        Done = $"Noted: {shown.Label()}.";
        return To(Station.Check);
    }

    /// <summary>
    /// Begins the fallback that was agreed on before the write: one act. What its gates ask anew is answered in the same form.
    /// </summary>
    public async Task<IActionResult> OnPostFallbackAsync(string? planFor, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (Fallback?.Plan is not { } plan)
            return Refused(
                Fallback is { Refusals: [var why, ..] }
                    ? why
                    : "The phone does not loop, or nothing was agreed on for that. Nothing was begun."
            );
        if (planFor != plan.Key)
            return Refused("What is to be done was changed meanwhile. Nothing was begun: look at it again.");
        var form = await Request.ReadFormAsync(cancel);
        await planner.AnswerAsync(Job, plan, Fallback.Gates.Where(gate => !gate.Holds), gate => form["gate." + gate], Who, cancel);
        if (await planner.BeginAsync(Job, plan, Who, cancel) is not { } refusal)
            return To(Station.Write);
        await ReloadAsync(cancel);
        return Refused(refusal);
    }

    public async Task<IActionResult> OnPostWithdrawAsync(int factId, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        Done = await store.WithdrawAsync(Job.Row, factId, Who, cancel)
            ? "Withdrawn. It stays in the history."
            : "That fact no longer counted.";
        return To(Station.Check);
    }

    public async Task<IActionResult> OnPostNoteAsync(string? name, string? value, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (WhyNotYet is { } early)
            return Refused(early);
        var fact = Job.Checks.Select(line => line.Expectation.Fact).FirstOrDefault(f => f.Value == name);
        if (fact.Value is null || fact.Normalise(value) is not { } normal)
            return Refused($"“{value}” is no value of that fact. Read it again.");
        await store.AddFactsAsync(
            Job.Row,
            BuildFacts.With(new Fact(fact, normal, FactSource.Settings, time.GetUtcNow(), Who), catalogue),
            cancel
        );
        Done = $"Noted: {fact.Label.ToLowerInvariant()}.";
        return To(Station.Check);
    }
}

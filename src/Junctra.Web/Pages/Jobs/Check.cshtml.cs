using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Routes;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>As intended or not, by reading.</summary>
public sealed class CheckModel(
    JobLoader jobs,
    ObservationService observations,
    Planner planner,
    ChoiceService choices,
    ModelCatalogue catalogue
) : JobPage(jobs)
{
    private static readonly PhoneMode[] Shown = [PhoneMode.SetupWizard, PhoneMode.System, PhoneMode.BootLoop];

    public override Station Station => Station.Check;

    /// <summary>Whether the phone has left the shop: nothing is asked any more, and what was read stays to be looked at.</summary>
    public bool IsOver => Job.Row.HandedBackAt is not null;

    public bool IsPassed => Checker.IsPassed(Job.Checks);

    /// <summary>What a check that holds says, in words: never of something that nobody looked at.</summary>
    public string PassedWords => Unread == 0 ? "All as intended" : "As intended, what was read";

    /// <summary>Expectations of which nothing was read.</summary>
    public int Unread => Job.Checks.Count(line => line.State == CheckState.NotRead);

    public PhoneMode? ModeNow => PhoneModes.Parse(Job.Phone[FactName.Mode].Value);

    /// <summary>What was saved of the phone and is to go back; null where nothing is.</summary>
    public SavedData? Saved { get; private set; }

    /// <summary>The rung that somebody wants instead of the next one; null for that.</summary>
    [BindProperty(SupportsGet = true, Name = "rung")]
    public string? Wanted { get; set; }

    /// <summary>How it comes up, and what is tried where it does not; null where no start follows the run.</summary>
    public WayUp? Up { get; private set; }

    /// <summary>The keys back into the write mode, from where the phone is after its first boot.</summary>
    public PlannedRoute? Back =>
        Job.Model is { } model && !IsPassed && !IsOver
            ? Router.Best(
                Job.Phone,
                model,
                ModeNow is { } mode && Shown.Contains(mode) ? mode : PhoneMode.SetupWizard,
                model.WriteMode,
                catalogue
            )
            : null;

    /// <summary>What is still to be read, in the order of one walk over the phone.</summary>
    public IReadOnlyList<LookStop> Look { get; private set; } = [];

    /// <summary>What was read, and what is seen at its start.</summary>
    public IReadOnlyList<CheckLine> Read => [.. Job.Checks.Except(Look.SelectMany(stop => stop.Lines).Select(line => line.Line))];

    /// <summary>Whether a link answers where a stop of the walk is.</summary>
    public bool IsReadByLink(LookStop stop) =>
        stop.In == Job.Model?.WriteMode || stop.Lines.Any(line => line.Place?.Source == FactSource.Link);

    /// <summary>Where each difference leads.</summary>
    public IReadOnlyList<CheckLead> Leads => Job.LastRun?.Plan is { } plan ? CheckLead.Of(Job.Checks, plan) : [];

    /// <summary>Port at which the phone is read.</summary>
    public string Port => Job.LastRun?.PortName ?? Job.Row.PortName ?? "of the route";

    /// <summary>What a stop of the last look is called.</summary>
    public static string TitleOf(LookStop stop) =>
        stop.In switch
        {
            null => "Anywhere",
            PhoneMode.System => "While it runs",
            PhoneMode.SetupWizard => "At its set-up",
            var mode => $"In {mode.Value.Label()}",
        };

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        if (IsOver)
            return;
        (Up, Saved) = (await planner.WayUpAsync(Job, EnumNames.Parse<Rung>(Wanted), cancel), await planner.SavedAsync(Job, cancel));
        if (Job.SinceWrite is { } since)
            Look = LastLook.Of(Job.Checks, since, Job.Model, catalogue.Guides);
    }

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
        if (Job.LastRun is not { } run)
            return Refused("Nothing was written yet.");
        if ((run.PortName ?? Job.Row.PortName) is not { } port)
            return Refused("This phone was read at no port yet. Read it under Route.");
        var hint = $"Bring the phone into {(Job.Model?.WriteMode ?? PhoneMode.Fastboot).Label()} first, with the cable in.";
        var (result, _) = await observations.ReadAsync(Job, port, hint, Who, cancel);
        return After(result, Station.Check);
    }

    public async Task<IActionResult> OnPostShowsAsync(string? mode, int? apps, int? ofApps, CancellationToken cancel) =>
        After(await observations.ShowsAfterWriteAsync(Job, mode, (apps, ofApps), Who, cancel), Station.Check);

    /// <summary>
    /// Begins what is tried next with a phone that does not come up, where hands do it: one act. What its gates ask anew is answered in the
    /// same form.
    /// </summary>
    public async Task<IActionResult> OnPostClimbAsync(string? planFor, CancellationToken cancel)
    {
        var form = await Request.ReadFormAsync(cancel);
        var refusal = await planner.BeginRungAsync(Job, Up?.Next, planFor, gate => form["gate." + gate], Who, cancel);
        if (refusal is null)
            return To(Station.Write);
        await ReloadAsync(cancel);
        return Refused(refusal);
    }

    /// <summary>Chooses the way by which what was saved goes back.</summary>
    public async Task<IActionResult> OnPostBringBackAsync(CancellationToken cancel) =>
        Saved is null
            ? Refused("Nothing that was saved waits to go back.")
            : After(await choices.ChoosePathAsync(Job, new DataFirst().Letter, false, false, Who, cancel), Station.Plan);

    /// <summary>Goes up a rung that leads to another station.</summary>
    public async Task<IActionResult> OnPostRungAsync(string? rung, CancellationToken cancel)
    {
        if (EnumNames.Parse<Rung>(rung) is not { } taken)
            return Refused("That is not to be done with this phone.");
        var result = await planner.TakeRungAsync(Job, Up, taken, Who, cancel);
        if (result.Refusal is null && taken == Rung.WriteAgain)
            result = await choices.ChooseDataAsync(Job, true, Who, cancel);
        return After(
            result,
            taken switch
            {
                Rung.WriteAgain => Station.Plan,
                Rung.MatchAgain => Station.Match,
                _ => Station.FindOut,
            }
        );
    }

    public async Task<IActionResult> OnPostWithdrawAsync(int factId, CancellationToken cancel) =>
        After(await observations.WithdrawAsync(Job, factId, Who, cancel), Station.Check);

    public async Task<IActionResult> OnPostNoteAsync(string? name, string? value, CancellationToken cancel) =>
        After(await observations.NoteAfterWriteAsync(Job, name, value, Who, cancel), Station.Check);
}

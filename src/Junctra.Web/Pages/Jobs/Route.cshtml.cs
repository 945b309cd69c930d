using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>From where the phone is into the mode that the write needs, one step at a time, and again from where it really is.</summary>
public sealed class RouteModel(
    JobLoader jobs,
    JobStore store,
    PhoneVisits visits,
    RouteService desk,
    JunctraDb db,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    /// <summary>Modes that a person can tell by looking.</summary>
    public static IReadOnlyList<PhoneMode> Places { get; } =
    [.. Enum.GetValues<PhoneMode>().Where(mode => mode is not (PhoneMode.Unknown or PhoneMode.Starting or PhoneMode.RecoveryCommands))];

    public override Station Station => Station.Route;

    public RouteView? View { get; private set; }

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    public string? PortWanted { get; private set; }

    /// <summary>Another mode than the one that the job wants; null for that.</summary>
    [BindProperty(SupportsGet = true, Name = "to")]
    public string? Goal { get; set; }

    /// <summary>The way that is looked at instead of the one to take; null for that.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Way { get; set; }

    /// <summary>The hand that moves the cable: <c>left</c> or, unless it is said, right.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Hand { get; set; }

    public bool LeftHanded => Hand == "left";

    /// <summary>The way whose score is shown.</summary>
    public Way? Shown { get; private set; }

    public bool MustCharge => desk.MustCharge(Job);

    public bool IsLinkFault => desk.IsLinkFault(Job);

    public int ChargeMinutes => catalogue.Figures.ChargeInsteadMinutes;

    /// <summary>Minutes for which the phone has been on the charger; null where it is on none.</summary>
    public double? ChargedMinutes => Job.Row.ChargeBeganAt is { } began ? Math.Max(0, (time.GetUtcNow() - began).TotalMinutes) : null;

    /// <summary>Whether the phone itself answered from the mode wanted, and nobody says it left it since.</summary>
    public bool IsRead => View is { Report.Best.Legs.Count: 0 } && Job.Phone[FactName.Mode].Best?.Source == FactSource.Link;

    /// <summary>How far the current was measured while it charged, in milliamperes.</summary>
    public int? ChargeCurrent => Job.Row.ChargeMilliamperes;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        PortWanted = Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        View = await desk.ViewAsync(Job, null, PhoneModes.Parse(Goal), cancel);
        Shown =
            View is null ? null
            : Way is null ? View.Now
            : desk.WayOf(Job, View.From, Way) ?? View.Now;
    }

    /// <summary>What the phone shows becomes a fact; the route goes on from there.</summary>
    public async Task<IActionResult> OnPostShowsAsync(string? mode, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (PhoneModes.Parse(mode) is not { } shows || shows == PhoneMode.Unknown)
            return Refused("That is no screen that is known here.");
        var before = View?.Answers.FirstOrDefault(answer => answer.Mode == shows);
        await store.AddFactsAsync(Job.Row, RouteService.FactsOf(shows, time.GetUtcNow(), Who), cancel);
        Done = before?.Means is { } means ? $"It shows {shows.Label()}. {means} {before.Then}" : $"It shows {shows.Label()}.";
        return RedirectToPage(new { ticket = Job.Row.Ticket, to = Goal });
    }

    /// <summary>The phone is on a charger whose current is watched.</summary>
    public async Task<IActionResult> OnPostChargeAsync(int? milliamperes, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (milliamperes is < 0 or > 10_000)
            return Refused("A current is 0 to 10,000 mA.");
        Job.Row.ChargeBeganAt ??= time.GetUtcNow();
        Job.Row.ChargeMilliamperes = milliamperes ?? Job.Row.ChargeMilliamperes;
        await store.SaveAsync(
            Job.Row,
            Who,
            milliamperes is { } current ? $"On a known-good charger, {current} mA." : "On a known-good charger.",
            cancel
        );
        Done = milliamperes is < 50
            ? "Next to no current flows: clean the charge port, then another cable and another charger. Nothing is written."
            : $"Leave it {ChargeMinutes} minutes, and watch the current. Nothing is written.";
        return RedirectToPage(new { ticket = Job.Row.Ticket, to = Goal });
    }

    public async Task<IActionResult> OnPostAsync(string port, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        var visit = await visits.ReadAsync(Job.Row, port, Who, cancel);
        PortWanted = port;
        if (visit.Reading is null)
            return Refused(
                $"{visit.Problem} Is the right screen still there, and the cable in? The link doctor has the remedies in their order."
            );
        var there = PhoneModes.Parse(visit.Reading[FactName.Mode]);
        Done = $"In {(there ?? PhoneMode.Unknown).Label()} at port {port}: read {visit.Reading.Facts.Count} facts.";
        if (there != (View?.Wanted ?? there))
            return RedirectToPage(new { ticket = Job.Row.Ticket, to = Goal });
        return To(Job.Row.PackageId is null ? Station.Match : Station.Plan);
    }
}

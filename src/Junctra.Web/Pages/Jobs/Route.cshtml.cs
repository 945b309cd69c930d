using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>From where the phone is into the mode that the write needs, one step at a time, and again from where it really is.</summary>
public sealed class RouteModel(
    JobLoader jobs,
    ObservationService observations,
    RouteService routes,
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

    public bool MustCharge => routes.MustCharge(Job);

    public bool IsLinkFault => routes.IsLinkFault(Job);

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
        View = await routes.ViewAsync(Job, null, PhoneModes.Parse(Goal), cancel);
        Shown =
            View is null ? null
            : Way is null ? View.Now
            : routes.WayOf(Job, View.From, Way) ?? View.Now;
    }

    /// <summary>What the phone shows becomes a fact; the route goes on from there.</summary>
    public async Task<IActionResult> OnPostShowsAsync(string? mode, CancellationToken cancel) =>
        Onwards(await observations.ShowsAsync(Job, mode, View, Who, cancel));

    /// <summary>The phone is on a charger whose current is watched.</summary>
    public async Task<IActionResult> OnPostChargeAsync(int? milliamperes, CancellationToken cancel) =>
        Onwards(await observations.ChargeAsync(Job, milliamperes, Who, cancel));

    public async Task<IActionResult> OnPostAsync(string port, CancellationToken cancel)
    {
        PortWanted = port;
        var (result, reading) = await observations.ReadAsync(
            Job,
            port,
            "Is the right screen still there, and the cable in? The link doctor has the remedies in their order.",
            Who,
            cancel
        );
        if (reading is null)
            return Onwards(result);
        var there = PhoneModes.Parse(reading[FactName.Mode]);
        Done = $"In {(there ?? PhoneMode.Unknown).Label()} at port {port}: read {reading.Facts.Count} facts.";
        return there == (View?.Wanted ?? there)
            ? To(Job.Row.PackageId is null ? Station.Match : Station.Plan)
            : RedirectToPage(new { ticket = Job.Row.Ticket, to = Goal });
    }

    /// <summary>This page again, for the same goal.</summary>
    private IActionResult Onwards(ActResult result)
    {
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done;
        return RedirectToPage(new { ticket = Job.Row.Ticket, to = Goal });
    }
}

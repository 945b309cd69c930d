using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Routes;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The link doctor: the phone is in the right mode, and the computer does not see it as it should.</summary>
public sealed class LinkModel(
    JobLoader jobs,
    ObservationService observations,
    LinkService links,
    RouteService routes,
    LinkHistory history,
    MatchService matches,
    JunctraDb db,
    ModelCatalogue catalogue
) : JobPage(jobs)
{
    private const int MaxRows = 8;

    public override Station Station => Station.Route;

    /// <summary>The port that is looked at.</summary>
    [BindProperty(SupportsGet = true, Name = "port")]
    public string? Port { get; set; }

    /// <summary>The sign that somebody sees, where the list cannot be asked or somebody knows better.</summary>
    [BindProperty(SupportsGet = true, Name = "sign")]
    public string? SignId { get; set; }

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    public LinkTables Tables => catalogue.Links;

    public ListLook Look { get; private set; } = new(null, null, null);

    public PhoneMode Wanted { get; private set; }

    public LinkSign? Sign { get; private set; }

    public IReadOnlyList<RankedRemedy> Remedies { get; private set; } = [];

    public IReadOnlyList<LinkTryRow> Tries { get; private set; } = [];

    public IReadOnlyList<(BenchThingRow Thing, ThingRecord Record)> Things { get; private set; } = [];

    public ThingRecord? WorstCable { get; private set; }

    /// <summary>What is installed here for phones to be seen.</summary>
    public ShopPolicyLine Kit { get; private set; } = null!;

    public string? Serial => Job.Phone[FactName.Serial].Value;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Kit = new ShopPolicyLine(Job.Row.Ticket, [Schools.Find("kit")!], await matches.PolicyAsync(Job, cancel));
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        Port ??= Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        Wanted = await routes.WantedAsync(Job, cancel);
        Look = await links.LookAsync(Job, Port, Wanted, cancel);
        Sign = Tables.Sign(SignId) ?? Tables.Sign(Look.Reading?.SignId);
        Tries = (await history.OfJobAsync(Job.Row.Id, cancel)).Take(MaxRows).ToList();
        Remedies = Sign is { IsWell: false } ? await links.OrderAsync(Sign.Id, Tries, cancel) : [];
        Things = await history.RecordsAsync(cancel);
        WorstCable = LinkDoctor.Worst([.. Things.Where(thing => thing.Thing.Kind == LinkThing.Cable).Select(thing => thing.Record)]);
    }

    /// <summary>A remedy was tried: what is listed now is its outcome.</summary>
    public async Task<IActionResult> OnPostTriedAsync(string? remedy, string? after, int? cable, int? computer, CancellationToken cancel)
    {
        // Asked of the computer where it can be; else what somebody says. Before is what was on the page when somebody began to try.
        var now = string.IsNullOrEmpty(after) ? Look.Reading?.SignId : after;
        var tried = new LinkTryRow
        {
            Sign = Tables.Sign(Request.Form["before"])?.Id ?? Sign?.Id ?? "",
            Remedy = remedy ?? "",
            SignAfter = now ?? "",
            CableId = cable,
            ComputerId = computer,
            PortName = Port,
            By = Who,
        };
        var result = await observations.TriedAsync(Job, tried, Who, cancel);
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done;
        var sign = Tables.Sign(now) is { IsWell: true } || Look.Listed is not null ? null : now;
        return RedirectToPage(
            new
            {
                ticket = Job.Row.Ticket,
                port = Port,
                sign,
            }
        );
    }

    /// <summary>Which of the listed phones is this job's: its serial becomes a fact.</summary>
    public async Task<IActionResult> OnPostMarkAsync(string? serial, CancellationToken cancel)
    {
        var result = await observations.MarkAsync(Job, serial, Look.Listed, Who, cancel);
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done;
        return RedirectToPage(new { ticket = Job.Row.Ticket, port = Port });
    }
}

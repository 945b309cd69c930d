using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Routes;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The link doctor: the phone is in the right mode, and the computer does not see it as it should.</summary>
public sealed class LinkModel(
    JobLoader jobs,
    JobStore store,
    LinkService desk,
    RouteService routes,
    LinkHistory book,
    JunctraDb db,
    ModelCatalogue catalogue,
    TimeProvider time
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

    public string? Serial => Job.Phone[FactName.Serial].Value;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        Port ??= Job.Row.PortName ?? (Ports.Count > 0 ? Ports[0].Name : null);
        Wanted = await routes.WantedAsync(Job, cancel);
        Look = await desk.LookAsync(Job, Port, Wanted, cancel);
        Sign = Tables.Sign(SignId) ?? Tables.Sign(Look.Reading?.SignId);
        Tries = (await book.OfJobAsync(Job.Row.Id, cancel)).Take(MaxRows).ToList();
        Remedies = Sign is { IsWell: false } ? await desk.OrderAsync(Sign.Id, Tries, cancel) : [];
        Things = await book.RecordsAsync(cancel);
        WorstCable = LinkDoctor.Worst([.. Things.Where(thing => thing.Thing.Kind == LinkThing.Cable).Select(thing => thing.Record)]);
    }

    /// <summary>A remedy was tried: what is listed now is its outcome.</summary>
    public async Task<IActionResult> OnPostTriedAsync(string? remedy, string? after, int? cable, int? computer, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        if (Tables.Remedy(remedy) is not { } known || Sign is not { } before)
            return Refused("That is no remedy for what is listed.");
        // Asked of the computer where it can be; else what somebody says.
        var signAfter = string.IsNullOrEmpty(after) ? Tables.Sign(Look.Reading?.SignId) : Tables.Sign(after);
        if (signAfter is null)
            return Refused("Say what the computer lists now.");
        var things = (await book.ThingsAsync(cancel)).ToDictionary(thing => thing.Id);
        if (
            cable is { } c && things.GetValueOrDefault(c)?.Kind != LinkThing.Cable
            || computer is { } m && things.GetValueOrDefault(m)?.Kind != LinkThing.Computer
        )
            return Refused("That cable or computer is not of this bench.");
        // The sign that was on the page when somebody began to try; the list may have changed since.
        var signBefore = Tables.Sign(Request.Form["before"])?.Id ?? before.Id;
        await book.RecordAsync(
            new LinkTryRow
            {
                JobId = Job.Row.Id,
                Sign = signBefore,
                Remedy = known.Id,
                SignAfter = signAfter.Id,
                Worked = LinkDoctor.Mended(signBefore, signAfter),
                CableId = cable,
                ComputerId = computer,
                PortName = Port,
                By = Who,
            },
            cancel
        );
        Done = signAfter.IsWell ? $"{known.Label}: that did it." : $"{known.Label}: {signAfter.Label}. The next remedy is first now.";
        return RedirectToPage(
            new
            {
                ticket = Job.Row.Ticket,
                port = Port,
                sign = signAfter.IsWell || Look.Listed is not null ? null : signAfter.Id,
            }
        );
    }

    /// <summary>Which of the listed phones is this job's: its serial becomes a fact.</summary>
    public async Task<IActionResult> OnPostMarkAsync(string? serial, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen)
            return Refused(frozen);
        var text = serial?.Trim() ?? "";
        if (FactName.Serial.Name.Normalise(text) is not { } value)
            return Refused("That is no serial.");
        if (Look.Listed is { } listed && !listed.Any(phone => value.Equals(phone.Serial, StringComparison.OrdinalIgnoreCase)))
            return Refused($"No phone with the serial {value} is listed. Read it once more on the phone's screen or label.");
        await store.AddFactsAsync(Job.Row, [new Fact(FactName.Serial, value, FactSource.BootloaderScreen, time.GetUtcNow(), Who)], cancel);
        Done = $"The target is the phone with the serial {value}. Nothing is ever written to another one.";
        return RedirectToPage(new { ticket = Job.Row.Ticket, port = Port });
    }

    public static string Percent(double chance) => $"{Math.Clamp(Math.Round(chance * 100), 1, 99):0} %";
}

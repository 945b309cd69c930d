using Junctra.Core.Catalogue;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Link;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages;

/// <summary>The bench's ports and their addresses.</summary>
public sealed class PortsModel(JunctraDb db, LinkHistory book, PhoneVisits visits) : PageModel
{
    /// <summary>Everybody may look; the bench sets its ports up.</summary>
    public bool MayAct => User.IsInRole(StaffRoles.Bench);

    public IReadOnlyList<PortRow> Ports { get; private set; } = [];

    /// <summary>Cables and computers, and what each has done.</summary>
    public IReadOnlyList<(BenchThingRow Thing, ThingRecord Record)> Things { get; private set; } = [];

    public IReadOnlyList<ThingRecord> PortRecords { get; private set; } = [];

    public ThingRecord? WorstCable =>
        LinkDoctor.Worst([.. Things.Where(thing => thing.Thing.Kind == LinkThing.Cable).Select(thing => thing.Record)]);

    public string? Problem { get; private set; }

    public string? Name { get; private set; }

    public string? Address { get; private set; }

    public Task OnGetAsync(CancellationToken cancel) => LoadAsync(cancel);

    public async Task<IActionResult> OnPostAsync(string? name, string? address, CancellationToken cancel)
    {
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        (Name, Address) = (name?.Trim().ToUpperInvariant(), address?.Trim());
        if (Name is not { Length: > 0 and <= 4 } || !Name.All(char.IsAsciiLetterOrDigit))
            return await RefusedAsync("A port's name is one to four letters or digits.", cancel);
        if (LinkAddress.Parse(Address) is not { } parsed)
            return await RefusedAsync($"“{Address}” is no host and port, such as 127.0.0.1:5554.", cancel);
        if (await IsBusyAsync(Name, cancel))
            return await RefusedAsync($"A write is going on at port {Name}.", cancel);
        if (await visits.BusyWithAsync(parsed.ToString(), null, cancel) is { } busy)
            return await RefusedAsync(busy, cancel);
        foreach (var other in await db.Ports.AsNoTracking().Where(port => port.Name != Name).ToListAsync(cancel))
            if (await LinkAddress.LeadToOneAsync(other.Address, parsed.ToString(), cancel))
                return await RefusedAsync($"Port {other.Name} leads there already: one phone is at one port.", cancel);
        if (await db.Ports.FindAsync([Name], cancel) is { } port)
        {
            port.Address = parsed.ToString();
            port.LastSerial = null;
        }
        else
        {
            db.Ports.Add(new PortRow { Name = Name, Address = parsed.ToString() });
        }

        await db.SaveChangesAsync(cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostRemoveAsync(string? name, CancellationToken cancel)
    {
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        if (name is not null && await IsBusyAsync(name, cancel))
            return await RefusedAsync($"A write is going on at port {name}.", cancel);
        await db.Ports.Where(port => port.Name == name).ExecuteDeleteAsync(cancel);
        return RedirectToPage();
    }

    public async Task<IActionResult> OnPostThingAsync(LinkThing kind, string? label, CancellationToken cancel)
    {
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        return await book.AddAsync(kind, label, cancel) is { } problem ? await RefusedAsync(problem, cancel) : RedirectToPage();
    }

    public async Task<IActionResult> OnPostRetireAsync(int id, CancellationToken cancel)
    {
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        await book.RetireAsync(id, cancel);
        return RedirectToPage();
    }

    private Task<bool> IsBusyAsync(string name, CancellationToken cancel) =>
        db.Runs.AnyAsync(
            run =>
                run.PortName == name
                && (run.Status == RunStatus.Queued || run.Status == RunStatus.Writing || run.Status == RunStatus.Waiting),
            cancel
        );

    private async Task<IActionResult> RefusedAsync(string problem, CancellationToken cancel)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        await LoadAsync(cancel);
        return Page();
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        Ports = await db.Ports.AsNoTracking().OrderBy(port => port.Name).ToListAsync(cancel);
        Things = await book.RecordsAsync(cancel);
        PortRecords = await book.PortRecordsAsync(cancel);
    }
}

using Junctra.Core.Facts;
using Junctra.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Bench;

/// <summary>A port, and the open job whose phone was last read there.</summary>
public sealed record PortView(PortRow Row, JobView? Job);

/// <summary>The left column.</summary>
/// <param name="Ports">Ports.</param>
/// <param name="Waiting">The first of the jobs that wait.</param>
/// <param name="WaitingMore">How many more there are.</param>
/// <param name="Hands">Address of the simulated phones, or null.</param>
public sealed record SideModel(IReadOnlyList<PortView> Ports, IReadOnlyList<JobView> Waiting, int WaitingMore, string? Hands);

/// <summary>Ports and waiting phones, on every page.</summary>
public sealed class SideViewComponent(JobLoader jobs, JunctraDb db, IOptions<JunctraOptions> options) : ViewComponent
{
    private const int MaxWaiting = 4;

    // Several open jobs may have been read at one port; the phone that lies there is the one that was read last.
    private static DateTimeOffset LastReadAt(JobView job) =>
        job.Row.Facts.Where(fact => fact.Source == FactSource.Link).Select(fact => fact.At).DefaultIfEmpty().Max();

    public async Task<IViewComponentResult> InvokeAsync()
    {
        var open = await jobs.OpenAsync(HttpContext.RequestAborted);
        var ports = await db.Ports.AsNoTracking().OrderBy(p => p.Name).ToListAsync(HttpContext.RequestAborted);
        var views = ports.Select(port => new PortView(port, open.Where(job => job.Row.PortName == port.Name).MaxBy(LastReadAt))).ToList();
        var waiting = open.Where(job => !JobStore.IsWriting(job.Row)).ToList();
        return View(new SideModel(views, [.. waiting.Take(MaxWaiting)], Math.Max(0, waiting.Count - MaxWaiting), options.Value.DemoHands));
    }
}

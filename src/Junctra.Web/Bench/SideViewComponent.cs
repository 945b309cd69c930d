using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Store;
using Microsoft.AspNetCore.Mvc;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Bench;

/// <summary>A port, and the open job whose phone was last read there.</summary>
public sealed record PortView(PortRow Row, JobView? Job);

/// <summary>Jobs that wait for the same work of somebody's hands.</summary>
/// <param name="What">The work, in a few words.</param>
/// <param name="Jobs">The jobs, the most urgent first.</param>
public sealed record HandsNeeded(string What, IReadOnlyList<JobView> Jobs);

/// <summary>The left column.</summary>
/// <param name="Busy">Ports at which a phone of an open job lies.</param>
/// <param name="Free">Names of the others.</param>
/// <param name="Waiting">What hands are needed for, each thing once, the most urgent first.</param>
/// <param name="Hands">Address of the simulated phones, or null.</param>
public sealed record SideModel(IReadOnlyList<PortView> Busy, IReadOnlyList<string> Free, IReadOnlyList<HandsNeeded> Waiting, string? Hands)
{
    /// <summary>So many tickets of one need are named, the most urgent; the bench has them all.</summary>
    public const int MaxTickets = 12;
}

/// <summary>Ports and waiting phones, on every page.</summary>
public sealed class SideViewComponent(JobLoader jobs, JunctraDb db, IOptions<JunctraOptions> options) : ViewComponent
{
    // Several open jobs may have been read at one port; the phone that lies there is the one that was read last.
    private static DateTimeOffset LastReadAt(JobView job) =>
        job.Row.Facts.Where(fact => fact.Source == FactSource.Link).Select(fact => fact.At).DefaultIfEmpty().Max();

    public async Task<IViewComponentResult> InvokeAsync()
    {
        var open = await jobs.OpenAsync(HttpContext.RequestAborted);
        var ports = await db.Ports.AsNoTracking().OrderBy(p => p.Name).ToListAsync(HttpContext.RequestAborted);
        var views = ports.Select(port => new PortView(port, open.Where(job => job.Row.PortName == port.Name).MaxBy(LastReadAt))).ToList();
        var waiting = open.Where(job => job.LastRun?.Status is not (RunStatus.Queued or RunStatus.Writing))
            .OrderBy(Urgency)
            .ThenBy(job => job.Row.PromisedAt ?? DateTimeOffset.MaxValue)
            .GroupBy(job => job.Standing.Next)
            .Select(group => new HandsNeeded(group.Key, [.. group]))
            .ToList();
        return View(
            new SideModel(
                [.. views.Where(view => view.Job is not null)],
                [.. views.Where(view => view.Job is null).Select(view => view.Row.Name)],
                waiting,
                options.Value.DemoHands
            )
        );
    }

    /// <summary>
    /// What cannot wait goes before what was promised: a cell that is not sound, a run that stands still for hands, a phone that is written
    /// in part.
    /// </summary>
    private static int Urgency(JobView job) =>
        job.Row.Cell != CellState.Sound
            ? 0
            : job.LastRun?.Status switch
            {
                RunStatus.Waiting => 1,
                RunStatus.Failed or RunStatus.Stopped => 2,
                _ => 3,
            };
}

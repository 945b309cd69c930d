using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages;

/// <summary>
/// What all stations of a job share: the job is found before any handler runs, a missing one is a plain 404, and two people
/// changing one job at once are told of each other.
/// </summary>
public abstract class JobPage(JobLoader jobs) : PageModel
{
    public JobView Job { get; private set; } = null!;

    /// <summary>The station this page is.</summary>
    public abstract Station Station { get; }

    /// <summary>Who may act at this station; everybody who works here may look.</summary>
    public virtual string ActsBy => Policies.Bench;

    /// <summary>Name under which acts are recorded.</summary>
    public string Who => User.Identity!.Name!;

    /// <summary>Whether whoever is signed in may act here.</summary>
    public bool MayAct { get; private set; }

    /// <summary>Earlier visits of the same phone, the latest first.</summary>
    public IReadOnlyList<EarlierVisit> Earlier { get; private set; } = [];

    /// <summary>What an earlier visit found, in words, or null.</summary>
    public string? FindingOf(EarlierVisit visit) => jobs.FindingOf(visit);

    /// <summary>What went wrong with the last act; shown loud over the station.</summary>
    public string? Problem { get; protected set; }

    /// <summary>What the last act did; shown once after the redirect.</summary>
    [TempData]
    public string? Done { get; set; }

    // By its name it would be a handler of the method PAGE.
    [NonHandler]
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var ticket = (RouteData.Values["ticket"] as string ?? "").ToUpperInvariant();
        if (await jobs.FindAsync(ticket, HttpContext.RequestAborted) is not { } job)
        {
            context.Result = NotFound();
            return;
        }

        Job = job;
        ViewData["Title"] = $"{job.Row.Ticket} {Station.Label()}";
        MayAct = (await HttpContext.RequestServices.GetRequiredService<IAuthorizationService>().AuthorizeAsync(User, ActsBy)).Succeeded;
        if (!MayAct && !HttpMethods.IsGet(Request.Method) && !HttpMethods.IsHead(Request.Method))
        {
            context.Result = new StatusCodeResult(StatusCodes.Status403Forbidden);
            return;
        }

        Earlier = await jobs.EarlierAsync(job, HttpContext.RequestAborted);
        await PrepareAsync(HttpContext.RequestAborted);
        var executed = await next();
        if (executed.Exception is DbUpdateConcurrencyException or JobBusyException)
        {
            Problem =
                executed.Exception is JobBusyException
                    ? "A write began for this job at the same moment. Nothing of yours was stored: do not touch the phone, and look at the write."
                    : "Somebody else changed this job at the same moment. Nothing of yours was stored, and nothing of theirs was overwritten: look at it again, then repeat.";
            executed.ExceptionHandled = true;
            Response.StatusCode = StatusCodes.Status409Conflict;
            await ReloadAsync(HttpContext.RequestAborted);
            AfterConflict();
            executed.Result = Page();
        }
    }

    /// <summary>Somebody else was first: brings together what they stored and what was typed here.</summary>
    protected virtual void AfterConflict() { }

    /// <summary>Loads what the page shows besides the job.</summary>
    protected virtual Task PrepareAsync(CancellationToken cancel) => Task.CompletedTask;

    /// <summary>Loads the job anew, as it stands now.</summary>
    protected async Task ReloadAsync(CancellationToken cancel)
    {
        Job = (await jobs.FindAnewAsync(Job.Row.Ticket, cancel))!;
        await PrepareAsync(cancel);
    }

    /// <summary>To a station of this job.</summary>
    protected IActionResult To(Station station) => RedirectToPage(station.Page(), new { ticket = Job.Row.Ticket });

    /// <summary>The page again, with what went wrong.</summary>
    protected IActionResult Refused(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    /// <summary>What came of an act: on to a station, or the page again with why it was refused.</summary>
    protected IActionResult After(ActResult result, Station next)
    {
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done ?? Done;
        return To(next);
    }
}

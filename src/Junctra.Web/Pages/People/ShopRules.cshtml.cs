using Junctra.Core.Matching;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.People;

/// <summary>The schools by which the shop works. Everybody may look; the lead changes them, with a reason.</summary>
public sealed class ShopRulesModel(PolicyHistory book, MatchService desk, JunctraDb db, IAuthorizationService authorization) : PageModel
{
    private const int MaxFindings = 20;

    public MatchPolicy Shop { get; private set; } = MatchPolicy.Careful;

    public IReadOnlyList<SchoolRow> History { get; private set; } = [];

    /// <summary>
    /// Plans that all rules let through and the rehearsal did not: something is missing in the rules, or wrong with the twin.
    /// </summary>
    public IReadOnlyList<(string Ticket, DateTimeOffset At, string Why)> Refused { get; private set; } = [];

    public bool MayAct { get; private set; }

    public string? Problem { get; private set; }

    /// <summary>The reason as it was typed, where it was refused, and for which question.</summary>
    public string? Typed { get; private set; }

    public string? TypedFor { get; private set; }

    [TempData]
    public string? Done { get; set; }

    public Task OnGetAsync(CancellationToken cancel) => LoadAsync(cancel);

    public async Task<IActionResult> OnPostAsync(string? question, string? choice, string? reason, CancellationToken cancel)
    {
        await LoadAsync(cancel);
        if (!MayAct)
            return new StatusCodeResult(StatusCodes.Status403Forbidden);
        (Typed, TypedFor) = (reason, question);
        if (Schools.Find(question) is not { } asked || asked.Parse(choice) is not { } chosen)
            return Refuse("That is no school.");
        if (chosen == asked.Of(Shop))
            return Refuse($"“{chosen.Label}” is the shop's rule already. Nothing was changed.");
        if (string.IsNullOrWhiteSpace(reason))
            return Refuse($"Say why the shop works by “{chosen.Label}” from now on. Nothing was changed.");
        if (reason.Length > PolicyHistory.MaxCharacters)
            return Refuse($"The reason has more than {PolicyHistory.MaxCharacters} characters. Nothing was changed.");
        book.Decide(null, asked, chosen, reason.Trim(), User.Identity!.Name!);
        await db.SaveChangesAsync(cancel);
        Done = $"{asked.Title}: {chosen.Label}. It holds from now on, for every job that has not decided otherwise.";
        return Redirect("/shop-rules");
    }

    private PageResult Refuse(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        Shop = await desk.ShopAsync(cancel);
        History = await book.HistoryAsync(cancel);
        var found = await db
            .Audit.Where(line => line.By == Planner.Rehearsal)
            .OrderByDescending(line => line.Id)
            .Take(MaxFindings)
            .Join(
                db.Jobs,
                line => line.JobId,
                job => job.Id,
                (line, job) =>
                    new
                    {
                        job.Ticket,
                        line.At,
                        line.Act,
                    }
            )
            .ToListAsync(cancel);
        Refused = [.. found.Select(line => (line.Ticket, line.At, line.Act))];
        MayAct = (await authorization.AuthorizeAsync(User, Policies.Lead)).Succeeded;
    }
}

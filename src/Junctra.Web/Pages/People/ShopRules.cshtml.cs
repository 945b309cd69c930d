using Junctra.Core.Matching;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.People;

/// <summary>The schools by which the shop works. Everybody may look; the lead changes them, with a reason.</summary>
public sealed class ShopRulesModel(PolicyHistory book, MatchService desk, JunctraDb db, IAuthorizationService authorization) : PageModel
{
    public MatchPolicy Shop { get; private set; } = MatchPolicy.Careful;

    public IReadOnlyList<SchoolRow> History { get; private set; } = [];

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
            return Refused("That is no school.");
        if (chosen == asked.Of(Shop))
            return Refused($"“{chosen.Label}” is the shop's rule already. Nothing was changed.");
        if (string.IsNullOrWhiteSpace(reason))
            return Refused($"Say why the shop works by “{chosen.Label}” from now on. Nothing was changed.");
        if (reason.Length > PolicyHistory.MaxCharacters)
            return Refused($"The reason has more than {PolicyHistory.MaxCharacters} characters. Nothing was changed.");
        book.Decide(null, asked, chosen, reason.Trim(), User.Identity!.Name!);
        await db.SaveChangesAsync(cancel);
        Done = $"{asked.Title}: {chosen.Label}. It holds from now on, for every job that has not decided otherwise.";
        return Redirect("/shop-rules");
    }

    private PageResult Refused(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private async Task LoadAsync(CancellationToken cancel)
    {
        Shop = await desk.ShopAsync(cancel);
        History = await book.HistoryAsync(cancel);
        MayAct = (await authorization.AuthorizeAsync(User, Policies.Lead)).Succeeded;
    }
}

using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Pages.People;

/// <summary>Makes the first lead, by the link that stands on the console.</summary>
[AllowAnonymous]
public sealed class FirstLeadModel(FirstLead first, JunctraDb db) : PageModel
{
    [BindProperty(SupportsGet = true)]
    public string? Token { get; set; }

    [BindProperty]
    public string? Name { get; set; }

    [BindProperty]
    public string? Password { get; set; }

    public string? Problem { get; private set; }

    public async Task<IActionResult> OnGetAsync(CancellationToken cancel) =>
        first.Knows(Token) && !await db.Users.AnyAsync(cancel) ? Page() : NotFound();

    public async Task<IActionResult> OnPostAsync(CancellationToken cancel)
    {
        if (!first.Knows(Token))
            return NotFound();
        Problem = await first.MakeAsync(Name?.Trim().ToLowerInvariant() ?? "", Password ?? "", cancel);
        if (Problem is null)
            return Redirect("/sign-in");
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}

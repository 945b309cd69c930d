using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.People;

/// <summary>Signs somebody in.</summary>
[AllowAnonymous]
public sealed class SignInModel(SignInManager<StaffRow> signIn, UserManager<StaffRow> staff, IOptions<JunctraOptions> options) : PageModel
{
    [BindProperty]
    public string? Name { get; set; }

    [BindProperty]
    public string? Password { get; set; }

    /// <summary>Where to go afterwards, within this site.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    public string? Problem { get; private set; }

    /// <summary>Accounts whose passwords are no secret; empty outside the demo.</summary>
    public IReadOnlyList<DemoAccount> Demo => options.Value.IsDemo ? StaffSetup.DemoAccounts : [];

    public async Task<IActionResult> OnPostAsync()
    {
        var name = Name?.Trim().ToLowerInvariant() ?? "";
        // The same words and as much work for a wrong name as for a wrong password: nobody learns who works here.
        var result = Microsoft.AspNetCore.Identity.SignInResult.Failed;
        if (await staff.FindByNameAsync(name) is { } row) result = await signIn.PasswordSignInAsync(row, Password ?? "", isPersistent: false, lockoutOnFailure: true);
        else staff.PasswordHasher.HashPassword(new StaffRow(), Password ?? "");
        if (result.Succeeded) return Redirect(Url.IsLocalUrl(To) ? To! : "/");
        Problem = result.IsLockedOut
            ? $"This account is locked for a few minutes: {StaffSetup.MostWrongPasswords} wrong passwords, or the lead closed it."
            : "Name or password is not right.";
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}

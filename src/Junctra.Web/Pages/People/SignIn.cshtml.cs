using Junctra.Core;
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
public sealed class SignInModel(UserManager<StaffRow> staff, Door door, IOptions<JunctraOptions> options) : PageModel
{
    private const int MaxName = 60,
        MaxPassword = 200;

    // Of nobody's password; it takes as long to hold one against it as against anybody's.
    private static string? nobodysHash;

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
        var password = Password is { Length: <= MaxPassword } typed ? typed : "";
        var row = name.Length is > 0 and <= MaxName && ShownText.IsFit(name) ? await staff.FindByNameAsync(name) : null;
        // The same work, the same words and the same status for a wrong name, a wrong password, a closed account and one try too many:
        // nobody learns who works here.
        var isHeldUp = door.IsHeldUp(HttpContext, name, row);
        var isRight = row is null ? Waste(password) : await staff.CheckPasswordAsync(row, password);
        if (row is not null && isRight && !isHeldUp && !await staff.IsLockedOutAsync(row))
        {
            if (row.TwoFactorEnabled)
            {
                await SecondStepModel.AskAsync(HttpContext, row);
                return RedirectToPage("/People/SecondStep", new { To });
            }

            await door.LetInAsync(HttpContext, row, bySecondFactor: false);
            return Redirect(Url.IsLocalUrl(To) ? To! : "/");
        }

        await door.RefuseAsync(HttpContext, row, name, row is null ? "name" : "password", isHeldUp);
        Problem =
            $"Name or password is not right, or too many tries were made: after {SignInAttempts.MaxForAccount} of them it takes a few minutes before another counts.";
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    private bool Waste(string password)
    {
        nobodysHash ??= staff.PasswordHasher.HashPassword(new StaffRow(), Guid.NewGuid().ToString());
        staff.PasswordHasher.VerifyHashedPassword(new StaffRow(), nobodysHash, password);
        return false;
    }
}

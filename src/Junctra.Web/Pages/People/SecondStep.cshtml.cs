using System.Security.Claims;
using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.People;

/// <summary>The second factor of somebody whose password was right a moment ago.</summary>
[AllowAnonymous]
public sealed class SecondStepModel(UserManager<StaffRow> staff, SignInManager<StaffRow> signIn, SecondFactor factor, Door door) : PageModel
{
    [BindProperty]
    public string? Code { get; set; }

    /// <summary>Where to go afterwards, within this site.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }

    public string? Problem { get; private set; }

    /// <summary>Remembers for a few minutes, in a sealed cookie, whose password was right.</summary>
    public static Task AskAsync(HttpContext http, StaffRow row) =>
        http.SignInAsync(
            IdentityConstants.TwoFactorUserIdScheme,
            new ClaimsPrincipal(
                new ClaimsIdentity([new Claim(ClaimTypes.Name, $"{row.Id}"), Stamp(row)], IdentityConstants.TwoFactorUserIdScheme)
            )
        );

    public async Task<IActionResult> OnGetAsync() => await WhoAsync() is null ? ToSignIn() : Page();

    public async Task<IActionResult> OnPostAsync()
    {
        if (await WhoAsync() is not { } row)
            return ToSignIn();
        var isHeldUp = door.IsHeldUp(HttpContext, row.UserName!, row);
        if (!isHeldUp && !await staff.IsLockedOutAsync(row) && await factor.IsRightAsync(row, Code))
        {
            await HttpContext.SignOutAsync(IdentityConstants.TwoFactorUserIdScheme);
            await door.LetInAsync(HttpContext, row, bySecondFactor: true);
            return Redirect(Url.IsLocalUrl(To) ? To! : "/");
        }

        await door.RefuseAsync(HttpContext, row, row.UserName!, "code", isHeldUp);
        Problem = "That code is not right, was used before, or too many were tried. The next one comes within half a minute.";
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }

    // A password that was changed since, or a factor that was taken away, ends it.
    private async Task<StaffRow?> WhoAsync()
    {
        var asked = await HttpContext.AuthenticateAsync(IdentityConstants.TwoFactorUserIdScheme);
        return
            await signIn.GetTwoFactorAuthenticationUserAsync() is { TwoFactorEnabled: true } row
            && asked.Principal?.FindFirstValue(ClaimTypes.Version) == Stamp(row).Value
            ? row
            : null;
    }

    private static Claim Stamp(StaffRow row) => new(ClaimTypes.Version, row.SecurityStamp ?? "");

    private RedirectToPageResult ToSignIn() => RedirectToPage("/People/SignIn", new { To });
}

using Junctra.Core;
using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.People;

/// <summary>One's own account: password, signing out here and everywhere.</summary>
public sealed class AccountModel(
    UserManager<StaffRow> staff,
    SignIns signIns,
    Tokens tokens,
    SecondFactor factor,
    Door door,
    JunctraDb db,
    TimeProvider time
) : PageModel
{
    private StaffRow me = null!;

    public IReadOnlyList<string> Roles { get; private set; } = [];

    public bool HasGivenPassword => me.HasGivenPassword;

    public IReadOnlyList<ApiTokenRow> MyTokens { get; private set; } = [];

    /// <summary>A token that was made just now, or null.</summary>
    public string? NewToken { get; private set; }

    /// <summary>Whether a code is asked for at the sign-in.</summary>
    public bool HasSecondFactor => me.TwoFactorEnabled;

    /// <summary>The secret of a second factor that is being set up, in base 32; null where none is.</summary>
    public string? NewSecret { get; private set; }

    /// <summary>Proof that it was shown, for the form that asks for its first code.</summary>
    public string SecretProof => factor.ProofOf(me, NewSecret!);

    /// <summary>The same as authenticators scan it.</summary>
    public string SecretAddress => SecondFactor.AddressOf(me, NewSecret!);

    /// <summary>Recovery codes that were made just now, or null.</summary>
    public IReadOnlyList<string>? NewCodes { get; private set; }

    /// <summary>Recovery codes that are left.</summary>
    public int CodesLeft { get; private set; }

    /// <summary>Where I am signed in, the browser used last first.</summary>
    public IReadOnlyList<SignInRow> MySignIns { get; private set; } = [];

    /// <summary>Whether a sign-in is the one by which this page was asked for.</summary>
    public bool IsThisOne(SignInRow row) => User.FindFirst(StaffSetup.SignInClaim)?.Value == row.Id;

    public string? Problem { get; private set; }

    [TempData]
    public string? Done { get; set; }

    // By its name it would be a handler of the method PAGE.
    [NonHandler]
    public override async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        if (await staff.GetUserAsync(User) is not { } row)
        {
            context.Result = Redirect("/sign-in");
            return;
        }

        me = row;
        Roles = [.. StaffRoles.All.Where(User.IsInRole)];
        MyTokens = await tokens.OfAsync(me.Id, HttpContext.RequestAborted);
        MySignIns = await signIns.OfAsync(me, HttpContext.RequestAborted);
        CodesLeft = me.TwoFactorEnabled ? await factor.LeftAsync(me) : 0;
        await next();
    }

    public async Task<IActionResult> OnPostPasswordAsync(string? present, string? wanted, string? again)
    {
        if (wanted != again)
            return Refused("The new password was typed in two ways. Nothing was changed.");
        // A wrong present password counts like one at the sign-in: an open screen is no place to try them.
        if (await staff.IsLockedOutAsync(me))
            return Refused("Too many wrong passwords. Wait a few minutes.");
        var changed = await staff.ChangePasswordAsync(me, present ?? "", wanted ?? "");
        if (!changed.Succeeded)
        {
            if (changed.Errors.Any(error => error.Code == nameof(IdentityErrorDescriber.PasswordMismatch)))
                await staff.AccessFailedAsync(me);
            return Refused(StaffWords.Of(changed));
        }

        me.HasGivenPassword = false;
        await staff.UpdateAsync(me);
        await door.GoOnAsync(HttpContext, me);
        Done = "The password was changed.";
        return Redirect("/account");
    }

    /// <summary>A second factor is set up: its secret is shown, and counts for nothing yet.</summary>
    /// <param name="present">The present password: an open screen is no place to set one up.</param>
    public async Task<IActionResult> OnPostSecretAsync(string? present)
    {
        if (me.TwoFactorEnabled)
            return Refused("You have a second factor. Take it away first.");
        if (await staff.IsLockedOutAsync(me))
            return Refused("Too many wrong passwords. Wait a few minutes.");
        if (!await staff.CheckPasswordAsync(me, present ?? ""))
        {
            await staff.AccessFailedAsync(me);
            return Refused("The present password is not right. Nothing was set up.");
        }

        NewSecret = await factor.BeginAsync(me);
        await door.GoOnAsync(HttpContext, me, bySecondFactor: false);
        MySignIns = await signIns.OfAsync(me, HttpContext.RequestAborted);
        return Page();
    }

    /// <summary>A code of the new secret was typed: from now on one is asked for.</summary>
    public async Task<IActionResult> OnPostCodeAsync(string? code, string? begun)
    {
        if (door.IsHeldUp(HttpContext, me.UserName!, me))
            return Refused("Too many wrong codes. Wait a few minutes.");
        if (await factor.TurnOnAsync(me, code) is not { } codes)
        {
            await door.RefuseAsync(HttpContext, me, me.UserName!, "code", false);
            NewSecret = await factor.ShownAsync(me, begun);
            return Refused(
                "That code is not right: the second factor is not on. "
                    + (NewSecret is null ? "Set it up once more." : "Type the next one that the authenticator shows.")
            );
        }

        (NewCodes, CodesLeft) = (codes, codes.Count);
        await door.GoOnAsync(HttpContext, me, bySecondFactor: true);
        MySignIns = await signIns.OfAsync(me, HttpContext.RequestAborted);
        return Page();
    }

    /// <summary>The second factor is taken away by whoever has it.</summary>
    public async Task<IActionResult> OnPostCodeOffAsync(string? code)
    {
        if (door.IsHeldUp(HttpContext, me.UserName!, me))
            return Refused("Too many wrong codes. Wait a few minutes.");
        if (!await factor.IsRightAsync(me, code))
        {
            await door.RefuseAsync(HttpContext, me, me.UserName!, "code", false);
            return Refused("That code is not right, or was used before. The second factor stays.");
        }

        await factor.TurnOffAsync(me);
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = me.UserName!,
                Act = "Took the second factor away.",
            }
        );
        await db.SaveChangesAsync();
        await door.GoOnAsync(HttpContext, me, bySecondFactor: false);
        Done = "The second factor is off.";
        return Redirect("/account");
    }

    public async Task<IActionResult> OnPostTokenAsync(string? tokenName, CancellationToken cancel)
    {
        var name = tokenName?.Trim() ?? "";
        if (name.Length is 0 or > 60 || !ShownText.IsFit(name))
            return Refused("Say in a few words what the token is for. Nothing was made.");
        if (await tokens.MakeAsync(me, name, cancel) is not { } made)
            return Refused($"You have {Tokens.Most} tokens. Take one back first.");
        NewToken = made;
        MyTokens = await tokens.OfAsync(me.Id, cancel);
        return Page();
    }

    public async Task<IActionResult> OnPostRevokeAsync(int id, CancellationToken cancel)
    {
        if (!await tokens.RevokeAsync(me, id, cancel))
            return Refused("That token was taken back already.");
        Done = "The token was taken back. Whatever uses it is refused from now on.";
        return Redirect("/account");
    }

    /// <summary>Ends one of my sign-ins elsewhere.</summary>
    public async Task<IActionResult> OnPostEndAsync(string? id)
    {
        if (string.IsNullOrEmpty(id) || !await signIns.EndAsync(id, me.Id))
            return Refused("That sign-in has ended already.");
        Done = "It is signed out there.";
        return Redirect("/account");
    }

    public async Task<IActionResult> OnPostSignOutAsync()
    {
        await door.LetOutAsync(HttpContext);
        return Redirect("/sign-in");
    }

    public async Task<IActionResult> OnPostEverywhereAsync(CancellationToken cancel)
    {
        await staff.UpdateSecurityStampAsync(me);
        await tokens.RevokeAllAsync(me, me.UserName!, cancel);
        await door.LetOutAsync(HttpContext);
        return Redirect("/sign-in");
    }

    private PageResult Refused(string problem)
    {
        Problem = problem;
        Response.StatusCode = StatusCodes.Status422UnprocessableEntity;
        return Page();
    }
}

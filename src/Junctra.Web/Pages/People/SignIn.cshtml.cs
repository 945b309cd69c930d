using System.Security.Claims;
using System.Security.Cryptography;
using Junctra.Core;
using Junctra.Store;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Pages.People;

/// <summary>Signs somebody in.</summary>
[AllowAnonymous]
public sealed class SignInModel(
    SignInManager<StaffRow> signIn,
    UserManager<StaffRow> staff,
    SignInAttempts attempts,
    IDataProtectionProvider sealing,
    JunctraDb db,
    TimeProvider time,
    IOptions<JunctraOptions> options,
    ILogger<SignInModel> log
) : PageModel
{
    private const string ComputerCookie = "junctra-computer";
    private const int MaxName = 60,
        MaxPassword = 200;
    private static readonly TimeSpan ComputerIsKnownFor = TimeSpan.FromDays(180);

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
        var address = HttpContext.Connection.RemoteIpAddress?.ToString() ?? "unknown";
        var computer = row is null ? null : KnownComputer(row);
        // The same work, the same words and the same status for a wrong name, a wrong password, a closed account and one try too many:
        // nobody learns who works here.
        var isHeldUp = attempts.IsHeldUp(name, address, computer);
        var isRight = row is null ? Waste(password) : await staff.CheckPasswordAsync(row, password);
        if (row is not null && isRight && !isHeldUp && !await staff.IsLockedOutAsync(row))
        {
            attempts.Forget(name);
            await staff.ResetAccessFailedCountAsync(row);
            await signIn.SignInWithClaimsAsync(row, isPersistent: false, [new Claim(StaffSetup.SignInClaim, Guid.NewGuid().ToString("N"))]);
            KnowComputer(row, computer);
            return Redirect(Url.IsLocalUrl(To) ? To! : "/");
        }

        await NoteAsync(row, name, address, computer, isHeldUp);
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

    /// <summary>
    /// Wrong passwords, and that somebody is held up, are for whoever reads the log and the audit afterwards. A name that is nobody's may
    /// be a password typed into the wrong field, and is not written down.
    /// </summary>
    private async Task NoteAsync(StaffRow? row, string name, string address, string? computer, bool isHeldUp)
    {
        var who = row?.UserName ?? "nobody who works here";
        var count = isHeldUp ? 0 : attempts.Wrong(name, address, computer);
        log.LogWarning("A sign-in as {Who} from {Address} was refused{HeldUp}", who, address, isHeldUp ? ", held up" : "");
        if (isHeldUp)
            return;
        // A line for a name that is nobody's too: without it that answer would come sooner.
        var what = row is null ? "name" : "password";
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = who,
                Act =
                    count < SignInAttempts.MaxForAccount
                        ? $"A wrong {what} was typed, from {address}."
                        : $"Too many wrong {what}s, from {address}: held up there for {SignInAttempts.Window.TotalMinutes:0} min.",
            }
        );
        await db.SaveChangesAsync();
    }

    private IDataProtector Sealing => sealing.CreateProtector("junctra.known-computer");

    private string? KnownComputer(StaffRow row)
    {
        try
        {
            return
                Request.Cookies[ComputerCookie] is { Length: < 1000 } cookie
                && Sealing.Unprotect(cookie).Split(' ') is [var id, var computer]
                && id == $"{row.Id}"
                ? computer
                : null;
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    private void KnowComputer(StaffRow row, string? computer) =>
        Response.Cookies.Append(
            ComputerCookie,
            Sealing.Protect($"{row.Id} {computer ?? Guid.NewGuid().ToString("N")}"),
            new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
                Secure = Request.IsHttps,
                MaxAge = ComputerIsKnownFor,
                Path = "/sign-in",
                IsEssential = true,
            }
        );
}

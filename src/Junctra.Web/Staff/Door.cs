using System.Security.Claims;
using System.Security.Cryptography;
using Junctra.Store;
using Junctra.Web.Operation;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;

namespace Junctra.Web.Staff;

/// <summary>
/// Whoever signs in: lets people in, counts and writes down what was wrong, and knows the computers at which somebody has signed in before.
/// </summary>
public sealed class Door(
    SignInManager<StaffRow> signIn,
    UserManager<StaffRow> staff,
    SignIns signIns,
    SignInAttempts attempts,
    IDataProtectionProvider sealing,
    JunctraDb db,
    HouseMeter meter,
    TimeProvider time,
    ILogger<Door> log
)
{
    private const string ComputerCookie = "junctra-computer";
    private static readonly TimeSpan ComputerIsKnownFor = TimeSpan.FromDays(180);

    /// <summary>Whether a try is refused, whatever was typed.</summary>
    public bool IsHeldUp(HttpContext http, string name, StaffRow? row) =>
        attempts.IsHeldUp(name, AddressOf(http), row is null ? null : KnownComputer(http, row));

    /// <summary>Lets somebody in.</summary>
    /// <param name="http">The request.</param>
    /// <param name="row">Who.</param>
    /// <param name="bySecondFactor">Whether a second factor was asked for, and right.</param>
    public async Task LetInAsync(HttpContext http, StaffRow row, bool bySecondFactor)
    {
        attempts.Forget(row.UserName!);
        await staff.ResetAccessFailedCountAsync(row);
        await AdmitAsync(http, row, bySecondFactor, Guid.NewGuid().ToString("N"));
        http.Response.Cookies.Append(
            ComputerCookie,
            Sealing.Protect($"{row.Id} {KnownComputer(http, row) ?? Guid.NewGuid().ToString("N")}"),
            new CookieOptions
            {
                HttpOnly = true,
                SameSite = SameSiteMode.Lax,
                Secure = http.Request.IsHttps,
                MaxAge = ComputerIsKnownFor,
                Path = "/sign-in",
                IsEssential = true,
            }
        );
    }

    /// <summary>Whoever is in and has changed how, which ends every sign-in of the account, stays in here.</summary>
    /// <param name="http">The request.</param>
    /// <param name="row">Who.</param>
    /// <param name="bySecondFactor">Whether a second factor was asked for, and right; null for as it was.</param>
    public Task GoOnAsync(HttpContext http, StaffRow row, bool? bySecondFactor = null) =>
        AdmitAsync(
            http,
            row,
            bySecondFactor ?? http.User.HasClaim(SecondFactor.MethodClaim, SecondFactor.Several),
            http.User.FindFirstValue(StaffSetup.SignInClaim) ?? Guid.NewGuid().ToString("N")
        );

    /// <summary>Ends the sign-in of a request: the cookie may have been copied, and no copy of it counts from now on.</summary>
    public async Task LetOutAsync(HttpContext http)
    {
        if (http.User.FindFirstValue(StaffSetup.SignInClaim) is { } id)
            await signIns.EndAsync(id);
        await signIn.SignOutAsync();
    }

    private async Task AdmitAsync(HttpContext http, StaffRow row, bool bySecondFactor, string id)
    {
        await signIns.KeepAsync(id, row, AddressOf(http), http.Request.Headers.UserAgent.ToString(), bySecondFactor);
        List<Claim> claims = [new(StaffSetup.SignInClaim, id)];
        if (bySecondFactor)
            claims.Add(new(SecondFactor.MethodClaim, SecondFactor.Several));
        await signIn.SignInWithClaimsAsync(row, isPersistent: false, claims);
    }

    /// <summary>
    /// Wrong passwords and codes, and that somebody is held up, are for whoever reads the log and the audit afterwards. A name that is
    /// nobody's may be a password typed into the wrong field, and is not written down.
    /// </summary>
    /// <param name="http">The request.</param>
    /// <param name="row">Whose account; null where it is nobody's.</param>
    /// <param name="name">The name as typed.</param>
    /// <param name="what">What was wrong.</param>
    /// <param name="isHeldUp">Whether it was refused whatever was typed: then nothing is counted.</param>
    public async Task RefuseAsync(HttpContext http, StaffRow? row, string name, string what, bool isHeldUp)
    {
        var (who, address) = (row?.UserName ?? "nobody who works here", AddressOf(http));
        var count = isHeldUp ? 0 : attempts.Wrong(name, address, row is null ? null : KnownComputer(http, row));
        log.LogWarning("A sign-in as {Who} from {Address} was refused{HeldUp}", who, address, isHeldUp ? ", held up" : "");
        meter.Refused();
        if (isHeldUp)
            return;
        // A line for a name that is nobody's too: without it that answer would come sooner.
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

    private static string AddressOf(HttpContext http) => http.Connection.RemoteIpAddress?.ToString() ?? "unknown";

    private IDataProtector Sealing => sealing.CreateProtector("junctra.known-computer");

    private string? KnownComputer(HttpContext http, StaffRow row)
    {
        try
        {
            return
                http.Request.Cookies[ComputerCookie] is { Length: < 1000 } cookie
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
}

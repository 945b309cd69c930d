using System.Security.Claims;
using Junctra.Store;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Staff;

/// <summary>An account of the demo world; its password stands on the sign-in page.</summary>
/// <param name="Name">Name to sign in with.</param>
/// <param name="Password">Its password.</param>
/// <param name="Roles">Its roles.</param>
public sealed record DemoAccount(string Name, string Password, IReadOnlyList<string> Roles);

/// <summary>Sets up sign-in: accounts, cookies, the keys that seal them.</summary>
internal static class StaffSetup
{
    /// <summary>Wrong present passwords in a row, typed by somebody who is signed in, that lock an account.</summary>
    public const int MaxWrongPasswords = 5;

    /// <summary>How long a sign-in lasts without a sign of life.</summary>
    public static readonly TimeSpan SignInLasts = TimeSpan.FromHours(10);

    // Between the password and the code.
    private static readonly TimeSpan CodeIsAwaitedFor = TimeSpan.FromMinutes(5);

    /// <summary>Least length of a password.</summary>
    public const int MinPassword = 10;

    /// <summary>The accounts of the demo.</summary>
    public static IReadOnlyList<DemoAccount> DemoAccounts { get; } =
    [
        new("counter", "slipway-counter", [StaffRoles.Counter]),
        new("bench", "slipway-bench", [StaffRoles.Bench]),
        new("lead", "slipway-lead", StaffRoles.All),
    ];

    /// <summary>Claim that tells one sign-in from another of the same account.</summary>
    public const string SignInClaim = "sign-in";

    public static void AddStaff(this IServiceCollection services, IConfiguration configuration)
    {
        var options = configuration.GetSection("Junctra").Get<JunctraOptions>() ?? new JunctraOptions();
        var keys = services.AddDataProtection().SetApplicationName("junctra").PersistKeysToDbContext<JunctraDb>();
        // Without a library there is nowhere to keep one; the options' own checks say so a moment later.
        if (options.Library.Length > 0 || options.Keys.Length > 0)
            keys.ProtectKeysWithCertificate(KeyShelter.Open(options.KeysFolder));
        services.AddSingleton<SignInAttempts>();
        services
            .AddAuthentication(IdentityConstants.ApplicationScheme)
            .AddCookie(IdentityConstants.ApplicationScheme, cookie =>
            {
                cookie.Cookie.Name = "junctra";
                cookie.Cookie.HttpOnly = true;
                cookie.Cookie.SameSite = SameSiteMode.Lax;
                cookie.ExpireTimeSpan = SignInLasts;
                cookie.SlidingExpiration = true;
                cookie.LoginPath = "/sign-in";
                cookie.ReturnUrlParameter = "to";
                cookie.Events.OnRedirectToAccessDenied = context =>
                {
                    context.Response.StatusCode = StatusCodes.Status403Forbidden;
                    return Task.CompletedTask;
                };
                cookie.Events.OnRedirectToLogin = context =>
                {
                    // A page that is open goes to sign in; what a script asks for is refused plainly.
                    if (
                        context.Request.Headers.Accept.ToString().Contains("text/html", StringComparison.OrdinalIgnoreCase)
                        || HttpMethods.IsPost(context.Request.Method)
                    )
                        context.Response.Redirect(context.RedirectUri);
                    else
                        context.Response.StatusCode = StatusCodes.Status401Unauthorized;
                    return Task.CompletedTask;
                };
                cookie.Events.OnValidatePrincipal = StillValidAsync;
            })
            .AddCookie(IdentityConstants.TwoFactorUserIdScheme, cookie =>
            {
                cookie.Cookie.Name = "junctra-code";
                cookie.Cookie.HttpOnly = true;
                cookie.Cookie.SameSite = SameSiteMode.Lax;
                cookie.Cookie.Path = "/sign-in";
                cookie.ExpireTimeSpan = CodeIsAwaitedFor;
                cookie.SlidingExpiration = false;
            });
        services
            .AddIdentityCore<StaffRow>(identity =>
            {
                identity.Password.RequiredLength = MinPassword;
                identity.Password.RequiredUniqueChars = 5;
                identity.Password.RequireDigit =
                    identity.Password.RequireUppercase =
                    identity.Password.RequireLowercase =
                    identity.Password.RequireNonAlphanumeric =
                        false;
                identity.Lockout.MaxFailedAccessAttempts = MaxWrongPasswords;
                identity.Lockout.DefaultLockoutTimeSpan = TimeSpan.FromMinutes(5);
                identity.User.AllowedUserNameCharacters = "abcdefghijklmnopqrstuvwxyz0123456789-.";
            })
            .AddRoles<IdentityRole<int>>()
            .AddEntityFrameworkStores<JunctraDb>()
            .AddUserStore<SealedStaffStore>()
            .AddTokenProvider<AuthenticatorTokenProvider<StaffRow>>(TokenOptions.DefaultAuthenticatorProvider)
            .AddSignInManager();
        services.AddScoped<Door>();
        services.AddScoped<SignIns>();
        services.AddScoped<SecondFactor>();
        services.AddAuthorization(policies => Policies.Add(policies, options.LeadsNeedSecondFactor));
        services.AddSingleton<FirstLead>();
    }

    /// <summary>Makes the roles, and the demo's accounts where nobody works here yet.</summary>
    public static async Task SeedAsync(IServiceProvider services, bool isDemo)
    {
        var roles = services.GetRequiredService<RoleManager<IdentityRole<int>>>();
        foreach (var role in StaffRoles.All)
            if (!await roles.RoleExistsAsync(role))
                await roles.CreateAsync(new IdentityRole<int>(role));
        var staff = services.GetRequiredService<UserManager<StaffRow>>();
        if (!isDemo || await staff.Users.AnyAsync())
            return;
        foreach (var account in DemoAccounts)
        {
            var row = new StaffRow { UserName = account.Name };
            await staff.CreateAsync(row, account.Password);
            await staff.AddToRolesAsync(row, account.Roles);
        }
    }

    /// <summary>
    /// Looks at every request whether this sign-in still counts: it ends at once when the password or the roles were changed, when
    /// the account was closed, or when somebody signed out everywhere.
    /// </summary>
    private static async Task StillValidAsync(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        var claims = services.GetRequiredService<Microsoft.Extensions.Options.IOptions<IdentityOptions>>().Value.ClaimsIdentity;
        try
        {
            if (
                int.TryParse(context.Principal?.FindFirstValue(claims.UserIdClaimType), out var id)
                && context.Principal.FindFirstValue(SignInClaim) is { } signIn
                && context.Principal.FindFirstValue(claims.SecurityStampClaimType) is { } stamp
                && await services.GetRequiredService<SignIns>().CountsAsync(signIn, id, stamp, context.HttpContext.RequestAborted)
            )
                return;
        }
        catch (Exception error) when (DatabaseAbsence.Is(error))
        {
            // The page itself needs the database and will say so; nobody is thrown out for it.
            return;
        }

        context.RejectPrincipal();
    }
}

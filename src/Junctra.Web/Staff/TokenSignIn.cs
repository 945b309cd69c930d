using System.Security.Cryptography;
using System.Text;
using System.Text.Encodings.Web;
using Junctra.Store;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Staff;

/// <summary>
/// Personal tokens: a program signs in with one as the person who made it. A token is shown once, and kept as its digest alone.
/// </summary>
public sealed class Tokens(JunctraDb db, TimeProvider time)
{
    /// <summary>What every token begins with, so that one is known where it lies about.</summary>
    public const string Beginning = "junctra-";

    /// <summary>So many of one person count at most.</summary>
    public const int Most = 20;

    private static readonly TimeSpan UseIsNotedEvery = TimeSpan.FromMinutes(1);

    /// <summary>Those of a person that count, the newest first.</summary>
    public async Task<IReadOnlyList<ApiTokenRow>> OfAsync(int staffId, CancellationToken cancel) =>
        await db
            .ApiTokens.AsNoTracking()
            .Where(token => token.StaffId == staffId && token.RevokedAt == null)
            .OrderByDescending(token => token.Id)
            .ToListAsync(cancel);

    /// <summary>Makes a token.</summary>
    /// <returns>The token, which nobody can be told again; null where the person has too many.</returns>
    public async Task<string?> MakeAsync(StaffRow person, string name, CancellationToken cancel)
    {
        if (await db.ApiTokens.CountAsync(token => token.StaffId == person.Id && token.RevokedAt == null, cancel) >= Most)
            return null;
        var token = Beginning + Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(32));
        db.ApiTokens.Add(
            new ApiTokenRow
            {
                StaffId = person.Id,
                Name = name,
                Digest = DigestOf(token),
                CreatedAt = time.GetUtcNow(),
            }
        );
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = person.UserName!,
                Act = $"Made the token “{name}”.",
            }
        );
        await db.SaveChangesAsync(cancel);
        return token;
    }

    /// <summary>Takes a token back.</summary>
    public async Task<bool> RevokeAsync(StaffRow person, int id, CancellationToken cancel)
    {
        if (
            await db.ApiTokens.SingleOrDefaultAsync(
                token => token.Id == id && token.StaffId == person.Id && token.RevokedAt == null,
                cancel
            )
            is not { } row
        )
            return false;
        row.RevokedAt = time.GetUtcNow();
        db.Audit.Add(
            new AuditRow
            {
                At = row.RevokedAt.Value,
                By = person.UserName!,
                Act = $"Took the token “{row.Name}” back.",
            }
        );
        await db.SaveChangesAsync(cancel);
        return true;
    }

    /// <summary>Takes all tokens of a person back.</summary>
    public async Task RevokeAllAsync(StaffRow person, string by, CancellationToken cancel)
    {
        var now = time.GetUtcNow();
        var count = await db
            .ApiTokens.Where(token => token.StaffId == person.Id && token.RevokedAt == null)
            .ExecuteUpdateAsync(set => set.SetProperty(token => token.RevokedAt, now), cancel);
        if (count == 0)
            return;
        db.Audit.Add(
            new AuditRow
            {
                At = now,
                By = by,
                Act = $"Took back {count} token{(count == 1 ? "" : "s")} of {person.UserName}.",
            }
        );
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>Id of the person whose token it is, or null. Its use is noted, not more often than once a minute.</summary>
    public async Task<int?> PersonAsync(string token, CancellationToken cancel)
    {
        var digest = DigestOf(token);
        if (
            await db.ApiTokens.AsNoTracking().SingleOrDefaultAsync(row => row.Digest == digest && row.RevokedAt == null, cancel)
            is not { } found
        )
            return null;
        var now = time.GetUtcNow();
        if (found.LastUsedAt is null || now - found.LastUsedAt > UseIsNotedEvery)
            await db
                .ApiTokens.Where(row => row.Id == found.Id)
                .ExecuteUpdateAsync(set => set.SetProperty(row => row.LastUsedAt, now), cancel);
        return found.StaffId;
    }

    private static string DigestOf(string token) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(token)));
}

/// <summary>Signs a request in by the token in its <c>Authorization: Bearer</c> header (RFC 6750).</summary>
public sealed class TokenSignIn(
    IOptionsMonitor<AuthenticationSchemeOptions> options,
    ILoggerFactory logger,
    UrlEncoder encoder,
    Tokens tokens,
    UserManager<StaffRow> staff,
    SignInManager<StaffRow> signIn
) : AuthenticationHandler<AuthenticationSchemeOptions>(options, logger, encoder)
{
    /// <summary>Name of the scheme.</summary>
    public const string SchemeName = "token";

    private const string Prefix = "Bearer ";

    /// <inheritdoc/>
    protected override async Task<AuthenticateResult> HandleAuthenticateAsync()
    {
        var header = Request.Headers.Authorization.ToString();
        if (!header.StartsWith(Prefix, StringComparison.OrdinalIgnoreCase))
            return AuthenticateResult.NoResult();
        var token = header[Prefix.Length..].Trim();
        if (!token.StartsWith(Tokens.Beginning, StringComparison.Ordinal) || token.Length > 200)
            return AuthenticateResult.Fail("That is no token.");
        if (
            await tokens.PersonAsync(token, Context.RequestAborted) is not { } id
            || await staff.FindByIdAsync(id.ToString(System.Globalization.CultureInfo.InvariantCulture)) is not { } person
        )
            return AuthenticateResult.Fail("The token is not known, or was taken back.");
        // Whose account is closed or locked signs in by no way.
        if (await staff.IsLockedOutAsync(person))
            return AuthenticateResult.Fail("The account is closed.");
        return AuthenticateResult.Success(new AuthenticationTicket(await signIn.CreateUserPrincipalAsync(person), SchemeName));
    }

    /// <inheritdoc/>
    protected override async Task HandleChallengeAsync(AuthenticationProperties properties)
    {
        Response.StatusCode = StatusCodes.Status401Unauthorized;
        Response.Headers.WWWAuthenticate = "Bearer realm=\"junctra\"";
        await Results
            .Problem(
                statusCode: 401,
                title: "Sign in with a personal token",
                detail: "Send it as Authorization: Bearer. Tokens are made under Your account."
            )
            .ExecuteAsync(Context);
    }
}

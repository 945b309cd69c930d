using System.Security.Cryptography;
using Junctra.Store;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;

namespace Junctra.Web.Staff;

/// <summary>
/// The second factor of an account: six digits of an authenticator (TOTP, RFC 6238), or one of the recovery codes that are shown once.
/// Whatever changes it ends every sign-in of the account.
/// </summary>
public sealed class SecondFactor(UserManager<StaffRow> staff, JunctraDb db, IDataProtectionProvider protection, TimeProvider time)
{
    /// <summary>So long a secret that was shown may be shown again to whoever mistyped its first code.</summary>
    private static readonly TimeSpan ShownAgainFor = TimeSpan.FromMinutes(15);

    private readonly ITimeLimitedDataProtector begun = protection.CreateProtector("second factor, begun").ToTimeLimitedDataProtector();

    /// <summary>Claim of a sign-in by which it tells how somebody was recognised (RFC 8176).</summary>
    public const string MethodClaim = "amr";

    /// <summary>Its value where a second factor was asked for.</summary>
    public const string Several = "mfa";

    /// <summary>Recovery codes that are made.</summary>
    public const int RecoveryCodes = 8;

    private const int Digits = 6;
    private const string Keeper = "junctra",
        LastCode = "last-code";

    /// <summary>Makes a new secret, which counts for nothing before a code of it was typed.</summary>
    public async Task<string> BeginAsync(StaffRow person)
    {
        await staff.ResetAuthenticatorKeyAsync(person);
        return (await staff.GetAuthenticatorKeyAsync(person))!;
    }

    /// <summary>
    /// Proof that somebody was shown a secret, for the form that asks for its first code: without it the secret is not shown again, so
    /// that a browser that was left open does not tell it to whoever does not know the password.
    /// </summary>
    public string ProofOf(StaffRow person, string secret) => begun.Protect($"{person.Id} {secret}", ShownAgainFor);

    /// <summary>The secret that a proof is of; null where it is none, too old, or of a secret that counts no more.</summary>
    public async Task<string?> ShownAsync(StaffRow person, string? proof)
    {
        try
        {
            return
                await staff.GetAuthenticatorKeyAsync(person) is { } secret
                && !person.TwoFactorEnabled
                && begun.Unprotect(proof ?? "") == $"{person.Id} {secret}"
                ? secret
                : null;
        }
        catch (CryptographicException)
        {
            return null;
        }
    }

    /// <summary>The secret as authenticators scan it.</summary>
    /// <param name="person">Whose.</param>
    /// <param name="secret">The secret, in base 32.</param>
    public static string AddressOf(StaffRow person, string secret) =>
        $"otpauth://totp/Junctra:{Uri.EscapeDataString(person.UserName!)}?secret={secret}&issuer=Junctra&digits={Digits}";

    /// <summary>Turns it on, where a code of the secret is typed.</summary>
    /// <returns>Recovery codes, which nobody is shown again; null where the code is not right.</returns>
    public async Task<IReadOnlyList<string>?> TurnOnAsync(StaffRow person, string? code)
    {
        if (person.TwoFactorEnabled || !await IsOfAuthenticatorAsync(person, Plain(code)))
            return null;
        await staff.SetTwoFactorEnabledAsync(person, true);
        var codes = await staff.GenerateNewTwoFactorRecoveryCodesAsync(person, RecoveryCodes);
        await NoteAsync("Turned the second factor on.", person.UserName!);
        return [.. codes!];
    }

    /// <summary>Takes it away, and forgets its secrets.</summary>
    public async Task TurnOffAsync(StaffRow person)
    {
        await staff.SetTwoFactorEnabledAsync(person, false);
        await staff.ResetAuthenticatorKeyAsync(person);
        await staff.GenerateNewTwoFactorRecoveryCodesAsync(person, 0);
    }

    /// <summary>Whether a code is right: one of the authenticator, each once, or a recovery code, which is used up by it.</summary>
    public async Task<bool> IsRightAsync(StaffRow person, string? code)
    {
        if (!person.TwoFactorEnabled)
            return false;
        var plain = Plain(code);
        if (plain.Length == Digits && plain.All(char.IsAsciiDigit))
            return await IsOfAuthenticatorAsync(person, plain);
        if (plain.Length == 0 || !(await staff.RedeemTwoFactorRecoveryCodeAsync(person, (code ?? "").Trim().ToUpperInvariant())).Succeeded)
            return false;
        await NoteAsync($"A recovery code was used: {await staff.CountRecoveryCodesAsync(person)} are left.", person.UserName!);
        return true;
    }

    /// <summary>Recovery codes that are left.</summary>
    public Task<int> LeftAsync(StaffRow person) => staff.CountRecoveryCodesAsync(person);

    private async Task<bool> IsOfAuthenticatorAsync(StaffRow person, string code)
    {
        if (
            code == await staff.GetAuthenticationTokenAsync(person, Keeper, LastCode)
            || !await staff.VerifyTwoFactorTokenAsync(person, staff.Options.Tokens.AuthenticatorTokenProvider, code)
        )
            return false;
        // Whoever looked over a shoulder has seen it: it counts once. Of two who come with it at once, one is refused.
        return (await staff.SetAuthenticationTokenAsync(person, Keeper, LastCode, code)).Succeeded;
    }

    private async Task NoteAsync(string act, string by)
    {
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = by,
                Act = act,
            }
        );
        await db.SaveChangesAsync();
    }

    private static string Plain(string? code) => (code ?? "").Replace(" ", "", StringComparison.Ordinal).Trim();
}

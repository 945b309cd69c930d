using System.Security.Cryptography;
using Junctra.Store;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace Junctra.Web.Staff;

/// <summary>
/// Accounts as the framework keeps them, with the secrets of their second factor sealed by the data protection keys: whoever has a copy of
/// the database alone has no secret.
/// </summary>
internal sealed class SealedStaffStore(JunctraDb db, IDataProtectionProvider sealing, IdentityErrorDescriber describer)
    : UserStore<StaffRow, IdentityRole<int>, JunctraDb, int>(db, describer)
{
    private readonly IDataProtector seal = sealing.CreateProtector("junctra.second-factor");

    /// <inheritdoc/>
    public override Task SetTokenAsync(
        StaffRow user,
        string loginProvider,
        string name,
        string? value,
        CancellationToken cancellationToken
    ) => base.SetTokenAsync(user, loginProvider, name, value is null ? null : seal.Protect(value), cancellationToken);

    /// <inheritdoc/>
    public override async Task<string?> GetTokenAsync(StaffRow user, string loginProvider, string name, CancellationToken cancellationToken)
    {
        try
        {
            return await base.GetTokenAsync(user, loginProvider, name, cancellationToken) is { } kept ? seal.Unprotect(kept) : null;
        }
        catch (CryptographicException)
        {
            // Sealed by keys that are no longer here: no code is right, and a lead takes the factor away.
            return null;
        }
    }
}

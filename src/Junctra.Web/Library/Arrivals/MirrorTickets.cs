using System.Security.Cryptography;
using Junctra.Store;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>
/// Ticket codes and accounts of mirrors, sealed by the data protection keys: whoever has a copy of the database alone has none of them.
/// </summary>
public sealed class MirrorTickets(IDataProtectionProvider sealing)
{
    private readonly IDataProtector seal = sealing.CreateProtector("junctra.mirror-ticket");

    /// <summary>A ticket as it is kept.</summary>
    public string Seal(string ticket) => seal.Protect(ticket);

    /// <summary>The ticket of a mirror as it is sent; null where none was entered.</summary>
    /// <exception cref="SourceException">It was sealed by keys that are no longer here.</exception>
    public string? Open(MirrorRow mirror)
    {
        if (string.IsNullOrEmpty(mirror.SealedTicket))
            return null;
        try
        {
            return seal.Unprotect(mirror.SealedTicket);
        }
        catch (CryptographicException)
        {
            throw new SourceException($"The ticket of {mirror.Name} cannot be read any more: its key is gone. Enter it again.");
        }
    }

    /// <summary>Seals what a database of an earlier version keeps as it was typed.</summary>
    public async Task SealOldAsync(JunctraDb db, CancellationToken cancel)
    {
        var old = await db.Mirrors.Where(mirror => mirror.OldTicket != null).ToListAsync(cancel);
        foreach (var mirror in old)
            (mirror.SealedTicket, mirror.OldTicket) = (Seal(mirror.OldTicket!), null);
        if (old.Count > 0)
            await db.SaveChangesAsync(cancel);
    }
}

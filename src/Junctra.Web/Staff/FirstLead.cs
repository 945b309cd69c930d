using System.Security.Cryptography;
using System.Text;
using Junctra.Store;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Staff;

/// <summary>
/// Makes the first lead where nobody works here yet: a link with a secret is printed on the console of whoever started the
/// program, and works once.
/// </summary>
public sealed class FirstLead(IServiceScopeFactory scopes, IServer server)
{
    private readonly string token = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(24));

    /// <summary>Prints the link, when there is nobody yet.</summary>
    public async Task AnnounceAsync(TextWriter console)
    {
        await using var scope = scopes.CreateAsyncScope();
        if (await scope.ServiceProvider.GetRequiredService<JunctraDb>().Users.AnyAsync())
            return;
        var address = server.Features.Get<IServerAddressesFeature>()?.Addresses.FirstOrDefault() ?? "";
        await console.WriteLineAsync($"Nobody works here yet. Make the first lead, once, at: {address}/first-lead?token={token}");
    }

    /// <summary>Whether this is the secret of the link.</summary>
    public bool Knows(string? given) =>
        given is not null && CryptographicOperations.FixedTimeEquals(Encoding.UTF8.GetBytes(given), Encoding.UTF8.GetBytes(token));

    /// <summary>Makes the first lead, with every role.</summary>
    /// <returns>Null, or what stands against it.</returns>
    public async Task<string?> MakeAsync(string name, string password, CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<JunctraDb>();
        var staff = scope.ServiceProvider.GetRequiredService<UserManager<StaffRow>>();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        // Two windows with the same link, or two web processes: only one of them is first.
        await db.Database.ExecuteSqlAsync($"lock table staff in exclusive mode", cancel);
        if (await db.Users.AnyAsync(cancel))
            return "Somebody was first: sign in, or ask the lead for an account.";
        var row = new StaffRow { UserName = name };
        var made = await staff.CreateAsync(row, password);
        if (!made.Succeeded)
            return StaffWords.Of(made);
        var given = await staff.AddToRolesAsync(row, StaffRoles.All);
        if (!given.Succeeded)
            return StaffWords.Of(given);
        await transaction.CommitAsync(cancel);
        return null;
    }
}

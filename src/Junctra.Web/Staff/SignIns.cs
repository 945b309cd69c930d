using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Staff;

/// <summary>Where somebody is signed in: every sign-in of every account, each ended by itself or with all others of its account.</summary>
public sealed class SignIns(JunctraDb db, TimeProvider time)
{
    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(30),
        NotedEvery = TimeSpan.FromMinutes(1);

    /// <summary>Those of an account that count, the one used last first.</summary>
    public async Task<IReadOnlyList<SignInRow>> OfAsync(StaffRow person, CancellationToken cancel)
    {
        var since = time.GetUtcNow() - StaffSetup.SignInLasts;
        return await db
            .SignIns.AsNoTracking()
            .Where(row => row.StaffId == person.Id && row.Stamp == person.SecurityStamp && row.EndedAt == null && row.SeenAt > since)
            .OrderByDescending(row => row.SeenAt)
            .ToListAsync(cancel);
    }

    /// <summary>At how many browsers each account is signed in, by its id; without those at none.</summary>
    public async Task<IReadOnlyDictionary<int, int>> CountAsync(CancellationToken cancel)
    {
        var since = time.GetUtcNow() - StaffSetup.SignInLasts;
        return await db
            .SignIns.Where(row =>
                row.EndedAt == null && row.SeenAt > since && db.Users.Any(user => user.Id == row.StaffId && user.SecurityStamp == row.Stamp)
            )
            .GroupBy(row => row.StaffId)
            .ToDictionaryAsync(group => group.Key, group => group.Count(), cancel);
    }

    /// <summary>Notes a sign-in, or that one goes on under the account's new stamp.</summary>
    /// <param name="id">The sign-in.</param>
    /// <param name="person">Whose.</param>
    /// <param name="address">From where.</param>
    /// <param name="browser">What the browser calls itself.</param>
    /// <param name="bySecondFactor">Whether a second factor was asked for, and right.</param>
    public async Task KeepAsync(string id, StaffRow person, string address, string browser, bool bySecondFactor)
    {
        var now = time.GetUtcNow();
        await db.SignIns.Where(old => old.SeenAt < now - KeptFor).ExecuteDeleteAsync();
        var row = await db.SignIns.SingleOrDefaultAsync(one => one.Id == id && one.StaffId == person.Id);
        if (row is null)
            db.SignIns.Add(
                row = new SignInRow
                {
                    Id = id,
                    StaffId = person.Id,
                    Stamp = "",
                    Address = address,
                    At = now,
                }
            );
        (row.Stamp, row.SeenAt, row.BySecondFactor) = (person.SecurityStamp!, now, bySecondFactor);
        // The one word by which browsers of hand-held devices are agreed to be told.
        row.IsHandheld = browser.Contains("Mobi", StringComparison.Ordinal);
        await db.SaveChangesAsync();
    }

    /// <summary>Whether a sign-in still counts; that it was used is noted.</summary>
    /// <param name="id">The sign-in.</param>
    /// <param name="staffId">The account that it says it is of.</param>
    /// <param name="stamp">The stamp that it has.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<bool> CountsAsync(string id, int staffId, string stamp, CancellationToken cancel)
    {
        var seen = await db
            .SignIns.Where(row =>
                row.Id == id
                && row.StaffId == staffId
                && row.EndedAt == null
                && row.Stamp == stamp
                && db.Users.Any(user => user.Id == staffId && user.SecurityStamp == stamp)
            )
            .Select(row => (DateTimeOffset?)row.SeenAt)
            .SingleOrDefaultAsync(cancel);
        var now = time.GetUtcNow();
        if (seen is { } last && now - last > NotedEvery)
            await db.SignIns.Where(row => row.Id == id).ExecuteUpdateAsync(set => set.SetProperty(row => row.SeenAt, now), cancel);
        return seen is not null;
    }

    /// <summary>Ends a sign-in of somebody.</summary>
    /// <param name="id">The sign-in.</param>
    /// <param name="staffId">Whose it must be; null for whoever asks with it.</param>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> EndAsync(string id, int? staffId = null)
    {
        var now = time.GetUtcNow();
        return await db
                .SignIns.Where(row => row.Id == id && (staffId == null || row.StaffId == staffId) && row.EndedAt == null)
                .ExecuteUpdateAsync(set => set.SetProperty(row => row.EndedAt, now)) > 0;
    }
}

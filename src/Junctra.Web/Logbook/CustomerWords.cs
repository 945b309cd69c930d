using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Store.Logbook;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Logbook;

/// <summary>
/// Customers' words and what was noted of their phones' contents are kept as long as the shop's rule says, and not longer: a job removes
/// them so many days after the hand-back, and writes down that it did. What was found, written, checked and agreed to stays.
/// </summary>
public sealed class CustomerWords(JunctraDb db, AuditChain audit, TimeProvider time)
{
    /// <summary>
    /// Days for which they are kept where the shop has decided nothing: as long as most questions about a repair may come.
    /// </summary>
    public const int UsualDays = 365;

    /// <summary>Fewest and most days that can be chosen.</summary>
    public const int MinDays = 1,
        MaxDays = 3650;

    /// <summary>Longest reason.</summary>
    public const int MaxReason = 400;

    /// <summary>What stands in their place.</summary>
    public const string Removed = "(removed by the shop's rule)";

    private const string By = "shop rule";
    private const int AtOnce = 50;

    // What was noted of a phone's contents, and whose network it was.
    private static readonly string[] OfTheOwner = [FactName.HomeScreen.Name.Value, FactName.Network.Name.Value];

    /// <summary>The shop's rule, with its history, the latest first.</summary>
    public async Task<IReadOnlyList<KeepRuleRow>> HistoryAsync(CancellationToken cancel) =>
        await db.KeepRules.AsNoTracking().OrderByDescending(rule => rule.Id).Take(50).ToListAsync(cancel);

    /// <summary>Days for which they are kept.</summary>
    public async Task<int> DaysAsync(CancellationToken cancel) =>
        await db.KeepRules.OrderByDescending(rule => rule.Id).Select(rule => (int?)rule.Days).FirstOrDefaultAsync(cancel) ?? UsualDays;

    /// <summary>Decides for how long they are kept.</summary>
    /// <returns>Null, or why not.</returns>
    public async Task<string?> DecideAsync(int days, string? reason, string by, CancellationToken cancel)
    {
        if (days is < MinDays or > MaxDays)
            return $"Between {MinDays} and {MaxDays} days.";
        if ((reason?.Length ?? 0) > MaxReason)
            return $"A reason is at most {MaxReason} characters.";
        db.KeepRules.Add(
            new KeepRuleRow
            {
                Days = days,
                Reason = reason?.Trim() ?? "",
                By = by,
                At = time.GetUtcNow(),
            }
        );
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = by,
                Act = $"Customers' words are kept for {days} days after the hand-back.",
            }
        );
        await db.SaveChangesAsync(cancel);
        return null;
    }

    private IQueryable<JobRow> Due(DateTimeOffset before) => db.Jobs.Where(job => job.HandedBackAt < before && job.WordsRemovedAt == null);

    /// <summary>Of how many jobs they are due to be removed.</summary>
    public async Task<int> DueAsync(CancellationToken cancel) =>
        await Due(time.GetUtcNow().AddDays(-await DaysAsync(cancel))).CountAsync(cancel);

    /// <summary>Removes what is due. Called once a day; what it could not finish it does the next time.</summary>
    public async Task RemoveDueAsync()
    {
        var days = await DaysAsync(CancellationToken.None);
        while (true)
        {
            var ids = await Due(time.GetUtcNow().AddDays(-days)).OrderBy(job => job.Id).Take(AtOnce).Select(job => job.Id).ToListAsync();
            if (ids.Count == 0)
                return;
            foreach (var id in ids)
                await RemoveAsync(id, days);
        }
    }

    private async Task RemoveAsync(int id, int days)
    {
        db.ChangeTracker.Clear();
        var job = await db
            .Jobs.Include(row => row.Claims)
            .Include(row => row.Consents)
            .Include(row => row.Snapshots)
            .Include(row => row.Facts.Where(fact => OfTheOwner.Contains(fact.Name)))
            .AsSplitQuery()
            .SingleAsync(row => row.Id == id);
        var names = job.Consents.Select(consent => consent.AgreedBy).Where(name => name != Removed && name.Length > 0).Distinct().ToList();
        var quoted = job.Claims.Select(claim => claim.Text).Append(job.Complaint).Concat(names).Where(text => text.Length > 0).ToList();
        job.Complaint = Removed;
        foreach (var claim in job.Claims)
            (claim.Text, claim.SaidBy) = (Removed, "customer");
        foreach (var consent in job.Consents)
            consent.AgreedBy = Removed;
        foreach (var fact in job.Facts)
            fact.Value = Removed;
        db.RemoveRange(job.Snapshots);
        var lines = await db.Audit.Where(line => line.JobId == id).ToListAsync();
        foreach (var line in lines)
            line.Act = quoted.Aggregate(line.Act, Without);
        job.WordsRemovedAt = time.GetUtcNow();
        db.Audit.Add(
            new AuditRow
            {
                JobId = id,
                At = time.GetUtcNow(),
                By = By,
                Act =
                    $"Removed, {days} days after the hand-back: the complaint, {job.Claims.Count} claims, the names under {job.Consents.Count} consents, {job.Snapshots.Count} snapshots of before, {job.Facts.Count} notes of the phone's contents.",
            }
        );
        var changed = lines.Where(line => db.Entry(line).State == EntityState.Modified).ToList();
        await using var transaction = await db.Database.BeginTransactionAsync();
        await db.SaveChangesAsync();
        await audit.SealAnewAsync(db, changed);
        await transaction.CommitAsync();
    }

    // A name of two letters must not be taken out of the middle of other words.
    private static string Without(string act, string text) =>
        Regex.Replace(act, $@"(?<!\w){Regex.Escape(text)}(?!\w)", Removed, RegexOptions.None, TimeSpan.FromSeconds(5));
}

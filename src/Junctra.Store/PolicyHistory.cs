using Junctra.Core.Matching;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

/// <summary>What the shop, and single jobs, have decided on the questions on which practitioners disagree.</summary>
public sealed class PolicyHistory(JunctraDb db, TimeProvider time)
{
    /// <summary>Longest reason.</summary>
    public const int MaxCharacters = 400;

    private MatchPolicy? shop;

    /// <summary>The shop's schools: its lead's decisions on top of the catalogue's files.</summary>
    public async Task<MatchPolicy> ShopAsync(MatchPolicy files, CancellationToken cancel) =>
        shop ??= Apply(files, await db.Schools.AsNoTracking().Where(row => row.JobId == null).OrderBy(row => row.Id).ToListAsync(cancel));

    /// <summary>The decisions of the shop, the latest first.</summary>
    public async Task<IReadOnlyList<SchoolRow>> HistoryAsync(CancellationToken cancel) =>
        await db.Schools.AsNoTracking().Where(row => row.JobId == null).OrderByDescending(row => row.Id).Take(200).ToListAsync(cancel);

    /// <summary>A policy with decisions on top of it. A school that is no longer known is passed over.</summary>
    /// <param name="policy">What holds without them.</param>
    /// <param name="rows">Decisions, the oldest first.</param>
    public static MatchPolicy Apply(MatchPolicy policy, IEnumerable<SchoolRow> rows)
    {
        foreach (var latest in rows.GroupBy(row => row.Question).Select(group => group.Last()))
            if (Schools.Find(latest.Question) is { } question && question.Parse(latest.Choice) is { } choice)
                policy = question.Apply(policy, choice);
        return policy;
    }

    /// <summary>Decides; stored with the next change, the audit's line with it.</summary>
    /// <param name="job">The job, or null for the shop.</param>
    /// <param name="question">The question.</param>
    /// <param name="choice">The school, or null to go back to what holds without a decision.</param>
    /// <param name="reason">Why; at most <see cref="MaxCharacters"/>.</param>
    /// <param name="by">Who.</param>
    public void Decide(JobRow? job, SchoolQuestion question, SchoolChoice? choice, string reason, string by)
    {
        var row = new SchoolRow
        {
            JobId = job?.Id,
            Question = question.Id,
            Choice = choice?.Id,
            Reason = reason,
            By = by,
            At = time.GetUtcNow(),
        };
        if (job is null)
            db.Schools.Add(row);
        else
            job.Schools.Add(row);
        shop = null;
        var what = choice is null
            ? job is null
                ? "as the catalogue has it"
                : "as the shop"
            : choice.Label;
        db.Audit.Add(
            new AuditRow
            {
                JobId = job?.Id,
                At = row.At,
                By = by,
                Act =
                    $"{(job is null ? "Shop rule" : "For this job")}, {question.Title.ToLowerInvariant()}: {what}. {(reason.Length > 0 ? $"Reason: {reason}" : "No reason given.")}",
            }
        );
    }
}

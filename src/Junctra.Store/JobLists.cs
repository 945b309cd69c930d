using Junctra.Core.Runs;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

/// <summary>
/// Which state a job's record is in. Facts are appended and only ever stop to count, runs are appended and change their status, and
/// the row has its own version: equal states mean that a list would show the same.
/// </summary>
/// <param name="Row">Version of the job's row.</param>
/// <param name="Facts">How many facts it has.</param>
/// <param name="Gone">How many of them no longer count.</param>
/// <param name="Runs">Ids and statuses of its runs.</param>
/// <param name="Answers">How many answers its triage has.</param>
/// <param name="TakenBack">How many of them were taken back.</param>
/// <param name="Rescue">How many entries the rescue of its board has.</param>
public readonly record struct RecordState(uint Row, int Facts, int Gone, string Runs, int Answers, int TakenBack, int Rescue);

/// <summary>A job without what hangs on it, and the state of all that.</summary>
/// <param name="Job">The job's row.</param>
/// <param name="State">Which state its record is in.</param>
public sealed record JobHead(JobRow Job, RecordState State);

/// <summary>A job of the same phone that was taken in before.</summary>
/// <param name="Ticket">Its ticket.</param>
/// <param name="TakenInAt">When it was taken in.</param>
/// <param name="HandedBackAt">When it went back, or null while it is here.</param>
/// <param name="FaultClassId">The fault class that was its finding, or null.</param>
public sealed record EarlierVisit(string Ticket, DateTimeOffset TakenInAt, DateTimeOffset? HandedBackAt, string? FaultClassId);

/// <summary>
/// Queries behind the lists of jobs. A list is looked at often and changes seldom, so its heads are loaded by themselves, and of each
/// job only what changed: no history, no sizes of partitions, no frozen plans but those whose checks decide where an open job stands.
/// </summary>
public static class JobLists
{
    /// <summary>Heads of open jobs, the earliest promise first.</summary>
    /// <param name="db">The database.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Ends the wait.</param>
    public static async Task<List<JobHead>> HeadsAsync(JunctraDb db, int most, CancellationToken cancel)
    {
        var jobs = db.Jobs.Where(j => j.HandedBackAt == null).OrderBy(j => j.PromisedAt ?? DateTimeOffset.MaxValue).ThenBy(j => j.Id);
        var rows = await jobs.AsNoTracking().Take(most).ToListAsync(cancel);
        var states = await StatesAsync(db, rows, cancel);
        return [.. rows.Select(row => new JobHead(row, states[row.Id]))];
    }

    /// <summary>Earlier visits of the same phone, told by its serial, the latest first.</summary>
    /// <param name="db">The database.</param>
    /// <param name="jobId">The job at hand.</param>
    /// <param name="takenInAt">When it was taken in.</param>
    /// <param name="serials">The serials that are claimed of its phone.</param>
    /// <param name="most">How many at most.</param>
    /// <param name="cancel">Ends the wait.</param>
    public static async Task<List<EarlierVisit>> EarlierAsync(
        JunctraDb db,
        int jobId,
        DateTimeOffset takenInAt,
        IEnumerable<string> serials,
        int most,
        CancellationToken cancel
    )
    {
        // By whatever hand it was written down, a serial is the same in capitals.
        string[] wanted = [.. serials.Select(serial => serial.ToUpperInvariant()).Distinct()];
        return wanted.Length == 0
            ? []
            : await db
                .Jobs.AsNoTracking()
                .Where(job =>
                    job.Id != jobId
                    && job.TakenInAt < takenInAt
                    && db.Facts.Any(fact =>
                        fact.JobId == job.Id && fact.Name == "serial" && fact.WithdrawnAt == null && wanted.Contains(fact.Value.ToUpper())
                    )
                )
                .OrderByDescending(job => job.TakenInAt)
                .Take(most)
                .Select(job => new EarlierVisit(job.Ticket, job.TakenInAt, job.HandedBackAt, job.FaultClassId))
                .ToListAsync(cancel);
    }

    /// <summary>The states of records, by job.</summary>
    /// <param name="db">The database.</param>
    /// <param name="rows">Rows as they were loaded.</param>
    /// <param name="cancel">Ends the wait.</param>
    public static async Task<Dictionary<int, RecordState>> StatesAsync(
        JunctraDb db,
        IReadOnlyCollection<JobRow> rows,
        CancellationToken cancel
    )
    {
        var ids = rows.Select(row => row.Id).ToArray();
        var facts = await db
            .Facts.Where(f => ids.Contains(f.JobId))
            .GroupBy(f => f.JobId)
            .Select(group => new
            {
                group.Key,
                All = group.Count(),
                Gone = group.Count(f => f.ExpiredAt != null || f.WithdrawnAt != null),
            })
            .ToDictionaryAsync(group => group.Key, cancel);
        var runs = (
            await db
                .Runs.Where(r => ids.Contains(r.JobId))
                .OrderBy(r => r.Id)
                .Select(r => new
                {
                    r.JobId,
                    r.Id,
                    r.Status,
                })
                .ToListAsync(cancel)
        ).ToLookup(run => run.JobId);
        var answers = await db
            .TriageAnswers.Where(a => ids.Contains(a.JobId))
            .GroupBy(a => a.JobId)
            .Select(group => new
            {
                group.Key,
                All = group.Count(),
                Gone = group.Count(a => a.WithdrawnAt != null),
            })
            .ToDictionaryAsync(group => group.Key, cancel);
        var rescues = await db
            .RescueEvents.Where(e => ids.Contains(e.JobId))
            .GroupBy(e => e.JobId)
            .Select(group => new { group.Key, All = group.Count() })
            .ToDictionaryAsync(group => group.Key, group => group.All, cancel);
        return rows.ToDictionary(
            row => row.Id,
            row =>
            {
                var said = answers.GetValueOrDefault(row.Id);
                var counts = facts.GetValueOrDefault(row.Id);
                return new RecordState(
                    row.Version,
                    counts?.All ?? 0,
                    counts?.Gone ?? 0,
                    string.Join(' ', runs[row.Id].Select(run => $"{run.Id}{run.Status}")),
                    said?.All ?? 0,
                    said?.Gone ?? 0,
                    rescues.GetValueOrDefault(row.Id)
                );
            }
        );
    }

    /// <summary>Loads into rows what a list shows of them: facts and answers that count, runs.</summary>
    /// <param name="db">The database.</param>
    /// <param name="rows">Rows without facts and runs.</param>
    /// <param name="cancel">Ends the wait.</param>
    public static async Task FillAsync(JunctraDb db, IReadOnlyCollection<JobRow> rows, CancellationToken cancel)
    {
        if (rows.Count == 0)
            return;
        var byId = rows.ToDictionary(row => row.Id);
        var ids = byId.Keys.ToArray();
        var facts = await db
            .Facts.AsNoTracking()
            .Where(f => ids.Contains(f.JobId) && f.ExpiredAt == null && f.WithdrawnAt == null && !f.Name.StartsWith("partition-size:"))
            .OrderBy(f => f.Id)
            .Select(f => new
            {
                f.JobId,
                f.Name,
                f.Value,
                f.Source,
                f.At,
            })
            .ToListAsync(cancel);
        var answers = await db
            .TriageAnswers.AsNoTracking()
            .Where(a => ids.Contains(a.JobId) && a.WithdrawnAt == null)
            .OrderBy(a => a.Id)
            .ToListAsync(cancel);
        foreach (var answer in answers)
            byId[answer.JobId].TriageAnswers.Add(answer);
        foreach (var entry in await db.RescueEvents.AsNoTracking().Where(e => ids.Contains(e.JobId)).OrderBy(e => e.Id).ToListAsync(cancel))
            byId[entry.JobId].Rescue.Add(entry);
        foreach (var fact in facts)
            byId[fact.JobId]
                .Facts.Add(
                    new FactRow
                    {
                        Name = fact.Name,
                        Value = fact.Value,
                        Source = fact.Source,
                        At = fact.At,
                        RecordedBy = "",
                    }
                );
        var runs = await db
            .Runs.AsNoTracking()
            .Where(r => ids.Contains(r.JobId))
            .OrderBy(r => r.Id)
            .Select(r => new
            {
                r.Id,
                r.JobId,
                r.PortName,
                r.PackageId,
                r.PackageTitle,
                r.Status,
                r.EndedAt,
                Plan = r.Status == RunStatus.Finished && r.Job.HandedBackAt == null ? r.Plan : null,
            })
            .ToListAsync(cancel);
        foreach (var run in runs)
        {
            byId[run.JobId]
                .Runs.Add(
                    new RunRow
                    {
                        Id = run.Id,
                        JobId = run.JobId,
                        PortName = run.PortName,
                        PackageId = run.PackageId,
                        PackageTitle = run.PackageTitle,
                        Status = run.Status,
                        EndedAt = run.EndedAt,
                        Plan = run.Plan!,
                        BegunBy = "",
                    }
                );
        }
    }
}

using Junctra.Core.Runs;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Logbook;

/// <summary>A try to get a phone seen, with the labels of what was used.</summary>
/// <param name="Row">The try.</param>
/// <param name="Cable">Label of the cable, or null.</param>
/// <param name="Computer">Label of the computer, or null.</param>
public sealed record LabelledTry(LinkTryRow Row, string? Cable, string? Computer);

/// <summary>All that is kept of a job.</summary>
/// <param name="Job">The job with everything that hangs on it.</param>
/// <param name="Journal">By run, its journal.</param>
/// <param name="Tries">Tries to get its phone seen, in order.</param>
/// <param name="Audit">Who did what, in order.</param>
public sealed record JobRecord(
    JobRow Job,
    IReadOnlyDictionary<int, IReadOnlyList<JournalEntry>> Journal,
    IReadOnlyList<LabelledTry> Tries,
    IReadOnlyList<AuditRow> Audit
);

/// <summary>Loads whole records of jobs.</summary>
public static class JobRecords
{
    /// <summary>The records of jobs, in the order of their ids; of one that is gone, none.</summary>
    public static async Task<IReadOnlyList<JobRecord>> LoadAsync(JunctraDb db, IReadOnlyCollection<int> ids, CancellationToken cancel)
    {
        var jobs = await JobStore
            .WithParts(db.Jobs.AsNoTracking())
            .Include(j => j.Findings.OrderBy(f => f.Id))
            .Where(j => ids.Contains(j.Id))
            .OrderBy(j => j.Id)
            .ToListAsync(cancel);
        var runs = jobs.SelectMany(job => job.Runs).Select(run => run.Id).ToList();
        var journals = (
            await db
                .RunEvents.AsNoTracking()
                .Where(entry => runs.Contains(entry.RunId))
                .OrderBy(entry => entry.RunId)
                .ThenBy(entry => entry.Seq)
                .ToListAsync(cancel)
        ).ToLookup(entry => entry.RunId);
        var things = await db.BenchThings.AsNoTracking().ToDictionaryAsync(thing => thing.Id, thing => thing.Label, cancel);
        var tries = (
            await db.LinkTries.AsNoTracking().Where(one => ids.Contains(one.JobId ?? 0)).OrderBy(one => one.Id).ToListAsync(cancel)
        ).ToLookup(one => one.JobId);
        var audit = (
            await db.Audit.AsNoTracking().Where(line => ids.Contains(line.JobId ?? 0)).OrderBy(line => line.Id).ToListAsync(cancel)
        ).ToLookup(line => line.JobId);
        return
        [
            .. jobs.Select(job => new JobRecord(
                job,
                job.Runs.ToDictionary(
                    run => run.Id,
                    run => (IReadOnlyList<JournalEntry>)[.. journals[run.Id].Select(row => new JournalEntry(row.Seq, row.At, row.Event))]
                ),
                [.. tries[job.Id].Select(one => new LabelledTry(one, Label(one.CableId), Label(one.ComputerId)))],
                [.. audit[job.Id]]
            )),
        ];

        string? Label(int? id) => id is { } known ? things.GetValueOrDefault(known) : null;
    }
}

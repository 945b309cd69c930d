using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Runs;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Store;

/// <summary>Jobs and what people do to them. Every act that matters leaves a line in the audit.</summary>
public sealed class JobStore(JunctraDb db, TimeProvider time)
{
    /// <summary>A job with its facts, answers and runs, or null.</summary>
    public Task<JobRow?> FindAsync(string ticket, CancellationToken cancel = default) =>
        WithParts(db.Jobs).SingleOrDefaultAsync(j => j.Ticket == ticket, cancel);

    /// <summary>Jobs with what hangs on them, each in its order.</summary>
    public static IQueryable<JobRow> WithParts(IQueryable<JobRow> jobs) =>
        jobs.Include(j => j.Facts.OrderBy(f => f.Id))
            .Include(j => j.Answers.OrderBy(a => a.Id))
            .Include(j => j.TriageAnswers.OrderBy(a => a.Id))
            .Include(j => j.Claims.OrderBy(c => c.Id))
            .Include(j => j.Consents.OrderBy(c => c.Id))
            .Include(j => j.Snapshots.OrderBy(s => s.Id))
            .Include(j => j.Rescue.OrderBy(e => e.Id))
            .Include(j => j.Promises.OrderBy(p => p.Id))
            .Include(j => j.Schools.OrderBy(s => s.Id))
            .Include(j => j.Runs.OrderBy(r => r.Id))
            .AsSplitQuery();

    /// <summary>Takes a phone in.</summary>
    /// <returns>False when the ticket is taken already; nothing was stored then.</returns>
    public async Task<bool> TakeInAsync(JobRow job, string by, CancellationToken cancel = default)
    {
        db.Jobs.Add(job);
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException error) when (error.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            db.Entry(job).State = EntityState.Detached;
            return false;
        }

        Note(job.Id, by, "Taken in.");
        await db.SaveChangesAsync(cancel);
        return true;
    }

    /// <summary>Adds facts to a job.</summary>
    public async Task AddFactsAsync(JobRow job, IEnumerable<Fact> facts, CancellationToken cancel = default)
    {
        job.Facts.AddRange(facts.Select(FactRow.Of));
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>
    /// Withdraws a fact: it stays in the history and no longer counts. Withdrawing a build takes back what was parsed from it.
    /// </summary>
    /// <returns>Whether there was such a fact that still counted.</returns>
    public async Task<bool> WithdrawAsync(JobRow job, int factId, string by, CancellationToken cancel = default)
    {
        if (job.Facts.FirstOrDefault(f => f.Id == factId && f.Counts) is not { } fact)
            return false;
        var parsed =
            fact.Name == FactName.Build.Value || fact.Name == FactName.LastGoodBuild.Value
                ? job.Facts.Where(f => f.Counts && f.ParsedFrom == fact.Value && f.Source == fact.Source)
                : [];
        foreach (var taken in parsed.Append(fact).ToList())
            taken.WithdrawnAt = time.GetUtcNow();
        Note(job.Id, by, $"Withdrew {new FactName(fact.Name).Label.ToLowerInvariant()} {fact.Value} ({fact.Source.Label()}).");
        await db.SaveChangesAsync(cancel);
        return true;
    }

    /// <summary>
    /// Notes an answer to a check of the triage, and the facts that it tells, in one transaction. A check has one answer at a time.
    /// </summary>
    /// <returns>Null, or the answer that somebody else gave meanwhile; nothing was stored then.</returns>
    public async Task<TriageAnswerRow?> AnswerAsync(
        JobRow job,
        TriageAnswerRow answer,
        IReadOnlyList<Fact> facts,
        CancellationToken cancel = default
    )
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        answer.JobId = job.Id;
        db.TriageAnswers.Add(answer);
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException error) when (error.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            await transaction.RollbackAsync(cancel);
            db.ChangeTracker.Clear();
            return await db
                .TriageAnswers.AsNoTracking()
                .SingleOrDefaultAsync(a => a.JobId == job.Id && a.CheckId == answer.CheckId && a.WithdrawnAt == null, cancel)
                ?? answer;
        }

        foreach (var fact in facts)
        {
            var row = FactRow.Of(fact);
            row.JobId = job.Id;
            row.TriageAnswerId = answer.Id;
            db.Facts.Add(row);
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return null;
    }

    /// <summary>Takes an answer of the triage back, with the facts that it told; both stay in the history.</summary>
    /// <returns>Whether there was such an answer that still counted.</returns>
    public async Task<bool> TakeBackAsync(JobRow job, int answerId, string by, CancellationToken cancel = default)
    {
        if (job.TriageAnswers.FirstOrDefault(a => a.Id == answerId && a.WithdrawnAt is null) is not { } answer)
            return false;
        answer.WithdrawnAt = time.GetUtcNow();
        foreach (var fact in job.Facts.Where(f => f.TriageAnswerId == answerId && f.Counts))
            fact.WithdrawnAt = answer.WithdrawnAt;
        Note(job.Id, by, $"Took back the answer {answer.OutcomeId} to {answer.CheckId}.");
        await db.SaveChangesAsync(cancel);
        return true;
    }

    /// <summary>Stores what was changed on a job, with a line in the audit trail.</summary>
    public async Task SaveAsync(JobRow job, string by, string act, CancellationToken cancel = default)
    {
        Note(job.Id, by, act);
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>Freezes what is known of the phone now.</summary>
    public async Task TakeSnapshotAsync(JobRow job, Phone phone, string by, CancellationToken cancel = default)
    {
        job.Snapshots.Add(
            new SnapshotRow
            {
                At = time.GetUtcNow(),
                By = by,
                Before = BeforeSnapshot.Of(phone),
            }
        );
        Note(job.Id, by, "Took a snapshot of before.");
        await db.SaveChangesAsync(cancel);
    }

    /// <summary>Begins a run: run and first journal entry in one transaction.</summary>
    /// <returns>Null, or why it cannot begin.</returns>
    public async Task<string?> BeginAsync(RunRow run, CancellationToken cancel = default)
    {
        await using var own = db.Database.CurrentTransaction is null ? await db.Database.BeginTransactionAsync(cancel) : null;
        db.Runs.Add(run);
        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException error) when (error.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            db.Entry(run).State = EntityState.Detached;
            return $"A write is already going on for this job{(run.PortName is null ? "" : $" or on port {run.PortName}")}. Wait until it has ended.";
        }

        await RunJournal.AppendFirstAsync(db, run, run.BegunAt);
        Note(
            run.JobId,
            run.BegunBy,
            $"Began: {run.Plan.Title}. All gates held{(run.Plan.Follows is null ? ", the ticket number was typed" : "; it follows a write after which the phone did not come up")}."
        );
        await db.SaveChangesAsync(cancel);
        if (own is not null)
            await own.CommitAsync(cancel);
        return null;
    }

    /// <summary>Whether a job's last run is still open.</summary>
    public static bool IsWriting(JobRow job) => job.Runs.LastOrDefault() is { } run && run.Status.IsOpen();

    /// <summary>Adds a line to the audit; stored with the next change.</summary>
    public void Note(int jobId, string by, string act) =>
        db.Audit.Add(
            new AuditRow
            {
                JobId = jobId,
                At = time.GetUtcNow(),
                By = by,
                Act = act,
            }
        );
}

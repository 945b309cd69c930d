using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Store;

/// <summary>
/// The journals of all runs. A run is claimed under a lease by one writer; only that writer appends, and sequence numbers
/// have no gaps, so a writer that was given up can never add another word. A run whose lease ran out is ended as failed,
/// never taken up again: a second write by accident can kill a phone.
/// </summary>
public sealed partial class RunJournal(IDbContextFactory<JunctraDb> databases, TimeProvider time, TimeSpan? lease = null)
{
    /// <summary>Channel on which the server tells that a run has new entries; the payload is the run's id.</summary>
    public const string Channel = "junctra_runs";

    /// <summary>How long a claim holds without being renewed, where nobody says otherwise.</summary>
    public static readonly TimeSpan UsualLease = TimeSpan.FromSeconds(20);

    /// <summary>How long a claim holds without being renewed.</summary>
    public TimeSpan Lease { get; } = lease ?? UsualLease;

    /// <summary>
    /// Claims the oldest run that waits, but none that has waited for longer than a lease, or returns null. A run that this writer has
    /// claimed already and does not know of is given to it: the answer to that claim was lost with the connection.
    /// </summary>
    /// <param name="writer">The writer.</param>
    /// <param name="known">The runs that it knows it holds, or held until they broke off.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<RunRow?> ClaimAsync(string writer, IEnumerable<int>? known = null, CancellationToken cancel = default)
    {
        var held = known?.ToArray() ?? [];
        await using var db = await databases.CreateDbContextAsync(cancel);
        var clock = await DatabaseClock.NowAsync(db, time, cancel);
        var claimed = await db
            .Database.SqlQuery<int>(
                $"""
                update runs set status = 'Writing', claimed_by = {writer}, lease_until = {clock + Lease}
                where id = (
                    select id from runs
                    where (status = 'Queued' and queued_at >= {clock - Lease})
                        or (status = 'Writing' and claimed_by = {writer} and not id = any({held}))
                    order by id for update skip locked limit 1)
                returning id as "Value"
                """
            )
            .ToListAsync(cancel);
        if (claimed.Count == 0)
            return null;
        var run = await db.Runs.AsNoTracking().Include(r => r.Job).SingleAsync(r => r.Id == claimed[0], cancel);
        var started = new RunStarted(writer);
        var last = await db.RunEvents.AsNoTracking().Where(e => e.RunId == run.Id).OrderBy(e => e.Seq).LastOrDefaultAsync(cancel);
        if (last?.Event != started)
            await AppendAsync(run.Id, writer, started);
        return run;
    }

    /// <summary>Appends an event and renews the lease, in one transaction.</summary>
    /// <param name="runId">The run.</param>
    /// <param name="writer">Who holds it.</param>
    /// <param name="what">What happened.</param>
    /// <param name="seq">The event's own number; an event that already stands under it is not written twice. Null for the next.</param>
    /// <exception cref="RunLostException">This writer does not hold the run any more.</exception>
    public async Task AppendAsync(int runId, string writer, RunEvent what, long? seq = null)
    {
        await using var db = await databases.CreateDbContextAsync();
        try
        {
            await AppendOnceAsync(db, runId, writer, what, seq);
        }
        catch (InvalidOperationException error) when (db.Database.GetDbConnection().State != System.Data.ConnectionState.Open)
        {
            // A connection that broke between two commands shows as a transaction that is over.
            throw new DatabaseAwayException(error);
        }
        catch (RunLostException) when (seq is not null)
        {
            // A connection that broke while it committed left it open whether the event stands; the number tells.
            await using var look = await databases.CreateDbContextAsync();
            if ((await look.RunEvents.AsNoTracking().SingleOrDefaultAsync(e => e.RunId == runId && e.Seq == seq))?.Event != what)
                throw;
        }
    }

    private async Task AppendOnceAsync(JunctraDb db, int runId, string writer, RunEvent what, long? seq)
    {
        await using var transaction = await db.Database.BeginTransactionAsync();
        var (now, leaseFrom) = (time.GetUtcNow(), await DatabaseClock.NowAsync(db, time));
        var status = what switch
        {
            RunFinished => RunStatus.Finished,
            RunFailed => RunStatus.Failed,
            RunStopped => RunStatus.Stopped,
            HandsWanted => RunStatus.Waiting,
            _ => RunStatus.Writing,
        };
        var ends = !status.IsOpen();
        // Who waits for hands needs no writer: the run is let go of, its port and its job are not.
        var holder = status == RunStatus.Waiting ? null : writer;
        var held = await db
            .Runs.Where(run => run.Id == runId && run.ClaimedBy == writer && run.Status == RunStatus.Writing)
            .ExecuteUpdateAsync(set =>
                set.SetProperty(run => run.LeaseUntil, leaseFrom + Lease)
                    .SetProperty(run => run.ClaimedBy, holder)
                    .SetProperty(run => run.Status, status)
                    .SetProperty(run => run.EndedAt, run => ends ? now : run.EndedAt)
            );
        if (held != 1)
            throw new RunLostException(runId);
        await AppendInAsync(db, runId, what, now, seq);
        if (ends)
            await ExpireFactsAsync(db, runId, now);
        await transaction.CommitAsync();
    }

    /// <summary>Renews the lease while nothing is worth writing down.</summary>
    /// <returns>Whether this writer still holds the run.</returns>
    public async Task<bool> RenewAsync(int runId, string writer, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var until = await DatabaseClock.NowAsync(db, time, cancel) + Lease;
        return await db
                .Runs.Where(run => run.Id == runId && run.ClaimedBy == writer && run.Status == RunStatus.Writing)
                .ExecuteUpdateAsync(set => set.SetProperty(run => run.LeaseUntil, until), cancel) == 1;
    }

    /// <summary>Takes up the pen for a run that this writer has claimed.</summary>
    public async Task<JournalWriter> TakePenAsync(int runId, string writer, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return new JournalWriter(
            this,
            runId,
            writer,
            await db.RunEvents.Where(e => e.RunId == runId).MaxAsync(e => (long?)e.Seq, cancel) ?? 0,
            time
        );
    }

    /// <summary>Somebody says what the phone shows after a step for hands; a writer goes on from there.</summary>
    /// <param name="runId">The run.</param>
    /// <param name="said">What was said.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>Whether the run waited for that very step; else somebody else was first.</returns>
    public async Task<bool> SayAsync(int runId, HandsSaid said, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var (now, clock) = (time.GetUtcNow(), await DatabaseClock.NowAsync(db, time, cancel));
        var taken =
            await db
                .Runs.Where(run => run.Id == runId && run.Status == RunStatus.Waiting)
                .ExecuteUpdateAsync(
                    set => set.SetProperty(run => run.Status, RunStatus.Queued).SetProperty(run => run.QueuedAt, clock),
                    cancel
                ) == 1;
        if (!taken)
            return false;
        var run = await db.Runs.AsNoTracking().SingleAsync(r => r.Id == runId, cancel);
        if (RunState.Of(run.Plan, await ReadInAsync(db, runId, 0, cancel)).Step?.Number != said.Step)
            return false;
        await AppendInAsync(db, runId, said, now);
        await transaction.CommitAsync(cancel);
        return true;
    }

    /// <summary>Ends every run whose writer has gone, and every one that no writer took in time, and says so in its journal: a write
    /// that a person began an hour ago is not what anybody expects now.</summary>
    /// <param name="but">A writer that is still there, however long the database was not.</param>
    /// <param name="brokeOff">Runs of that writer which it does not go on with.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>The runs that were ended.</returns>
    public async Task<IReadOnlyList<int>> FailAbandonedAsync(
        string? but = null,
        IEnumerable<int>? brokeOff = null,
        CancellationToken cancel = default
    )
    {
        var left = brokeOff?.ToArray() ?? [];
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var (now, clock) = (time.GetUtcNow(), await DatabaseClock.NowAsync(db, time, cancel));
        var abandoned = await db
            .Runs.FromSql(
                $"""
                select * from runs where (status = 'Writing' and lease_until < {clock}
                    and (claimed_by is distinct from {but} or id = any({left})))
                or (status = 'Queued' and queued_at < {clock - Lease}) for update skip locked
                """
            )
            .ToListAsync(cancel);
        foreach (var run in abandoned)
        {
            var wasTaken = run.Status == RunStatus.Writing;
            run.Status = RunStatus.Failed;
            run.EndedAt = now;
            var state = RunState.Of(run.Plan, await ReadInAsync(db, run.Id, 0, cancel));
            await db.SaveChangesAsync(cancel);
            await AppendInAsync(
                db,
                run.Id,
                new RunFailed(
                    wasTaken ? "The program that was writing stopped in the middle." : "No writer took this run in time.",
                    RunAdvice.AfterThisComputer(state)
                ),
                now
            );
            await ExpireFactsAsync(db, run.Id, now);
        }

        await transaction.CommitAsync(cancel);
        return [.. abandoned.Select(run => run.Id)];
    }

    /// <summary>A run's entries after a sequence number, in order.</summary>
    public async Task<IReadOnlyList<JournalEntry>> ReadAsync(int runId, long after = 0, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await ReadInAsync(db, runId, after, cancel);
    }

    /// <summary>Appends the first event of a run in the transaction that makes the run.</summary>
    public static Task AppendFirstAsync(JunctraDb db, RunRow run, DateTimeOffset at) =>
        AppendInAsync(db, run.Id, new RunQueued(run.BegunBy, run.PortName), at);

    /// <summary>
    /// A run voids what was read before of all that it touched, and of nothing else, however it ended; in the transaction that ends it.
    /// </summary>
    private static async Task ExpireFactsAsync(JunctraDb db, int runId, DateTimeOffset now)
    {
        var run = await db.Runs.AsNoTracking().SingleAsync(r => r.Id == runId);
        var touched = RunState.Of(run.Plan, await ReadInAsync(db, runId, 0, default)).TouchedBy;
        if (touched == WriteTouch.None)
            return;
        var facts = await db
            .Facts.AsNoTracking()
            .Where(f => f.JobId == run.JobId && f.ExpiredAt == null && f.WithdrawnAt == null)
            .ToListAsync();
        // In the transaction that ends the run, and of the writer: by no way that waits for whoever begins the next one.
        var expired = facts.Where(f => new FactName(f.Name).ExpiresBy(touched)).Select(f => f.Id).ToArray();
        await db.Facts.Where(f => expired.Contains(f.Id)).ExecuteUpdateAsync(set => set.SetProperty(f => f.ExpiredAt, now));
    }

    private static async Task<List<JournalEntry>> ReadInAsync(JunctraDb db, int runId, long after, CancellationToken cancel) =>
        [
            .. (
                await db.RunEvents.AsNoTracking().Where(e => e.RunId == runId && e.Seq > after).OrderBy(e => e.Seq).ToListAsync(cancel)
            ).Select(row => new JournalEntry(row.Seq, row.At, row.Event)),
        ];

    private static async Task AppendInAsync(JunctraDb db, int runId, RunEvent what, DateTimeOffset now, long? seq = null)
    {
        var number = seq ?? (await db.RunEvents.Where(e => e.RunId == runId).MaxAsync(e => (long?)e.Seq) ?? 0) + 1;
        db.RunEvents.Add(
            new RunEventRow
            {
                RunId = runId,
                Seq = number,
                At = now,
                Event = what,
            }
        );
        try
        {
            await db.SaveChangesAsync();
        }
        catch (DbUpdateException error) when (error.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation })
        {
            throw new RunLostException(runId, error);
        }

        await db.Database.ExecuteSqlAsync($"select pg_notify({Channel}, {runId.ToString()})");
    }
}

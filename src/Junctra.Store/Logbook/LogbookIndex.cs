using System.Data.Common;
using Junctra.Core.Logbook;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Logbook;

/// <summary>What the logbook keeps of a job.</summary>
/// <param name="Row">What is listed and counted.</param>
/// <param name="Words">Everything by the beginning of which it is found.</param>
public sealed record LogbookEntry(LogbookRow Row, IReadOnlyList<string> Words);

/// <summary>Makes entries of jobs, in any order; of a job that is gone none.</summary>
public delegate Task<IReadOnlyList<LogbookEntry>> MakeEntries(JunctraDb db, IReadOnlyCollection<int> ids, CancellationToken cancel);

/// <summary>
/// Keeps the logbook true to the jobs. Triggers of the database note which jobs changed; whoever looks into the logbook has those made
/// anew first, and a service does so in the background, so that nobody waits long.
/// </summary>
public sealed class LogbookIndex(IDbContextFactory<JunctraDb> databases)
{
    private const long RefreshLock = 0x4A756C6F67;

    /// <summary>
    /// Makes the rows of jobs anew that changed, the oldest change first. A record that cannot be read is passed over: it is listed
    /// with its ticket, and holds nobody else's up.
    /// </summary>
    /// <param name="most">Of how many jobs at most.</param>
    /// <param name="entries">Makes entries of jobs, in any order; a job that is gone has none.</param>
    /// <param name="cancel">Cancels; nothing is half made then.</param>
    /// <returns>Of how many jobs.</returns>
    public async Task<int> RefreshAsync(int most, MakeEntries entries, CancellationToken cancel)
    {
        try
        {
            return await RefreshTogetherAsync(most, entries, cancel);
        }
        catch (Exception error) when (IsOfTheRecord(error) && most > 1)
        {
            // One of them it was: each by itself.
            var done = 0;
            while (done < most && await RefreshAsync(1, entries, cancel) > 0)
                done++;
            return done;
        }
        catch (Exception error) when (IsOfTheRecord(error))
        {
            return await RefreshTogetherAsync(1, BareAsync, cancel);
        }
    }

    // What the database or the wire to it says is no fault of a record; nor is an end that somebody asked for.
    private static bool IsOfTheRecord(Exception error) =>
        error is not (DbException or DbUpdateException or OperationCanceledException or IOException)
        && error.InnerException is not DbException;

    private static async Task<IReadOnlyList<LogbookEntry>> BareAsync(
        JunctraDb db,
        IReadOnlyCollection<int> ids,
        CancellationToken cancel
    ) =>
        [
            .. (
                await db
                    .Jobs.Where(job => ids.Contains(job.Id))
                    .Select(job => new LogbookRow
                    {
                        JobId = job.Id,
                        Ticket = job.Ticket,
                        Description = job.Description,
                        TakenInAt = job.TakenInAt,
                        HandedBackAt = job.HandedBackAt,
                    })
                    .ToListAsync(cancel)
            ).Select(row => new LogbookEntry(row, SearchWords.Of([row.Ticket, row.Description, "record cannot be read"]))),
        ];

    private async Task<int> RefreshTogetherAsync(int most, MakeEntries entries, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (!await db.LogbookDue.AnyAsync(cancel))
            return 0;
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        // One at a time, of all processes: two that made one job anew would store its steps twice. Changes meanwhile leave notes of
        // their own.
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({RefreshLock})", cancel);
        var jobs = await db
            .LogbookDue.GroupBy(row => row.JobId)
            .OrderBy(group => group.Min(row => row.Id))
            .Take(most)
            .Select(group => group.Key)
            .ToListAsync(cancel);
        // These very notes: one that comes after the jobs were read is of a change that was not.
        var done = await db.LogbookDue.Where(row => jobs.Contains(row.JobId)).Select(row => row.Id).ToListAsync(cancel);
        foreach (var entry in await entries(db, jobs, cancel))
            await PutAsync(db, entry, cancel);
        await db.LogbookDue.Where(row => done.Contains(row.Id)).ExecuteDeleteAsync(cancel);
        await transaction.CommitAsync(cancel);
        return jobs.Count;
    }

    /// <summary>Notes the jobs whose rows were made with words of another catalogue.</summary>
    /// <param name="stamp">Stamp of the catalogue as it is.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task RenewAsync(string stamp, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await db.Database.ExecuteSqlAsync(
            $"insert into logbook_due (job_id) select job_id from logbook where read_with <> {stamp}",
            cancel
        );
    }

    private static async Task PutAsync(JunctraDb db, LogbookEntry entry, CancellationToken cancel)
    {
        var row = entry.Row;
        var words = entry.Words.ToArray();
        var gone = await db
            .Database.SqlQuery<string>(
                $"""
                select unnest(tsvector_to_array(words)) as "Value" from logbook where job_id = {row.JobId}
                except select unnest({words})
                """
            )
            .ToListAsync(cancel);
        if (await db.Logbook.SingleOrDefaultAsync(one => one.JobId == row.JobId, cancel) is { } known)
        {
            db.Entry(known).CurrentValues.SetValues(row);
            // They are put below, as they were cut.
            db.Entry(known).Property(one => one.Words).IsModified = false;
        }
        else
            db.Logbook.Add(row);
        await db.SaveChangesAsync(cancel);
        await db.Database.ExecuteSqlAsync($"update logbook set words = array_to_tsvector({words}) where job_id = {row.JobId}", cancel);
        var vocabulary = SearchWords.Vocabulary(entry.Words).ToArray();
        await db.Database.ExecuteSqlAsync($"insert into logbook_words (word) select unnest({vocabulary}) on conflict do nothing", cancel);
        // Words that were removed, a customer's for one, are not offered to anybody any more.
        foreach (var word in SearchWords.Vocabulary(gone).Except(vocabulary))
        {
            var asked = LogbookSearch.Begins(word);
            await db.Database.ExecuteSqlAsync(
                $"""
                delete from logbook_words where word = {word}
                    and not exists (select from logbook where words @@ {asked}::tsquery)
                """,
                cancel
            );
        }
    }
}

using Junctra.Core.Runs;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

// Runs that people ask to end before their time.
public sealed partial class RunJournal
{
    /// <summary>
    /// Asks that a run ends after the image at hand; one that waits for hands ends at once. Whoever asks again changes nothing.
    /// </summary>
    /// <returns>Whether the run was still open.</returns>
    public async Task<bool> AskToStopAsync(int runId, string by, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (await StopWaitingAsync(db, runId, by, cancel))
            return true;
        return await db
                .Runs.Where(run => run.Id == runId && (run.Status == RunStatus.Queued || run.Status == RunStatus.Writing))
                .ExecuteUpdateAsync(set => set.SetProperty(run => run.StopAskedBy, run => run.StopAskedBy ?? by), cancel) == 1;
    }

    private async Task<bool> StopWaitingAsync(JunctraDb db, int runId, string by, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        var now = time.GetUtcNow();
        var taken =
            await db
                .Runs.Where(run => run.Id == runId && run.Status == RunStatus.Waiting)
                .ExecuteUpdateAsync(
                    set =>
                        set.SetProperty(run => run.Status, RunStatus.Stopped)
                            .SetProperty(run => run.EndedAt, now)
                            .SetProperty(run => run.StopAskedBy, by),
                    cancel
                ) == 1;
        if (!taken)
            return false;
        await AppendInAsync(db, runId, new RunStopped(by, "Look at what the phone shows, note it under Route, and plan anew."), now);
        await ExpireFactsAsync(db, runId, now);
        await transaction.CommitAsync(cancel);
        return true;
    }

    /// <summary>Who has asked to stop, or null.</summary>
    public async Task<string?> StopAskedByAsync(int runId, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        return await db.Runs.Where(run => run.Id == runId).Select(run => run.StopAskedBy).SingleAsync(cancel);
    }
}

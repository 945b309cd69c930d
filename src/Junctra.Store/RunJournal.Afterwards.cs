using Junctra.Core.Runs;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

// What is written down after a run has finished: its phone comes up, or does not.
public sealed partial class RunJournal
{
    /// <summary>Writes down what somebody saw or did after a run had finished; nothing of the run changes by it.</summary>
    /// <returns>Whether it had finished.</returns>
    public async Task<bool> AfterwardsAsync(int runId, RunEvent what, CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        if (!await AfterwardsInAsync(db, runId, what, time.GetUtcNow()))
            return false;
        await transaction.CommitAsync(cancel);
        return true;
    }

    /// <summary>The same in a transaction that is open; two who write at once come one after the other.</summary>
    public static async Task<bool> AfterwardsInAsync(JunctraDb db, int runId, RunEvent what, DateTimeOffset at)
    {
        var finished = await db
            .Database.SqlQuery<int>($"""select id as "Value" from runs where id = {runId} and status = 'Finished' for update""")
            .ToListAsync();
        if (finished.Count == 0)
            return false;
        await AppendInAsync(db, runId, what, at);
        return true;
    }
}

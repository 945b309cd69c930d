using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Operation;

/// <summary>
/// The clock of leases. Web processes on several computers share none of their own: one that is a minute ahead would take another's run for
/// left, in the middle of a write. The database's is the same for all.
/// </summary>
public static class DatabaseClock
{
    /// <summary>The database's time; that of a test where it brings a clock of its own.</summary>
    public static async Task<DateTimeOffset> NowAsync(JunctraDb db, TimeProvider time, CancellationToken cancel = default) =>
        time == TimeProvider.System
            ? await db.Database.SqlQuery<DateTimeOffset>($"select clock_timestamp() as \"Value\"").SingleAsync(cancel)
            : time.GetUtcNow();
}

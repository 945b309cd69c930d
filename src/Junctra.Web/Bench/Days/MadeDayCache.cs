using System.Text.Json;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Days;

/// <summary>
/// Keeps the day that people know as it was read last: every look at the bench shows it, of many phones it is long, and it is made anew
/// only when something happens. The version of its row is asked for each time; another web process may have made the next.
/// </summary>
public sealed class MadeDayCache
{
    private sealed record Entry(long Version, DateTimeOffset At, MadeDay? Made);

    private volatile Entry? kept;

    /// <summary>The day that people know, with when it was made; null before the first.</summary>
    /// <param name="db">The database.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<(MadeDay Made, DateTimeOffset At)?> AsOfAsync(JunctraDb db, CancellationToken cancel)
    {
        var version = await db
            .Database.SqlQuery<long?>($"select xmin::text::bigint as \"Value\" from timetables")
            .SingleOrDefaultAsync(cancel);
        if (version is not { } current)
            return null;
        var known = kept;
        if (known?.Version != current)
        {
            if (await db.Timetables.AsNoTracking().SingleOrDefaultAsync(cancel) is not { } row)
                return null;
            // One that was made meanwhile is kept under the version before it, and read once more.
            known = kept = new Entry(current, row.MadeAt, Read(row.Made));
        }

        return known.Made is { } made ? (made, known.At) : null;
    }

    // One that another version made is as good as none: the next is made in a moment.
    private static MadeDay? Read(string made)
    {
        try
        {
            return
                JsonSerializer.Deserialize<MadeDay>(made, StoreJson.Options)
                    is {
                        Day: { Jobs: not null, Hands: not null, Open: not null },
                        Timetable.Slots: not null,
                        Chances: not null,
                        Changed: not null
                    } whole
                ? whole
                : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}

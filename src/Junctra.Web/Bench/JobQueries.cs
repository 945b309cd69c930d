using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench;

/// <summary>Queries behind the lists of jobs.</summary>
internal static class JobQueries
{
    public static Task<List<JobRow>> List(JunctraDb db, bool open, int most, CancellationToken cancel)
    {
        var jobs = db.Jobs.AsNoTracking().Include(j => j.Facts).Include(j => j.Runs.OrderBy(r => r.Id)).AsSplitQuery();
        return open
            ? jobs.Where(j => j.HandedBackAt == null).OrderBy(j => j.PromisedAt ?? DateTimeOffset.MaxValue).ThenBy(j => j.Id).Take(most).ToListAsync(cancel)
            : jobs.Where(j => j.HandedBackAt != null).OrderByDescending(j => j.HandedBackAt).ThenBy(j => j.Id).Take(most).ToListAsync(cancel);
    }
}

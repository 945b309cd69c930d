using Junctra.Core.Insight;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

// How fast mirrors give.
public sealed partial class MirrorStore
{
    // Lines change: what was a thousand files ago teaches nothing of today.
    private const int MaxLearned = 1000;

    /// <summary>How fast mirrors give, by the files that came from them of late.</summary>
    public async Task<DownloadRates> RatesAsync(CancellationToken cancel) =>
        DownloadRates.Of(
            await db
                .Arrivals.Where(a => a.MirrorId != null && a.State == ArrivalState.Done && a.Rate != null)
                .OrderByDescending(a => a.UpdatedAt)
                .Take(MaxLearned)
                .Select(a => new LoggedDownload(a.MirrorId!.Value, a.Rate!.Value))
                .ToListAsync(cancel)
        );

    /// <summary>The mirrors that are in use and of which it is known how fast they give.</summary>
    public async Task<IReadOnlyList<(string Name, DownloadRate Rate)>> KnownRatesAsync(CancellationToken cancel)
    {
        var rates = await RatesAsync(cancel);
        var mirrors = await db.Mirrors.AsNoTracking().Where(m => m.IsOn).OrderBy(m => m.Name).ToListAsync(cancel);
        return
        [
            .. mirrors
                .Select(m => (m.Name, Rate: rates.Find(m.Id, m.Rate)))
                .Where(one => one.Rate is not null)
                .Select(one => (one.Name, one.Rate!)),
        ];
    }
}

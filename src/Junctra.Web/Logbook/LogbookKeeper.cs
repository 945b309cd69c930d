using Junctra.Core.Catalogue;
using Junctra.Store.Logbook;

namespace Junctra.Web.Logbook;

/// <summary>Keeps the logbook true to the jobs in the background; whoever looks into it has what just changed made anew first.</summary>
public sealed class LogbookKeeper(
    LogbookIndex index,
    LogbookEntries entries,
    ModelCatalogue catalogue,
    TimeProvider time,
    ILogger<LogbookKeeper> log
) : BackgroundService
{
    // So many jobs are made anew while somebody waits for a page; more than that changed by an import, and come by and by.
    private const int WhileSomebodyWaits = 40,
        AtOnce = 25;
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(3);

    /// <summary>Makes anew what just changed.</summary>
    public Task<int> RefreshAsync(CancellationToken cancel) => index.RefreshAsync(WhileSomebodyWaits, entries.OfAsync, cancel);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var isRenewed = false;
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (!isRenewed)
                    await index.RenewAsync(catalogue.Stamp, stoppingToken);
                isRenewed = true;
                while (await index.RefreshAsync(AtOnce, entries.OfAsync, stoppingToken) > 0) { }
            }
            catch (Exception error) when (!stoppingToken.IsCancellationRequested)
            {
                // The notes stand until it is done; the database may only be away. Whatever it is, it must not end the program.
                log.LogWarning(error, "The logbook could not be brought up to date; it is tried again.");
            }

            await Task.Delay(Rest, time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}

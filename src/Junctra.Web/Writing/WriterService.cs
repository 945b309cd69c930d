using System.Collections.Concurrent;
using Junctra.Core.Catalogue;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Link;
using Junctra.Link.Running;
using Junctra.Store;
using Junctra.Web.Library;
using Junctra.Web.Operation;

namespace Junctra.Web.Writing;

/// <summary>
/// Takes runs that people began and has them written, each in its own task so that two phones need not wait for each other.
/// Runs whose writer has gone are ended as failed; none is ever taken up again.
/// </summary>
internal sealed class WriterService(
    RunJournal journal,
    IServiceScopeFactory scopes,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    KeptFiles kept,
    TimeProvider time,
    ILogger<WriterService> log
) : BackgroundService
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(500);

    /// <summary>One claim to a run: a run that waited for hands is claimed anew, perhaps before the claim of before is let go of.</summary>
    private sealed class Claim
    {
        /// <summary>Whether it broke off: the run is ended once its lease is out, and never taken up again.</summary>
        public bool BrokeOff { get; set; }
    }

    private readonly ConcurrentDictionary<int, Claim> held = new();
    private readonly string writer = $"{Environment.MachineName}:{Environment.ProcessId}:{Guid.NewGuid():N}";

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var running = new List<Task>();
        // A lease that has run out need not be seen at once, as a run that waits must be.
        long? lookedForLeft = null;
        try
        {
            while (true)
            {
                try
                {
                    if (lookedForLeft is not { } before || time.GetElapsedTime(before) >= journal.Lease / 10)
                    {
                        lookedForLeft = time.GetTimestamp();
                        await EndLeftAsync(stoppingToken);
                    }

                    while (await journal.ClaimAsync(writer, held.Keys, stoppingToken) is { } run)
                    {
                        var claim = held[run.Id] = new Claim();
                        running.Add(WriteAsync(run, claim, stoppingToken));
                    }
                }
                catch (Exception error) when (!stoppingToken.IsCancellationRequested)
                {
                    // Whatever it is, the next look may find it gone; without this service nobody could write at all.
                    log.LogError(error, "The database does not answer; no run is taken until it does");
                }

                running.RemoveAll(task => task.IsCompleted);
                await Task.Delay(LookEvery, time, stoppingToken);
            }
        }
        catch (OperationCanceledException)
        {
            await Task.WhenAll(running);
        }
    }

    private async Task EndLeftAsync(CancellationToken cancel)
    {
        var brokeOff = held.Where(one => one.Value.BrokeOff).Select(one => one.Key);
        foreach (var runId in await journal.FailAbandonedAsync(writer, brokeOff, cancel))
        {
            log.LogWarning("Run {Run} was left by its writer", runId);
            held.TryRemove(runId, out _);
        }
    }

    /// <summary>
    /// Writes one run. When this program is stopped, the image at hand is finished first, and a boot chain with its restart: nothing is
    /// half written because somebody restarted a computer's service.
    /// </summary>
    private async Task WriteAsync(RunRow run, Claim claim, CancellationToken stopping)
    {
        using var marked = HouseMeter.Work.StartActivity("write a run");
        using var lost = new CancellationTokenSource();
        using var ended = new CancellationTokenSource();
        var renewing = RenewAsync(run.Id, lost, ended.Token);
        try
        {
            await using var scope = scopes.CreateAsyncScope();
            var shelf = scope.ServiceProvider.GetRequiredService<PackageIndex>();
            var pen = await OutlastAsync(() => journal.TakePenAsync(run.Id, writer, lost.Token));
            var files = await OutlastAsync(() => FilesAsync(shelf, run.Plan, lost.Token));
            var address = LinkAddress.Parse(run.Address);
            if (files is null || run.Plan.NeedsLink && address is null)
            {
                await pen.WriteAsync(
                    new RunFailed(
                        "The package or the port of this run is no longer known.",
                        "Nothing was written. Look through the library and begin again."
                    ),
                    lost.Token
                );
                LetGo();
                return;
            }

            var unpacked = scope.ServiceProvider.GetRequiredService<UnpackedImageCache>();
            var before = await OutlastAsync(() => journal.ReadAsync(run.Id, cancel: lost.Token));
            var planWriter = new PlanWriter(
                catalogue,
                clocks,
                entry => new ValueTask(pen.WriteAsync(entry, lost.Token)),
                time,
                async () => stopping.IsCancellationRequested ? "the end of this program" : await StopAskedByAsync(run.Id)
            );
            await planWriter.RunAsync(
                new WriteOrder(run.Plan, files, address, (package, path, images, cancel) =>
                    OutlastAsync(() => unpacked.EnsureAsync(package, path, images, cancel))
                )
                {
                    Before = before,
                    KeepFolder = kept.FolderOf(run.Id),
                    SavedFolder = kept.FolderOf,
                    LoaderFolder = kept.LoaderFolder,
                    TakeIn = kept.TakeInAsync,
                },
                lost.Token
            );
            LetGo();
        }
        catch (RunLostException error)
        {
            LetGo();
            log.LogError(error, "This writer lost its claim and stopped");
        }
        catch (Exception error)
        {
            // Whatever it is, the journal already holds all that the phone accepted; the lease runs out and ends the run.
            log.LogError(error, "Run {Run} broke off", run.Id);
            claim.BrokeOff = true;
        }
        finally
        {
            await ended.CancelAsync();
            await renewing;
        }

        void LetGo() => held.TryRemove(new KeyValuePair<int, Claim>(run.Id, claim));

        Task<T> OutlastAsync<T>(Func<Task<T>> work) => DatabaseAbsence.OutlastAsync(work, time, lost.Token);
    }

    /// <summary>The packages of a plan with their files, in its order; null where one is no longer known.</summary>
    private static async Task<IReadOnlyList<PackageFile>?> FilesAsync(PackageIndex shelf, Plan plan, CancellationToken cancel)
    {
        var files = new List<PackageFile>();
        foreach (var use in plan.Packages)
        {
            if (await shelf.FindAsync(use.Id, cancel) is not { } package || await shelf.PathAsync(use.Id, cancel) is not { } path)
                return null;
            files.Add(new PackageFile(package, path));
        }

        return files;
    }

    private async Task<string?> StopAskedByAsync(int runId)
    {
        try
        {
            return await journal.StopAskedByAsync(runId);
        }
        catch (Exception error) when (DatabaseAbsence.Is(error))
        {
            // Nobody can have asked it through a database that is away; the journal waits for it at the next event.
            return null;
        }
    }

    private async Task RenewAsync(int runId, CancellationTokenSource lost, CancellationToken ended)
    {
        try
        {
            while (true)
            {
                await Task.Delay(journal.Lease / 4, time, ended);
                try
                {
                    if (!await journal.RenewAsync(runId, writer, ended))
                        await lost.CancelAsync();
                }
                catch (Exception error) when (DatabaseAbsence.Is(error))
                {
                    // A short absence of the database is survived; a long one lets the lease run out.
                    log.LogWarning(error, "The lease of run {Run} could not be renewed", runId);
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The run has ended.
        }
    }
}

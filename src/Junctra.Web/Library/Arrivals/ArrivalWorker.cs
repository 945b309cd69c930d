using System.Diagnostics;
using Hangfire;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>
/// Carries an order for a file out: fetches what is still missing, reads its digest, gives it to the store and to the library. Whoever
/// works on an order holds a lease on it; after an end of the program, however sudden, another start goes on where the bytes ended.
/// </summary>
public sealed partial class ArrivalWorker(
    IDbContextFactory<JunctraDb> databases,
    ContentStore store,
    MirrorClient mirrors,
    LinePace pace,
    LibraryWatch library,
    IBackgroundJobClient work,
    TimeProvider time,
    ILogger<ArrivalWorker> log
)
{
    private const int BufferBytes = 64 << 10;
    private const int MaxTriesWithoutProgress = 5;
    private static readonly TimeSpan Lease = TimeSpan.FromSeconds(20);
    private static readonly TimeSpan TellEvery = TimeSpan.FromSeconds(1);
    private static readonly TimeSpan Silence = TimeSpan.FromSeconds(30);
    private static readonly TimeSpan DripWindow = TimeSpan.FromMinutes(1);
    private const long MinADripWindow = 16 << 10;
    private readonly string me = WorkerName.Of(Environment.ProcessId);

    /// <summary>Works on an order until it is done, stopped or cannot go on.</summary>
    [AutomaticRetry(Attempts = 0)]
    public async Task WorkAsync(string id, CancellationToken stopping)
    {
        if (await ClaimAsync(id) is not { } row)
            return;
        using var wished = CancellationTokenSource.CreateLinkedTokenSource(stopping);
        using var ended = new CancellationTokenSource();
        ArrivalState? wish = null;
        var isLost = false;
        var renewing = RenewAsync(
            id,
            asked =>
            {
                (wish, isLost) = (asked, asked is null);
                wished.Cancel();
            },
            ended.Token
        );
        try
        {
            if (row.State is ArrivalState.Waiting or ArrivalState.Fetching && row.Source != "upload")
                await FetchAsync(row, wished.Token);
            await TakeInAsync(row, wished.Token);
        }
        catch (SourceException error)
        {
            await EndAsync(id, ArrivalState.Failed, error.Message, error.IsSpoilt);
        }
        catch (OperationCanceledException) when (wish is not null)
        {
            await EndAsync(id, wish.Value, null);
            if (wish == ArrivalState.Cancelled)
                store.Discard(id);
        }
        catch (OperationCanceledException) when (isLost)
        {
            // Somebody else works on it by now, and it is theirs.
            log.LogWarning("The lease of {Arrival} was lost", id);
        }
        catch (OperationCanceledException)
        {
            // The program ends; the next start goes on.
            await ReleaseAsync(id);
        }
        catch (IOException error)
        {
            log.LogError(error, "{File} could not be stored", row.FileName);
            await EndAsync(id, ArrivalState.Failed, $"It could not be stored: {error.Message}");
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            // Whatever it is, its bytes are kept, and the lease runs out by itself where the database is away.
            log.LogError(error, "{File} could not be taken in", row.FileName);
            await EndAsync(
                id,
                ArrivalState.Failed,
                "It could not be taken in because of a fault here. Go on with it; if that fails again, look into the log."
            );
        }
        finally
        {
            await ended.CancelAsync();
            await renewing;
        }
    }

    private async Task<ArrivalRow?> ClaimAsync(string id)
    {
        await using var db = await databases.CreateDbContextAsync();
        var now = await DatabaseClock.NowAsync(db, time);
        var row = await db.Arrivals.AsNoTracking().Include(a => a.Mirror).SingleOrDefaultAsync(a => a.Id == id);
        if (row is null || row.State is not (ArrivalState.Waiting or ArrivalState.Fetching or ArrivalState.Checking))
            return null;
        // A lease of a program of this computer that is gone holds nobody up.
        var gone = row.Worker is not null && WorkerName.IsGone(row.Worker);
        var claimed = await db
            .Arrivals.Where(a =>
                a.Id == id && a.State == row.State && (a.LeaseUntil == null || a.LeaseUntil <= now || gone && a.Worker == row.Worker)
            )
            .ExecuteUpdateAsync(set =>
                set.SetProperty(a => a.Worker, me).SetProperty(a => a.LeaseUntil, now + Lease).SetProperty(a => a.Problem, (string?)null)
            );
        if (claimed == 1)
            return row;
        // Somebody else has it, or had it until a moment ago.
        work.Schedule<ArrivalWorker>(worker => worker.WorkAsync(id, CancellationToken.None), Lease);
        return null;
    }

    /// <summary>Reads the digest, holds it against what was published, and makes the file a package of the library.</summary>
    private async Task TakeInAsync(ArrivalRow row, CancellationToken cancel)
    {
        await SetAsync(row.Id, set => set.SetProperty(a => a.State, ArrivalState.Checking));
        var bytes = store.IncomingBytes(row.Id);
        if (bytes == 0 && row.PackageId is { } kept && store.Has(kept))
        {
            // The program ended between the file's final name and its note in the library.
            await NoteAsync(row, kept, new FileInfo(store.PathOf(kept)).Length, cancel);
            return;
        }

        if (bytes == 0 || row.SizeBytes is { } told && bytes != told)
            throw new SourceException(
                bytes == 0
                    ? "The file is empty."
                    : $"{ByteSize.Text(bytes)} of {ByteSize.Text(row.SizeBytes!.Value)} are here. Go on, or begin again."
            );
        var sha256 = await store.DigestAsync(row.Id, cancel: cancel);
        if (row.PublishedDigest is { } published && published != sha256)
        {
            store.Discard(row.Id);
            await SetAsync(row.Id, set => set.SetProperty(a => a.BytesDone, 0L).SetProperty(a => a.Validator, (string?)null));
            throw new SourceException(
                $"The file from {row.Source} is not what its publisher sent out: its digest differs from the published one. It is not kept. Take it from another mirror.",
                isSpoilt: true
            );
        }

        await SetAsync(row.Id, set => set.SetProperty(a => a.PackageId, sha256));
        store.Keep(row.Id, sha256);
        await NoteAsync(row, sha256, bytes, cancel);
    }

    /// <summary>Makes a stored file a package of the library.</summary>
    private async Task NoteAsync(ArrivalRow row, string sha256, long bytes, CancellationToken cancel)
    {
        await using (var db = await databases.CreateDbContextAsync(cancel))
        {
            var now = time.GetUtcNow();
            if (await db.Packages.FindAsync([sha256], cancel) is not { } package)
            {
                package = new PackageRow
                {
                    Id = sha256,
                    FileName = row.FileName,
                    SizeBytes = bytes,
                    FileChangedAt = now,
                    Source = row.Source,
                    AddedAt = now,
                    AddedBy = row.CreatedBy,
                    PublishedDigest = row.PublishedDigest,
                    PublishedBy = row.PublishedBy,
                    Title = row.FileName,
                    Contents = new PackageContents(bytes, sha256, row.PublishedDigest, [], [], [], []),
                };
                db.Packages.Add(package);
            }

            package.IsStored = true;
            if (row.PublishedBy is not null || package.PublishedDigest is null)
                (package.PublishedDigest, package.PublishedBy) = (
                    row.PublishedDigest ?? package.PublishedDigest,
                    row.PublishedBy ?? package.PublishedBy
                );
            await db.SaveChangesAsync(cancel);
        }

        await SetAsync(row.Id, set =>
            set.SetProperty(a => a.State, ArrivalState.Done)
                .SetProperty(a => a.PackageId, sha256)
                .SetProperty(a => a.BytesDone, bytes)
                .SetProperty(a => a.ReservedBytes, 0L)
                .SetProperty(a => a.Worker, (string?)null)
                .SetProperty(a => a.LeaseUntil, (DateTimeOffset?)null)
        );
        library.LookAgain();
    }

    private Task EndAsync(string id, ArrivalState state, string? problem, bool isSpoilt = false) =>
        SetAsync(id, set =>
            set.SetProperty(a => a.State, state)
                .SetProperty(a => a.Problem, problem)
                .SetProperty(a => a.IsSpoilt, a => a.IsSpoilt || isSpoilt)
                .SetProperty(a => a.Asked, (ArrivalState?)null)
                .SetProperty(a => a.Worker, (string?)null)
                .SetProperty(a => a.LeaseUntil, (DateTimeOffset?)null)
        );

    private Task ReleaseAsync(string id) =>
        SetAsync(id, set => set.SetProperty(a => a.Worker, (string?)null).SetProperty(a => a.LeaseUntil, (DateTimeOffset?)null));

    private async Task SetAsync(string id, Action<Microsoft.EntityFrameworkCore.Query.UpdateSettersBuilder<ArrivalRow>> change)
    {
        await using var db = await databases.CreateDbContextAsync();
        var now = time.GetUtcNow();
        await db
            .Arrivals.Where(a => a.Id == id && a.Worker == me)
            .ExecuteUpdateAsync(set =>
            {
                change(set);
                set.SetProperty(a => a.UpdatedAt, now);
            });
    }

    /// <summary>Keeps the lease while it is worked on, and hears what is wished.</summary>
    /// <param name="id">The order.</param>
    /// <param name="asked">Called once: with a wish, or with null where the lease was lost.</param>
    /// <param name="ended">The work has ended.</param>
    private async Task RenewAsync(string id, Action<ArrivalState?> asked, CancellationToken ended)
    {
        var kept = Stopwatch.GetTimestamp();
        try
        {
            while (true)
            {
                await Task.Delay(TellEvery / 2, time, ended);
                try
                {
                    await using var db = await databases.CreateDbContextAsync(ended);
                    var until = await DatabaseClock.NowAsync(db, time, ended) + Lease;
                    var isMine =
                        await db
                            .Arrivals.Where(a => a.Id == id && a.Worker == me)
                            .ExecuteUpdateAsync(set => set.SetProperty(a => a.LeaseUntil, until), ended) == 1;
                    kept = Stopwatch.GetTimestamp();
                    var wish = await db.Arrivals.Where(a => a.Id == id).Select(a => a.Asked).SingleOrDefaultAsync(ended);
                    if (isMine && wish is null)
                        continue;
                    asked(isMine ? wish : null);
                    return;
                }
                catch (Exception error)
                    when ((DatabaseAbsence.Is(error) || error is Npgsql.NpgsqlException or InvalidOperationException)
                        && !ended.IsCancellationRequested
                    )
                {
                    // It may be back in time. Once the lease is out, somebody else may have taken it.
                    log.LogWarning(error, "The lease of {Arrival} could not be renewed", id);
                    if (Stopwatch.GetElapsedTime(kept) < Lease)
                        continue;
                    asked(null);
                    return;
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The work has ended.
        }
    }
}

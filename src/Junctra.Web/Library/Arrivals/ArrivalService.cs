using Hangfire;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library.Arrivals;

/// <summary>
/// Takes orders for files that are to come into the library, and what people want of them on the way. Room on the disk is kept before the
/// first byte comes: for the file, and for what it unpacks to.
/// </summary>
public sealed partial class ArrivalService(
    JunctraDb db,
    ContentStore store,
    IBackgroundJobClient work,
    IOptions<JunctraOptions> options,
    TimeProvider time
)
{
    /// <summary>Largest file that is taken from a person's computer or from a path.</summary>
    public const long MaxUploadBytes = 16L << 30;

    /// <summary>Where a source does not say what a file unpacks to: packed stock images come out two and a half times as large.</summary>
    private const double UsualExpansion = 2.5;

    /// <summary>So many uploads a person may have open at once.</summary>
    private const int MaxUploadsEach = 8;
    private const long RoomLock = 0x4A756E52;

    /// <summary>An upload of which nothing comes for so long is given up, and its room given back.</summary>
    public static readonly TimeSpan UploadPatience = TimeSpan.FromHours(24);

    private const long KeptFree = 256 << 20;

    private static readonly ArrivalState[] Open = [ArrivalState.Waiting, ArrivalState.Fetching, ArrivalState.Checking, ArrivalState.Paused];

    /// <summary>Orders a file from a mirror.</summary>
    /// <returns>The order, or why it cannot be given.</returns>
    public async Task<(ArrivalRow? Row, string? Problem)> FetchAsync(int fileId, string who, CancellationToken cancel)
    {
        if (await db.MirrorFiles.Include(f => f.Mirror).SingleOrDefaultAsync(f => f.Id == fileId, cancel) is not { } file)
            return (null, "That file is no longer in the index of its mirror.");
        if (file.Mirror is { NeedsTicket: true, SealedTicket: null or "" })
            return (null, $"{file.Mirror.Name} needs a ticket code. Enter it at the mirror.");
        if (await db.Arrivals.AnyAsync(a => a.MirrorId == file.MirrorId && a.From == file.Path && Open.Contains(a.State), cancel))
            return (null, "That file is on its way already.");
        // A digest that any mirror publishes for a file of that name and size counts for all of them.
        var name = MirrorClient.FileNameOf(file.Path);
        var other = file.Sha256 is null
            ? (
                await db
                    .MirrorFiles.Where(f => f.Sha256 != null && f.SizeBytes == file.SizeBytes)
                    .Select(f => new
                    {
                        f.Path,
                        f.Sha256,
                        f.Mirror.Name,
                    })
                    .ToListAsync(cancel)
            ).FirstOrDefault(other => MirrorClient.FileNameOf(other.Path) == name)
            : null;
        var (digest, by) = (file.Sha256 ?? other?.Sha256, file.Sha256 is null ? other?.Name : file.Mirror.Name);
        return await TakeAsync(
            new ArrivalRow
            {
                Id = NewId(),
                FileName = name,
                Source = file.Mirror.Name,
                MirrorId = file.MirrorId,
                From = file.Path,
                SizeBytes = file.SizeBytes,
                PublishedDigest = digest,
                PublishedBy = by,
                CreatedBy = who,
                ReservedBytes = (file.SizeBytes ?? 0) + (file.UnpackedBytes ?? (long)((file.SizeBytes ?? 0) * UsualExpansion)),
            },
            cancel
        );
    }

    /// <summary>Brings a file of this computer in.</summary>
    /// <returns>The order, or why it cannot be given.</returns>
    public async Task<(ArrivalRow? Row, string? Problem)> BringAsync(string path, string who, CancellationToken cancel)
    {
        if (ServerPath.Resolve(path, options.Value.AllowedRoots) is not { } real)
            return (
                null,
                options.Value.AllowedRoots.Count == 0
                    ? "No folder of this computer is open for this. The lead names some in the settings."
                    : $"Only files below {string.Join(" and ", options.Value.AllowedRoots)} are taken, and this is none of them."
            );
        var file = new FileInfo(real);
        if (file.Length > MaxUploadBytes)
            return (null, $"The file has {ByteSize.Text(file.Length)}; {ByteSize.Text(MaxUploadBytes)} is the most.");
        return await TakeAsync(
            new ArrivalRow
            {
                Id = NewId(),
                FileName = MirrorClient.FileNameOf(file.Name),
                Source = "path",
                From = real,
                SizeBytes = file.Length,
                CreatedBy = who,
                ReservedBytes = file.Length + (long)(file.Length * UsualExpansion),
            },
            cancel
        );
    }

    /// <summary>Stops it where it is.</summary>
    public Task PauseAsync(string id, CancellationToken cancel) => AskAsync(id, ArrivalState.Paused, cancel);

    /// <summary>Gives it up; its bytes go.</summary>
    public Task CancelAsync(string id, CancellationToken cancel) => AskAsync(id, ArrivalState.Cancelled, cancel);

    /// <summary>Goes on after a pause or a failure.</summary>
    /// <returns>Why it cannot, or null.</returns>
    public async Task<string?> ResumeAsync(string id, CancellationToken cancel)
    {
        if (await db.Arrivals.FindAsync([id], cancel) is not { State: ArrivalState.Paused or ArrivalState.Failed } row)
            return "There is nothing to go on with.";
        if (await LackingAsync(row, cancel) is { } lacking)
            return lacking;
        (row.Asked, row.Problem, row.UpdatedAt) = (null, null, time.GetUtcNow());
        // An upload goes on when the computer it comes from sends the rest.
        row.State = row.Source == "upload" && store.IncomingBytes(id) < row.SizeBytes ? ArrivalState.Fetching : ArrivalState.Waiting;
        await db.SaveChangesAsync(cancel);
        if (row.State == ArrivalState.Waiting)
            work.Enqueue<ArrivalWorker>(worker => worker.WorkAsync(id, CancellationToken.None));
        return null;
    }

    /// <summary>Takes up what an end of the program left, and clears what nobody waits for.</summary>
    public async Task TakeUpAsync(CancellationToken cancel)
    {
        var open = await db
            .Arrivals.Where(a => Open.Contains(a.State) || a.State == ArrivalState.Failed)
            .Select(a => new
            {
                a.Id,
                a.State,
                a.Source,
            })
            .ToListAsync(cancel);
        store.ClearIncoming(open.Select(a => a.Id).ToHashSet());
        foreach (
            var row in open.Where(a =>
                a.State is ArrivalState.Waiting or ArrivalState.Checking || a.State == ArrivalState.Fetching && a.Source != "upload"
            )
        )
            work.Enqueue<ArrivalWorker>(worker => worker.WorkAsync(row.Id, CancellationToken.None));
    }

    /// <summary>When <see cref="TakeUpLeftAsync"/> is called: every quarter of a minute.</summary>
    public const string TakesUpLeft = "*/15 * * * * *";

    /// <summary>Takes up what somebody worked on who gives no sign of life any more.</summary>
    public async Task TakeUpLeftAsync()
    {
        await ExpireUploadsAsync();
        var now = await DatabaseClock.NowAsync(db, time);
        var left = await db
            .Arrivals.Where(a =>
                (
                    a.State == ArrivalState.Waiting
                    || a.State == ArrivalState.Checking
                    || a.State == ArrivalState.Fetching && a.Source != "upload"
                )
                && a.LeaseUntil < now
            )
            .Select(a => a.Id)
            .ToListAsync();
        foreach (var id in left)
            work.Enqueue<ArrivalWorker>(worker => worker.WorkAsync(id, CancellationToken.None));
    }

    private async Task AskAsync(string id, ArrivalState wish, CancellationToken cancel)
    {
        var now = await DatabaseClock.NowAsync(db, time, cancel);
        // Whoever works on it sees the wish; where nobody does, it is done here.
        await db
            .Arrivals.Where(a => a.Id == id && a.LeaseUntil > now && Open.Contains(a.State))
            .ExecuteUpdateAsync(set => set.SetProperty(a => a.Asked, wish), cancel);
        var left = await db
            .Arrivals.Where(a =>
                a.Id == id && (a.LeaseUntil == null || a.LeaseUntil <= now) && (Open.Contains(a.State) || a.State == ArrivalState.Failed)
            )
            .ExecuteUpdateAsync(
                set =>
                    set.SetProperty(a => a.State, wish).SetProperty(a => a.Asked, (ArrivalState?)null).SetProperty(a => a.UpdatedAt, now),
                cancel
            );
        if (left > 0 && wish == ArrivalState.Cancelled)
            store.Discard(id);
    }

    /// <summary>Takes an order, and has it worked on.</summary>
    private async Task<(ArrivalRow? Row, string? Problem)> TakeAsync(ArrivalRow row, CancellationToken cancel)
    {
        await using (var transaction = await db.Database.BeginTransactionAsync(cancel))
        {
            await TakeTurnAsync(cancel);
            if (await TakeInTurnAsync(row, cancel) is { Row: null } refused)
                return refused;
            await transaction.CommitAsync(cancel);
        }

        work.Enqueue<ArrivalWorker>(worker => worker.WorkAsync(row.Id, CancellationToken.None));
        return (row, null);
    }

    /// <summary>Two orders at once would both be given the last room; they wait for each other until the transaction ends.</summary>
    private Task<int> TakeTurnAsync(CancellationToken cancel) =>
        db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({RoomLock})", cancel);

    private async Task<(ArrivalRow? Row, string? Problem)> TakeInTurnAsync(ArrivalRow row, CancellationToken cancel)
    {
        if (await LackingAsync(row, cancel) is { } lacking)
            return (null, lacking);
        (row.CreatedAt, row.UpdatedAt) = (time.GetUtcNow(), time.GetUtcNow());
        db.Arrivals.Add(row);
        await db.SaveChangesAsync(cancel);
        return (row, null);
    }

    /// <summary>What the disk lacks for a file beside those that are on their way, or null.</summary>
    private async Task<string?> LackingAsync(ArrivalRow row, CancellationToken cancel)
    {
        var kept = await db
            .Arrivals.Where(a => a.Id != row.Id && Open.Contains(a.State))
            .SumAsync(a => a.ReservedBytes - a.BytesDone, cancel);
        var free = store.FreeBytes() - KeptFree - Math.Max(0, kept);
        return row.ReservedBytes <= free
            ? null
            : $"{row.FileName} needs {ByteSize.Text(row.ReservedBytes)} packed and unpacked; {ByteSize.Text(Math.Max(0, free))} are free{(kept > 0 ? " beside what is on its way" : "")}. Make room first.";
    }

    private static string NewId() => Guid.NewGuid().ToString("N");
}

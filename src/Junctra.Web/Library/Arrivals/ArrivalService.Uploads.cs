using Hangfire;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>Files that come from a person's computer.</summary>
public sealed partial class ArrivalService
{
    /// <summary>Takes a file that a person's computer is about to send.</summary>
    /// <returns>The order, or why it cannot be given.</returns>
    public async Task<(ArrivalRow? Row, string? Problem, bool IsTooMany)> ReceiveAsync(
        string fileName,
        long bytes,
        string who,
        CancellationToken cancel
    )
    {
        await ExpireUploadsAsync(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await TakeTurnAsync(cancel);
        if (
            await db.Arrivals.CountAsync(
                a => a.Source == "upload" && a.CreatedBy == who && (a.State == ArrivalState.Fetching || a.State == ArrivalState.Paused),
                cancel
            ) >= MaxUploadsEach
        )
            return (null, $"{MaxUploadsEach} uploads of yours are open. End some of them, or let them come in first.", true);
        var (row, problem) = await TakeInTurnAsync(
            new ArrivalRow
            {
                Id = NewId(),
                FileName = MirrorClient.FileNameOf(fileName),
                Source = "upload",
                SizeBytes = bytes,
                CreatedBy = who,
                ReservedBytes = bytes + (long)(bytes * UsualExpansion),
                State = ArrivalState.Fetching,
            },
            cancel
        );
        if (row is not null)
            await transaction.CommitAsync(cancel);
        return (row, problem, false);
    }

    /// <summary>Gives up uploads of which nothing came for a day: announced ones that never come would keep their room for ever.</summary>
    public async Task ExpireUploadsAsync(CancellationToken cancel = default)
    {
        var limit = time.GetUtcNow() - UploadPatience;
        foreach (
            var id in await db
                .Arrivals.Where(a =>
                    a.Source == "upload" && (a.State == ArrivalState.Fetching || a.State == ArrivalState.Paused) && a.UpdatedAt < limit
                )
                .Select(a => a.Id)
                .ToListAsync(cancel)
        )
        {
            var now = time.GetUtcNow();
            if (
                await db
                    .Arrivals.Where(a => a.Id == id && a.UpdatedAt < limit)
                    .ExecuteUpdateAsync(
                        set =>
                            set.SetProperty(a => a.State, ArrivalState.Cancelled)
                                .SetProperty(a => a.ReservedBytes, 0L)
                                .SetProperty(a => a.UpdatedAt, now),
                        cancel
                    ) > 0
            )
                store.Discard(id);
        }
    }

    /// <summary>Gives an upload up at its sender's word; nothing else is given up so.</summary>
    /// <returns>Whether there was one.</returns>
    public async Task<bool> EndUploadAsync(string id, CancellationToken cancel)
    {
        if (
            !await db.Arrivals.AnyAsync(
                a => a.Id == id && a.Source == "upload" && a.State != ArrivalState.Cancelled && a.State != ArrivalState.Done,
                cancel
            )
        )
            return false;
        await CancelAsync(id, cancel);
        return true;
    }

    /// <summary>Says that all bytes of an upload are here.</summary>
    public async Task ReceivedAsync(ArrivalRow row, CancellationToken cancel)
    {
        var now = time.GetUtcNow();
        // Not where somebody gave it up meanwhile.
        if (
            await db
                .Arrivals.Where(a => a.Id == row.Id && a.State == ArrivalState.Fetching)
                .ExecuteUpdateAsync(set => set.SetProperty(a => a.State, ArrivalState.Waiting).SetProperty(a => a.UpdatedAt, now), cancel)
            > 0
        )
            work.Enqueue<ArrivalWorker>(worker => worker.WorkAsync(row.Id, CancellationToken.None));
    }
}

using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Operation;

/// <summary>
/// What only one of several web processes does at a time. A process that has it keeps it by asking again; one that is gone, or hangs,
/// loses it with its lease, and another goes on.
/// </summary>
/// <param name="databases">Databases.</param>
/// <param name="holder">Name of this process.</param>
/// <param name="lease">How long it is kept without asking again.</param>
/// <param name="isGone">Whether a process is known to have ended; what one has that was killed on this computer is free at once.</param>
public sealed class Ownership(IDbContextFactory<JunctraDb> databases, string holder, TimeSpan lease, Func<string, bool>? isGone = null)
{
    /// <summary>How long it is kept without asking again, where nobody says otherwise.</summary>
    public static readonly TimeSpan UsualLease = TimeSpan.FromSeconds(20);

    /// <summary>Name of this process.</summary>
    public string Holder { get; } = holder;

    /// <summary>Takes it where nobody has it, or keeps it.</summary>
    /// <param name="what">What.</param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>Whether this process has it.</returns>
    public async Task<bool> TakeAsync(string what, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (await TakeInAsync(db, what, cancel))
            return true;
        var other = await db.Owners.Where(row => row.What == what).Select(row => row.Holder).SingleOrDefaultAsync(cancel);
        if (other is null || isGone?.Invoke(other) != true)
            return false;
        await db.Owners.Where(row => row.What == what && row.Holder == other).ExecuteDeleteAsync(cancel);
        return await TakeInAsync(db, what, cancel);
    }

    private async Task<bool> TakeInAsync(JunctraDb db, string what, CancellationToken cancel) =>
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into owners (what, holder, since, until) values ({what}, {Holder}, clock_timestamp(), clock_timestamp() + {lease})
            on conflict (what) do update set holder = excluded.holder, until = excluded.until,
                since = case when owners.holder = excluded.holder then owners.since else excluded.since end
            where owners.holder = excluded.holder or owners.until < clock_timestamp()
            """,
            cancel
        ) == 1;

    /// <summary>Lets go of it, so that another need not wait for the lease.</summary>
    /// <param name="what">What; null for all that this process has.</param>
    public async Task LetGoAsync(string? what = null)
    {
        await using var db = await databases.CreateDbContextAsync();
        await db.Owners.Where(row => row.Holder == Holder && (what == null || row.What == what)).ExecuteDeleteAsync();
    }

    /// <summary>
    /// Waits for it, does something while it is kept, and lets go of it. Where it is lost meanwhile, because this process hung or its
    /// database was away, what is being done is cancelled.
    /// </summary>
    public async Task InTurnAsync(string what, Func<CancellationToken, Task> act, CancellationToken cancel)
    {
        while (!await TakeAsync(what, cancel))
            await Task.Delay(lease / 20, cancel);
        using var lost = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        using var ended = new CancellationTokenSource();
        var keeping = KeepAsync(what, lost, ended.Token);
        try
        {
            await act(lost.Token);
        }
        finally
        {
            await ended.CancelAsync();
            await keeping;
            await LetGoAsync(what);
        }
    }

    private async Task KeepAsync(string what, CancellationTokenSource lost, CancellationToken ended)
    {
        try
        {
            while (true)
            {
                await Task.Delay(lease / 4, ended);
                if (await TakeAsync(what, ended))
                    continue;
                await lost.CancelAsync();
                return;
            }
        }
        catch (OperationCanceledException) when (ended.IsCancellationRequested) { }
        catch (Exception error) when (DatabaseAbsence.Is(error))
        {
            await lost.CancelAsync();
        }
    }
}

using System.Net;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// The write of job 0421 to the simulated phone A by a web program of its own process, as a person begins it: again and again, whatever
/// became of the one before; and what the journal says of it against what the phone itself says.
/// </summary>
internal sealed class DemoWrite(TestDatabase database, StandInProcess phones)
{
    /// <summary>Page of the job.</summary>
    public const string Job = "/jobs/0421";

    private string? package;

    /// <summary>What the phone had accepted before the write that was begun last.</summary>
    public int Before { get; private set; }

    /// <summary>Brings the phone into the mode, reads it, chooses the package and begins.</summary>
    /// <param name="at">Where it is begun.</param>
    /// <param name="bytesPerSecond">How fast the phone takes bytes.</param>
    public async Task BeginAsync(WebProcess at, long bytesPerSecond)
    {
        package ??= await PackageAsync();
        await Until.TrueAsync(
            async () => await phones.ModeAsync("A") is "fastboot" or "setup-wizard" or "system" or "boot-loop",
            "the phone has come to rest"
        );
        if (await phones.ModeAsync("A") != "fastboot")
            await phones.DoAsync("A", "hold-menu-keys");
        await phones.FaultAsync("A", new { bytesPerSecond });
        Before = (await phones.AcceptedAsync("A")).Count;
        await at.PostAsync(Job + "/find-out", "Read", ("port", "A"));
        await at.PostAsync(Job + "/match", null, ("package", package));
        var (status, text) = await at.PostAsync(Job + "/plan?gates=1", "Begin", [.. WebWorld.GatesAnswered, ("typed", "0421")]);
        Assert.True(status == HttpStatusCode.Redirect, text);
    }

    /// <summary>Asks the database, again where it is away: that may be what is tried.</summary>
    public Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask) =>
        OutlastAsync(async () =>
        {
            await using var db = database.CreateDbContext();
            return await ask(db);
        });

    /// <summary>The run that was begun last.</summary>
    public Task<RunRow> RunAsync() => AskAsync(db => db.Runs.AsNoTracking().OrderByDescending(run => run.Id).FirstAsync());

    /// <summary>What its journal folds to.</summary>
    public async Task<RunState> StateAsync()
    {
        var run = await RunAsync();
        return RunState.Of(run.Plan, await EntriesAsync(run));
    }

    /// <summary>What its journal says that the phone took, in the phone's words.</summary>
    public async Task<List<string>> JournalledAsync()
    {
        var run = await RunAsync();
        return
        [
            .. (await EntriesAsync(run))
                .Select(entry =>
                    entry.Event switch
                    {
                        PieceAccepted piece => $"flash {run.Plan.Steps[piece.Step - 1].Partition()}",
                        PartitionErased erased => $"erase {erased.Partition}",
                        _ => "",
                    }
                )
                .Where(line => line.Length > 0),
        ];
    }

    /// <summary>What the phone has accepted since it was begun.</summary>
    public async Task<List<string>> AcceptedAsync() => [.. (await phones.AcceptedAsync("A")).Skip(Before)];

    /// <summary>Waits until the run is so.</summary>
    public Task UntilAsync(Func<RunRow, bool> condition, string what) => Until.TrueAsync(async () => condition(await RunAsync()), what);

    /// <summary>Waits until the phone has accepted so many, or the run has ended before.</summary>
    public Task UntilAcceptedAsync(int count) =>
        Until.TrueAsync(
            async () => (await AcceptedAsync()).Count >= count || !(await RunAsync()).Status.IsOpen(),
            $"the phone has accepted {count} pieces"
        );

    /// <summary>
    /// What the journal says against what the phone says: the same, but for at most the piece at hand, which the phone may have taken in
    /// the moment in which its writer ended.
    /// </summary>
    public async Task<(List<string> Told, List<string> Accepted)> CheckAsync()
    {
        var (told, accepted) = (await JournalledAsync(), await AcceptedAsync());
        Assert.Equal(told, accepted.Take(told.Count));
        Assert.InRange(accepted.Count - told.Count, 0, 1);
        return (told, accepted);
    }

    private async Task<string> PackageAsync()
    {
        await Until.TrueAsync(
            () => AskAsync(db => db.Packages.AnyAsync(p => p.FileName == "cairn-stock-26w10.tar" && p.InspectorVersion > 0)),
            "the package is read"
        );
        return await AskAsync(db => db.Packages.Where(p => p.FileName == "cairn-stock-26w10.tar").Select(p => p.Id).SingleAsync());
    }

    private Task<IReadOnlyList<JournalEntry>> EntriesAsync(RunRow run) =>
        OutlastAsync(() => new RunJournal(database, TimeProvider.System).ReadAsync(run.Id));

    private static Task<T> OutlastAsync<T>(Func<Task<T>> work) => DatabaseAbsence.OutlastAsync(work, TimeProvider.System, default);
}

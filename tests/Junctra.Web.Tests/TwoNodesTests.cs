using System.Net;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Two web processes on one database, one library and one folder of keys, as behind a proxy: whichever is killed, at any moment, the
/// other goes on with what can go on, and says of a write that broke off what the phone holds. One that was suspended and comes back
/// does nothing any more of what the other has taken from it.
/// </summary>
[Trait("Turn", "0")]
public sealed class TwoNodesTests : IAsyncLifetime
{
    /// <summary>How a node is lost.</summary>
    private enum Loss
    {
        WriterKilled,

        /// <summary>Suspended for longer than its lease, and let go on.</summary>
        WriterHeld,

        OtherKilled,
    }

    private readonly string folder = Directory.CreateTempSubdirectory("junctra-two-").FullName;
    private readonly CookieContainer cookies = new();
    private StandInProcess phones = null!;
    private TestDatabase database = null!;
    private WebProcess[] nodes = [];
    private DemoWrite write = null!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public async ValueTask InitializeAsync()
    {
        phones = await StandInProcess.StartAsync(mirrorPace: 0.5);
        database = await TestDatabase.CreateAsync();
        var library = await DemoLibrary.FolderAsync();
        nodes =
        [
            .. Enumerable
                .Range(0, 2)
                .Select(_ => new WebProcess(
                    database.Connection,
                    library,
                    phones,
                    Path.Combine(folder, "store"),
                    cookies: cookies,
                    keepsTimetable: true
                )),
        ];
        // Both at once, onto a database with nothing in it but tables.
        await nodes[0].StartAsync();
        await nodes[1].StartAsync();
        write = new DemoWrite(database, phones);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var node in nodes)
            await node.DisposeAsync();
        await phones.DisposeAsync();
        await database.DisposeAsync();
        Directory.Delete(folder, true);
    }

    private Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask) => write.AskAsync(ask);

    /// <summary>Which node a name of a process is of: machine, process, and what tells one start from another.</summary>
    private int NodeOf(string holder) => Array.FindIndex(nodes, node => $"{node.Id}" == holder.Split(':')[1]);

    [Fact]
    public async Task Whichever_is_killed_or_suspended_the_other_goes_on()
    {
        var random = new Random(Sampled.Seed + 20);
        for (var round = 0; round < Sampled.Of(30, 1); round++)
        {
            Sampled.Tried();
            // Begun at one, written by whichever takes it.
            await write.BeginAsync(nodes[round % 2], 20_000_000);
            await write.UntilAsync(run => run.ClaimedBy is not null || !run.Status.IsOpen(), "a node has taken the run");
            var writer = NodeOf((await write.RunAsync()).ClaimedBy!);
            var other = 1 - writer;
            // Whoever looks at the other sees it, with the sign-in and the form of the first.
            await using (await nodes[other].WatchAsync((await write.RunAsync()).Id))
                Assert.Contains("0421", await nodes[other].GetAsync(DemoWrite.Job + "/write"));
            await write.UntilAcceptedAsync(random.Next(0, 9));
            var what = (Loss)((round + Sampled.Turn) % 3);
            var gone = nodes[what == Loss.OtherKilled ? other : writer];
            await (what == Loss.WriterHeld ? gone.HoldAsync() : gone.KillAsync());
            await write.UntilAsync(run => !run.Status.IsOpen(), "the run has ended");
            var (told, accepted) = await write.CheckAsync();
            if (what == Loss.OtherKilled)
                Assert.Equal((RunStatus.Finished, accepted.Count), ((await write.RunAsync()).Status, told.Count));
            else if ((await write.RunAsync()).Status == RunStatus.Failed)
            {
                // Ended by the other.
                Assert.Contains(
                    "The program that was writing stopped in the middle.",
                    await nodes[other].GetAsync(DemoWrite.Job + "/write")
                );
                // And nothing is written again by itself.
                Assert.Equal(accepted.Count, (await write.AcceptedAsync()).Count);
                Assert.False(await AskAsync(db => db.Runs.AnyAsync(run => run.Status == RunStatus.Writing, Cancel)));
            }

            if (what != Loss.WriterHeld)
            {
                await gone.StartAsync();
                continue;
            }

            // It goes on where it was held, and finds that the run is not its own any more: what the phone takes from now on is of the
            // write that a person begins at the other, and of no other.
            await gone.LetGoAsync();
            await Until.TrueAsync(gone.IsHealthyAsync, "it serves again");
            await write.CheckAsync();
            await write.BeginAsync(nodes[other], 0);
            await write.UntilAsync(run => !run.Status.IsOpen(), "the write has ended");
            Assert.Equal(RunStatus.Finished, (await write.RunAsync()).Status);
            Assert.Equal(await write.AcceptedAsync(), await write.JournalledAsync());
        }

        // A person begins again, and the phone is whole.
        await write.BeginAsync(nodes[1], 0);
        await write.UntilAsync(run => run.Status == RunStatus.Finished, "the write has finished");
        await Until.TrueAsync(async () => await phones.ModeAsync("A") == "setup-wizard", "the phone has booted");

        await OwnersPassOnAsync();
        await DownloadsGoOnAsync();
    }

    /// <summary>What only one does is done by the other once the one is gone; both serve, and both say who it is.</summary>
    private async Task OwnersPassOnAsync()
    {
        await Until.TrueAsync(
            async () =>
                (await AskAsync(db => db.Owners.Select(row => row.What).ToListAsync(Cancel))) is var all
                && all.Contains("timetable")
                && all.Contains("audit"),
            "somebody does what only one does"
        );
        var owner = NodeOf(
            await AskAsync(db => db.Owners.Where(row => row.What == "timetable").Select(row => row.Holder).SingleAsync(Cancel))
        );
        var other = 1 - owner;
        await nodes[owner].KillAsync();
        await Until.TrueAsync(
            async () =>
                await AskAsync(db => db.Owners.Where(row => row.What == "timetable").Select(row => row.Holder).SingleOrDefaultAsync(Cancel))
                    is { } holder
                && NodeOf(holder) == other,
            "the other makes the timetable"
        );
        Assert.Contains("timetable", await nodes[other].GetAsync("/operation"));
        // What people do at the one that is left is sealed all the same.
        await nodes[other].PostAsync("/account", "Token", ("tokenName", "for two"));
        await Until.TrueAsync(
            async () =>
                await AskAsync(db =>
                    db.Audit.AnyAsync(line => line.Act.Contains("for two") && db.AuditSeals.Any(seal => seal.AuditId == line.Id), Cancel)
                ),
            "the audit is sealed"
        );
        await nodes[owner].StartAsync();
    }

    private async Task DownloadsGoOnAsync()
    {
        await nodes[0].PostAsync("/sources", "Read");
        var file = await AskAsync(db =>
            db.MirrorFiles.Where(f => f.SizeBytes > 2_000_000)
                .OrderBy(f => f.SizeBytes)
                .Select(f => new { f.Id, f.SizeBytes })
                .FirstAsync(Cancel)
        );
        await nodes[0].PostAsync("/sources", "Fetch", ("file", $"{file.Id}"));
        async Task<ArrivalRow> ArrivalAsync() =>
            await AskAsync(db => db.Arrivals.AsNoTracking().OrderByDescending(a => a.CreatedAt).FirstAsync(Cancel));
        await Until.TrueAsync(async () => await ArrivalAsync() is { Worker: not null, BytesDone: > 0 }, "a node fetches it");
        var worker = NodeOf((await ArrivalAsync()).Worker!);
        await nodes[worker].KillAsync();
        await Until.TrueAsync(async () => (await ArrivalAsync()).State == ArrivalState.Done, "the other has fetched it");
        var done = await ArrivalAsync();
        Assert.Equal(file.SizeBytes, done.SizeBytes);
        Assert.True(File.Exists(Path.Combine(folder, "store", "content", done.PackageId![..2], done.PackageId)));
    }
}

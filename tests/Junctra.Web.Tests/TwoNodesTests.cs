using System.Net;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Two web processes on one database, one library and one folder of keys, as behind a proxy: whichever is killed, at any moment, the
/// other goes on with what can go on, and says of a write that broke off what the phone holds.
/// </summary>
public sealed class TwoNodesTests : IAsyncLifetime
{
    private const string Job = "/jobs/0421";
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-two-").FullName;
    private readonly CookieContainer cookies = new();
    private StandInProcess phones = null!;
    private TestDatabase database = null!;
    private WebProcess[] nodes = [];
    private string package = "";

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
                .Select(_ => new WebProcess(database.Connection, library, phones, Path.Combine(folder, "store"), cookies: cookies)),
        ];
        // Both at once, onto a database with nothing in it but tables.
        await nodes[0].StartAsync();
        await nodes[1].StartAsync();
        await Until.TrueAsync(
            async () => await AskAsync(db => db.Packages.AnyAsync(p => p.FileName == "cairn-stock-26w10.tar" && p.InspectorVersion > 0)),
            "the package is read"
        );
        package = await AskAsync(db => db.Packages.Where(p => p.FileName == "cairn-stock-26w10.tar").Select(p => p.Id).SingleAsync());
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var node in nodes)
            await node.DisposeAsync();
        await phones.DisposeAsync();
        await database.DisposeAsync();
        Directory.Delete(folder, true);
    }

    private async Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask)
    {
        await using var db = database.CreateDbContext();
        return await ask(db);
    }

    private Task<RunRow> RunAsync() => AskAsync(db => db.Runs.AsNoTracking().OrderByDescending(run => run.Id).FirstAsync(Cancel));

    /// <summary>What the journal says that the phone took, in the words of the simulated phone.</summary>
    private async Task<List<string>> JournalledAsync()
    {
        var run = await RunAsync();
        return
        [
            .. (await new RunJournal(database, TimeProvider.System).ReadAsync(run.Id))
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

    /// <summary>Which node a name of a process is of: machine, process, and what tells one start from another.</summary>
    private int NodeOf(string holder) => Array.FindIndex(nodes, node => $"{node.Id}" == holder.Split(':')[1]);

    private async Task BeginAsync(WebProcess at)
    {
        await Until.TrueAsync(
            async () => await phones.ModeAsync("A") is "fastboot" or "setup-wizard" or "system" or "boot-loop",
            "the phone has come to rest"
        );
        if (await phones.ModeAsync("A") != "fastboot")
            await phones.DoAsync("A", "hold-menu-keys");
        await at.PostAsync(Job + "/find-out", "Read", ("port", "A"));
        await at.PostAsync(Job + "/match", null, ("package", package));
        var (status, text) = await at.PostAsync(
            Job + "/plan?gates=1",
            "Begin",
            ("gate.backup", "waived"),
            ("gate.data-loss", "agreed"),
            ("gate.accounts", "owner-knows"),
            ("gate.modification", "agreed"),
            ("gate.program", "closed"),
            ("gate.cable", "steady"),
            ("typed", "0421")
        );
        Assert.True(status == HttpStatusCode.Redirect, text);
    }

    private Task UntilAsync(Func<RunRow, bool> condition, string what) => Until.TrueAsync(async () => condition(await RunAsync()), what);

    [Fact]
    public async Task Whichever_is_killed_the_other_goes_on()
    {
        var random = new Random(Sampled.Seed + 20);
        for (var round = 0; round < Sampled.Of(20, 1); round++)
        {
            Sampled.Tried();
            await phones.FaultAsync("A", new { bytesPerSecond = 20_000_000 });
            var before = (await phones.AcceptedAsync("A")).Count;
            // Begun at one, written by whichever takes it.
            await BeginAsync(nodes[round % 2]);
            await UntilAsync(run => run.ClaimedBy is not null || !run.Status.IsOpen(), "a node has taken the run");
            var writer = NodeOf((await RunAsync()).ClaimedBy!);
            var other = 1 - writer;
            // Whoever looks at the other sees it, with the sign-in and the form of the first.
            await using (await nodes[other].WatchAsync((await RunAsync()).Id))
                Assert.Contains("0421", await nodes[other].GetAsync(Job + "/write"));
            var count = random.Next(0, 9);
            await Until.TrueAsync(
                async () => (await phones.AcceptedAsync("A")).Count >= before + count || !(await RunAsync()).Status.IsOpen(),
                "the phone has accepted some"
            );
            var killsWriter = round % 2 == 0;
            await nodes[killsWriter ? writer : other].KillAsync();
            await UntilAsync(run => !run.Status.IsOpen(), "the run has ended");
            var (status, told) = ((await RunAsync()).Status, await JournalledAsync());
            var accepted = (await phones.AcceptedAsync("A")).Skip(before).ToList();
            // At most the piece at hand is more than the journal has.
            Assert.Equal(told, accepted.Take(told.Count));
            Assert.InRange(accepted.Count - told.Count, 0, 1);
            if (!killsWriter)
            {
                Assert.Equal((RunStatus.Finished, accepted.Count), (status, told.Count));
            }
            else if (status == RunStatus.Failed)
            {
                // Ended by the other.
                Assert.Contains("The program that was writing stopped in the middle.", await nodes[other].GetAsync(Job + "/write"));
                // And nothing is written again by itself.
                Assert.Equal(before + accepted.Count, (await phones.AcceptedAsync("A")).Count);
                Assert.False(await AskAsync(db => db.Runs.AnyAsync(run => run.Status == RunStatus.Writing, Cancel)));
            }

            await nodes[killsWriter ? writer : other].StartAsync();
        }

        // A person begins again, and the phone is whole.
        await phones.FaultAsync("A", new { });
        await BeginAsync(nodes[1]);
        await UntilAsync(run => run.Status == RunStatus.Finished, "the write has finished");
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

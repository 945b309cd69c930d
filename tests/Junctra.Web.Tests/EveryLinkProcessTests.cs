using System.Security.Cryptography;
using Junctra.Core.Matching;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// The web program as a process of its own with every package of the demo world, and a wire to its database that can be cut.
/// </summary>
public sealed class EveryLinkBench : IAsyncLifetime
{
    private readonly string store = Directory.CreateTempSubdirectory("junctra-store-").FullName;

    /// <summary>Where what was saved is kept.</summary>
    internal string Kept => Path.Combine(store, "store.kept");

    internal StandInProcess Phones { get; private set; } = null!;

    internal TestDatabase Database { get; private set; } = null!;

    internal TcpProxy Wire { get; private set; } = null!;

    internal WebProcess Web { get; private set; } = null!;

    public async ValueTask InitializeAsync()
    {
        Phones = await StandInProcess.StartAsync();
        Database = await TestDatabase.CreateAsync();
        (Wire, var connection) = Database.BehindWire();
        Web = new WebProcess(
            connection,
            await DemoLibrary.AllFolderAsync(),
            Phones,
            Path.Combine(store, "store"),
            loaders: await DemoLibrary.LoaderFolderAsync()
        );
        await Web.StartAsync();
        foreach (var path in ReadyPhone.Paths)
        {
            if (await ReadyPhone.PackageIdAsync(path) is not { } needed)
                continue;
            await Until.TrueAsync(
                async () =>
                {
                    await using var db = Database.CreateDbContext();
                    return await db.Packages.AnyAsync(package => package.Id == needed);
                },
                $"the library knows the package of path {path}"
            );
        }
    }

    public async ValueTask DisposeAsync()
    {
        await Web.DisposeAsync();
        await Wire.DisposeAsync();
        await Phones.DisposeAsync();
        await Database.DisposeAsync();
        Directory.Delete(store, recursive: true);
    }
}

/// <summary>
/// The web program killed, and its database cut off, at random entries of runs over the links of recovery, download with a layout, a chip
/// that answers alone, and debugging; fastboot has <see cref="ProcessFaultTests"/>. Afterwards the journal says what the phone accepted and
/// what was copied whole, the job says what is next, and nothing is written by itself.
/// </summary>
[Trait("Turn", "2")]
public sealed class EveryLinkProcessTests(EveryLinkBench bench) : IClassFixture<EveryLinkBench>
{
    private const int Cuts = 4;
    private readonly StandInProcess phones = bench.Phones;
    private readonly TestDatabase database = bench.Database;
    private int runId;
    private string ticket = "";

    [Theory]
    [MemberData(nameof(ReadyPhone.Moments), 60, MemberType = typeof(ReadyPhone))]
    public async Task Killed_at_any_moment_over_any_link_the_journal_and_the_job_tell_the_truth(string path, int seed)
    {
        var ready = await BeginAsync(path);
        var before = (await WrittenAsync(ready)).Count;
        var moment = new Random(Sampled.Seed + seed * 19 + path[0]).Next(2, ReadyPhone.EntriesOf(path));
        await UntilEntriesAsync(moment);
        await bench.Web.KillAsync();
        await bench.Web.StartAsync();
        // Where it was waiting for hands, or done, the program was not needed.
        await Until.TrueAsync(async () => (await RunAsync()).Status is not (RunStatus.Queued or RunStatus.Writing), "the run is ended");
        var (state, accepted) = (await StateAsync(), (await WrittenAsync(ready)).Skip(before).ToList());
        var told = await ToldAsync();
        Assert.Equal(told, accepted.Take(told.Count));
        Assert.InRange(accepted.Count - told.Count, 0, 1);
        if (accepted.Count > told.Count)
            Assert.EndsWith(" " + state.At, accepted[^1]);
        if (state.Status == RunStatus.Failed)
        {
            var page = await bench.Web.GetAsync($"/jobs/{ticket}/write");
            Assert.Contains("The program that was writing stopped in the middle.", page);
            Assert.Contains(state.PhoneNow, page);
            Assert.Contains(state.Next!, page);
        }

        await CopiesAreWholeAsync(ready, state);
        Assert.Equal(accepted, (await WrittenAsync(ready)).Skip(before));
    }

    [Theory]
    [MemberData(nameof(ReadyPhone.Moments), 17, MemberType = typeof(ReadyPhone))]
    public async Task A_database_that_is_cut_off_again_and_again_costs_no_link_its_journal(string path, int seed)
    {
        var ready = await BeginAsync(path);
        var before = (await WrittenAsync(ready)).Count;
        var random = new Random(Sampled.Seed + seed * 23 + path[0]);
        foreach (var moment in Enumerable.Range(0, Cuts).Select(_ => random.Next(2, ReadyPhone.EntriesOf(path))).Order())
        {
            await UntilEntriesAsync(moment);
            bench.Wire.Cut();
            await Until.TrueAsync(async () => !await bench.Web.IsHealthyAsync(), "the web program misses its database");
            bench.Wire.Mend();
        }

        await Until.TrueAsync(async () => (await RunAsync()).Status is not (RunStatus.Queued or RunStatus.Writing), "the write has ended");
        var state = await StateAsync();
        Assert.True(state.Status is RunStatus.Finished or RunStatus.Waiting, state.WhatHappened);
        Assert.Equal((await WrittenAsync(ready)).Skip(before), await ToldAsync());
        await CopiesAreWholeAsync(ready, state);
    }

    /// <summary>What the journal says was copied lies at the other end.</summary>
    private async Task CopiesAreWholeAsync(ReadyPhone ready, RunState state)
    {
        foreach (var copy in state.Copied.Where(copy => copy.FromPhone))
        {
            var kept = await File.ReadAllBytesAsync(Path.Combine(bench.Kept, $"{runId}", copy.Sha256));
            Assert.Equal(copy.Sha256, Convert.ToHexStringLower(SHA256.HashData(kept)));
        }

        var there = await phones.FilesAsync(ready.Name, "card");
        Assert.All(state.Copied.Where(copy => !copy.FromPhone && ready.Plan.Steps[copy.Step - 1].Act is CopyToCard), copy =>
            Assert.Equal(copy.Sha256, there[copy.Name])
        );
    }

    private static int RateOf(string path) =>
        path switch
        {
            "L" => 2_000_000,
            "N" => 500_000,
            _ => 15_000_000,
        };

    /// <summary>A job with a run that waits for the writer, of a phone that lies ready.</summary>
    private async Task<ReadyPhone> BeginAsync(string path)
    {
        var name = ReadyPhone.NameOf(path);
        await phones.FaultAsync(name, new { });
        if (path == "L")
        {
            await phones.DoAsync(name, "renew");
            await phones.DoAsync(name, "needle");
            await Until.TrueAsync(async () => await phones.ModeAsync(name) == "emergency", "the chip answers alone");
        }

        var ready = await ReadyPhone.MakeAsync(phones, path, anew: path != "L");
        // Slow enough for a moment to lie within the write.
        await phones.FaultAsync(name, new { bytesPerSecond = RateOf(path) });
        await using var db = database.CreateDbContext();
        var jobs = new JobStore(db, TimeProvider.System);
        ticket = $"7{await db.Jobs.CountAsync():000}";
        var job = new JobRow
        {
            Ticket = ticket,
            Description = "bench",
            Complaint = "bench",
            TakenInAt = DateTimeOffset.UtcNow,
        };
        await jobs.TakeInAsync(job, "bench");
        var run = new RunRow
        {
            JobId = job.Id,
            PackageId = ready.Files is [var used] ? used.Package.Id : null,
            Plan = ready.Plan,
            Report = ready.Files is [var file] ? Matcher.Match(ready.Phone, file.Package, Repo.Catalogue) : null,
            Address = phones[name].ToString(),
            Status = RunStatus.Queued,
            BegunAt = DateTimeOffset.UtcNow,
            QueuedAt = DateTimeOffset.UtcNow,
            BegunBy = "bench",
        };
        Assert.Null(await jobs.BeginAsync(run));
        runId = run.Id;
        return ready;
    }

    private async Task<RunRow> RunAsync()
    {
        await using var db = database.CreateDbContext();
        return await db.Runs.AsNoTracking().SingleAsync(run => run.Id == runId);
    }

    private Task<IReadOnlyList<JournalEntry>> EntriesAsync() => new RunJournal(database, TimeProvider.System).ReadAsync(runId);

    private async Task<RunState> StateAsync() => RunState.Of((await RunAsync()).Plan, await EntriesAsync());

    private async Task<List<string>> ToldAsync() =>
        [.. (await EntriesAsync()).Select(entry => entry.Event).OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}")];

    private async Task<List<string>> WrittenAsync(ReadyPhone ready) =>
        [.. (await phones.AcceptedAsync(ready.Name)).Where(line => line.StartsWith("write", StringComparison.Ordinal))];

    /// <summary>The journal is so long, or the run has ended before it got there.</summary>
    private Task UntilEntriesAsync(int count) =>
        Until.TrueAsync(
            async () => (await EntriesAsync()).Count >= count || (await RunAsync()).Status is not (RunStatus.Queued or RunStatus.Writing),
            $"the journal has {count} entries"
        );
}

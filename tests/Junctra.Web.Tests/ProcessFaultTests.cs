using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The web program as a process of its own, with a wire to its database that can be cut, and the simulated phones.</summary>
public sealed class ProcessBench : IAsyncLifetime
{
    internal StandInProcess Phones { get; private set; } = null!;

    internal TestDatabase Database { get; private set; } = null!;

    internal TcpProxy Wire { get; private set; } = null!;

    internal WebProcess Web { get; private set; } = null!;

    internal string Package { get; private set; } = "";

    public async ValueTask InitializeAsync()
    {
        Phones = await StandInProcess.StartAsync();
        Database = await TestDatabase.CreateAsync();
        (Wire, var connection) = Database.BehindWire();
        Web = new WebProcess(connection, await DemoLibrary.FolderAsync(), Phones);
        await Web.StartAsync();
        await using var db = Database.CreateDbContext();
        Package = (await db.Packages.SingleAsync(p => p.FileName == "cairn-stock-26w10.tar")).Id;
    }

    public async ValueTask DisposeAsync()
    {
        await Web.DisposeAsync();
        await Wire.DisposeAsync();
        await Phones.DisposeAsync();
        await Database.DisposeAsync();
    }
}

/// <summary>
/// The web program killed, its database cut off and the program stopped in the middle of a write, all as processes: afterwards the
/// journal says what the phone accepted, the job says what state it is in, and nothing is written again by itself.
/// </summary>
public sealed class ProcessFaultTests(ProcessBench bench) : IClassFixture<ProcessBench>
{
    private const string Job = "/jobs/0421";
    private readonly StandInProcess phones = bench.Phones;
    private readonly TestDatabase database = bench.Database;
    private readonly TcpProxy wire = bench.Wire;
    private readonly WebProcess web = bench.Web;

    private async Task BeginAsync()
    {
        await Until.TrueAsync(
            async () => await phones.ModeAsync("A") is "fastboot" or "setup-wizard" or "system" or "boot-loop",
            "the phone has come to rest"
        );
        if (await phones.ModeAsync("A") != "fastboot")
            await phones.DoAsync("A", "hold-menu-keys");
        await web.PostAsync(Job + "/find-out", "Read", ("port", "A"));
        await web.PostAsync(Job + "/match", null, ("package", bench.Package));
        var (status, text) = await web.PostAsync(
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

    private async Task<RunRow> RunAsync()
    {
        await using var db = database.CreateDbContext();
        return await db.Runs.AsNoTracking().OrderByDescending(run => run.Id).FirstAsync();
    }

    private async Task<RunState> StateAsync()
    {
        var run = await RunAsync();
        return RunState.Of(run.Plan, await new RunJournal(database, TimeProvider.System).ReadAsync(run.Id));
    }

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

    private Task UntilAsync(Func<RunStatus, bool> condition, string what) =>
        Until.TrueAsync(async () => condition((await RunAsync()).Status), what);

    private Task UntilAcceptedAsync(int count) =>
        Until.TrueAsync(async () => (await phones.AcceptedAsync("A")).Count >= count, $"the phone has accepted {count} pieces");

    [Fact]
    public async Task Killed_at_any_moment_it_says_afterwards_what_the_phone_holds_and_writes_nothing_by_itself()
    {
        var random = new Random(Sampled.Seed + 11);
        for (var round = 0; round < Sampled.Of(20, 1); round++)
        {
            Sampled.Tried();
            await phones.FaultAsync("A", new { bytesPerSecond = 20_000_000 });
            var before = (await phones.AcceptedAsync("A")).Count;
            await BeginAsync();
            await UntilAsync(status => status == RunStatus.Writing, "the writer has taken the run");
            await UntilAcceptedAsync(before + random.Next(0, 9));
            await web.KillAsync();
            await web.StartAsync();
            await UntilAsync(status => status == RunStatus.Failed, "the run that was left is ended");

            var (told, accepted, state) = (
                await JournalledAsync(),
                (await phones.AcceptedAsync("A")).Skip(before).ToList(),
                await StateAsync()
            );
            Assert.Equal(told, accepted.Take(told.Count));
            Assert.InRange(accepted.Count - told.Count, 0, 1);
            if (accepted.Count > told.Count)
                Assert.EndsWith(" " + state.Step!.Partition()!, accepted[^1]);
            var page = await web.GetAsync(Job + "/write");
            Assert.Contains("The program that was writing stopped in the middle.", page);
            Assert.Contains(state.PhoneNow, page);
            Assert.Contains(state.Next!, page);
            Assert.Equal(before + accepted.Count, (await phones.AcceptedAsync("A")).Count);
            await using var db = database.CreateDbContext();
            Assert.DoesNotContain(await db.Runs.ToListAsync(), run => run.Status.IsOpen());
        }

        // A person begins again, and the phone is whole.
        await phones.FaultAsync("A", new { });
        await BeginAsync();
        await UntilAsync(status => status == RunStatus.Finished, "the write has finished");
        await Until.TrueAsync(async () => await phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
    }

    [Fact]
    public async Task A_database_that_restarts_in_the_middle_costs_the_journal_nothing()
    {
        await phones.FaultAsync("A", new { bytesPerSecond = 12_000_000 });
        var before = (await phones.AcceptedAsync("A")).Count;
        await BeginAsync();
        foreach (var count in new[] { 2, 4 })
        {
            await UntilAcceptedAsync(before + count);
            wire.Cut();
            await Until.TrueAsync(async () => !await web.IsHealthyAsync(), "the web program misses its database");
            var (status, text) = await web.TryAsync(Job + "/write");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, status);
            Assert.Contains("A write that is going on waits for it", text);
            wire.Mend();
        }

        await UntilAsync(status => !status.IsOpen(), "the write has ended");
        Assert.Equal(RunStatus.Finished, (await RunAsync()).Status);
        Assert.Equal((await phones.AcceptedAsync("A")).Skip(before), await JournalledAsync());
    }

    [Fact]
    public async Task A_program_that_is_stopped_finishes_its_boot_chain_first()
    {
        await phones.FaultAsync("A", new { bytesPerSecond = 400_000 });
        var before = (await phones.AcceptedAsync("A")).Count;
        await BeginAsync();
        await Until.TrueAsync(
            async () => (await StateAsync()) is var state && state.Plan.RiskOf(state.Step).IsNoReturn,
            "the boot chain is being written"
        );
        // Somebody watches meanwhile, which must not hold up the end.
        await using var watched = await web.WatchAsync((await RunAsync()).Id);
        await web.StopAsync();
        var state = await StateAsync();
        Assert.Equal((RunStatus.Stopped, "bootloader"), (state.Status, Assert.Single(state.Accepted.Keys)));
        Assert.Contains("the end of this program asked for it", state.WhatHappened);
        Assert.Equal((await phones.AcceptedAsync("A")).Skip(before), await JournalledAsync());
        await web.StartAsync();
        Assert.Contains("The write was stopped", await web.GetAsync(Job + "/write"));
    }

    [Fact]
    public async Task A_lock_that_a_killed_program_left_does_not_keep_the_next_one_from_starting()
    {
        await web.KillAsync();
        await using var db = database.CreateDbContext();
        await db.Database.ExecuteSqlRawAsync(
            "insert into hangfire.lock (resource, updatecount, acquired) select 'hangfire:lock:' || name, 1, now() at time zone 'utc' from unnest(array['recurring-job:arrivals-left', 'recurring-jobs:lock', 'locks:schedulepoller']) name on conflict do nothing"
        );
        await web.StartAsync();
        Assert.True(await web.IsHealthyAsync());
    }
}

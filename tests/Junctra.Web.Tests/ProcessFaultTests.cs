using System.Net;
using Junctra.Core.Runs;
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

    public async ValueTask InitializeAsync()
    {
        Phones = await StandInProcess.StartAsync();
        Database = await TestDatabase.CreateAsync();
        (Wire, var connection) = Database.BehindWire();
        Web = new WebProcess(connection, await DemoLibrary.FolderAsync(), Phones);
        await Web.StartAsync();
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
[Trait("Turn", "1")]
public sealed class ProcessFaultTests(ProcessBench bench) : IClassFixture<ProcessBench>
{
    private readonly StandInProcess phones = bench.Phones;
    private readonly TestDatabase database = bench.Database;
    private readonly TcpProxy wire = bench.Wire;
    private readonly WebProcess web = bench.Web;
    private readonly DemoWrite write = new(bench.Database, bench.Phones);

    [Fact]
    public async Task Killed_at_any_moment_it_says_afterwards_what_the_phone_holds_and_writes_nothing_by_itself()
    {
        var random = new Random(Sampled.Seed + 11);
        for (var round = 0; round < Sampled.Of(20, 1); round++)
        {
            Sampled.Tried();
            await write.BeginAsync(web, 20_000_000);
            await write.UntilAsync(run => run.Status == RunStatus.Writing, "the writer has taken the run");
            await write.UntilAcceptedAsync(random.Next(0, 9));
            await web.KillAsync();
            await web.StartAsync();
            await write.UntilAsync(run => run.Status == RunStatus.Failed, "the run that was left is ended");

            var state = await write.StateAsync();
            var (told, accepted) = await write.CheckAsync();
            if (accepted.Count > told.Count)
                Assert.EndsWith(" " + state.Step!.Partition()!, accepted[^1]);
            var page = await web.GetAsync(DemoWrite.Job + "/write");
            Assert.Contains("The program that was writing stopped in the middle.", page);
            Assert.Contains(state.PhoneNow, page);
            Assert.Contains(state.Next!, page);
            Assert.Equal(accepted.Count, (await write.AcceptedAsync()).Count);
            await using var db = database.CreateDbContext();
            Assert.DoesNotContain(await db.Runs.ToListAsync(), run => run.Status.IsOpen());
        }

        // A person begins again, and the phone is whole.
        await write.BeginAsync(web, 0);
        await write.UntilAsync(run => run.Status == RunStatus.Finished, "the write has finished");
        await Until.TrueAsync(async () => await phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
    }

    [Fact]
    public async Task A_database_that_restarts_in_the_middle_costs_the_journal_nothing()
    {
        await write.BeginAsync(web, 12_000_000);
        foreach (var count in new[] { 2, 4 })
        {
            await write.UntilAcceptedAsync(count);
            wire.Cut();
            await Until.TrueAsync(async () => !await web.IsHealthyAsync(), "the web program misses its database");
            var (status, text) = await web.TryAsync(DemoWrite.Job + "/write");
            Assert.Equal(HttpStatusCode.ServiceUnavailable, status);
            Assert.Contains("A write that is going on waits for it", text);
            wire.Mend();
        }

        await write.UntilAsync(run => !run.Status.IsOpen(), "the write has ended");
        Assert.Equal(RunStatus.Finished, (await write.RunAsync()).Status);
        Assert.Equal(await write.AcceptedAsync(), await write.JournalledAsync());
    }

    [Fact]
    public async Task A_program_that_is_stopped_finishes_its_boot_chain_first()
    {
        await write.BeginAsync(web, 400_000);
        await Until.TrueAsync(
            async () => (await write.StateAsync()) is var state && state.Plan.RiskOf(state.Step).IsNoReturn,
            "the boot chain is being written"
        );
        // Somebody watches meanwhile, which must not hold up the end.
        await using var watched = await web.WatchAsync((await write.RunAsync()).Id);
        await web.StopAsync();
        var state = await write.StateAsync();
        Assert.Equal((RunStatus.Stopped, "bootloader"), (state.Status, Assert.Single(state.Accepted.Keys)));
        Assert.Contains("the end of this program asked for it", state.WhatHappened);
        Assert.Equal(await write.AcceptedAsync(), await write.JournalledAsync());
        await web.StartAsync();
        Assert.Contains("The write was stopped", await web.GetAsync(DemoWrite.Job + "/write"));
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

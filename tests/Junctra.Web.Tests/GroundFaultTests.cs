using System.Diagnostics;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>
/// What a write stands on gives way under it: the database server ends as in a power cut, holds still as on a disk that answers nothing,
/// runs out of disk, and the computer's clock jumps. Nothing of it ends the write, and nothing of it costs the journal a word.
/// </summary>
[Trait("Turn", "10")]
public sealed class GroundFaultTests : IAsyncLifetime
{
    /// <summary>Longer than a lease of these tests, after which a run could be taken for left.</summary>
    private static readonly TimeSpan LongerThanALease = TimeSpan.FromSeconds(8);

    private readonly string clock = Path.GetTempFileName();
    private PrivateServer server = null!;
    private StandInProcess phones = null!;
    private TestDatabase database = null!;
    private WebProcess web = null!;

    public async ValueTask InitializeAsync()
    {
        await File.WriteAllTextAsync(clock, "+0");
        phones = await StandInProcess.StartAsync();
        server = await PrivateServer.StartAsync();
        database = await TestDatabase.OnAsync(server);
        web = new WebProcess(database.Connection + ";Timeout=3", await DemoLibrary.FolderAsync(), phones, clock: clock);
        await web.StartAsync();
    }

    public async ValueTask DisposeAsync()
    {
        await web.DisposeAsync();
        await phones.DisposeAsync();
        // The database goes with its server.
        await server.DisposeAsync();
        File.Delete(clock);
    }

    private async Task CrashAsync()
    {
        await server.CrashAsync();
        await Until.TrueAsync(async () => !await web.IsHealthyAsync(), "the web program misses its database");
        await server.StartAgainAsync();
    }

    private async Task HoldStillAsync()
    {
        await server.HoldAsync();
        // The time is what is tried here.
        var held = Stopwatch.StartNew();
        await Until.TrueAsync(() => Task.FromResult(held.Elapsed > LongerThanALease), "a lease would be over");
        await server.LetGoAsync();
    }

    private async Task FillDiskAsync()
    {
        if (!await server.FillDiskAsync())
            return;
        var full = Stopwatch.StartNew();
        await Until.TrueAsync(() => Task.FromResult(full.Elapsed > LongerThanALease), "a lease would be over");
        await server.FreeDiskAsync();
    }

    private async Task JumpAsync(string by)
    {
        await File.WriteAllTextAsync(clock, by);
        await Until.TrueAsync(async () => await web.IsHealthyAsync(), "it serves all the same");
    }

    [Fact]
    public async Task Whatever_it_stands_on_gives_way_a_write_goes_on_and_its_journal_is_exact()
    {
        var write = new DemoWrite(database, phones);
        var random = new Random(Sampled.Seed + 31);
        for (var round = 0; round < Sampled.Of(20, 1); round++)
        {
            Func<Task>[] faults = [CrashAsync, HoldStillAsync, FillDiskAsync, () => JumpAsync("+2h"), () => JumpAsync("-3d")];
            random.Shuffle(faults);
            await write.BeginAsync(web, 12_000_000);
            // One that no writer took within a lease is ended, which is meant so.
            await write.UntilAsync(run => run.Status != RunStatus.Queued, "the writer has taken it");
            // Each at a moment of its own; what the phone takes meanwhile moves the next on.
            foreach (var fault in faults)
            {
                Sampled.Tried();
                await write.UntilAcceptedAsync((await write.AcceptedAsync()).Count + random.Next(0, 2));
                await fault();
                await Until.TrueAsync(async () => await web.IsHealthyAsync(), "the database is back");
            }

            await write.UntilAsync(run => !run.Status.IsOpen(), "the write has ended");
            var state = await write.StateAsync();
            Assert.True(state.Status == RunStatus.Finished, $"round {round}: {state.Status}, {state.WhatHappened}");
            Assert.Equal(await write.AcceptedAsync(), await write.JournalledAsync());
            await File.WriteAllTextAsync(clock, "+0");
        }

        await Until.TrueAsync(async () => await phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
    }
}

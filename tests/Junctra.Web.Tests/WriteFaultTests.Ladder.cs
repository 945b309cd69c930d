using System.Net;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

// A phone that does not come up after its write.
public sealed partial class WriteFaultTests
{
    [Fact]
    public async Task A_phone_that_loops_after_a_write_that_kept_its_data_is_wiped_by_the_act_that_was_agreed_on()
    {
        await Until.TrueAsync(
            async () => await world.Phones.ModeAsync("B") is "fastboot" or "boot-loop" or "setup-wizard" or "system",
            "the phone has come to rest"
        );
        if (await world.Phones.ModeAsync("B") != "fastboot")
            await world.Phones.DoAsync("B", "hold-menu-keys");
        await PlanAsync("0607", "B", "cairn-stock-26w10.tar");
        await PostAsync("/jobs/0607/plan", "Path", ("erase", "false"));
        Assert.Contains("If it loops afterwards, as agreed", await GetAsync("/jobs/0607/plan"));
        Assert.Contains("does not loop", (await PostAsync("/jobs/0607/check", "Climb")).Text);
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0607")).Status);
        await UntilAsync("0607", state => state.Status == RunStatus.Finished, "the write has finished");

        // As long as nobody saw it loop there is nothing to begin.
        Assert.DoesNotContain("Force a restart", await GetAsync("/jobs/0607/check"));
        Assert.Contains(
            "type both",
            (await PostAsync("/jobs/0607/check", "Shows", ("mode", "starting"), ("apps", "9"), ("ofApps", "4"))).Text
        );
        await PostAsync("/jobs/0607/check", "Shows", ("mode", "starting"), ("apps", "9"), ("ofApps", "140"));
        Assert.Contains("It prepares its apps: 9 of 140", await GetAsync("/jobs/0607/write"));
        await PostAsync("/jobs/0607/check", "Shows", ("mode", "boot-loop"));

        // What costs nothing comes first, and asks for nothing.
        Assert.Equal("/jobs/0607/write", await LocationAsync("/jobs/0607/check", "Climb", ("rung", "restart")));
        await LetHandsAsync("0607");
        Assert.DoesNotContain("It does not come up", await GetAsync("/jobs/0607/check"));
        await PostAsync("/jobs/0607/check", "Shows", ("mode", "boot-loop"));

        // Nobody is kept from leaving one out: the cache is next, and the wipe that was agreed on may be had at once.
        const string Wipe = "/jobs/0607/check?rung=wipe-data";
        Assert.Contains("Wipe the data in recovery, as agreed", await GetAsync(Wipe));
        // Its charge was read before the write, and the phone was never asked since.
        var (status, text) = await PostAsync(Wipe, "Climb", ("rung", "wipe-data"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("Still closed: Battery", text);
        Assert.Contains(
            "was changed meanwhile",
            (await PostAsync(Wipe, "Climb", ("rung", "wipe-data"), ("planFor", new string('0', 32)), ("gate.battery", "charged"))).Text
        );
        Assert.Equal("/jobs/0607/write", await LocationAsync(Wipe, "Climb", ("rung", "wipe-data"), ("gate.battery", "charged")));
        await LetHandsAsync("0607");
        Assert.Equal(RunStatus.Finished, (await StateAsync("0607"))!.Status);
        var check = await GetAsync("/jobs/0607/check");
        Assert.Contains("wiped, so it starts with its set-up", check);
        // What the write before was to bring is still to be read.
        Assert.Contains("HX204/15.26w10-7.r3", check);
        await PostAsync("/jobs/0607/check", "Shows", ("mode", "setup-wizard"));
        await Until.TrueAsync(
            async () => await world.Phones.ModeAsync("B") is "boot-loop" or "setup-wizard" or "system",
            "the phone has started"
        );
        await world.Phones.DoAsync("B", "hold-menu-keys");
        await PostAsync("/jobs/0607/check", "Read");
        Assert.Contains("As intended, what was read", await GetAsync("/jobs/0607/check"));
        var sheet = await GetAsync("/jobs/0607/hand-back");
        Assert.Contains("Factory set, data kept.", sheet);
        Assert.Contains("Force a restart, after a loop.", sheet);
        Assert.Contains("Agreed wipe after a loop.", sheet);
        Assert.Contains("Photos, apps, messages: lost", sheet);
        await using var db = world.Database.CreateDbContext();
        // Each rung stands in the journal of the run after which it was gone up, with what it takes and costs.
        var taken = (
            await db
                .RunEvents.Where(line => db.Runs.Any(run => run.Id == line.RunId && run.Job!.Ticket == "0607"))
                .OrderBy(line => line.RunId)
                .ThenBy(line => line.Seq)
                .ToListAsync()
        )
            .Select(line => line.Event)
            .OfType<RungTaken>()
            .ToList();
        Assert.Equal([Rung.Restart, Rung.WipeData], taken.Select(rung => rung.Rung));
        Assert.All(taken, rung => Assert.True(rung.Minutes.Typical > 0 && rung.Costs.Length > 0));
        Assert.Contains(await db.Audit.ToListAsync(), line =>
            line.Act.StartsWith("Began: Agreed wipe after a loop. All gates held; it follows a write", StringComparison.Ordinal)
        );
    }

    /// <summary>Hands do what a run asks for, until it ends.</summary>
    private async Task LetHandsAsync(string ticket)
    {
        for (var said = 0; said < 12; said++)
        {
            await UntilAsync(ticket, state => state.Status is RunStatus.Waiting or RunStatus.Finished, "hands are wanted");
            if (await StateAsync(ticket) is not { Status: RunStatus.Waiting } waits)
                break;
            var shows = System
                .Text.RegularExpressions.Regex.Match(
                    await GetAsync($"/jobs/{ticket}/write"),
                    "name=\"shows\" value=\"([^\"]+)\">(?:(?!</form>)[\\s\\S])*?<button class=\"[^\"]*\" name=\"done\" value=\"true\""
                )
                .Groups[1]
                .Value;
            Assert.Equal(
                HttpStatusCode.Redirect,
                (
                    await PostAsync(
                        $"/jobs/{ticket}/write",
                        "Said",
                        ("step", waits.Step!.Number.ToString()),
                        ("shows", shows),
                        ("done", "true"),
                        ("typed", "hxb 70988")
                    )
                ).Status
            );
        }
    }
}

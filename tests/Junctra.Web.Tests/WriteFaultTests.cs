using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>What goes wrong around a write while the program runs: people who stop it, two jobs at one port, files that change.</summary>
[Trait("Turn", "4")]
public sealed partial class WriteFaultTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient client = world.Client();

    private async Task<(HttpStatusCode Status, string Text)> PostAsync(string page, string? handler, params (string, string)[] fields)
    {
        var answer = await WebWorld.PostAsync(client, page, handler, fields);
        return (answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    private async Task<string> GetAsync(string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    private async Task<string> PlanAsync(string ticket, string port, string file)
    {
        await using var db = world.Database.CreateDbContext();
        var package = (await db.Packages.SingleAsync(p => p.FileName == file)).Id;
        if (!await db.Jobs.AnyAsync(job => job.Ticket == ticket))
        {
            await PostAsync(
                "/jobs/new",
                null,
                ("Form.Ticket", ticket),
                ("Form.Description", "test"),
                ("Form.Complaint", "test"),
                ("Form.DataWish", "MayGo"),
                ("Form.OwnershipStated", "true")
            );
        }

        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync($"/jobs/{ticket}/find-out", "Read", ("port", port))).Status);
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync($"/jobs/{ticket}/match", null, ("package", package))).Status);
        return package;
    }

    private Task<(HttpStatusCode Status, string Text)> BeginAsync(string ticket, params (string, string)[] more) =>
        PostAsync($"/jobs/{ticket}/plan?gates=1", "Begin", [.. WebWorld.GatesAnswered, ("typed", ticket), .. more]);

    private async Task<RunState?> StateAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        var run = await db.Runs.AsNoTracking().Where(r => r.Job.Ticket == ticket).OrderByDescending(r => r.Id).FirstOrDefaultAsync();
        return run is null
            ? null
            : RunState.Of(run.Plan, await new Store.RunJournal(world.Database, TimeProvider.System).ReadAsync(run.Id));
    }

    private Task UntilAsync(string ticket, Func<RunState, bool> condition, string what) =>
        Until.TrueAsync(async () => await StateAsync(ticket) is { } state && condition(state), what);

    [Fact]
    public async Task A_write_is_stopped_after_its_image_but_never_within_the_boot_chain()
    {
        await world.Phones.DoAsync("B", "hold-menu-keys");
        await PlanAsync("0601", "B", "cairn-stock-26w10.tar");
        Assert.Contains("No write is going on", (await PostAsync("/jobs/0601/write", "Stop")).Text);
        // So slow that whatever is asked for meanwhile is asked for in time, on the busiest computer.
        Task PaceAsync(int bytesPerSecond) => world.Phones.FaultAsync("B", new { bytesPerSecond });
        await PaceAsync(100_000);
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0601")).Status);
        await UntilAsync("0601", state => state.Plan.RiskOf(state.Step).IsNoReturn, "the boot chain is being written");
        Assert.Contains("It must be finished", (await PostAsync("/jobs/0601/write", "Stop")).Text);
        // Wherever somebody looks meanwhile, the phone may not be unplugged.
        var route = await GetAsync("/jobs/0601/route");
        Assert.Contains("A write has begun. Touch neither cable nor keys until it has ended.", route);
        Assert.DoesNotContain("Nothing is being written", route);
        await PaceAsync(500_000);
        await UntilAsync("0601", state => state.Step?.Partition() == "radio", "the radio is being written");
        await PaceAsync(100_000);
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/jobs/0601/write", "Stop")).Status);
        Assert.Contains("The write stops after this image: lead asked for it.", await GetAsync("/jobs/0601/write"));
        await PaceAsync(3_000_000);
        await UntilAsync("0601", state => state.Status == RunStatus.Stopped, "the write has stopped");
        var page = await GetAsync("/jobs/0601/write");
        Assert.Contains("Accepted whole: bootloader, radio", page);
        Assert.DoesNotContain("half written", page);
        Assert.Contains("Read it again, and write again from the start", page);

        // A phone that is written in part does not go back over the counter.
        Assert.Contains("not in order", (await PostAsync("/jobs/0601/hand-back", null)).Text);
        await world.Phones.FaultAsync("B", new { });
        await PlanAsync("0601", "B", "cairn-stock-26w10.tar");
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0601")).Status);
        await UntilAsync("0601", state => state.Status == RunStatus.Finished, "the phone is written again from the start");
        await using var db = world.Database.CreateDbContext();
        Assert.Contains(await db.Audit.ToListAsync(), line => line.Act == "Asked to stop after the image at hand.");
    }

    [Fact]
    public async Task Of_two_jobs_at_one_port_the_second_is_told()
    {
        await PlanAsync("0602", "C", "cairn-small-26w10.tar");
        await PlanAsync("0603", "C", "cairn-small-26w10.tar");
        await world.Phones.FaultAsync("C", new { bytesPerSecond = 3_000_000 });
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0602")).Status);
        Assert.Contains("A write is going on at port C", (await BeginAsync("0603")).Text);
        Assert.Contains("A write is going on", (await BeginAsync("0602")).Text);
        await world.Phones.FaultAsync("C", new { });
        await UntilAsync("0602", state => !state.Status.IsOpen(), "the write has ended");
    }

    [Fact]
    public async Task A_package_file_that_changed_after_its_check_is_refused_and_the_phone_goes_back_as_it_came()
    {
        var folder = Directory.CreateTempSubdirectory("junctra-own-library-").FullName;
        var copy = Path.Combine(folder, "cairn-stock-26w10.tar");
        File.Copy(await DemoLibrary.PathAsync("cairn-stock-26w10.tar"), copy);
        var package = await PlanAsync("0604", "A", "cairn-stock-26w10.tar");
        await using (var db = world.Database.CreateDbContext())
            await db.Packages.Where(p => p.Id == package).ExecuteUpdateAsync(set => set.SetProperty(p => p.Path, copy));
        await using (var file = new FileStream(copy, FileMode.Open, FileAccess.ReadWrite))
        {
            file.Position = 5_000_000;
            file.WriteByte(0x7F);
            file.WriteByte(0x80);
        }

        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0604")).Status);
        await UntilAsync("0604", state => state.Status == RunStatus.Failed, "the write was refused");
        var page = await GetAsync("/jobs/0604/write");
        Assert.Contains("The package file is not the one that was checked", page);
        Assert.Contains("Nothing was written: the phone is as it came.", page);
        Assert.Contains("the phone goes back as it came", await GetAsync("/jobs/0604/hand-back"));
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/jobs/0604/hand-back", null)).Status);

        File.Delete(copy);
        await using (var db = world.Database.CreateDbContext())
            await db
                .Packages.Where(p => p.Id == package)
                .ExecuteUpdateAsync(set => set.SetProperty(p => p.Path, Path.Combine(folder, "gone.tar")));
        await PlanAsync("0605", "A", "cairn-stock-26w10.tar");
        Assert.Contains("Still closed: Package here, whole, verified", (await BeginAsync("0605")).Text);
        await using (var db = world.Database.CreateDbContext())
        {
            var there = await DemoLibrary.PathAsync("cairn-stock-26w10.tar");
            await db.Packages.Where(p => p.Id == package).ExecuteUpdateAsync(set => set.SetProperty(p => p.Path, there));
        }

        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task An_older_build_is_not_written_over_data_that_are_wanted()
    {
        // The phone at port B has the maker's 26w10 build, half written or whole; 26w06 goes back.
        await Until.TrueAsync(
            async () => await world.Phones.ModeAsync("B") is "fastboot" or "boot-loop" or "setup-wizard",
            "the phone has come to rest"
        );
        if (await world.Phones.ModeAsync("B") != "fastboot")
            await world.Phones.DoAsync("B", "hold-menu-keys");
        await PostAsync(
            "/jobs/new",
            null,
            ("Form.Ticket", "0606"),
            ("Form.Description", "test"),
            ("Form.Complaint", "test"),
            ("Form.DataWish", "Keep"),
            ("Form.OwnershipStated", "true")
        );
        await PlanAsync("0606", "B", "cairn-26w06-set.zip");
        var page = await GetAsync("/jobs/0606/plan");
        Assert.Contains("This package erases the data", page);
        Assert.Contains("cannot start on data of a newer system", page);
        Assert.DoesNotContain("Type the ticket number", await GetAsync("/jobs/0606/plan?gates=1"));
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/jobs/0606/plan", "Path", ("erase", "true"))).Status);
        Assert.Contains("Factory set, data erased", await GetAsync("/jobs/0606/plan"));
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync("/jobs/0606/plan?gates=1", "Path", ("erase", "false"))).Status);
        Assert.Contains("This package erases the data", await GetAsync("/jobs/0606/plan"));
    }

    private async Task<string?> LocationAsync(string page, string handler, params (string, string)[] fields) =>
        (await WebWorld.PostAsync(client, page, handler, fields)).Headers.Location?.ToString();
}

using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The whole line over HTTP, with a phone and a writer that are as real as they get here.</summary>
public sealed class WholeLineTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient client = world.Client();

    private Task<HttpResponseMessage> PostAsync(string page, string? handler, params (string, string)[] fields) =>
        WebWorld.PostAsync(client, page, handler, fields);

    private static async Task<string> TextAsync(HttpResponseMessage answer) =>
        WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());

    private async Task<string> GetAsync(string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    private async Task<string> PackageIdAsync(string file)
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.Packages.SingleAsync(p => p.FileName == file)).Id;
    }

    private async Task<RunStatus?> StatusAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.Runs.Where(r => r.Job.Ticket == ticket).OrderByDescending(r => r.Id).FirstOrDefaultAsync())?.Status;
    }

    private Task<HttpResponseMessage> BeginAsync(string ticket) =>
        PostAsync($"/jobs/{ticket}/plan?gates=1", "Begin", [.. WebWorld.GatesAnswered, ("typed", ticket)]);

    [Fact]
    public async Task From_the_demo_job_to_the_logbook()
    {
        const string job = "/jobs/0421";
        var package = await PackageIdAsync("cairn-stock-26w10.tar");
        await PostAsync(job + "/find-out", "Read", ("port", "A"));
        Assert.Equal("/jobs/0421/route", (await PostAsync(job + "/match", null, ("package", package))).Headers.Location?.ToString());
        Assert.Contains("Factory set, data erased", await GetAsync(job + "/plan"));

        // A slow phone, so that there is time to try what must not be possible during a write.
        await world.Phones.FaultAsync("A", new { bytesPerSecond = 6_000_000 });
        Assert.Equal("/jobs/0421/write", (await BeginAsync("0421")).Headers.Location?.ToString());
        Assert.Contains(
            "A write is going on",
            await TextAsync(
                await PostAsync(job + "/intake", null, ("Form.Ticket", "0421"), ("Form.Description", "x"), ("Form.Complaint", "y"))
            )
        );
        Assert.Contains("A write is going on", await TextAsync(await PostAsync("/ports", null, ("name", "A"), ("address", "127.0.0.1:1"))));
        Assert.Contains("A write is going on at port A", await TextAsync(await PostAsync("/jobs/0424/find-out", "Read", ("port", "A"))));
        Assert.Contains("Hands off.", await GetAsync(job + "/write"));
        await Until.TrueAsync(async () => await StatusAsync("0421") == RunStatus.Finished, "the write has finished");

        await using (var db = world.Database.CreateDbContext())
        {
            var facts = await db.Facts.Where(f => db.Jobs.Any(j => j.Id == f.JobId && j.Ticket == "0421")).ToListAsync();
            Assert.DoesNotContain(facts, f => f.Counts && f.Name == FactName.RollbackFloor.Value);
            Assert.Contains(facts, f => f.Counts && f.Name == FactName.Serial.Value);
        }

        Assert.Contains("Not yet", await TextAsync(await PostAsync(job + "/hand-back", null)));
        await Until.TrueAsync(async () => await world.Phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
        await PostAsync(job + "/check", "Shows", ("mode", "setup-wizard"));
        Assert.Contains("Bring the phone into fastboot mode first", await TextAsync(await PostAsync(job + "/check", "Read")));
        await world.Phones.DoAsync("A", "hold-menu-keys");
        await PostAsync(job + "/check", "Read");
        Assert.Contains("As intended, what was read", await GetAsync(job + "/check"));
        await PostAsync(job + "/check", "Note", ("name", "root"), ("value", "present"));
        Assert.DoesNotContain("As intended, what was read", await GetAsync(job + "/check"));
        // The other value does not silently replace it: who read wrong says so.
        await PostAsync(job + "/check", "Note", ("name", "root"), ("value", "none"));
        var twice = await GetAsync(job + "/check");
        Assert.DoesNotContain("As intended, what was read", twice);
        var wrong = Regex
            .Match(twice, "name=\"factId\" value=\"(\\d+)\"><button class=\"link\" aria-label=\"Withdraw [^\"]* present\"")
            .Groups[1]
            .Value;
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync(job + "/check", "Withdraw", ("factId", wrong))).StatusCode);

        // What differs says what it means and leads on; who reset the phone since has to look again.
        await PostAsync(job + "/check", "Note", ("name", "home-screen"), ("value", "own"));
        var differs = await GetAsync(job + "/check");
        Assert.Contains("What differs, and where it leads", differs);
        Assert.Contains("The data is still there, and was to be erased.", differs);
        await PostAsync(job + "/check", "Shows", ("mode", "system"));
        await PostAsync(job + "/check", "Shows", ("mode", "setup-wizard"));
        var again = await GetAsync(job + "/check");
        Assert.Contains("It was reset after it was checked", again);
        Assert.DoesNotContain("What differs", again);
        Assert.DoesNotContain("As intended, what was read", again);
        Assert.Contains("The last look, in one walk", again);
        await PostAsync(job + "/check", "Read");
        Assert.Contains("As intended, what was read", await GetAsync(job + "/check"));
        // Each value has the source of the place at which it is seen.
        await PostAsync(job + "/check", "Note", ("name", "home-screen"), ("value", "new"));
        await PostAsync(job + "/check", "Note", ("name", "network"), ("value", "no-card"));
        await using (var db = world.Database.CreateDbContext())
        {
            var noted = await db.Facts.Where(fact => fact.Name == "home-screen" && fact.Value == "new").SingleAsync();
            Assert.Equal(FactSource.Seen, noted.Source);
        }

        Assert.Contains("As intended, what was read", await GetAsync(job + "/check"));

        var sheet = await GetAsync(job + "/hand-back");
        Assert.Contains("The bootloader is handed back unlocked.", sheet);
        Assert.Contains("The customer waived a backup in writing.", sheet);
        Assert.Contains("Accepted by the phone: bootloader, radio, boot, overlay, verify, system, recovery; user data erased", sheet);
        Assert.Contains("custom-2.1", sheet);
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync(job + "/hand-back", null)).StatusCode);
        Assert.Contains("HX204/15.26w10-7.r3", await GetAsync("/logbook"));
        Assert.Contains(
            "was handed back",
            await TextAsync(await PostAsync(job + "/find-out", "Note", ("name", "root"), ("value", "none"), ("source", "Settings")))
        );

        await using var audit = world.Database.CreateDbContext();
        var acts = await audit
            .Audit.Where(a => audit.Jobs.Any(j => j.Id == a.JobId && j.Ticket == "0421"))
            .OrderBy(a => a.Id)
            .Select(a => a.Act)
            .ToListAsync();
        Assert.Contains(acts, a => a.StartsWith("Chose HX204/15.26w10-7.r3", StringComparison.Ordinal));
        Assert.Contains(acts, a => a.Contains("All accounts") || a.Contains("owner confirms"));
        Assert.Contains(acts, a => a.StartsWith("Began: ", StringComparison.Ordinal));
        Assert.Equal("Handed back.", acts[^1]);
    }

    [Fact]
    public async Task A_phone_swapped_between_plan_and_write_is_not_written()
    {
        const string job = "/jobs/0424";
        await world.Phones.DoAsync("B", "hold-menu-keys");
        var package = await PackageIdAsync("cairn-stock-26w10.tar");
        await PostAsync(job + "/find-out", "Read", ("port", "B"));
        await PostAsync(job + "/match", null, ("package", package));
        await world.Phones.FaultAsync("B", new { product = "HX204C" });
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0424")).StatusCode);
        await Until.TrueAsync(async () => await StatusAsync("0424") == RunStatus.Failed, "the write was refused");
        var page = await GetAsync(job + "/write");
        Assert.Contains("This is not the phone that was judged", page);
        Assert.Contains("Nothing was written: the phone is as it came.", page);
        Assert.Empty(await world.Phones.AcceptedAsync("B"));
        // Nothing was touched, so what was read before still counts.
        Assert.Contains("unlocked", await GetAsync(job + "/find-out"));
    }
}

using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The match in the program: what a person decides and why, what a program asks by a token, what the database narrows.</summary>
[Collection(nameof(StationsWorld))]
public sealed partial class MatchPageTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private static async Task<string> TextAsync(HttpClient client, string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    private async Task TakeInAsync(string ticket, params Fact[] facts)
    {
        await WebWorld.PostAsync(
            lead,
            "/jobs/new",
            null,
            ("Form.Ticket", ticket),
            ("Form.Description", "test"),
            ("Form.Complaint", "test")
        );
        await using var db = world.Database.CreateDbContext();
        var job = await db.Jobs.SingleAsync(row => row.Ticket == ticket);
        job.Facts.AddRange(facts.Select(FactRow.Of));
        await db.SaveChangesAsync();
    }

    [Fact]
    public async Task A_job_works_by_another_school_only_with_a_reason_and_its_history_stays()
    {
        await TakeInAsync("0801", [.. Sample.Cairn().All]);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/jobs/0801/match",
                    "School",
                    ("question", "region"),
                    ("choice", "everywhere"),
                    ("reason", "x")
                )
            ).StatusCode
        );
        var without = await WebWorld.PostAsync(
            lead,
            "/jobs/0801/match",
            "School",
            ("question", "revision"),
            ("choice", "never"),
            ("reason", " ")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, without.StatusCode);
        Assert.Contains("Say why this job works by", WebUtility.HtmlDecode(await without.Content.ReadAsStringAsync()));
        Assert.Contains("can be written <small>", await TextAsync(lead, "/jobs/0801/match"));
        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0801/match"));

        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/jobs/0801/match",
                    "School",
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", "Ferry crew: it goes to sea.")
                )
            ).StatusCode
        );
        var page = await TextAsync(lead, "/jobs/0801/match");
        Assert.Contains("Stopped by shop rule: never raise it", page);
        Assert.Contains("Ferry crew: it goes to sea.", page);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0801/match", "School", ("question", "revision"), ("choice", "stay"))).StatusCode
        );
        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0801/match"));
        await using var db = world.Database.CreateDbContext();
        Assert.Equal(
            ["never", null],
            await db
                .Schools.Where(row => row.JobId != null && row.Question == "revision")
                .OrderBy(row => row.Id)
                .Select(row => row.Choice)
                .ToListAsync()
        );
        Assert.Contains(await db.Audit.ToListAsync(), line =>
            line.Act == "For this job, bootloader revision: never raise it. Reason: Ferry crew: it goes to sea."
        );
    }

    [Fact]
    public async Task The_lead_alone_changes_the_shops_rules_and_every_job_follows()
    {
        await TakeInAsync("0802", [.. Sample.Cairn().All]);
        using var bench = await world.ClientAsync("bench");
        Assert.Contains("The lead changes these.", await TextAsync(bench, "/shop-rules"));
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (
                await WebWorld.PostAsync(bench, "/shop-rules", null, ("question", "revision"), ("choice", "never"), ("reason", "x"))
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/shop-rules", null, ("question", "revision"), ("choice", "never"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/shop-rules",
                    null,
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", new string('x', 401))
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/shop-rules",
                    null,
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", "Two dead phones in a month.")
                )
            ).StatusCode
        );
        try
        {
            Assert.Contains("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0802/match"));
            Assert.Contains("Two dead phones in a month.", await TextAsync(bench, "/shop-rules"));
        }
        finally
        {
            await WebWorld.PostAsync(lead, "/shop-rules", null, ("question", "revision"), ("choice", "stay"), ("reason", "As before."));
        }

        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0802/match"));
    }

    [Fact]
    public async Task What_is_wanted_is_set_judged_by_and_written_down()
    {
        await TakeInAsync("0803", [.. Sample.Cairn().All]);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "stock"), ("wish", "exactly"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "update"), ("wish", "newest"))).StatusCode
        );
        Assert.Contains("is newer. Stopped by wish.", await TextAsync(lead, "/jobs/0803/match"));
        await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "stock"), ("wish", "not-above"), ("version", "14"));
        Assert.Contains("Nothing above OS version 14 was asked for", await TextAsync(lead, "/jobs/0803/match"));
        await using var db = world.Database.CreateDbContext();
        Assert.Contains(await db.Audit.ToListAsync(), line =>
            line.Act.StartsWith("Wanted: an update, the newest", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task A_row_opens_into_its_reasons_in_place_and_any_two_are_explained()
    {
        await TakeInAsync("0804", [.. Sample.Cairn().All]);
        var page = await TextAsync(lead, "/jobs/0804/match");
        Assert.DoesNotContain("Facts used", page);
        var ids = Regex.Matches(page, @"\?package=([0-9a-f]{64})").Select(match => match.Groups[1].Value).Distinct().ToList();
        var open = await TextAsync(lead, $"/jobs/0804/match?package={ids[0]}&against={ids[^1]}");
        Assert.Contains("Facts used", open);
        Assert.Contains("rules have no objection", open);
        Assert.Contains("comes before", open);
        Assert.Contains("<svg class=\"ladder\"", open);
        var stopped = await TextAsync(lead, "/jobs/0804/match?show=stop");
        Assert.DoesNotContain("candidate go", stopped);
        Assert.Contains("candidate stop", stopped);
        Assert.Equal(
            HttpStatusCode.OK,
            (await lead.GetAsync("/jobs/0804/match?show=nonsense&package=zz&against=zz&whole=true")).StatusCode
        );
    }

    [Fact]
    public async Task A_package_says_which_phones_and_models_it_fits()
    {
        await TakeInAsync("0805", [.. Sample.Cairn().All]);
        await using var db = world.Database.CreateDbContext();
        // The most urgent twenty are judged, and other tests leave phones of this model behind.
        var promise = await db.Jobs.MinAsync(job => job.PromisedAt) ?? DateTimeOffset.UtcNow;
        await db
            .Jobs.Where(job => job.Ticket == "0805")
            .ExecuteUpdateAsync(set => set.SetProperty(job => job.PromisedAt, promise.AddHours(-1)));
        var id = await db.Packages.Where(row => row.Title == "HX204/15.26w10-7.r3").Select(row => row.Id).FirstAsync();
        var page = await TextAsync(lead, $"/packages/{id}");
        Assert.Contains("/jobs/0805/match?package=" + id, page);
        Assert.Contains("The codes differ in one character only", page);
        var model = await TextAsync(lead, "/catalogue/models/hx204");
        Assert.Contains("revision 3", model);
        Assert.Equal(HttpStatusCode.NotFound, (await lead.GetAsync("/catalogue/models/zz1")).StatusCode);
    }

    [Fact]
    public async Task A_package_that_was_not_looked_into_yet_is_said_to_be_that_and_nothing_more()
    {
        // The watch would look into it at once; here it waits.
        var watch = world.Service<LibraryWatch>();
        await watch.StopAsync(default);
        await using var db = world.Database.CreateDbContext();
        var row = await db.Packages.SingleAsync(one => one.FileName == "cairn-stock-26w10.tar");
        var version = row.InspectorVersion;
        foreach (var older in new[] { 0, version - 1 })
        {
            row.InspectorVersion = older;
            await db.SaveChangesAsync();
            var page = await TextAsync(lead, $"/packages/{row.Id}");
            Assert.Contains("The reader has not looked into it yet", page);
            Assert.Equal("", Regex.Match(page[page.IndexOf("<main", StringComparison.Ordinal)..], "HX204/[^ <]*").Value);
            Assert.DoesNotContain("as its publisher sent it out", page, StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain("signal-go", page[page.IndexOf("<main", StringComparison.Ordinal)..]);
            Assert.Contains("not looked into yet", await TextAsync(lead, "/packages?q=cairn-stock-26w10"));
        }

        row.InspectorVersion = version;
        await db.SaveChangesAsync();
        Assert.Contains("at a glance", await TextAsync(lead, $"/packages/{row.Id}"), StringComparison.OrdinalIgnoreCase);
        await watch.StartAsync(default);
    }
}

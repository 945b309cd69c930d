using System.Net;
using System.Net.Http.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// The route station: what somebody says the phone shows, the score tried on the twin, the link doctor and its log, the charger.
/// </summary>
public sealed partial class RoutePageTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient lead = world.Client();

    private async Task<string> TextAsync(string path) => WebWorld.Words(await lead.GetStringAsync(path));

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

    private static Fact Now(PhoneMode mode) => Sample.Fact(FactName.Mode, mode.Id(), FactSource.BootloaderScreen);

    [Fact]
    public async Task Every_mode_that_can_be_said_gives_a_route_or_a_reason_and_never_an_error()
    {
        await TakeInAsync("0900", Sample.Fact(FactName.ModelCode, "TN63E"));
        Assert.Contains("Where the phone is now is not known", await TextAsync("/jobs/0900/route"));
        foreach (var mode in Enum.GetValues<PhoneMode>().Where(mode => mode != PhoneMode.Unknown))
        {
            Assert.Equal(
                HttpStatusCode.Redirect,
                (await WebWorld.PostAsync(lead, "/jobs/0900/route", "Shows", ("mode", mode.Id()))).StatusCode
            );
            var page = await TextAsync("/jobs/0900/route");
            Assert.True(
                page.Contains($"From {mode.Label()} into download mode")
                    || page.Contains("It is in download mode.")
                    || page.Contains($"No way from {mode.Label()} into download mode"),
                mode.Id()
            );
        }

        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/jobs/0900/route", "Shows", ("mode", "dancing"))).StatusCode
        );
        await using var db = world.Database.CreateDbContext();
        Assert.Contains(await db.Facts.Where(fact => fact.Name == "reached:download").ToListAsync(), fact =>
            fact.Value == "yes" && fact.Source == FactSource.Seen
        );
    }

    [Fact]
    public async Task The_same_phone_is_known_again_by_its_serial_on_every_page_of_its_job()
    {
        var serial = Sample.Fact(FactName.Serial, "TNQ90991", FactSource.Label);
        await TakeInAsync("0990", Sample.Fact(FactName.ModelCode, "TN63E"), serial);
        await TakeInAsync("0991", Sample.Fact(FactName.ModelCode, "TN63E"), serial);
        await TakeInAsync("0992", Sample.Fact(FactName.ModelCode, "TN63E"), Sample.Fact(FactName.Serial, "TNQ90992", FactSource.Label));
        foreach (var station in new[] { "find-out", "match", "route", "plan", "intake" })
        {
            var page = await TextAsync($"/jobs/0991/{station}");
            Assert.Contains("This phone was here before:", page);
            Assert.Contains("/jobs/0990/hand-back", page);
        }

        // Neither a later visit, nor another phone of its model.
        Assert.DoesNotContain("was here before", await TextAsync("/jobs/0990/route"));
        Assert.DoesNotContain("was here before", await TextAsync("/jobs/0992/route"));
    }

    [Fact]
    public async Task The_route_says_what_it_needs_what_would_shorten_it_and_how_to_get_out()
    {
        await TakeInAsync("0901", Sample.Fact(FactName.ModelCode, "TN63E"), Sample.Fact(FactName.Root, "present"), Now(PhoneMode.System));
        var page = await TextAsync("/jobs/0901/route");
        Assert.Contains("instead with <b>USB debugging: authorised</b>", page);
        Assert.Contains("The way out:", page);
        // A touch that is not taken leaves the phone where it was, and that can be said too.
        Assert.Contains("running system as before", page);
        Assert.Contains("Other ways", page);
        Assert.Contains("<svg class=\"track-plan\"", page);
        Assert.Contains(
            "on or greyed, and nobody has read it.",
            await TextAsync("/jobs/0901/route?to=lock-change"),
            StringComparison.OrdinalIgnoreCase
        );
        Assert.Contains(
            "Opening it erases everything, and so does closing it on this model",
            await TextAsync("/jobs/0901/route?to=lock-change")
        );
        Assert.Contains("is a fault, not a place to go to", await TextAsync("/jobs/0901/route?to=boot-loop"));
        // By the shop's rule the debugging link is not used, and nothing is said of it any more.
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/shop-rules",
                    null,
                    ("question", "debugging"),
                    ("choice", "none"),
                    ("reason", "Keys only here.")
                )
            ).StatusCode
        );
        Assert.DoesNotContain("USB debugging: authorised", await TextAsync("/jobs/0901/route"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(lead, "/shop-rules", null, ("question", "debugging"), ("choice", "use"), ("reason", "Back."))
            ).StatusCode
        );
    }

    [Fact]
    public async Task A_score_is_tried_on_the_twin_and_nothing_is_kept()
    {
        await TakeInAsync("0902", Sample.Fact(FactName.ModelCode, "TRB62"), Now(PhoneMode.Off));
        const string page = "/jobs/0902/route/try?way=off-to-download&from=off";
        var token = Regex
            .Match(await lead.GetStringAsync(page), "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")
            .Groups[1]
            .Value;
        async Task<HttpResponseMessage> PlayAsync(object trial, bool sealedByToken = true)
        {
            var request = new HttpRequestMessage(HttpMethod.Post, page + "&handler=Play") { Content = JsonContent.Create(trial) };
            if (sealedByToken)
                request.Headers.Add("RequestVerificationToken", token);
            return await lead.SendAsync(request);
        }

        object[] right =
        [
            new
            {
                at = 0,
                stave = "volume-up",
                down = true,
            },
            new
            {
                at = 2000,
                stave = "cable",
                down = true,
            },
            new
            {
                at = 3600,
                stave = "volume-up",
                down = false,
            },
        ];
        var view = JsonNode.Parse(await (await PlayAsync(new { acts = right, now = 5000 })).Content.ReadAsStringAsync())!;
        Assert.True((bool)view["arrived"]!);
        Assert.Equal(("download mode", "Download mode"), ((string)view["mode"]!, (string)view["screen"]!["title"]!));
        Assert.Equal(
            ["Volume up pressed", "Cable in", "Volume up let go"],
            view["moments"]!.AsArray().Select(moment => (string)moment!["says"]!)
        );
        object[] late =
        [
            new
            {
                at = 0,
                stave = "cable",
                down = true,
            },
            new
            {
                at = 3000,
                stave = "volume-up",
                down = true,
            },
        ];
        Assert.Equal(
            "charging",
            (string)JsonNode.Parse(await (await PlayAsync(new { acts = late, now = 5000 })).Content.ReadAsStringAsync())!["mode"]!
        );
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await PlayAsync(
                    new
                    {
                        acts = new object[]
                        {
                            new
                            {
                                at = 5,
                                stave = "no-such-key",
                                down = true,
                            },
                            new
                            {
                                at = 6,
                                stave = "",
                                down = true,
                            },
                        },
                        now = 10,
                    }
                )
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await PlayAsync(new { acts = Enumerable.Repeat(right[0], 401), now = 10 })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await PlayAsync(new { acts = right, now = 60 * 60 * 1000 })).StatusCode);
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (
                await PlayAsync(
                    new
                    {
                        acts = new[]
                        {
                            new
                            {
                                at = -1,
                                stave = "power",
                                down = true,
                            },
                        },
                        now = 10,
                    }
                )
            ).StatusCode
        );
        Assert.Equal(HttpStatusCode.BadRequest, (await PlayAsync(new { acts = (object?)null, now = 10 })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await PlayAsync(new { acts = new object?[] { null }, now = 10 })).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest, (await PlayAsync(new { acts = right, now = 5000 }, sealedByToken: false)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await lead.GetAsync("/jobs/0902/route/try?way=off-to-mars&from=off")).StatusCode);
        await using var db = world.Database.CreateDbContext();
        Assert.Equal(
            "off",
            (
                await db
                    .Facts.Where(fact => fact.Name == "mode" && fact.Value != "system")
                    .OrderByDescending(fact => fact.Id)
                    .FirstAsync(fact => db.Jobs.Any(job => job.Ticket == "0902" && job.Facts.Any(own => own.Id == fact.Id)))
            ).Value
        );
    }
}

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
public sealed class RoutePageTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient lead = world.Client();

    private async Task<string> TextAsync(string path) => WebUtility.HtmlDecode(await lead.GetStringAsync(path));

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
            fact.Value == "yes" && fact.Source == FactSource.BootloaderScreen
        );
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

    [Fact]
    public async Task The_link_doctor_keeps_every_try_and_names_the_worst_cable()
    {
        await TakeInAsync(
            "0903",
            Sample.Fact(FactName.ModelCode, "TRB62"),
            Now(PhoneMode.Download),
            Sample.Fact(FactName.Serial, "TRD40551", FactSource.Label)
        );
        await world.Phones.ListFaultAsync("D", new { unlisted = true });
        const string page = "/jobs/0903/route/link?port=D";
        Assert.Contains("Nothing listed", await TextAsync(page));
        await using var db = world.Database.CreateDbContext();
        var frayed = await db.BenchThings.SingleAsync(thing => thing.Label == "white, frayed");
        async Task<HttpResponseMessage> TriedAsync(string remedy, params (string, string)[] more)
        {
            var html = await lead.GetStringAsync(page);
            var token = Regex.Match(html, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
            return await lead.PostAsync(
                page + "&handler=Tried",
                new FormUrlEncodedContent([
                    .. more.Select(field => KeyValuePair.Create(field.Item1, field.Item2)),
                    new("remedy", remedy),
                    new("before", "nothing"),
                    new("__RequestVerificationToken", token),
                ])
            );
        }

        foreach (var remedy in new[] { "cable", "reseat", "port" })
            Assert.Equal(HttpStatusCode.Redirect, (await TriedAsync(remedy, ("cable", frayed.Id.ToString()))).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await TriedAsync("prayer")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await TriedAsync("no-hub", ("cable", "99999"))).StatusCode);
        var after = await TextAsync(page);
        Assert.DoesNotContain("<option value=\"cable\">", after);
        Assert.Contains("then: nothing listed", after);
        Assert.Contains("The worst cable is <b>white, frayed</b>", await TextAsync("/ports"));
        await world.Phones.ListFaultAsync("D", new { });
        Assert.Equal(HttpStatusCode.Redirect, (await TriedAsync("no-hub")).StatusCode);
        Assert.Contains("Listed and right.", await TextAsync(page));
        Assert.Equal(
            [("cable", false), ("reseat", false), ("port", false), ("no-hub", true)],
            (await db.LinkTries.Where(one => one.Remedy != "").OrderBy(one => one.Id).ToListAsync()).Select(one => (one.Remedy, one.Worked))
        );
        // A case that ended is over: the next time a cable is the first thing again, with its chance as it is now.
        await world.Phones.ListFaultAsync("D", new { unlisted = true });
        Assert.Contains("<option value=\"cable\">", await TextAsync(page));
        await world.Phones.ListFaultAsync("D", new { other = "X" });
        Assert.Contains("another phone: nothing is written to it", await TextAsync(page));
    }

    [Fact]
    public async Task Another_phone_is_not_read_for_a_job_whose_serial_somebody_knows()
    {
        await TakeInAsync(
            "0904",
            Sample.Fact(FactName.ModelCode, "TRB62"),
            Now(PhoneMode.Download),
            Sample.Fact(FactName.Serial, "TRD00000", FactSource.Label)
        );
        var refused = await WebWorld.PostAsync(lead, "/jobs/0904/route", null, ("port", "D"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
        Assert.Contains(
            "This is another phone: its serial is TRD40551, this job's is TRD00000.",
            WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync())
        );
    }

    [Fact]
    public async Task Cables_and_computers_have_labels_once_and_the_counter_only_looks()
    {
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/ports", "Thing", ("kind", "Cable"), ("label", "blue"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/ports", "Thing", ("kind", "Cable"), ("label", "blue"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/ports", "Thing", ("kind", "Cable"), ("label", new string('x', 41)))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/ports", "Thing", ("kind", "Port"), ("label", "z"))).StatusCode
        );
        await using var db = world.Database.CreateDbContext();
        var blue = await db.BenchThings.SingleAsync(thing => thing.Label == "blue");
        await WebWorld.PostAsync(lead, "/ports", "Retire", ("id", blue.Id.ToString()));
        Assert.DoesNotContain("<b>blue</b>", await TextAsync("/ports"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/ports", "Thing", ("kind", "Cable"), ("label", "blue"))).StatusCode
        );
        var counter = await world.ClientAsync("counter");
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await WebWorld.PostAsync(counter, "/ports", "Thing", ("kind", "Cable"), ("label", "green"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (await WebWorld.PostAsync(counter, "/jobs/0418/route", "Shows", ("mode", "off"))).StatusCode
        );
        Assert.Equal(HttpStatusCode.OK, (await counter.GetAsync("/jobs/0418/route/try?way=loop-to-warning&from=boot-loop")).StatusCode);
    }

    [Fact]
    public async Task A_phone_that_seems_dead_is_put_on_a_charger_and_its_current_is_watched()
    {
        await TakeInAsync("0905", Sample.Fact(FactName.ModelCode, "HX204"), Now(PhoneMode.Off));
        await using (var db = world.Database.CreateDbContext())
        {
            (await db.Jobs.SingleAsync(job => job.Ticket == "0905")).FaultClassId = "power";
            await db.SaveChangesAsync();
        }

        var page = await TextAsync("/jobs/0905/route");
        Assert.Contains("Charge it before anything else", page);
        Assert.Contains("From off into charging", page);
        Assert.Contains("Never if it is wet, swollen, hot or crushed", page);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/jobs/0905/route", "Charge", ("milliamperes", "-4"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0905/route", "Charge", ("milliamperes", "20"))).StatusCode
        );
        Assert.Contains("Next to no current flows", await TextAsync("/jobs/0905/route"));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0905/route", "Charge", ("milliamperes", "900"))).StatusCode
        );
        Assert.Contains("It takes 900 mA.", await TextAsync("/jobs/0905/route"));
        await using var after = world.Database.CreateDbContext();
        var row = await after.Jobs.SingleAsync(job => job.Ticket == "0905");
        Assert.NotNull(row.ChargeBeganAt);
        Assert.Contains(await after.Audit.Where(line => line.JobId == row.Id).ToListAsync(), line =>
            line.Act == "On a known-good charger, 900 mA."
        );
    }
}

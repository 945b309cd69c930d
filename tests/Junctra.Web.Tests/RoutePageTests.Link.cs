using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The link doctor, and the charger.</summary>
public sealed partial class RoutePageTests
{
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

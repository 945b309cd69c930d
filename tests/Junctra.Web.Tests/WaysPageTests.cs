using System.Net;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Other ways of doing a job, one key away; and a step opened into what breaks there.</summary>
[Collection(nameof(StationsWorld))]
public sealed class WaysPageTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private async Task<string> TextAsync(string path) => WebUtility.HtmlDecode(await lead.GetStringAsync(path));

    [Fact]
    public async Task A_way_that_takes_no_package_is_taken_and_left_again()
    {
        var before = await TextAsync("/jobs/0423/plan");
        Assert.Contains("Ways that take no package", before);
        Assert.Contains("more ways take a package", before);
        Assert.Contains("name=\"way\" value=\"K-erase\"", before);

        var unknown = await WebWorld.PostAsync(lead, "/jobs/0423/plan", "Way", ("way", "Z-keep"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, unknown.StatusCode);
        await WebWorld.PostAsync(lead, "/jobs/0423/plan", "Way", ("way", "K-erase"));
        var planned = await TextAsync("/jobs/0423/plan");
        Assert.Contains("Wipe only, nothing written", planned);
        Assert.Contains("Data erased · keys bring it back from anywhere", planned);
        Assert.Contains("Begun now, done about", planned);
        Assert.Matches("promised (\\d+ \\w+ )?\\d\\d:\\d\\d: (holds|tight|too late)", planned);
        Assert.Contains("class=\"risk-strip\"", planned);

        // A step opens into its interruptions; one that is none opens nothing.
        var step = Regex.Match(planned, "href=\"\\?step=(\\d+)#").Groups[1].Value;
        Assert.Contains("The cable comes out", await TextAsync($"/jobs/0423/plan?step={step}"));
        Assert.DoesNotContain("The cable comes out", await TextAsync("/jobs/0423/plan?step=99"));
        Assert.Equal(HttpStatusCode.OK, (await lead.GetAsync("/jobs/0423/plan?step=abc")).StatusCode);

        await WebWorld.PostAsync(lead, "/jobs/0423/plan", "Way");
        await using var db = world.Database.CreateDbContext();
        var job = await db.Jobs.SingleAsync(one => one.Ticket == "0423");
        Assert.Equal((null, null), (job.Path, job.PackageId));
    }

    [Fact]
    public async Task Two_plans_are_held_side_by_side_and_nothing_is_chosen_by_it()
    {
        var same = await TextAsync("/jobs/0423/plan/compare?left=&right=&left-way=K-erase&right-way=K-erase");
        Assert.Contains("Two plans side by side", same);
        Assert.Contains("The two are alike.", same);
        Assert.Matches("(?s)<th scope=\"row\">Data</th><td>erased</td><td>erased</td>", same);
        // A package that nobody has is none; a way that is none is the first that has a plan.
        Assert.Contains("The two are alike.", await TextAsync("/jobs/0423/plan/compare?left=abc&right=%20&left-way=Z&right-way="));
        Assert.Equal(HttpStatusCode.NotFound, (await lead.GetAsync("/jobs/9999/plan/compare")).StatusCode);
        await using var db = world.Database.CreateDbContext();
        Assert.Null((await db.Jobs.SingleAsync(one => one.Ticket == "0423")).Path);
    }

    [Fact]
    public async Task A_finding_that_asks_for_no_write_says_so_where_a_plan_would_stand()
    {
        await using var db = world.Database.CreateDbContext();
        var job = await db.Jobs.SingleAsync(one => one.Ticket == "0429");
        var before = job.FaultClassId;
        job.FaultClassId = "power";
        await db.SaveChangesAsync();
        try
        {
            Assert.Contains("Nothing is to be written", await TextAsync("/jobs/0429/plan"));
        }
        finally
        {
            job.FaultClassId = before;
            await db.SaveChangesAsync();
        }
    }
}

using System.Net;
using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>A phone that is to be locked again: planned without a package, and not begun before its software is proved.</summary>
[Collection(nameof(StationsWorld))]
public sealed class RelockPageTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private async Task<string> TextAsync(string path) => WebWorld.Words(await lead.GetStringAsync(path));

    [Fact]
    public async Task A_phone_that_is_to_be_locked_has_a_plan_and_its_gate_says_what_would_prove_its_software()
    {
        var plan = await TextAsync("/jobs/0428/plan?gates=1");
        Assert.Contains("Close the lock, nothing written", plan);
        Assert.Contains("Press Volume up shortly", plan, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("Turn off the permission to change the lock", plan);
        Assert.Contains("becomes locked", plan);
        Assert.Contains("Nothing was written in this job, so nothing proves what lies on the phone", plan);
        Assert.DoesNotContain("Companion", plan);

        var form = new List<(string, string)> { ("planFor", Regex.Match(plan, "name=\"planFor\" value=\"([0-9a-f]+)\"").Groups[1].Value) };
        form.AddRange(
            Regex
                .Matches(plan, "name=\"(gate\\.[^\"]+)\" value=\"([^\"]+)\"")
                .Select(match => (match.Groups[1].Value, match.Groups[2].Value))
                .DistinctBy(field => field.Item1)
        );
        form.Add(("typed", "0428"));
        var answer = await WebWorld.PostAsync(lead, "/jobs/0428/plan", "Begin", [.. form]);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("Still closed: Its software is proved to be its maker's", WebWorld.Words(await answer.Content.ReadAsStringAsync()));
        await using var db = world.Database.CreateDbContext();
        Assert.False(await db.Runs.AnyAsync(run => run.Job.Ticket == "0428"));
    }
}

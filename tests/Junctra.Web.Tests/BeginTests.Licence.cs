using System.Net;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

// What the shop asks of whoever begins.
public sealed partial class BeginTests
{
    [Fact]
    public async Task A_licence_that_the_shop_asks_for_closes_its_gate_until_such_a_job_was_passed()
    {
        await PlannedAsync("0990", "A");
        await AnsweredAsync("0990");
        Assert.DoesNotContain("Practised, as the shop asks", await client.GetStringAsync("/jobs/0990/plan?gates=1"));
        using var asked = await PostAsync("/practice/people", null, ("asked", "bench/F"), ("asked", "lead/F"));
        try
        {
            var page = await client.GetStringAsync("/jobs/0990/plan?gates=1");
            Assert.Contains("Practised, as the shop asks", page);
            Assert.Contains("a passed job of practice first", WebUtility.HtmlDecode(page));
            var refused = await BeginAsync("0990");
            Assert.Equal(HttpStatusCode.UnprocessableEntity, refused.StatusCode);
            Assert.Contains("Still closed: Practised", WebUtility.HtmlDecode(await refused.Content.ReadAsStringAsync()));
            await using var db = world.Database.CreateDbContext();
            Assert.Equal(0, await db.Runs.CountAsync(run => db.Jobs.Any(job => job.Id == run.JobId && job.Ticket == "0990")));
            // One that is not over, one that failed and somebody else's open nothing.
            foreach (
                var (who, passed, open) in new[]
                {
                    ("lead", true, true),
                    ("lead", false, false),
                    ("bench", true, false),
                    ("lead", true, false),
                }
            )
            {
                Assert.DoesNotContain("passed such a job in practice", await client.GetStringAsync("/jobs/0990/plan?gates=1"));
                db.Practice.Add(
                    new PracticeRow
                    {
                        Person = who,
                        Exercise = "job-f-factory-set",
                        Skill = "jobs/F",
                        At = DateTimeOffset.UtcNow,
                        Passed = passed,
                        IsOpen = open,
                        Lost = "[]",
                        Done = "[]",
                    }
                );
                await db.SaveChangesAsync();
            }

            Assert.Contains("passed such a job in practice", await client.GetStringAsync("/jobs/0990/plan?gates=1"));
        }
        finally
        {
            using var over = await PostAsync("/practice/people", null);
        }
    }
}

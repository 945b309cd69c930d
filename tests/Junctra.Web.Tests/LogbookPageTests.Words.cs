using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Logbook;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

public sealed partial class LogbookPageTests
{
    [Fact]
    public async Task A_record_that_cannot_be_read_is_found_by_its_ticket_and_holds_nobody_elses_up()
    {
        await using var db = bench.Here.Database.CreateDbContext();
        var two = await db
            .Logbook.Where(row => row.Finished == 1 && row.EndedEarly == 0 && row.Outcome == JobOutcome.InOrder)
            .OrderBy(row => row.JobId)
            .Select(row => new { row.JobId, row.Ticket })
            .Take(2)
            .ToListAsync(Cancel);
        var (id, spoilt, beside, none) = (two[0].JobId, two[0].Ticket, two[1].Ticket, "{}");
        var plan = await db.Database.SqlQuery<string>($"select plan::text as \"Value\" from runs where job_id = {id}").SingleAsync(Cancel);
        try
        {
            await db.Database.ExecuteSqlAsync($"update runs set plan = {none}::jsonb where job_id = {id}", Cancel);
            await db
                .Jobs.Where(job => job.Ticket == spoilt || job.Ticket == beside)
                .ExecuteUpdateAsync(set => set.SetProperty(job => job.Accessories, "lanyard"), Cancel);
            Assert.Contains(beside, await here.GetStringAsync("/logbook?q=lanyard", Cancel));
            Assert.Contains(spoilt, await here.GetStringAsync($"/logbook?q={spoilt}", Cancel));
        }
        finally
        {
            await db.Database.ExecuteSqlAsync($"update runs set plan = {plan}::jsonb where job_id = {id}", Cancel);
            await db.Jobs.Where(job => job.Ticket == spoilt).ExecuteUpdateAsync(set => set.SetProperty(job => job.Accessories, ""), Cancel);
        }

        Assert.Contains(spoilt, await here.GetStringAsync($"/logbook?q={spoilt}+in+order", Cancel));
    }

    [Fact]
    public async Task Customers_words_go_when_their_time_is_over_and_the_record_says_so()
    {
        await using var scope = bench.Here.Service<IServiceScopeFactory>().CreateAsyncScope();
        var words = scope.ServiceProvider.GetRequiredService<CustomerWords>();
        await using (var db = bench.Here.Database.CreateDbContext())
        {
            // One that went back long ago, with all that a customer leaves behind; one that went back yesterday.
            foreach (var (ticket, days) in new[] { ("OLD1", 400), ("NEW1", 1) })
            {
                var job = new JobRow
                {
                    Ticket = ticket,
                    Description = "blue case",
                    Complaint = "Zwiebelkuchen photographs are wanted",
                    TakenInAt = DateTimeOffset.UtcNow.AddDays(-days - 1),
                    HandedBackAt = DateTimeOffset.UtcNow.AddDays(-days),
                };
                job.Claims.Add(
                    new ClaimRow
                    {
                        Text = "Zwiebelkuchen said so",
                        SaidBy = "Zwiebelkuchen",
                        At = job.TakenInAt,
                        RecordedBy = "counter",
                    }
                );
                job.Consents.Add(
                    new ConsentRow
                    {
                        ConsentId = "backup",
                        Text = "A backup is made.",
                        AgreedBy = "Q. Zwiebelkuchen",
                        At = job.TakenInAt,
                        RecordedBy = "counter",
                    }
                );
                job.Facts.Add(FactRow.Of(new Fact(FactName.Serial, $"SERIAL{ticket}", FactSource.Label, job.TakenInAt, "counter")));
                db.Jobs.Add(job);
                await db.SaveChangesAsync(Cancel);
                db.Audit.Add(
                    new AuditRow
                    {
                        JobId = job.Id,
                        At = job.TakenInAt,
                        By = "counter",
                        Act = "Handed back unrepaired: Q. Zwiebelkuchen gave the repair up.",
                    }
                );
                await db.SaveChangesAsync(Cancel);
            }
        }

        Assert.Equal(365, await words.DaysAsync(Cancel));
        Assert.Equal(1, await words.DueAsync(Cancel));
        var before = await here.GetStringAsync("/logbook?q=zwiebelkuchen", Cancel);
        Assert.Contains("OLD1", before);
        Assert.Contains("were removed", WebUtility.HtmlDecode(await FollowAsync("/records", "Remove")));

        var after = await here.GetStringAsync("/logbook?q=zwiebelkuchen", Cancel);
        Assert.DoesNotContain("OLD1", after);
        Assert.Contains("NEW1", after);
        Assert.Contains("OLD1", await here.GetStringAsync("/logbook?q=serialold1", Cancel));
        var story = WebUtility.HtmlDecode(await here.GetStringAsync("/jobs/OLD1/story", Cancel));
        Assert.DoesNotContain("Zwiebelkuchen", story);
        Assert.Contains("Removed, 365 days after the hand-back", story);
        Assert.Contains("A backup is made.", story);

        // The shop decides otherwise: the second goes as well, and no word of it is offered to anybody who mistypes.
        Assert.True(await IsRefusedAsync("Keep", ("days", "0")));
        Assert.Contains(
            "are kept for 1 days",
            WebUtility.HtmlDecode(await FollowAsync("/records", "Keep", ("days", "1"), ("reason", "asked for")))
        );
        await words.RemoveDueAsync();
        await here.GetStringAsync("/logbook", Cancel);
        await using var look = bench.Here.Database.CreateDbContext();
        await Until.TrueAsync(
            async () => !await look.LogbookWords.AnyAsync(word => word.Word.StartsWith("zwiebel"), Cancel),
            "the words are gone from what is offered"
        );
    }

    private async Task<bool> IsRefusedAsync(string act, params (string, string)[] fields) =>
        (await WebWorld.PostAsync(here, "/records", act, fields)).StatusCode == HttpStatusCode.UnprocessableEntity;

    private async Task<string> FollowAsync(string path, string act, params (string, string)[] fields)
    {
        using var answer = await WebWorld.PostAsync(here, path, act, fields);
        Assert.Equal(HttpStatusCode.Found, answer.StatusCode);
        return await here.GetStringAsync(path, Cancel);
    }
}

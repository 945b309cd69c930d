using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.RegularExpressions;
using Junctra.Core.Practice;
using Junctra.Core.Twin;
using Junctra.Testing;
using Junctra.Web.Practising;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Whole jobs of practice over the pages, what the shop asks of whoever writes, and what a lead sees of it.</summary>
[Collection(nameof(PracticeWorld))]
[Trait("Turn", "11")]
public sealed class PracticeJobPagesTests(WebWorld world)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private ExerciseShelf Shelf => world.Service<ExerciseShelf>();

    private JobPractice Job(string id) => new(Shelf.Find(id)!, Repo.Catalogue);

    private static HandsAct ActOf(TrialAct act) =>
        act.Happening switch
        {
            KeyDown down => new(act.AtMs, down.Key, true, null),
            KeyUp up => new(act.AtMs, up.Key, false, null),
            CableIn => new(act.AtMs, "cable", true, null),
            CableOut => new(act.AtMs, "cable", false, null),
            BatteryOut => new(act.AtMs, "battery", true, null),
            BatteryIn => new(act.AtMs, "battery", false, null),
            Command command => new(act.AtMs, "computer", true, command.Id),
            Choose choose => new(act.AtMs, "screen", true, choose.Entry),
            _ => throw new InvalidOperationException($"{act.Happening} is nothing that hands do here."),
        };

    private static async Task<string> BegunAsync(HttpClient client, string exercise)
    {
        using var begun = await WebWorld.PostAsync(client, $"/practice/{exercise}", "Begin");
        return
            Assert.IsType<Uri>(begun.RequestMessage!.RequestUri).AbsolutePath is var at
            && at.StartsWith("/practice/jobs/", StringComparison.Ordinal)
            ? at
            : begun.Headers.Location!.ToString();
    }

    private static async Task<HttpResponseMessage> SendAsync(HttpClient client, string page, string handler, object body)
    {
        var token = Regex.Match(
            await client.GetStringAsync(page, Cancel),
            "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\""
        );
        var request = new HttpRequestMessage(HttpMethod.Post, $"{page}?handler={handler}") { Content = JsonContent.Create(body) };
        request.Headers.Add("RequestVerificationToken", token.Groups[1].Value);
        return await client.SendAsync(request, Cancel);
    }

    private static object Sent(PartDone done) =>
        new
        {
            acts = done.Acts.Select(ActOf),
            said = done.Said,
            now = done.TookMs,
            hints = Array.Empty<long>(),
        };

    /// <summary>Does a job as its perfect hands do, but for what is changed.</summary>
    private static async Task DoAsync(
        HttpClient client,
        string page,
        JobPractice job,
        Func<int, PartDone, PartDone>? change = null,
        int upTo = int.MaxValue
    )
    {
        foreach (var (part, i) in job.Parts.Select((part, i) => (part, i)).Take(upTo))
        {
            var done = job.Perfect(1000)[i];
            done = change?.Invoke(i, done) ?? done;
            using var answer =
                part.Questions.Count == 0
                    ? await SendAsync(client, page, "Finish", Sent(done))
                    : await WebWorld.PostAsync(
                        client,
                        page,
                        "Answer",
                        [
                            ("part", $"{i}"),
                            ("began", $"{DateTimeOffset.UtcNow.ToUnixTimeMilliseconds()}"),
                            ("hints", "0"),
                            .. done.Answers.Select((id, at) => ($"answers[{at}]", id ?? "")),
                        ]
                    );
            Assert.True((int)answer.StatusCode < 400, $"{part.Stage}: {answer.StatusCode}");
        }
    }

    [Theory]
    [InlineData("job-f-factory-set")]
    [InlineData("job-d-held")]
    [InlineData("job-l-board-rescue")]
    public async Task A_whole_job_is_done_part_by_part_and_passed_and_seen_once_more(string id)
    {
        var client = await world.ClientAsync("bench");
        var job = Job(id);
        var page = await BegunAsync(client, id);
        // Left in the middle, it goes on where it was; begun again, it is the same one.
        await DoAsync(client, page, job, upTo: 1);
        Assert.Equal(page, await BegunAsync(client, id));
        Assert.Contains("aria-current=\"step\"", await client.GetStringAsync(page, Cancel));
        foreach (var (part, i) in job.Parts.Select((part, i) => (part, i)).Skip(1))
        {
            var done = job.Perfect(1000)[i];
            await SeesAsync(client, page, part);
            if (part.Questions.Count == 0)
            {
                // Half way it goes on, and tells what it wants.
                using var half = await SendAsync(
                    client,
                    page,
                    "Play",
                    new
                    {
                        acts = done.Acts.Where(act => act.AtMs <= done.TookMs / 2).Select(ActOf),
                        said = done.Said.Where(said => said <= done.TookMs / 2),
                        now = done.TookMs / 2,
                    }
                );
                Assert.False((await half.Content.ReadFromJsonAsync<JsonElement>(Cancel)).GetProperty("over").GetBoolean());
                using var finished = await SendAsync(client, page, "Finish", Sent(done));
                Assert.True(finished.IsSuccessStatusCode);
                continue;
            }

            using var answered = await WebWorld.PostAsync(
                client,
                page,
                "Answer",
                [
                    ("part", $"{i}"),
                    ("began", $"{DateTimeOffset.UtcNow.ToUnixTimeMilliseconds()}"),
                    .. done.Answers.Select((one, at) => ($"answers[{at}]", one ?? "")),
                ]
            );
            Assert.True((int)answered.StatusCode < 400);
        }

        var number = int.Parse(page.Split('/')[^1]);
        await using var db = world.Database.CreateDbContext();
        var row = await db.Practice.AsNoTracking().SingleAsync(one => one.Id == number, Cancel);
        Assert.True(row is { IsOpen: false, Passed: true, Points: >= 90 }, row.Lost);
        var run = await client.GetStringAsync($"/practice/runs/{number}", Cancel);
        Assert.Contains("Passed.", run);
        // Afterwards it is told how the rules judge what lay on the shelf.
        var judged = job.Parts.SelectMany(part => part.Questions).SelectMany(question => question.Judged).ToList();
        Assert.All(judged, one => Assert.Contains(one.Report.Headline, WebUtility.HtmlDecode(run)));
        // Each part of hands is there once more, at its end as it ended.
        foreach (var (part, i) in job.Parts.Select((part, i) => (part, i)).Where(one => one.part.Questions.Count == 0))
        {
            var last = await client.GetFromJsonAsync<JsonElement>(
                $"/practice/runs/{number}?handler=Moment&part={i}&at={long.MaxValue}",
                Cancel
            );
            Assert.True(last.GetProperty("arrived").GetBoolean());
            var first = await client.GetFromJsonAsync<JsonElement>($"/practice/runs/{number}?handler=Moment&part={i}&at=0", Cancel);
            Assert.False(first.GetProperty("arrived").GetBoolean());
        }

        using var other = await world.Client().GetAsync($"/practice/runs/{number}?handler=Moment&part=1&at=0", Cancel);
        Assert.Equal(HttpStatusCode.NotFound, other.StatusCode);
        using var theirs = await world.Client().GetAsync(page, Cancel);
        Assert.Equal(HttpStatusCode.NotFound, theirs.StatusCode);
    }

    /// <summary>What a station shows is what the same station of a real job shows, with nothing of the answer.</summary>
    private static async Task SeesAsync(HttpClient client, string page, JobPart part)
    {
        var html = WebUtility.HtmlDecode(await client.GetStringAsync(page, Cancel));
        if (part.Stage == JobStage.Match)
        {
            foreach (var (report, package) in part.Questions[0].Judged)
            {
                Assert.Contains(package.FileName, html);
                Assert.DoesNotContain(report.Headline, html);
            }
        }

        foreach (var gate in part.Gates)
        {
            Assert.Contains($"id=\"gate-{gate.Gate.Id}\"", html);
            Assert.Contains(gate.Said, html);
        }

        if (part.Stage == JobStage.Plan)
            Assert.Contains("class=\"fates\"", html);
    }

    [Fact]
    public async Task Nothing_of_it_touches_a_job_a_port_or_the_logbook()
    {
        await using var db = world.Database.CreateDbContext();
        async Task<(int, int, int, int)> CountAsync() =>
            (
                await db.Jobs.CountAsync(Cancel),
                await db.Runs.CountAsync(Cancel),
                await db.Audit.CountAsync(Cancel),
                await db.Ports.CountAsync(Cancel)
            );
        var before = await CountAsync();
        var client = await world.ClientAsync("counter");
        await DoAsync(client, await BegunAsync(client, "job-m-recovery-only"), Job("job-m-recovery-only"));
        Assert.Equal(before, await CountAsync());
    }

    [Fact]
    public async Task A_harmful_answer_and_a_pulled_cable_end_it_and_giving_up_does_too()
    {
        var client = world.Client();
        var job = Job("job-a-keeps-data");
        var match = job.Parts.ToList().FindIndex(part => part.Stage == JobStage.Match);
        var page = await BegunAsync(client, "job-a-keeps-data");
        var wrong = job.Parts[match].Questions[0].Answers.First(answer => answer.Worth == AnswerWorth.Harmful).Id;
        await DoAsync(client, page, job, (i, done) => i == match ? done with { Answers = [wrong] } : done, match + 1);
        Assert.Contains("0 of 100 points", await EndAsync());
        // It is over: another begins anew, and a late answer changes nothing.
        Assert.NotEqual(page, page = await BegunAsync(client, "job-a-keeps-data"));
        var write = job.Parts.ToList().FindIndex(part => part.Write is not null);
        await DoAsync(
            client,
            page,
            job,
            (i, done) => i == write ? done with { Acts = [new TrialAct(done.TookMs / 2, new CableOut())] } : done,
            write + 1
        );
        Assert.Contains("The cable came out", await EndAsync());
        page = await BegunAsync(client, "job-a-keeps-data");
        using var given = await WebWorld.PostAsync(client, page, "GiveUp");
        Assert.Contains("The job ended at", await EndAsync());
        // A part twice is one part, and none of another.
        page = await BegunAsync(client, "job-a-keeps-data");
        await DoAsync(client, page, job, upTo: 1);
        using var again = await WebWorld.PostAsync(client, page, "Answer", ("part", "0"), ("began", "0"), ("answers[0]", "nothing-such"));
        using var later = await WebWorld.PostAsync(client, page, "Answer", ("part", "5"), ("began", "0"), ("answers[0]", "nothing-such"));
        await using var db = world.Database.CreateDbContext();
        var number = int.Parse(page.Split('/')[^1]);
        Assert.Single(PracticeService.PartsOf(await db.Practice.AsNoTracking().SingleAsync(row => row.Id == number, Cancel)));
        using var gone = await WebWorld.PostAsync(client, "/practice/mine", "Delete");
        using var over = await client.GetAsync(page, Cancel);
        Assert.Equal(HttpStatusCode.NotFound, over.StatusCode);

        // The page of a job that is over leads to how it went.
        async Task<string> EndAsync()
        {
            using var led = await client.GetAsync(page, Cancel);
            Assert.Equal(HttpStatusCode.Redirect, led.StatusCode);
            return await client.GetStringAsync(led.Headers.Location, Cancel);
        }
    }

    [Fact]
    public async Task What_a_lead_sees_is_decided_by_the_shop_and_told_to_whoever_practises()
    {
        var (lead, bench) = (world.Client(), await world.ClientAsync("bench"));
        await DoAsync(bench, await BegunAsync(bench, "job-m-recovery-only"), Job("job-m-recovery-only"));
        Assert.Contains("Nobody but you sees any of it.", await bench.GetStringAsync("/practice/mine", Cancel));
        Assert.Contains("this is not looked at", await lead.GetStringAsync("/practice/people", Cancel));
        using var forbidden = await bench.GetAsync("/practice/people", Cancel);
        Assert.False(forbidden.IsSuccessStatusCode && forbidden.RequestMessage!.RequestUri!.AbsolutePath == "/practice/people");
        using var decided = await WebWorld.PostAsync(
            lead,
            "/practice/people",
            null,
            ("leadSees", "true"),
            ("asked", "bench/M"),
            ("asked", "bench/ZZ"),
            ("asked", "nobody/A")
        );
        var people = await lead.GetStringAsync("/practice/people", Cancel);
        Assert.Contains("<th>bench</th>", people);
        Assert.Equal(1, Regex.Count(people, "checked=\"checked\"[^>]*value=\"bench/|value=\"bench/[^>]*checked=\"checked\""));
        var mine = await bench.GetStringAsync("/practice/mine", Cancel);
        Assert.Contains("the lead sees what you have passed", mine);
        Assert.Contains("What the shop asks of you before a write", mine);
        using var back = await WebWorld.PostAsync(lead, "/practice/people", null);
        Assert.Contains("this is not looked at", await lead.GetStringAsync("/practice/people", Cancel));
    }
}

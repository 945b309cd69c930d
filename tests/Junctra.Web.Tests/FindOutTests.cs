using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

[Collection(nameof(StationsWorld))]
public sealed class FindOutTests(WebWorld world)
{
    private readonly HttpClient client = world.Client();

    private async Task<string> TakeInAsync(params (string, string)[] fields)
    {
        var ticket = "F" + Guid.NewGuid().ToString("N")[..8].ToUpperInvariant();
        var answer = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            [
                ("Form.Ticket", ticket),
                ("Form.Description", "blue case"),
                ("Form.Complaint", "It is odd."),
                ("Form.CodeSource", "Label"),
                ("Form.DataWish", "Keep"),
                .. fields,
            ]
        );
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return $"/jobs/{ticket}/find-out";
    }

    private async Task<string> PageAsync(string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    private async Task<JobRow> JobAsync(string page)
    {
        await using var db = world.Database.CreateDbContext();
        return (await new JobStore(db, TimeProvider.System).FindAsync(page.Split('/')[2]))!;
    }

    private static string NextCheck(string html) => Regex.Match(html, "name=\"check\" value=\"([^\"]+)\"").Groups[1].Value;

    [Fact]
    public async Task Answers_lead_check_by_check_to_a_finding()
    {
        var page = await TakeInAsync(("Form.Code", "HX204C"), ("Form.Said[now]", "waits"));
        var html = await PageAsync(page);
        var asked = 0;
        while (NextCheck(html) is { Length: > 0 } check && asked++ < 10)
        {
            var outcome = check switch
            {
                "screen-words" => "waits",
                "way-out-keys" => "goes-on",
                _ => "cannot-tell",
            };
            Assert.Equal(
                HttpStatusCode.Redirect,
                (await WebWorld.PostAsync(client, page, "Answer", ("check", check), ("outcome", outcome))).StatusCode
            );
            var next = await PageAsync(page);
            Assert.NotEqual(check, NextCheck(next));
            html = next;
        }

        Assert.Contains("Take this as the finding: stuck on a screen that is no fault", html);
        Assert.Contains("The way out: The key score out of it", html);
        await WebWorld.PostAsync(client, page, "Take", ("fault", "stuck-screen"));
        Assert.Contains("Finding: stuck on a screen", await PageAsync(page));
        Assert.Equal("stuck-screen", (await JobAsync(page)).FaultClassId);
    }

    [Fact]
    public async Task An_answer_brings_its_facts_and_takes_them_along_when_it_is_taken_back()
    {
        var page = await TakeInAsync(("Form.Code", "TN63E"));
        await WebWorld.PostAsync(client, page, "Answer", ("check", "lock"), ("outcome", "unlocked"));
        await WebWorld.PostAsync(client, page, "Answer", ("check", "power-key"), ("outcome", "system"));
        var job = await JobAsync(page);
        Assert.Contains(job.Facts, fact => fact is { Name: "lock-state", Value: "unlocked", Counts: true, Source: FactSource.Settings });
        Assert.Contains(job.Facts, fact => fact is { Name: "reached:system", Value: "yes", Counts: true });
        var answer = job.TriageAnswers.Single(one => one.CheckId == "lock");
        await WebWorld.PostAsync(client, page, "TakeBack", ("answerId", $"{answer.Id}"));
        job = await JobAsync(page);
        Assert.DoesNotContain(job.Facts, fact => fact.Name == "lock-state" && fact.Counts);
        Assert.Contains(job.Facts, fact => fact.Name == "lock-state" && fact.WithdrawnAt is not null);
        Assert.Contains(job.Facts, fact => fact is { Name: "reached:system", Counts: true });
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, page, "TakeBack", ("answerId", $"{answer.Id}"))).StatusCode
        );
    }

    [Fact]
    public async Task Of_two_people_who_answer_one_check_the_second_is_told_what_the_first_said()
    {
        var page = await TakeInAsync(("Form.Code", "HX204"));
        using var bench = await world.ClientAsync("bench");
        var both = await Task.WhenAll(
            WebWorld.PostAsync(client, page, "Answer", ("check", "status"), ("outcome", "custom")),
            WebWorld.PostAsync(bench, page, "Answer", ("check", "status"), ("outcome", "official"))
        );
        var told = Assert.Single(both, answer => answer.StatusCode == HttpStatusCode.UnprocessableEntity);
        Assert.Matches("(lead|bench) answered this meanwhile", WebUtility.HtmlDecode(await told.Content.ReadAsStringAsync()));
        var counting = Assert.Single((await JobAsync(page)).TriageAnswers, answer =>
            answer.CheckId == "status" && answer.WithdrawnAt is null
        );
        Assert.Equal(
            counting.OutcomeId,
            Assert.Single((await JobAsync(page)).Facts, fact => fact.Name == "device-status" && fact.Counts).Value
        );
    }

    [Fact]
    public async Task Two_people_who_note_facts_at_once_lose_nothing()
    {
        var page = await TakeInAsync(("Form.Code", "HX204"));
        using var bench = await world.ClientAsync("bench");
        await Task.WhenAll(
            Enumerable
                .Range(0, 6)
                .Select(i =>
                    WebWorld.PostAsync(
                        i % 2 == 0 ? client : bench,
                        page,
                        "Note",
                        ("name", "rollback-floor"),
                        ("value", $"{i}"),
                        ("source", "BootloaderScreen")
                    )
                )
        );
        Assert.Equal(
            ["0", "1", "2", "3", "4", "5"],
            (await JobAsync(page)).Facts.Where(fact => fact.Name == "rollback-floor").Select(fact => fact.Value).Order()
        );
    }

    [Theory]
    [InlineData("no-such-check", "yes")]
    [InlineData("status", "no-such-outcome")]
    [InlineData("", "")]
    public async Task An_answer_that_there_is_not_is_refused(string check, string outcome)
    {
        var page = await TakeInAsync();
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, page, "Answer", ("check", check), ("outcome", outcome))).StatusCode
        );
        Assert.Empty((await JobAsync(page)).TriageAnswers);
    }

    [Fact]
    public async Task A_swapped_board_is_a_finding_of_its_own()
    {
        var page = await TakeInAsync(("Form.Code", "TN63E"));
        await WebWorld.PostAsync(client, page, "Note", ("name", "model-code"), ("value", "TN63W"), ("source", "BootloaderScreen"));
        Assert.Contains("The board says TN63W, the shell says TN63E", await PageAsync(page));
    }

    [Fact]
    public async Task A_bound_from_the_logbook_is_shown_as_that()
    {
        var html = await PageAsync("/jobs/0426/find-out");
        Assert.Contains("lower bound only", html);
        Assert.Contains("At least 7: 7 (logbook)", html);
    }

    [Fact]
    public async Task Contradicting_observations_are_said_to_be_so()
    {
        var page = await TakeInAsync(("Form.Code", "HX204"), ("Form.Said[now]", "nothing"));
        await WebWorld.PostAsync(client, page, "Answer", ("check", "works"), ("outcome", "all-works"));
        Assert.Contains("These two do not go together", await PageAsync(page));
    }

    [Fact]
    public async Task A_near_code_is_offered_where_a_code_is_noted()
    {
        var page = await TakeInAsync();
        var answer = await WebWorld.PostAsync(client, page, "Note", ("name", "model-code"), ("value", "OBI7"), ("source", "Label"));
        Assert.Contains("data-code-use=\"OB17\"", await answer.Content.ReadAsStringAsync());
        Assert.Empty((await JobAsync(page)).Facts);
        var region = await WebWorld.PostAsync(client, page, "Note", ("name", "region"), ("value", "WHN"), ("source", "Label"));
        Assert.Contains("data-code-use=\"WHM\"", await region.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task A_snapshot_of_before_is_frozen()
    {
        var page = await TakeInAsync(("Form.Code", "HX204"));
        Assert.Contains("What is not read before cannot be proved after", await PageAsync(page));
        await WebWorld.PostAsync(client, page, "Snapshot");
        await WebWorld.PostAsync(client, page, "Note", ("name", "device-status"), ("value", "custom"), ("source", "Settings"));
        var snapshot = Assert.Single((await JobAsync(page)).Snapshots).Before;
        Assert.Equal("HX204", Assert.Single(snapshot.Facts).Value);
        Assert.Contains(FactName.DeviceStatus, snapshot.Missing);
    }

    [Fact]
    public async Task Pasted_build_strings_show_how_each_is_read()
    {
        var answer = await WebWorld.PostAsync(
            client,
            "/catalogue/grammars",
            null,
            ("Text", "TN63E.5.2608.WHM2\nTN63E.5.2608.KRW1\nTN63E.6.2612.WHM1\nHX2O4/15.26w10-7.r3\n<b>")
        );
        var html = WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync());
        Assert.Contains("counts only within one region", html);
        Assert.Contains("<td>newer</td>", html);
        Assert.Contains("Close to it: HX204/15.26w10-7.r3", html);
        Assert.Contains("No grammar of the catalogue reads it", html);
        Assert.Equal(
            HttpStatusCode.OK,
            (
                await WebWorld.PostAsync(client, "/catalogue/grammars", null, ("Text", string.Join('\n', Enumerable.Repeat("x", 5000))))
            ).StatusCode
        );
    }

    [Fact]
    public async Task Reading_a_phone_notes_that_it_reached_its_write_mode_and_was_seen()
    {
        await WebWorld.PostAsync(client, "/jobs/0424/find-out", "Read", ("port", "A"));
        Assert.Contains("It need not be opened", await PageAsync("/jobs/0424/find-out"));
    }
}

using System.Net;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Web.Bench;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

[Collection(nameof(StationsWorld))]
public sealed class IntakeTests(WebWorld world)
{
    private readonly HttpClient client = world.Client();

    private static string NewTicket() => "I" + Guid.NewGuid().ToString("N")[..8].ToUpperInvariant();

    private async Task<(HttpStatusCode Status, string Html, string Ticket)> TakeInAsync(params (string, string)[] fields)
    {
        var ticket = NewTicket();
        (string, string)[] usual =
        [
            ("Form.Ticket", ticket),
            ("Form.Description", "blue case"),
            ("Form.Complaint", "It loops."),
            ("Form.OwnershipStated", "true"),
            ("Form.CodeSource", "Label"),
        ];
        var answer = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            [.. usual.Where(one => !fields.Any(field => field.Item1 == one.Item1)), .. fields]
        );
        return (answer.StatusCode, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), ticket);
    }

    private async Task<JobRow> JobAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return (await new JobStore(db, TimeProvider.System).FindAsync(ticket))!;
    }

    private async Task<string> PageAsync(string path) => WebWorld.Words(await client.GetStringAsync(path));

    [Fact]
    public async Task A_near_code_is_offered_with_its_marks_and_never_applied()
    {
        var (status, html, ticket) = await TakeInAsync(("Form.Code", "HX2O4"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, status);
        Assert.Contains("data-code-use=\"HX204\"", html);
        Assert.Matches(@"HX2\s*<mark>0</mark>\s*4", html);
        Assert.Contains("value=\"HX2O4\"", html);
        await using var db = world.Database.CreateDbContext();
        Assert.False(await db.Jobs.AnyAsync(job => job.Ticket == ticket));
    }

    [Fact]
    public async Task What_a_code_reads_as_is_told_while_it_is_typed()
    {
        Assert.Contains("Cairn, Hadrel", await PageAsync("/jobs/new?handler=Code&text=hx204"));
        Assert.Contains("data-code-use=\"OB17\"", await PageAsync("/jobs/new?handler=Code&text=0B17"));
        Assert.Contains("TN63E, TN63W", await PageAsync("/jobs/new?handler=Code&text=Tern%206"));
        Assert.DoesNotContain(
            "<script>x",
            await PageAsync("/jobs/new?handler=Code&text=%26lt%3Bscript%3Ex").ContinueWith(page => page.Result.Replace("&lt;", ""))
        );
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/jobs/new?handler=Code&text=" + new string('x', 3000))).StatusCode);
    }

    [Fact]
    public async Task A_code_that_means_nothing_is_kept_as_a_claim_when_somebody_says_so()
    {
        var (status, _, ticket) = await TakeInAsync(("Form.Code", "HX2O4"), ("Form.KeepUnread", "true"));
        Assert.Equal(HttpStatusCode.Redirect, status);
        var job = await JobAsync(ticket);
        Assert.DoesNotContain(job.Facts, fact => fact.Name == FactName.ModelCode.Value);
        Assert.Contains("HX2O4", Assert.Single(job.Claims).Text);
    }

    [Fact]
    public async Task A_product_name_leads_to_the_one_question_that_tells_its_variants_apart()
    {
        var (status, _, ticket) = await TakeInAsync(("Form.Code", "Tern 6"));
        Assert.Equal(HttpStatusCode.Redirect, status);
        var html = await PageAsync($"/jobs/{ticket}/find-out");
        Assert.Contains("It may be TN63E or TN63W. Model code tells them apart: label", html);
        Assert.Contains("Merak Four (TN63E)", html);
    }

    [Fact]
    public async Task What_was_said_at_the_counter_becomes_observations_and_claims_of_the_customer()
    {
        var (_, _, ticket) = await TakeInAsync(
            ("Form.Code", "HX204"),
            ("Form.Said[now]", "loop"),
            ("Form.Said[last]", "write-broke"),
            ("Form.Said[reason]", ""),
            ("Form.Battery", "63 %"),
            ("Form.Accessories", "SIM, case")
        );
        var job = await JobAsync(ticket);
        Assert.Equal(["last=write-broke", "now=loop"], job.TriageAnswers.Select(answer => $"{answer.CheckId}={answer.OutcomeId}").Order());
        Assert.Contains(job.Facts, fact => fact is { Name: "mode", Value: "boot-loop", Source: FactSource.Customer });
        Assert.Contains(job.Facts, fact => fact is { Name: "battery-percent", Value: "63" });
        Assert.Equal("SIM, case", job.Accessories);
    }

    [Theory]
    [InlineData("Form.Said[now]", "flying", "none of those offered")]
    [InlineData("Form.Said[power-key]", "system", "none of those offered")]
    [InlineData("Form.Battery", "140", "Whole percent")]
    [InlineData("Form.Promised", "soon", "Write a time")]
    [InlineData("Form.Agreed", "everything", "none of those offered")]
    [InlineData("Form.Agreed", "data-loss", "Say who agreed")]
    [InlineData("Form.Ticket", "a b", "letters, digits and hyphens")]
    public async Task What_cannot_be_read_is_named_and_the_rest_is_kept(string field, string value, string word)
    {
        var (status, html, _) = await TakeInAsync((field, value));
        Assert.NotEqual(HttpStatusCode.Redirect, status);
        Assert.Contains(word, html);
        Assert.Contains("value=\"blue case\"", html);
        Assert.Contains("It loops.", html);
    }

    [Theory]
    [InlineData("Swollen")]
    [InlineData("Wet")]
    public async Task A_cell_that_is_not_sound_stops_the_job_there_and_then(string cell)
    {
        var (_, _, ticket) = await TakeInAsync(("Form.Code", "HX204"), ("Form.Cell", cell));
        Assert.Contains($"Stop: this phone is {cell.ToLowerInvariant()}", await PageAsync($"/jobs/{ticket}/intake"));
        Assert.Contains("Set it apart", await PageAsync($"/jobs/{ticket}/find-out"));
        Assert.DoesNotContain("data-answer", await PageAsync($"/jobs/{ticket}/find-out"));
        foreach (var (page, handler) in new[] { ("find-out", "Read"), ("find-out", "Answer"), ("route", null), ("find-out", "Note") })
        {
            var answer = await WebWorld.PostAsync(
                client,
                $"/jobs/{ticket}/{page}",
                handler,
                ("port", "A"),
                ("name", "lock-state"),
                ("value", "locked"),
                ("source", "Label"),
                ("check", "status"),
                ("outcome", "custom")
            );
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains("set apart", await answer.Content.ReadAsStringAsync());
        }

        var sheet = await PageAsync($"/jobs/{ticket}/hand-back");
        Assert.Contains($"Its cell is {cell.ToLowerInvariant()}: it was set apart, not charged and not worked on.", sheet);
        Assert.Contains("Do not charge it", sheet);
        Assert.Contains($"Stop: {cell.ToLowerInvariant()}", await PageAsync("/"));
    }

    [Fact]
    public async Task Consents_are_kept_in_their_words_and_printed_and_what_is_taken_back_stays()
    {
        var (_, _, ticket) = await TakeInAsync(
            ("Form.Agreed", "data-loss"),
            ("Form.Agreed", "backup-waived"),
            ("Form.AgreedBy", "the customer, at the counter")
        );
        var slip = await PageAsync($"/jobs/{ticket}/slip");
        Assert.Contains("Photos, apps and messages may be erased", slip);
        Assert.Contains("the customer, at the counter", slip);
        var job = await JobAsync(ticket);
        Assert.Equal(2, job.Consents.Count);
        var first = job.Consents[0];
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", "TakeBack", ("consentId", $"{first.Id}"));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", "TakeBack", ("consentId", $"{first.Id}"))).StatusCode
        );
        await WebWorld.PostAsync(
            client,
            $"/jobs/{ticket}/intake",
            "Agree",
            ("agreed", "data-loss"),
            ("agreedBy", "the owner, by telephone")
        );
        job = await JobAsync(ticket);
        Assert.Equal(3, job.Consents.Count);
        Assert.Equal((first.Text, "lead"), (job.Consents[0].Text, job.Consents[0].WithdrawnBy));
        Assert.Contains("taken back", await PageAsync($"/jobs/{ticket}/slip"));
        Assert.Contains(
            "Say who agreed",
            WebUtility.HtmlDecode(
                await (
                    await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", "Agree", ("agreed", "opening"), ("agreedBy", " "))
                ).Content.ReadAsStringAsync()
            )
        );
    }

    [Fact]
    public async Task A_consent_of_the_counter_answers_the_gate_of_the_plan()
    {
        await WebWorld.PostAsync(client, "/jobs/0421/find-out", "Read", ("port", "A"));
        string package;
        await using (var db = world.Database.CreateDbContext())
            package = (await db.Packages.SingleAsync(p => p.FileName == "cairn-stock-26w10.tar")).Id;
        await WebWorld.PostAsync(client, "/jobs/0421/match", null, ("package", package));
        var before = await PageAsync("/jobs/0421/plan?gates=1");
        await WebWorld.PostAsync(
            client,
            "/jobs/0421/intake",
            "Agree",
            ("agreed", "backup-waived"),
            ("agreedBy", "the customer, at the counter")
        );
        var after = await PageAsync("/jobs/0421/plan?gates=1");
        Assert.DoesNotContain("lead, at intake", before);
        Assert.Contains("lead, at intake", after);
        await WebWorld.PostAsync(client, "/jobs/0421/intake", "TakeBack", ("consentId", $"{(await JobAsync("0421")).Consents[0].Id}"));
        Assert.DoesNotContain("lead, at intake", await PageAsync("/jobs/0421/plan?gates=1"));
    }

    [Fact]
    public async Task Whoever_is_second_sees_what_the_first_stored_beside_what_was_typed_and_may_keep_it_then()
    {
        var (_, _, ticket) = await TakeInAsync(("Form.Said[now]", "loop"));
        (string, string)[] Fields(string description, string version) =>
            [
                ("Form.Ticket", ticket),
                ("Form.Description", description),
                ("Form.Complaint", "It loops."),
                ("Form.OwnershipStated", "true"),
                ("Form.Said[now]", "logo"),
                ("Form.Version", version),
            ];
        var stale = $"{(await JobAsync(ticket)).Version}";
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", null, Fields("red case", stale))).StatusCode
        );
        var second = await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", null, Fields("green case", stale));
        var html = WebUtility.HtmlDecode(await second.Content.ReadAsStringAsync());
        Assert.Equal(HttpStatusCode.Conflict, second.StatusCode);
        Assert.Contains("<td>red case</td><td>green case</td>", html);
        Assert.Contains("value=\"green case\"", html);
        Assert.Equal("red case", (await JobAsync(ticket)).Description);
        var version = System.Text.RegularExpressions.Regex.Match(html, "name=\"Form.Version\" value=\"([0-9]+)\"").Groups[1].Value;
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", null, Fields("green case", version))).StatusCode
        );
        var job = await JobAsync(ticket);
        Assert.Equal("green case", job.Description);
        // The first one's corrected answer stays in the history, and one counts.
        Assert.Equal("logo", Assert.Single(job.TriageAnswers, answer => answer.CheckId == "now" && answer.WithdrawnAt is null).OutcomeId);
        Assert.Contains(job.TriageAnswers, answer => answer is { OutcomeId: "loop", WithdrawnAt: not null });
    }

    public static TheoryData<string, string?> Promises { get; } =
        new()
        {
            { "16:40", "2026-09-03 16:40" },
            { "1640", "2026-09-03 16:40" },
            { "9:05", "2026-09-04 09:05" },
            { "tomorrow 10:00", "2026-09-04 10:00" },
            { "+2h", "2026-09-03 14:00" },
            { "+1.5h", "2026-09-03 13:30" },
            { "+3d", "2026-09-06 12:00" },
            { "2026-11-30 10:00", "2026-11-30 10:00" },
            { "2026-11-30T10:00", "2026-11-30 10:00" },
            { "3.10.2026 8:15", "2026-10-03 08:15" },
            { "25:00", null },
            { "soon", null },
            { "+0h", null },
            { "+h", null },
            { "2026-02-30 10:00", null },
            { "", null },
        };

    [Theory]
    [MemberData(nameof(Promises))]
    public void Promises_are_read_as_people_type_them(string text, string? expected)
    {
        var noon = new DateTimeOffset(new DateTime(2026, 9, 3, 12, 0, 0, DateTimeKind.Local));
        var read = PromiseText.Read(text, noon);
        Assert.Equal(expected, read?.ToLocalTime().ToString("yyyy-MM-dd HH:mm"));
        if (read is { } at)
            Assert.Equal(at, PromiseText.Read(PromiseText.Of(at, noon), noon));
    }
}

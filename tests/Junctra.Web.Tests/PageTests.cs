using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

[Collection(nameof(StationsWorld))]
public sealed class PageTests(WebWorld world)
{
    private readonly HttpClient client = world.Client();

    private static string Text(string html) => WebUtility.HtmlDecode(html);

    private async Task<string> TakeInAsync(string? code = "HX204", string data = "MayGo")
    {
        var ticket = "T" + Guid.NewGuid().ToString("N")[..8].ToUpperInvariant();
        var answer = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            ("Form.Ticket", ticket),
            ("Form.Description", "blue case"),
            ("Form.Complaint", "loops"),
            ("Form.Code", code ?? ""),
            ("Form.CodeSource", "Label"),
            ("Form.Said[now]", "loop"),
            ("Form.DataWish", data),
            ("Form.OwnershipStated", "true")
        );
        Assert.Equal($"/jobs/{ticket}/find-out", answer.Headers.Location?.ToString());
        return ticket;
    }

    [Theory]
    [InlineData("/")]
    [InlineData("/jobs/new")]
    [InlineData("/packages")]
    [InlineData("/logbook")]
    [InlineData("/ports")]
    [InlineData("/find?q=HX")]
    [InlineData("/account")]
    [InlineData("/staff")]
    [InlineData("/catalogue")]
    [InlineData("/catalogue/grammars")]
    [InlineData("/jobs/0421/slip")]
    [InlineData("/jobs/0426/find-out")]
    [InlineData("/jobs/0421/intake")]
    [InlineData("/jobs/0421/find-out")]
    [InlineData("/jobs/0421/match")]
    [InlineData("/jobs/0421/route")]
    [InlineData("/jobs/0421/plan")]
    [InlineData("/jobs/0421/write")]
    [InlineData("/jobs/0421/check")]
    [InlineData("/jobs/0421/hand-back")]
    public async Task Every_view_answers_with_its_headers(string path)
    {
        var answer = await client.GetAsync(path);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var policy = answer.Headers.GetValues("Content-Security-Policy").Single();
        Assert.Contains("script-src 'self'", policy);
        Assert.DoesNotContain("unsafe", policy);
        var html = await answer.Content.ReadAsStringAsync();
        Assert.DoesNotContain(" style=", html);
        Assert.DoesNotContain("<script>", html);
        Assert.DoesNotMatch("(src|href)=\"(https?:)?//(?!127)", html);
    }

    [Theory]
    [InlineData("/jobs/9999/plan")]
    [InlineData("/packages/none")]
    [InlineData("/nowhere")]
    public async Task What_does_not_exist_says_so(string path)
    {
        var answer = await client.GetAsync(path);
        Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        Assert.Contains("no such page", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Health_needs_the_database() => Assert.Equal("Healthy", await client.GetStringAsync("/healthz"));

    [Fact]
    public async Task A_change_without_its_token_is_refused() =>
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await client.PostAsync("/jobs/new", new FormUrlEncodedContent([KeyValuePair.Create("Form.Ticket", "1")]))).StatusCode
        );

    [Fact]
    public async Task What_people_type_is_shown_and_never_run()
    {
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(
            client,
            $"/jobs/{ticket}/intake",
            null,
            ("Form.Ticket", ticket),
            ("Form.Description", "<script>alert(1)</script>"),
            ("Form.Complaint", "\"><img src=x>"),
            ("Form.Version", await VersionAsync(ticket))
        );
        var html = await client.GetStringAsync($"/jobs/{ticket}/intake");
        Assert.DoesNotContain("<script>alert", html);
        Assert.DoesNotContain("<img src=x", html);
        Assert.Contains("<script>alert(1)</script>", Text(html));
    }

    private async Task<string> VersionAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.Jobs.SingleAsync(j => j.Ticket == ticket)).Version.ToString();
    }

    [Fact]
    public async Task The_second_of_two_people_is_told_and_nothing_is_overwritten()
    {
        var ticket = await TakeInAsync();
        var stale = await VersionAsync(ticket);
        (string, string)[] Fields(string text) =>
            [("Form.Ticket", ticket), ("Form.Description", text), ("Form.Complaint", "loops"), ("Form.Version", stale)];
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", null, Fields("first"))).StatusCode
        );
        var second = await WebWorld.PostAsync(client, $"/jobs/{ticket}/intake", null, Fields("second"));
        Assert.Equal(HttpStatusCode.Conflict, second.StatusCode);
        Assert.Contains("Somebody else changed this job", await second.Content.ReadAsStringAsync());
        Assert.Contains("first", await client.GetStringAsync($"/jobs/{ticket}/intake"));
    }

    [Fact]
    public async Task A_ticket_that_is_taken_is_named()
    {
        var answer = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            ("Form.Ticket", "0421"),
            ("Form.Description", "x"),
            ("Form.Complaint", "y")
        );
        Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
        Assert.Contains("taken already", await answer.Content.ReadAsStringAsync());
    }

    [Theory]
    [InlineData("HX2O4", "neither a model code")]
    [InlineData("TN63E TN63W", "names TN63E and TN63W")]
    public async Task A_code_that_is_not_known_is_said_and_what_was_typed_is_kept(string code, string word)
    {
        var answer = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            ("Form.Ticket", "T9"),
            ("Form.Description", "red"),
            ("Form.Complaint", "dead"),
            ("Form.Code", code)
        );
        var html = Text(await answer.Content.ReadAsStringAsync());
        Assert.Contains(word, html);
        Assert.Contains("value=\"red\"", html);
    }

    [Theory]
    [InlineData("Link")]
    [InlineData("99")]
    public async Task Nobody_can_type_what_only_the_link_can_say(string source)
    {
        var taken = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            ("Form.Ticket", "T8"),
            ("Form.Description", "red"),
            ("Form.Complaint", "dead"),
            ("Form.Code", "HX204"),
            ("Form.CodeSource", source)
        );
        Assert.NotEqual(HttpStatusCode.Redirect, taken.StatusCode);
        var ticket = await TakeInAsync();
        var noted = await WebWorld.PostAsync(
            client,
            $"/jobs/{ticket}/find-out",
            "Note",
            ("name", "rollback-floor"),
            ("value", "1"),
            ("source", source)
        );
        Assert.NotEqual(HttpStatusCode.Redirect, noted.StatusCode);
        await using var db = world.Database.CreateDbContext();
        Assert.DoesNotContain(await db.Facts.Where(f => db.Jobs.Any(j => j.Id == f.JobId && j.Ticket == ticket)).ToListAsync(), f =>
            f.Source == FactSource.Link
        );
    }

    [Fact]
    public async Task A_typed_build_string_brings_its_facts()
    {
        var ticket = await TakeInAsync("hx204/15.26w10-7.r3");
        var html = Text(await client.GetStringAsync($"/jobs/{ticket}/find-out"));
        Assert.Contains("HX204", html);
        Assert.Contains("Bootloader revision", html);
        Assert.Contains("Rollback floor", html);
    }

    [Fact]
    public async Task What_disagrees_with_the_phone_shows_as_conflicting()
    {
        await world.Phones.DoAsync("B", "hold-menu-keys");
        var ticket = await TakeInAsync("HX204C");
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "B"));
        var html = await client.GetStringAsync($"/jobs/{ticket}/find-out");
        Assert.Contains("conflicting", html);
        Assert.Contains("withdraw", html);
        Assert.Contains("Stop", await client.GetStringAsync($"/jobs/{ticket}/match"));
    }

    [Fact]
    public async Task A_second_phone_in_one_job_is_refused()
    {
        await world.Phones.DoAsync("B", "hold-menu-keys");
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "B"));
        Assert.Contains("another phone", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task A_port_where_nothing_answers_is_said_and_nothing_is_recorded()
    {
        await WebWorld.PostAsync(client, "/ports", null, ("name", "Z"), ("address", $"127.0.0.1:{StandInProcess.FreePorts(1)[0]}"));
        var ticket = await TakeInAsync(code: null);
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "Z"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("Nothing answers", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Every_package_is_judged_and_a_stop_cannot_be_chosen()
    {
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var html = Text(await client.GetStringAsync($"/jobs/{ticket}/match"));
        Assert.Contains("for this model and others of its name", html);
        Assert.Contains("can be written <small>4</small>", html);
        Assert.Contains("stopped <small>4</small>", html);
        Assert.Contains("Revision 2 is below the floor 3", html);
        Assert.Contains("Raises the floor from 3 to 4 for ever", html);
        Assert.Contains("Made for HX204C, not HX204", html);
        Assert.Contains("radio image is not what its publisher sent out", html);
        Assert.Contains("218.1 MB expanded; its partition holds 201.3 MB", html);

        var below = await PackageIdAsync("cairn-stock-25w40.tar");
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/match", null, ("package", below));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("No package is chosen", await client.GetStringAsync($"/jobs/{ticket}/plan"));
    }

    private async Task<string> PackageIdAsync(string file)
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.Packages.SingleAsync(p => p.FileName == file)).Id;
    }

    [Fact]
    public async Task Nothing_is_written_while_a_gate_is_closed_or_the_ticket_is_wrong()
    {
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var package = await PackageIdAsync("cairn-stock-26w10.tar");
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/match", null, ("package", package));
        (string, string)[] answers =
        [
            ("gate.backup", "waived"),
            ("gate.data-loss", "agreed"),
            ("gate.accounts", "signed-out"),
            ("gate.modification", "agreed"),
            ("gate.program", "closed"),
            ("gate.cable", "steady"),
        ];
        var plan = $"/jobs/{ticket}/plan?gates=1";

        var closed = await WebWorld.PostAsync(client, plan, "Begin", [.. answers.Where(a => a.Item1 != "gate.cable"), ("typed", ticket)]);
        Assert.Contains("Still closed: Cable and place", Text(await closed.Content.ReadAsStringAsync()));
        var mistyped = await WebWorld.PostAsync(client, plan, "Begin", [.. answers, ("typed", "0000")]);
        Assert.Contains("is not the ticket of this phone", Text(await mistyped.Content.ReadAsStringAsync()));
        var swapped = await WebWorld.PostAsync(client, plan, "Begin", [.. answers, ("planFor", new string('0', 32)), ("typed", ticket)]);
        Assert.Contains("was changed meanwhile", Text(await swapped.Content.ReadAsStringAsync()));

        await using var db = world.Database.CreateDbContext();
        Assert.False(await db.Runs.AnyAsync(r => r.Job.Ticket == ticket));
        Assert.Equal(
            "custom-2.1",
            System.Text.RegularExpressions.Regex.Match(Text(await client.GetStringAsync($"/jobs/{ticket}/find-out")), "custom-2\\.1").Value
        );
    }

    [Theory]
    [InlineData("", "x")]
    [InlineData("A1", "127.0.0.1")]
    [InlineData("TOOLONG", "127.0.0.1:1")]
    public async Task A_port_that_is_none_is_refused(string name, string address) =>
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, "/ports", null, ("name", name), ("address", address))).StatusCode
        );

    [Fact]
    public async Task A_runs_events_resume_after_the_last_one_seen()
    {
        var ticket = await TakeInAsync();
        int runId;
        await using (var db = world.Database.CreateDbContext())
        {
            var job = await db.Jobs.SingleAsync(j => j.Ticket == ticket);
            var plan = Planned.Plan();
            var run = new RunRow
            {
                JobId = job.Id,
                PackageId = plan.Package!.Id,
                Plan = plan,
                Report = Core.Matching.Matcher.Match(Sample.Cairn(), Sample.Package(), Repo.Catalogue),
                PortName = "Q",
                Address = "127.0.0.1:1",
                Status = RunStatus.Failed,
                BegunAt = Sample.Noon,
                BegunBy = "bench",
                EndedAt = Sample.Noon,
            };
            db.Runs.Add(run);
            await db.SaveChangesAsync();
            runId = run.Id;
            RunEvent[] events =
            [
                new RunQueued("bench", "Q"),
                new RunStarted("w"),
                new StepStarted(1, "Verify the package"),
                new RunFailed("The link broke.", "Again."),
            ];
            db.RunEvents.AddRange(
                events.Select(
                    (e, i) =>
                        new RunEventRow
                        {
                            RunId = runId,
                            Seq = i + 1,
                            At = Sample.Noon,
                            Event = e,
                        }
                )
            );
            await db.SaveChangesAsync();
        }

        var all = await client.GetStringAsync($"/runs/{runId}/events");
        Assert.Contains("event: run\n", all);
        Assert.Contains("\nid: 4\n", all);
        Assert.Contains("Verify the package", all);
        using var resume = new HttpRequestMessage(HttpMethod.Get, $"/runs/{runId}/events");
        resume.Headers.Add("Last-Event-ID", "3");
        var rest = await (await client.SendAsync(resume)).Content.ReadAsStringAsync();
        Assert.DoesNotContain("Verify the package\"", rest);
        Assert.Contains("The link broke.", rest);
        Assert.Contains("Nothing was written: the phone is as it came", Text(await client.GetStringAsync($"/jobs/{ticket}/write")));
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/runs/999999/events")).StatusCode);
    }
}

using System.Net;
using Junctra.Core.Facts;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

[Collection(nameof(StationsWorld))]
public sealed partial class PageTests(WebWorld world)
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
    [InlineData("/jobs/0421/label")]
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
}

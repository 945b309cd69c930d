using System.Net;
using System.Text.RegularExpressions;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

[Collection(nameof(DoorsWorld))]
public sealed class StaffTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private async Task<string> MakeAsync(string password = "first-password", params string[] roles)
    {
        var name = "p" + Guid.NewGuid().ToString("N")[..8];
        var made = await WebWorld.PostAsync(
            lead,
            "/staff",
            "Add",
            [("name", name), ("password", password), .. (roles.Length == 0 ? ["bench"] : roles).Select(role => ("roles", role))]
        );
        Assert.Equal(HttpStatusCode.Redirect, made.StatusCode);
        return name;
    }

    private async Task<int> IdAsync(string name)
    {
        await using var db = world.Database.CreateDbContext();
        return await db.Users.Where(user => user.UserName == name).Select(user => user.Id).SingleAsync();
    }

    private async Task<HttpClient> SignedInAsync(string name, string password)
    {
        var client = world.Stranger();
        await WebWorld.SignInAsync(client, name, password);
        return client;
    }

    private static async Task<bool> IsInAsync(HttpClient client) => (await client.GetAsync("/")).StatusCode == HttpStatusCode.OK;

    [Fact]
    public async Task Every_page_and_endpoint_but_sign_in_and_health_needs_somebody_who_is_signed_in()
    {
        using var stranger = world.Stranger();
        var open = new List<string>();
        foreach (var endpoint in world.Endpoints())
        {
            var path = "/" + Regex.Replace(endpoint, @"\{[^}]*\}", "1").TrimStart('/');
            var answer = await stranger.GetAsync(path);
            if (answer.StatusCode is not (HttpStatusCode.Unauthorized or HttpStatusCode.Redirect or HttpStatusCode.NotFound))
                open.Add(path);
            if (answer.StatusCode == HttpStatusCode.Redirect)
                Assert.Contains("/sign-in", answer.Headers.Location!.ToString());
        }

        // The page of errors shows words and nothing else.
        Assert.Equal(["/error", "/healthz", "/sign-in"], open.Distinct().Order());
    }

    [Fact]
    public async Task Whoever_comes_by_a_browser_is_led_to_sign_in_and_back()
    {
        using var stranger = world.Stranger();
        var request = new HttpRequestMessage(HttpMethod.Get, "/jobs/0421/match");
        request.Headers.Accept.ParseAdd("text/html");
        var answer = await stranger.SendAsync(request);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.EndsWith("/sign-in?to=%2Fjobs%2F0421%2Fmatch", answer.Headers.Location!.ToString());
        var into = await WebWorld.PostAsync(
            stranger,
            "/sign-in",
            null,
            ("Name", "bench"),
            ("Password", "slipway-bench"),
            ("To", "/jobs/0421/match")
        );
        Assert.Equal("/jobs/0421/match", into.Headers.Location!.ToString());
    }

    [Theory]
    [InlineData("https://elsewhere.test/")]
    [InlineData("//elsewhere.test")]
    [InlineData("/\\elsewhere.test")]
    public async Task Sign_in_leads_nowhere_else(string to)
    {
        using var stranger = world.Stranger();
        var into = await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", "bench"), ("Password", "slipway-bench"), ("To", to));
        Assert.Equal("/", into.Headers.Location!.ToString());
    }

    [Fact]
    public async Task A_wrong_name_and_a_wrong_password_are_told_in_the_same_words()
    {
        using var stranger = world.Stranger();
        var name = await (
            await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", "nobody"), ("Password", "whatever-it-is"))
        ).Content.ReadAsStringAsync();
        var person = await MakeAsync();
        var password = await (
            await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", person), ("Password", "whatever-it-is"))
        ).Content.ReadAsStringAsync();
        Assert.Contains("Name or password is not right", name);
        Assert.Equal(SignInTests.Told(name), SignInTests.Told(password));
    }

    [Fact]
    public async Task Five_wrong_passwords_hold_an_account_up_until_the_lead_opens_it()
    {
        var name = await MakeAsync();
        using var stranger = world.Stranger();
        for (var i = 0; i < 5; i++)
            await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", name), ("Password", "wrong-password"));
        var right = await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", name), ("Password", "first-password"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, right.StatusCode);
        await WebWorld.PostAsync(lead, "/staff", "Open", ("id", $"{await IdAsync(name)}"));
        await WebWorld.SignInAsync(stranger, name, "first-password");
    }

    [Fact]
    public async Task A_changed_password_ends_every_other_sign_in()
    {
        var name = await MakeAsync();
        using var here = await SignedInAsync(name, "first-password");
        using var there = await SignedInAsync(name, "first-password");
        Assert.Contains("Somebody else chose your password", await here.GetStringAsync("/account"));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    here,
                    "/account",
                    "Password",
                    ("present", "wrong-password"),
                    ("wanted", "second-password"),
                    ("again", "second-password")
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    here,
                    "/account",
                    "Password",
                    ("present", "first-password"),
                    ("wanted", "short"),
                    ("again", "short")
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    here,
                    "/account",
                    "Password",
                    ("present", "first-password"),
                    ("wanted", "second-password"),
                    ("again", "another-password")
                )
            ).StatusCode
        );
        Assert.True(await IsInAsync(there));
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    here,
                    "/account",
                    "Password",
                    ("present", "first-password"),
                    ("wanted", "second-password"),
                    ("again", "second-password")
                )
            ).StatusCode
        );
        Assert.True(await IsInAsync(here));
        Assert.False(await IsInAsync(there));
        Assert.DoesNotContain("Somebody else chose", await here.GetStringAsync("/account"));
    }

    [Fact]
    public async Task Signing_out_everywhere_ends_every_sign_in()
    {
        var name = await MakeAsync();
        using var here = await SignedInAsync(name, "first-password");
        using var there = await SignedInAsync(name, "first-password");
        await WebWorld.PostAsync(here, "/account", "Everywhere");
        Assert.False(await IsInAsync(here));
        Assert.False(await IsInAsync(there));
    }

    [Fact]
    public async Task What_the_lead_changes_counts_at_once()
    {
        var name = await MakeAsync("first-password", "bench");
        using var client = await SignedInAsync(name, "first-password");
        Assert.Equal(HttpStatusCode.Forbidden, (await client.GetAsync("/jobs/new")).StatusCode);
        await WebWorld.PostAsync(lead, "/staff", "Roles", ("id", $"{await IdAsync(name)}"), ("roles", "counter"));
        Assert.False(await IsInAsync(client));
        await WebWorld.SignInAsync(client, name, "first-password");
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/jobs/new")).StatusCode);
        await WebWorld.PostAsync(lead, "/staff", "Close", ("id", $"{await IdAsync(name)}"));
        Assert.False(await IsInAsync(client));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, "/sign-in", null, ("Name", name), ("Password", "first-password"))).StatusCode
        );
    }

    [Fact]
    public async Task The_last_lead_can_neither_close_itself_nor_give_its_role_away()
    {
        var id = await IdAsync("lead");
        var role = await WebWorld.PostAsync(lead, "/staff", "Roles", ("id", $"{id}"), ("roles", "bench"));
        Assert.Contains("the last lead", await role.Content.ReadAsStringAsync());
        var closed = await WebWorld.PostAsync(lead, "/staff", "Close", ("id", $"{id}"));
        Assert.Contains("the last lead", await closed.Content.ReadAsStringAsync());
        Assert.True(await IsInAsync(lead));
    }

    [Theory]
    [InlineData("counter", "/jobs/new", HttpStatusCode.OK)]
    [InlineData("bench", "/jobs/new", HttpStatusCode.Forbidden)]
    [InlineData("bench", "/staff", HttpStatusCode.Forbidden)]
    [InlineData("counter", "/catalogue/grammars", HttpStatusCode.Forbidden)]
    [InlineData("lead", "/catalogue/grammars", HttpStatusCode.OK)]
    [InlineData("bench", "/catalogue", HttpStatusCode.OK)]
    [InlineData("counter", "/jobs/0421/match", HttpStatusCode.OK)]
    [InlineData("bench", "/jobs/0421/hand-back", HttpStatusCode.OK)]
    public async Task Each_role_sees_what_it_is_for(string who, string path, HttpStatusCode expected)
    {
        using var client = await world.ClientAsync(who);
        Assert.Equal(expected, (await client.GetAsync(path)).StatusCode);
    }

    [Theory]
    [InlineData("counter", "/jobs/0421/find-out", "Answer")]
    [InlineData("counter", "/jobs/0421/find-out", "Read")]
    [InlineData("counter", "/jobs/0421/match", null)]
    [InlineData("counter", "/jobs/0421/plan", "Begin")]
    [InlineData("counter", "/jobs/0421/check", "Read")]
    [InlineData("bench", "/jobs/0421/hand-back", null)]
    [InlineData("counter", "/ports", null)]
    public async Task Nobody_acts_for_another_role(string who, string path, string? handler)
    {
        using var client = await world.ClientAsync(who);
        var answer = await WebWorld.PostAsync(client, path, handler, ("port", "A"), ("name", "Q"), ("address", "127.0.0.1:1"));
        Assert.Equal(HttpStatusCode.Forbidden, answer.StatusCode);
        Assert.Contains("for another role", await answer.Content.ReadAsStringAsync());
    }

    [Theory]
    [InlineData("Peter Person", "long-enough", "bench", "lower-case letters")]
    [InlineData("short", "short", "bench", "10 characters")]
    [InlineData("lead", "long-enough-1", "bench", "taken")]
    [InlineData("norole", "long-enough-1", "", "one role at least")]
    [InlineData("norole", "long-enough-1", "owner", "one role at least")]
    public async Task A_bad_account_is_named_and_not_made(string name, string password, string role, string word)
    {
        var answer = await WebWorld.PostAsync(lead, "/staff", "Add", ("name", name), ("password", password), ("roles", role));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains(word, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()));
    }

    [Fact]
    public async Task Acts_stand_under_the_name_of_who_did_them()
    {
        using var client = await world.ClientAsync("counter");
        await WebWorld.PostAsync(client, "/jobs/0425/intake", "Claim", ("text", "It was cheap."), ("saidBy", "a seller"));
        Assert.Contains("written down by counter", await client.GetStringAsync("/jobs/0425/intake"));
    }

    [Fact]
    public async Task Demo_passwords_are_shown_in_the_demo_only()
    {
        using var stranger = world.Stranger();
        Assert.Contains("slipway-bench", await stranger.GetStringAsync("/sign-in"));
        await using var empty = await TestDatabase.CreateAsync(migrate: false);
        await using var shop = world.Shop(empty.Connection);
        Assert.DoesNotContain("slipway", await shop.CreateClient().GetStringAsync("/sign-in"));
    }

    [Fact]
    public async Task The_first_lead_is_made_once_by_the_link_on_the_console()
    {
        await using var empty = await TestDatabase.CreateAsync(migrate: false);
        await using var shop = world.Shop(empty.Connection);
        using var client = shop.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
        var console = new StringWriter();
        await shop.Services.GetRequiredService<Staff.FirstLead>().AnnounceAsync(console);
        var link = Regex.Match(console.ToString(), @"/first-lead\?token=[0-9a-f]{48}").Value;
        Assert.NotEmpty(link);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/first-lead?token=" + new string('0', 48))).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/first-lead")).StatusCode);
        var token = link.Split('=')[1];
        Assert.Contains(
            "10 characters",
            await (
                await WebWorld.PostAsync(client, link, null, ("Token", token), ("Name", "mara"), ("Password", "short"))
            ).Content.ReadAsStringAsync()
        );
        var page = await client.GetStringAsync(link);
        var forgery = Regex.Match(page, "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        // Two windows at once: one of them is first.
        var both = await Task.WhenAll(
            new[] { "mara", "otto" }.Select(name =>
                client.PostAsync(
                    "/first-lead",
                    new FormUrlEncodedContent([
                        KeyValuePair.Create("Token", token),
                        KeyValuePair.Create("Name", name),
                        KeyValuePair.Create("Password", "a-long-password"),
                        KeyValuePair.Create("__RequestVerificationToken", forgery),
                    ])
                )
            )
        );
        Assert.Single(both, answer => answer.StatusCode == HttpStatusCode.Redirect);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync(link)).StatusCode);
        await using var db = empty.CreateDbContext();
        var first = await db.Users.SingleAsync();
        Assert.Equal(StaffRoles.All.Count, await db.UserRoles.CountAsync(held => held.UserId == first.Id));
        var again = new StringWriter();
        await shop.Services.GetRequiredService<Staff.FirstLead>().AnnounceAsync(again);
        Assert.Equal("", again.ToString());
        await WebWorld.SignInAsync(client, first.UserName!, "a-long-password");
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/staff")).StatusCode);
    }
}

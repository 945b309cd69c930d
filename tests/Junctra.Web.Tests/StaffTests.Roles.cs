using System.Net;
using System.Text.RegularExpressions;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>What each role sees and may do.</summary>
public sealed partial class StaffTests
{
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

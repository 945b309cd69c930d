using System.Net;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

[Collection(nameof(DoorsWorld))]
public sealed partial class StaffTests(WebWorld world)
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
}

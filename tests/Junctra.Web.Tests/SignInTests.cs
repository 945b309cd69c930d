using System.Net;
using System.Text.RegularExpressions;
using Junctra.Testing;
using Junctra.Web.Staff;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The door as a stranger meets it: what it tells, whom it holds up, and what a copied cookie is good for.</summary>
[Collection(nameof(DoorsWorld))]
public sealed class SignInTests(WebWorld world)
{
    private const string Right = "first-password";
    private readonly HttpClient lead = world.Client();

    /// <summary>What the door answers, without the page around it.</summary>
    internal static string Told(string page) => Regex.Match(WebUtility.HtmlDecode(page), "Name or password is not right[^<]*").Value.Trim();

    private async Task<string> MakeAsync()
    {
        var name = "p" + Guid.NewGuid().ToString("N")[..8];
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/staff", "Add", ("name", name), ("password", Right), ("roles", "bench"))).StatusCode
        );
        return name;
    }

    private async Task<string> IdAsync(string name)
    {
        await using var db = world.Database.CreateDbContext();
        return $"{await db.Users.Where(user => user.UserName == name).Select(user => user.Id).SingleAsync()}";
    }

    private static Task<HttpResponseMessage> TryAsync(HttpClient client, string name, string password) =>
        WebWorld.PostAsync(client, "/sign-in", null, ("Name", name), ("Password", password));

    private static async Task<(HttpStatusCode, string)> AnswerAsync(HttpClient client, string name, string password)
    {
        var answer = await TryAsync(client, name, password);
        return (answer.StatusCode, Told(await answer.Content.ReadAsStringAsync()));
    }

    [Fact]
    public async Task An_unknown_a_wrong_a_held_up_and_a_closed_account_are_told_the_same()
    {
        using var stranger = world.Stranger();
        var (person, closed) = (await MakeAsync(), await MakeAsync());
        await WebWorld.PostAsync(lead, "/staff", "Close", ("id", await IdAsync(closed)));
        var unknown = await AnswerAsync(stranger, "nobody-here", "whatever-it-is");
        Assert.NotEqual("", unknown.Item2);
        Assert.Equal(unknown, await AnswerAsync(stranger, person, "whatever-it-is"));
        Assert.Equal(unknown, await AnswerAsync(stranger, closed, Right));
        for (var i = 0; i < 6; i++)
            await TryAsync(stranger, person, "whatever-it-is");
        Assert.Equal(unknown, await AnswerAsync(stranger, person, Right));

        // Who reads the audit sees it; what was typed as a name is not kept where nobody has it.
        await using var db = world.Database.CreateDbContext();
        var acts = await db.Audit.Where(line => line.By == person).Select(line => line.Act).ToListAsync();
        Assert.Contains(acts, act => act.StartsWith("A wrong password was typed, from ", StringComparison.Ordinal));
        Assert.Contains(acts, act => act.StartsWith("Too many wrong passwords, from ", StringComparison.Ordinal));
        Assert.False(await db.Audit.AnyAsync(line => line.By == "nobody-here" || line.Act.Contains("nobody-here")));
    }

    /// <summary>
    /// What an answer costs is what it can be told by: one password held against a hash, and one line written, whoever it is.
    /// </summary>
    [Fact]
    public async Task Whoever_is_refused_the_work_behind_the_answer_is_the_same()
    {
        using var stranger = world.Stranger();
        var (person, closed, held) = (await MakeAsync(), await MakeAsync(), await MakeAsync());
        await WebWorld.PostAsync(lead, "/staff", "Close", ("id", await IdAsync(closed)));
        async Task<int> LinesAsync()
        {
            await using var db = world.Database.CreateDbContext();
            return await db.Audit.CountAsync();
        }

        async Task<(int Held, int Lines)> CostAsync(string name, string password)
        {
            var (before, lines) = (world.PasswordsHeld, await LinesAsync());
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await TryAsync(stranger, name, password)).StatusCode);
            return (world.PasswordsHeld - before, await LinesAsync() - lines);
        }

        foreach (
            var (name, password) in new[]
            {
                ("nobody-at-all", "whatever-it-is"),
                (person, "whatever-it-is"),
                (closed, Right),
                (closed, "whatever-it-is"),
                (new string('n', 300), "x"),
                (person, new string('p', 4_000)),
                (person, ""),
            }
        )
            Assert.Equal((1, 1), await CostAsync(name, password));
        for (var i = 0; i < SignInAttempts.MaxForAccount; i++)
            await TryAsync(stranger, held, "whatever-it-is");
        for (var i = 0; i < SignInAttempts.MaxForAccount; i++)
            await TryAsync(stranger, "nobody-else", "whatever-it-is");
        Assert.Equal((1, 0), await CostAsync(held, Right));
        Assert.Equal((1, 0), await CostAsync("nobody-else", "whatever-it-is"));
    }

    [Fact]
    public async Task A_stranger_who_tries_keeps_nobody_out_who_signed_in_there_before()
    {
        var name = await MakeAsync();
        using var known = world.Stranger();
        await WebWorld.SignInAsync(known, name, Right);
        using var stranger = world.Stranger();
        for (var i = 0; i < 7; i++)
            await TryAsync(stranger, name, "wrong-password");
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await TryAsync(stranger, name, Right)).StatusCode);
        await WebWorld.PostAsync(known, "/account", "SignOut");
        Assert.NotEqual(HttpStatusCode.OK, (await known.GetAsync("/")).StatusCode);
        await WebWorld.SignInAsync(known, name, Right);
    }

    [Fact]
    public void Tries_count_by_account_by_address_and_by_known_computer_and_are_forgotten()
    {
        var clock = new ManualTime(Sample.Noon);
        var attempts = new SignInAttempts(clock);
        void Wrong(int times, string account, string address, string? computer = null)
        {
            for (var i = 0; i < times; i++)
                attempts.Wrong(account, address, computer);
        }

        Wrong(SignInAttempts.MaxForAccount, "ann", "10.0.0.1");
        Assert.True(attempts.IsHeldUp("ann", "10.0.0.1", null));
        Assert.False(attempts.IsHeldUp("ann", "10.0.0.2", null));
        Assert.False(attempts.IsHeldUp("ann", "10.0.0.1", "her own"));
        Assert.False(attempts.IsHeldUp("bob", "10.0.0.1", null));
        for (var i = 0; i < SignInAttempts.MaxForAddress; i++)
            Wrong(1, $"name {i}", "10.0.0.1");
        Assert.True(attempts.IsHeldUp("bob", "10.0.0.1", null));
        Assert.False(attempts.IsHeldUp("bob", "10.0.0.1", "his own"));
        Wrong(SignInAttempts.MaxForAccount, "bob", "10.0.0.1", "his own");
        Assert.True(attempts.IsHeldUp("bob", "10.0.0.9", "his own"));
        clock.Advance(SignInAttempts.Window + TimeSpan.FromSeconds(1));
        Assert.False(attempts.IsHeldUp("bob", "10.0.0.1", null));
        Assert.False(attempts.IsHeldUp("bob", "10.0.0.9", "his own"));
    }

    [Theory]
    [InlineData("/account", "SignOut")]
    [InlineData("/account", "Everywhere")]
    [InlineData("/staff", "Password")]
    public async Task A_copied_cookie_ends_with_what_it_was_copied_from(string page, string handler)
    {
        var name = await MakeAsync();
        using var client = world.Stranger();
        var made = await TryAsync(client, name, Right);
        var copy = string.Join("; ", made.Headers.GetValues("Set-Cookie").Select(line => line.Split(';')[0]));
        async Task<bool> IsInAsync()
        {
            using var thief = world.Bare();
            var request = new HttpRequestMessage(HttpMethod.Get, "/");
            request.Headers.Add("Cookie", copy);
            return (await thief.SendAsync(request)).StatusCode == HttpStatusCode.OK;
        }

        Assert.True(await IsInAsync());
        var ended =
            page == "/staff"
                ? await WebWorld.PostAsync(lead, page, handler, ("id", await IdAsync(name)), ("password", "another-password"))
                : await WebWorld.PostAsync(client, page, handler);
        Assert.Equal(HttpStatusCode.Redirect, ended.StatusCode);
        Assert.False(await IsInAsync());
    }

    [Fact]
    public async Task Signing_out_everywhere_ends_personal_tokens()
    {
        var name = await MakeAsync();
        using var client = world.Stranger();
        await WebWorld.SignInAsync(client, name, Right);
        await WebWorld.PostAsync(client, "/account", "Token", ("tokenName", "a script"));
        await using (var db = world.Database.CreateDbContext())
            Assert.True(
                await db.ApiTokens.AnyAsync(token =>
                    db.Users.Any(user => user.Id == token.StaffId && user.UserName == name) && token.RevokedAt == null
                )
            );
        await WebWorld.PostAsync(client, "/account", "Everywhere");
        await using (var db = world.Database.CreateDbContext())
            Assert.False(
                await db.ApiTokens.AnyAsync(token =>
                    db.Users.Any(user => user.Id == token.StaffId && user.UserName == name) && token.RevokedAt == null
                )
            );
    }
}

using System.Buffers.Binary;
using System.Net;
using System.Security.Cryptography;
using System.Text.RegularExpressions;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The second factor, by an authenticator of this file's own (RFC 6238, RFC 4226).</summary>
[Collection(nameof(DoorsWorld))]
[Trait("Turn", "6")]
public sealed partial class SecondFactorTests(WebWorld world)
{
    private const string Password = "first-password";
    private readonly HttpClient lead = world.Client();

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [GeneratedRegex("<code class=\"code token\">([A-Z2-7]{16,})</code>")]
    private static partial Regex Secret();

    [GeneratedRegex("name=\"begun\" value=\"([^\"]+)\"")]
    private static partial Regex Proof();

    [GeneratedRegex("<li>([0-9A-Z]{5}-[0-9A-Z]{5})</li>")]
    private static partial Regex RecoveryCode();

    /// <summary>The code of a secret in a time step of 30 s, so many steps from now.</summary>
    private static string CodeOf(string secret, int steps = 0)
    {
        var bits = string.Concat(secret.Select(c => Convert.ToString("ABCDEFGHIJKLMNOPQRSTUVWXYZ234567".IndexOf(c), 2).PadLeft(5, '0')));
        var key = Enumerable.Range(0, bits.Length / 8).Select(i => Convert.ToByte(bits.Substring(i * 8, 8), 2)).ToArray();
        var counter = new byte[8];
        BinaryPrimitives.WriteInt64BigEndian(counter, DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30 + steps);
        // The algorithm of the standard; authenticators know no other.
#pragma warning disable CA5350
        var hash = HMACSHA1.HashData(key, counter);
#pragma warning restore CA5350
        return $"{(BinaryPrimitives.ReadInt32BigEndian(hash.AsSpan(hash[^1] & 15, 4)) & int.MaxValue) % 1_000_000:000000}";
    }

    private async Task<string> MakeAsync(params string[] roles)
    {
        var name = "p" + Guid.NewGuid().ToString("N")[..8];
        var made = await WebWorld.PostAsync(
            lead,
            "/staff",
            "Add",
            [("name", name), ("password", Password), .. roles.Select(role => ("roles", role))]
        );
        Assert.Equal(HttpStatusCode.Redirect, made.StatusCode);
        return name;
    }

    private static async Task<bool> IsInAsync(HttpClient client) => (await client.GetAsync("/", Cancel)).StatusCode == HttpStatusCode.OK;

    private static Task<HttpResponseMessage> SendAsync(HttpClient client, string code) =>
        WebWorld.PostAsync(client, "/sign-in/code", null, ("Code", code));

    private static async Task<(HttpClient Client, string Secret, List<string> Codes, string Used)> SetUpAsync(
        HttpClient client,
        string name
    )
    {
        await WebWorld.SignInAsync(client, name, Password);
        using var wrong = await WebWorld.PostAsync(client, "/account", "Secret", ("present", "not-the-password"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
        using var shown = await WebWorld.PostAsync(client, "/account", "Secret", ("present", Password));
        var secret = Secret().Match(await shown.Content.ReadAsStringAsync(Cancel)).Groups[1].Value;
        Assert.NotEqual("", secret);
        var used = CodeOf(secret);
        using var on = await WebWorld.PostAsync(client, "/account", "Code", ("code", used));
        var codes = RecoveryCode().Matches(await on.Content.ReadAsStringAsync(Cancel)).Select(match => match.Groups[1].Value).ToList();
        Assert.Equal(SecondFactor.RecoveryCodes, codes.Count);
        Assert.True(await IsInAsync(client));
        return (client, secret, codes, used);
    }

    private async Task<HttpClient> AtTheCodeAsync(string name)
    {
        var client = world.Stranger();
        using var answer = await WebWorld.PostAsync(client, "/sign-in", null, ("Name", name), ("Password", Password), ("To", "/logbook"));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.StartsWith("/sign-in/code", answer.Headers.Location!.OriginalString);
        Assert.False(await IsInAsync(client));
        return client;
    }

    [Fact]
    public async Task A_mistyped_first_code_shows_the_secret_again_to_whoever_gave_the_password_and_to_nobody_else()
    {
        var name = await MakeAsync("bench");
        using var client = world.Stranger();
        await WebWorld.SignInAsync(client, name, Password);
        using var shown = await WebWorld.PostAsync(client, "/account", "Secret", ("present", Password));
        var page = await shown.Content.ReadAsStringAsync(Cancel);
        var (secret, proof) = (Secret().Match(page).Groups[1].Value, Proof().Match(page).Groups[1].Value);
        async Task<string> SecretAfterAsync(string? begun)
        {
            using var wrong = await WebWorld.PostAsync(
                client,
                "/account",
                "Code",
                [("code", "0"), .. begun is null ? [] : new[] { ("begun", begun) }]
            );
            Assert.Equal(HttpStatusCode.UnprocessableEntity, wrong.StatusCode);
            return Secret().Match(await wrong.Content.ReadAsStringAsync(Cancel)).Groups[1].Value;
        }

        Assert.Equal(secret, await SecretAfterAsync(proof));
        // The browser that was left open has none, and nobody makes one.
        Assert.Equal("", await SecretAfterAsync(null));
        Assert.Equal("", await SecretAfterAsync(proof[..^2] + "AA"));
        using var on = await WebWorld.PostAsync(client, "/account", "Code", ("code", CodeOf(secret)), ("begun", proof));
        Assert.Equal(HttpStatusCode.OK, on.StatusCode);
    }

    [Fact]
    public async Task With_it_a_password_alone_opens_nothing_and_each_code_opens_once()
    {
        var name = await MakeAsync("bench");
        var (client, secret, codes, used) = await SetUpAsync(world.Stranger(), name);
        using var first = client;
        // The code by which it was turned on is used up; the next one is right, and once.
        using var again = await AtTheCodeAsync(name);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync(again, used)).StatusCode);
        var next = CodeOf(secret, 1);
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync(again, next)).StatusCode);
        Assert.True(await IsInAsync(again));
        using var copied = await AtTheCodeAsync(name);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync(copied, next)).StatusCode);
        Assert.False(await IsInAsync(copied));

        // A recovery code, written as people write, opens once too.
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync(copied, $" {codes[0].ToLowerInvariant()} ")).StatusCode);
        Assert.Contains($"{SecondFactor.RecoveryCodes - 1} recovery codes", await copied.GetStringAsync("/account", Cancel));
        using var third = await AtTheCodeAsync(name);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync(third, codes[0])).StatusCode);

        // Nothing of it lies in the database as it is.
        await using var db = world.Database.CreateDbContext();
        var kept = await db.UserTokens.Select(token => token.Value).ToListAsync(Cancel);
        Assert.All(kept, value => Assert.False(value!.Contains(secret, StringComparison.Ordinal) || codes.Exists(value.Contains)));
    }

    [Fact]
    public async Task Who_tries_codes_is_held_up_and_who_never_gave_a_password_is_asked_for_it()
    {
        var name = await MakeAsync("bench");
        var (client, secret, _, _) = await SetUpAsync(world.Stranger(), name);
        using var first = client;
        using var guesser = await AtTheCodeAsync(name);
        for (var i = 0; i < SignInAttempts.MaxForAccount; i++)
            Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync(guesser, "000000")).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await SendAsync(guesser, CodeOf(secret, 1))).StatusCode);
        Assert.False(await IsInAsync(guesser));
        await using var db = world.Database.CreateDbContext();
        Assert.True(await db.Audit.AnyAsync(line => line.By == name && line.Act.StartsWith("Too many wrong codes"), Cancel));

        using var stranger = world.Stranger();
        using var asked = await stranger.GetAsync("/sign-in/code", Cancel);
        Assert.Equal("/sign-in", asked.Headers.Location?.OriginalString);
    }

    [Fact]
    public async Task It_is_taken_away_by_a_code_or_by_a_lead_and_a_wrong_one_leaves_it()
    {
        var name = await MakeAsync("counter");
        var (client, secret, codes, _) = await SetUpAsync(world.Stranger(), name);
        using var first = client;
        using var kept = await WebWorld.PostAsync(first, "/account", "CodeOff", ("code", "123456"));
        Assert.Contains("stays", await kept.Content.ReadAsStringAsync(Cancel));
        Assert.Equal(HttpStatusCode.Redirect, (await WebWorld.PostAsync(first, "/account", "CodeOff", ("code", codes[3]))).StatusCode);
        using var plain = world.Stranger();
        await WebWorld.SignInAsync(plain, name, Password);
        Assert.True(await IsInAsync(plain));

        // Set up once more, and lost with its phone: a lead takes it away, and every sign-in ends.
        var (other, anew, _, _) = await SetUpAsync(world.Stranger(), name);
        using var second = other;
        Assert.NotEqual(secret, anew);
        await using var db = world.Database.CreateDbContext();
        var id = await db.Users.Where(user => user.UserName == name).Select(user => user.Id).SingleAsync(Cancel);
        await WebWorld.PostAsync(lead, "/staff", "CodeOff", ("id", $"{id}"));
        Assert.False(await IsInAsync(second));
        await WebWorld.SignInAsync(second, name, Password);
        Assert.True(await IsInAsync(second));
        Assert.True(await db.Audit.AnyAsync(line => line.Act == $"Took the second factor of {name} away.", Cancel));
    }

    [Fact]
    public async Task Where_leads_need_one_what_they_may_do_waits_for_it()
    {
        await using var empty = await TestDatabase.CreateAsync(migrate: false);
        await using var shop = world.Shop(empty.Connection, ("Junctra:LeadsNeedSecondFactor", "true"));
        HttpClient Client() => shop.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
        using var plain = Client();
        await using (var scope = shop.Services.CreateAsyncScope())
        {
            var staff = scope.ServiceProvider.GetRequiredService<UserManager<StaffRow>>();
            var row = new StaffRow { UserName = "ada" };
            Assert.True((await staff.CreateAsync(row, Password)).Succeeded);
            await staff.AddToRoleAsync(row, StaffRoles.Lead);
        }

        await WebWorld.SignInAsync(plain, "ada", Password);
        Assert.Equal(HttpStatusCode.Forbidden, (await plain.GetAsync("/staff", Cancel)).StatusCode);
        // To set it up needs none; from then on what was waiting is open.
        var (client, secret, _, _) = await SetUpAsync(Client(), "ada");
        using var first = client;
        Assert.Equal(HttpStatusCode.OK, (await first.GetAsync("/staff", Cancel)).StatusCode);
        Assert.False(await IsInAsync(plain));
        // Nor does a lead take its own away without a code.
        using var own = await WebWorld.PostAsync(first, "/staff", "CodeOff", ("id", "1"));
        Assert.Contains("Take your own away", await own.Content.ReadAsStringAsync(Cancel));
        using var later = Client();
        await WebWorld.PostAsync(later, "/sign-in", null, ("Name", "ada"), ("Password", Password));
        Assert.Equal(HttpStatusCode.Redirect, (await SendAsync(later, CodeOf(secret, 1))).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await later.GetAsync("/staff", Cancel)).StatusCode);
    }
}

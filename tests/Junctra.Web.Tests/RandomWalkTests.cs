using System.Net;
using AngleSharp.Dom;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Identity;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>
/// Somebody who follows any link and sends any form with anything in its fields: no page breaks, nothing hangs, nothing that was typed
/// comes back as anything but text, and the shop goes on.
/// </summary>
[Trait("Turn", "9")]
public sealed class RandomWalkTests(WebWorld world) : IClassFixture<WebWorld>
{
    private const string Mark = "zz-mark";
    private static readonly int Steps = Sampled.Of(5000, 250);

    private static readonly string[] Words =
    [
        "",
        " ",
        "0",
        "-1",
        "999999999999999999999",
        "1e309",
        "NaN",
        "true",
        $"<{Mark} onload=x>\"'&",
        "'; drop table jobs; --",
        "../../../../etc/passwd",
        "{{7*7}}@(1+1)",
        "\u0000\u202e\ufeff",
        "é“”\u2028\ud83d\ude00",
        "2026-02-30T25:61",
        "a\r\nSet-Cookie: b=c",
        new string('x', 5000),
        "0421",
        "HX204",
        "agreed",
    ];

    private readonly HtmlParser parser = new();
    private readonly List<string> path = [];
    private Random random = new(Sampled.Seed + 7);
    private HttpClient client = null!;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [Fact]
    public async Task Wherever_somebody_goes_and_whatever_they_send_nothing_breaks()
    {
        client = await world.ClientAsync();
        var (at, page) = ("/", await LookAsync("/"));
        for (var step = 0; step < Steps; step++)
        {
            Sampled.Tried();
            var links = page is null
                ? []
                : page.QuerySelectorAll("a[href^='/']").Select(link => link.GetAttribute("href")!).Distinct().ToList();
            var forms = page is null ? [] : page.QuerySelectorAll<IHtmlFormElement>("main form, header form").ToList();
            if (forms.Count > 0 && random.Next(3) > 0)
                (at, page) = await SendAsync(at, forms[random.Next(forms.Count)]);
            else if (links.Count > 0 && random.Next(12) > 0)
                (at, page) = await GoAsync(links[random.Next(links.Count)]);
            else
                (at, page) = await GoAsync(Doors()[random.Next(Doors().Count)]);
        }

        // And the shop is as it should be: every job opens, and can be gone on with.
        client = await SignInAsync();
        await using var db = world.Database.CreateDbContext();
        foreach (var ticket in await db.Jobs.Select(job => job.Ticket).ToListAsync(Cancel))
        foreach (var station in new[] { "intake", "find-out", "match", "route", "plan", "write", "check", "hand-back", "story" })
        {
            var answer = await client.GetAsync($"/jobs/{Uri.EscapeDataString(ticket)}/{station}", Cancel);
            Assert.True((int)answer.StatusCode < 500, $"{ticket} {station}: {answer.StatusCode}");
        }

        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/readyz", Cancel)).StatusCode);
    }

    /// <summary>Addresses that can be asked for without anything being filled in, from the table of who may do what.</summary>
    private static IReadOnlyList<string> Doors() => doors.Value;

    private static readonly Lazy<IReadOnlyList<string>> doors = new(() =>
        [
            .. File.ReadLines(Path.Combine(Repo.Root, "docs", "security.md"))
                .Select(line => line.Split('`'))
                .Where(parts =>
                    parts.Length > 2
                    && parts[0] == "| "
                    && parts[1].StartsWith('/')
                    && parts[2].StartsWith(" | GET", StringComparison.Ordinal)
                )
                .Select(parts =>
                    parts[1].Replace("{ticket}", "0421", StringComparison.Ordinal).Replace("{code}", "HX204", StringComparison.Ordinal)
                )
                .Where(route => !route.Contains('{') && route != "/records/logbook.zip"),
        ]
    );

    private async Task<IHtmlDocument?> LookAsync(string address) => (await GoAsync(address)).Page;

    private async Task<(string At, IHtmlDocument? Page)> GoAsync(string address)
    {
        // Now and then with something in the question.
        if (random.Next(6) == 0)
            address += (address.Contains('?') ? "&" : "?") + $"q={Uri.EscapeDataString(Any())}&handler={Uri.EscapeDataString(Any())}";
        path.Add($"GET {address}");
        using var answer = await client.GetAsync(address.Split('#')[0], HttpCompletionOption.ResponseHeadersRead, Cancel);
        return await ReadAsync(address, answer);
    }

    private async Task<(string At, IHtmlDocument? Page)> SendAsync(string at, IHtmlFormElement form)
    {
        var fields = new List<KeyValuePair<string, string>>();
        foreach (var field in form.Elements)
        {
            if (field.GetAttribute("name") is not { Length: > 0 } name)
                continue;
            var value = field switch
            {
                IHtmlSelectElement select => select.Options.Length == 0 ? "" : select.Options[random.Next(select.Options.Length)].Value,
                IHtmlTextAreaElement text => text.Value,
                IHtmlInputElement { Type: "checkbox" or "radio" } box => random.Next(2) == 0 ? box.Value : null,
                _ => field.GetAttribute("value") ?? "",
            };
            if (value is null)
                continue;
            // The token stays; of the rest, every third is anything, some are missing, some come twice.
            if (name != "__RequestVerificationToken")
            {
                var luck = random.Next(12);
                if (luck == 0)
                    continue;
                if (luck < 5 || value.Length == 0 && luck < 9)
                    value = Any();
                if (luck == 11)
                    fields.Add(new(name, Any()));
            }

            fields.Add(new(name, value));
        }

        var action = form.GetAttribute("action") is { Length: > 0 } to ? to : at;
        if (!action.StartsWith('/'))
            action = at.Split('?')[0] + action;
        path.Add(
            $"{form.Method} {action} {string.Join("&", fields.Where(field => field.Key[0] != '_').Select(field => $"{field.Key}={field.Value[..Math.Min(40, field.Value.Length)]}"))}"
        );
        using var content = new FormUrlEncodedContent(fields);
        using var answer =
            form.Method == "get"
                ? await client.GetAsync(
                    $"{action.Split('?')[0]}?{await content.ReadAsStringAsync(Cancel)}",
                    HttpCompletionOption.ResponseHeadersRead,
                    Cancel
                )
                : await client.PostAsync(action, content, Cancel);
        return await ReadAsync(action, answer);
    }

    private async Task<(string At, IHtmlDocument? Page)> ReadAsync(string address, HttpResponseMessage answer)
    {
        var story = () => $"{(int)answer.StatusCode} at the end of:\n{string.Join('\n', path.TakeLast(6))}";
        Assert.True((int)answer.StatusCode < 500, story());
        Assert.False(
            answer.Headers.TryGetValues("Set-Cookie", out var cookies)
                && cookies.Any(cookie => cookie.StartsWith("b=", StringComparison.Ordinal)),
            story()
        );
        if (answer.Headers.Location is { } location)
        {
            // Nobody is led away from here.
            Assert.True(!location.IsAbsoluteUri || location.IsLoopback, story());
            var to = location.IsAbsoluteUri ? location.PathAndQuery : location.OriginalString;
            if (to.StartsWith("/sign-in", StringComparison.Ordinal))
            {
                client = await SignInAsync();
                to = "/";
            }

            return await GoAsync(to);
        }

        if (answer.Content.Headers.ContentType?.MediaType != "text/html")
            return (address, null);
        var html = await answer.Content.ReadAsStringAsync(Cancel);
        Assert.False(html.Contains($"<{Mark}", StringComparison.OrdinalIgnoreCase), story());
        return (address, await parser.ParseDocumentAsync(html, Cancel));
    }

    private string Any() => Words[random.Next(Words.Length)];

    /// <summary>Signs in anew; what the walk has done to the account is mended as whoever has the shop's database would.</summary>
    private async Task<HttpClient> SignInAsync()
    {
        await using (var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope())
        {
            var staff = scope.ServiceProvider.GetRequiredService<UserManager<StaffRow>>();
            var me = (await staff.FindByNameAsync("lead"))!;
            await staff.SetLockoutEndDateAsync(me, null);
            await staff.SetTwoFactorEnabledAsync(me, false);
            await staff.RemovePasswordAsync(me);
            await staff.AddPasswordAsync(me, "slipway-lead");
            await staff.AddToRolesAsync(me, StaffRoles.All.Except(await staff.GetRolesAsync(me)));
        }

        world.Service<Staff.SignInAttempts>().Forget("lead");
        return await world.ClientAsync();
    }
}

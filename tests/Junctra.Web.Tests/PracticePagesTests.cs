using System.Net;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.RegularExpressions;
using Junctra.Web.Practising;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The pages of practice: what was done is judged by the server, kept for whoever did it, and for nobody else.</summary>
[Collection(nameof(PracticeWorld))]
[Trait("Turn", "11")]
public sealed class PracticePagesTests(WebWorld world)
{
    private const string Page = "/practice/tn63e-off-to-warning";

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static async Task<HttpResponseMessage> SendAsync(HttpClient client, string handler, object body)
    {
        var token = Regex.Match(
            await client.GetStringAsync(Page, Cancel),
            "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\""
        );
        var request = new HttpRequestMessage(HttpMethod.Post, $"{Page}?handler={handler}") { Content = JsonContent.Create(body) };
        request.Headers.Add("RequestVerificationToken", token.Groups[1].Value);
        return await client.SendAsync(request, Cancel);
    }

    private static HandsAct Down(long at, string stave) => new(at, stave, true, null);

    private static HandsAct Up(long at, string stave) => new(at, stave, false, null);

    // Both keys, then the cable, and let go at the warning.
    private static readonly HandsAct[] Right =
    [
        Down(0, "volume-up"),
        Down(0, "volume-down"),
        Down(2000, "cable"),
        Up(4200, "volume-up"),
        Up(4200, "volume-down"),
    ];

    [Fact]
    public async Task What_was_done_is_judged_here_and_is_its_persons_alone()
    {
        var bench = await world.ClientAsync("bench");
        foreach (var person in new[] { bench, world.Client() })
            using (await WebWorld.PostAsync(person, "/practice/mine", "Delete")) { }
        using var playing = await SendAsync(
            bench,
            "Play",
            new
            {
                acts = Right,
                now = 3800,
                hints = Array.Empty<long>(),
            }
        );
        var shown = await playing.Content.ReadFromJsonAsync<JsonElement>(Cancel);
        Assert.Equal("warning screen", shown.GetProperty("mode").GetString());
        Assert.True(shown.GetProperty("over").GetBoolean());
        using var finished = await SendAsync(
            bench,
            "Finish",
            new
            {
                acts = Right,
                now = 5000,
                hints = Array.Empty<long>(),
            }
        );
        var url = (await finished.Content.ReadFromJsonAsync<JsonElement>(Cancel)).GetProperty("url").GetString()!;
        Assert.Contains("100 of 100 points", await bench.GetStringAsync(url, Cancel));
        await using var db = world.Database.CreateDbContext();
        var row = await db.Practice.AsNoTracking().SingleAsync(one => one.Person == "bench", Cancel);
        Assert.Equal(("bench", 100, true), (row.Person, row.Points, row.Passed));
        // Nobody else sees it, and their deleting leaves it.
        using var other = await world.Client().GetAsync(url, Cancel);
        Assert.Equal(HttpStatusCode.NotFound, other.StatusCode);
        using var theirs = await SendAsync(
            world.Client(),
            "Finish",
            new
            {
                acts = Right,
                now = 5000,
                hints = Array.Empty<long>(),
            }
        );
        Assert.Equal(1, await db.Practice.CountAsync(one => one.Person == "lead", Cancel));
        using var deleted = await WebWorld.PostAsync(world.Client(), "/practice/mine", "Delete");
        Assert.Equal(0, await db.Practice.CountAsync(one => one.Person == "lead", Cancel));
        Assert.Equal(1, await db.Practice.CountAsync(one => one.Person == "bench", Cancel));
        using var gone = await WebWorld.PostAsync(bench, "/practice/mine", "Delete");
        Assert.Equal(0, await db.Practice.CountAsync(one => one.Person == "bench", Cancel));
    }

    [Fact]
    public async Task What_cannot_be_replayed_is_refused_and_nothing_is_kept()
    {
        var client = world.Client();
        object[] bodies =
        [
            new { acts = (object?)null, now = 10 },
            new { acts = Right, now = -1 },
            new { acts = Right, now = long.MaxValue },
            new { acts = Enumerable.Repeat(Down(5, "power"), 401), now = 10 },
            new { acts = new HandsAct?[] { null }, now = 10 },
            new
            {
                acts = Right,
                now = 10,
                hints = new long[21],
            },
            new
            {
                acts = Right,
                now = 10,
                hints = new long[] { -5 },
            },
        ];
        foreach (var body in bodies)
        foreach (var handler in new[] { "Play", "Finish" })
        {
            using var answer = await SendAsync(client, handler, body);
            Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        }

        foreach (
            var nothing in new[]
            {
                "/practice/no-such-exercise",
                "/practice/keys-99999999999999999999",
                "/practice/runs/2147483647",
                "/practice/-5",
            }
        )
        {
            using var answer = await client.GetAsync(nothing, Cancel);
            Assert.Equal(HttpStatusCode.NotFound, answer.StatusCode);
        }

        await using var db = world.Database.CreateDbContext();
        Assert.Equal(0, await db.Practice.CountAsync(one => one.Person == "lead", Cancel));
    }

    [Fact]
    public async Task Every_exercise_and_new_ones_of_every_kind_have_a_page()
    {
        var client = world.Client();
        var ids = Regex
            .Matches(await client.GetStringAsync("/practice", Cancel), "href=\"(/practice/[a-z0-9-]+)\"")
            .Select(m => m.Groups[1].Value);
        var pages = ids.Distinct().Concat(Core.Practice.ExerciseGenerator.Kinds.Select(kind => $"/practice/{kind}-12345")).ToList();
        Assert.True(pages.Count > 90);
        foreach (var page in pages)
        {
            using var answer = await client.GetAsync(page, Cancel);
            Assert.True(answer.IsSuccessStatusCode, page);
        }
    }

    [Fact]
    public async Task A_phone_of_any_model_lies_anywhere_to_be_tried_and_nothing_is_kept()
    {
        var client = world.Client();
        foreach (var model in Junctra.Testing.Repo.Catalogue.Models)
        foreach (var mode in new[] { "off", "boot-loop", "stock-recovery", "charging" })
        {
            var page = await client.GetStringAsync($"/practice/phone?model={model.Code}&mode={mode}&lock=unlocked", Cancel);
            Assert.Contains($"model={model.Code}&amp;mode={mode}&amp;lock=unlocked&amp;handler=Play", page);
        }

        // The wipe is said as what it costs, and the phone of nobody else is touched.
        using var odd = await client.GetAsync("/practice/phone?model=NONE&mode=nowhere&lock=perhaps", Cancel);
        Assert.True(odd.IsSuccessStatusCode);
        var token = Regex.Match(
            await odd.Content.ReadAsStringAsync(Cancel),
            "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\""
        );
        async Task<HttpResponseMessage> PlayAsync(object body)
        {
            var request = new HttpRequestMessage(HttpMethod.Post, "/practice/phone?model=TN63E&mode=off&handler=Play")
            {
                Content = JsonContent.Create(body),
            };
            request.Headers.Add("RequestVerificationToken", token.Groups[1].Value);
            return await client.SendAsync(request, Cancel);
        }

        using var played = await PlayAsync(new { acts = Right, now = 3800 });
        Assert.Equal("warning screen", (await played.Content.ReadFromJsonAsync<JsonElement>(Cancel)).GetProperty("mode").GetString());
        using var charged = await PlayAsync(new { acts = new[] { Down(0, "charger") }, now = 8000 });
        var shown = await charged.Content.ReadFromJsonAsync<JsonElement>(Cancel);
        Assert.Equal("charging", shown.GetProperty("screen").GetProperty("light").GetString());
        // The computer's list is read by the rules of a real port: nothing without a cable, and the doctor's tries where nothing shows.
        Assert.Equal("No cable leads to the computer.", shown.GetProperty("list").GetProperty("why").GetString());
        using var dark = await PlayAsync(new { acts = new[] { Down(0, "cable") }, now = 4000 });
        var list = (await dark.Content.ReadFromJsonAsync<JsonElement>(Cancel)).GetProperty("list");
        Assert.Equal("The computer lists no phone.", list.GetProperty("why").GetString());
        var first = list.GetProperty("tries")[0];
        Assert.StartsWith("Another cable", first.GetProperty("label").GetString());
        Assert.EndsWith(" %", first.GetProperty("chance").GetString());
        Assert.Equal(0, list.GetProperty("phones").GetArrayLength());
        using var refused = await PlayAsync(new { acts = Right, now = -1 });
        Assert.Equal(HttpStatusCode.BadRequest, refused.StatusCode);
        await using var db = world.Database.CreateDbContext();
        Assert.Equal(0, await db.Practice.CountAsync(one => one.Person == "lead", Cancel));
    }
}

using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The match in the program: what a person decides and why, what a program asks by a token, what the database narrows.</summary>
[Collection(nameof(StationsWorld))]
public sealed class MatchPageTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private static async Task<string> TextAsync(HttpClient client, string path) => WebUtility.HtmlDecode(await client.GetStringAsync(path));

    private async Task TakeInAsync(string ticket, params Fact[] facts)
    {
        await WebWorld.PostAsync(
            lead,
            "/jobs/new",
            null,
            ("Form.Ticket", ticket),
            ("Form.Description", "test"),
            ("Form.Complaint", "test")
        );
        await using var db = world.Database.CreateDbContext();
        var job = await db.Jobs.SingleAsync(row => row.Ticket == ticket);
        job.Facts.AddRange(facts.Select(FactRow.Of));
        await db.SaveChangesAsync();
    }

    [Fact]
    public async Task A_job_works_by_another_school_only_with_a_reason_and_its_history_stays()
    {
        await TakeInAsync("0801", [.. Sample.Cairn().All]);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/jobs/0801/match",
                    "School",
                    ("question", "region"),
                    ("choice", "everywhere"),
                    ("reason", "x")
                )
            ).StatusCode
        );
        var without = await WebWorld.PostAsync(
            lead,
            "/jobs/0801/match",
            "School",
            ("question", "revision"),
            ("choice", "never"),
            ("reason", " ")
        );
        Assert.Equal(HttpStatusCode.UnprocessableEntity, without.StatusCode);
        Assert.Contains("Say why this job works by", WebUtility.HtmlDecode(await without.Content.ReadAsStringAsync()));
        Assert.Contains("can be written <small>", await TextAsync(lead, "/jobs/0801/match"));
        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0801/match"));

        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/jobs/0801/match",
                    "School",
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", "Ferry crew: it goes to sea.")
                )
            ).StatusCode
        );
        var page = await TextAsync(lead, "/jobs/0801/match");
        Assert.Contains("Stopped by shop rule: never raise it", page);
        Assert.Contains("Ferry crew: it goes to sea.", page);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0801/match", "School", ("question", "revision"), ("choice", "stay"))).StatusCode
        );
        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0801/match"));
        await using var db = world.Database.CreateDbContext();
        Assert.Equal(
            ["never", null],
            await db
                .Schools.Where(row => row.JobId != null && row.Question == "revision")
                .OrderBy(row => row.Id)
                .Select(row => row.Choice)
                .ToListAsync()
        );
        Assert.Contains(await db.Audit.ToListAsync(), line =>
            line.Act == "For this job, bootloader revision: never raise it. Reason: Ferry crew: it goes to sea."
        );
    }

    [Fact]
    public async Task The_lead_alone_changes_the_shops_rules_and_every_job_follows()
    {
        await TakeInAsync("0802", [.. Sample.Cairn().All]);
        using var bench = await world.ClientAsync("bench");
        Assert.Contains("The lead changes these.", await TextAsync(bench, "/shop-rules"));
        Assert.Equal(
            HttpStatusCode.Forbidden,
            (
                await WebWorld.PostAsync(bench, "/shop-rules", null, ("question", "revision"), ("choice", "never"), ("reason", "x"))
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/shop-rules", null, ("question", "revision"), ("choice", "never"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/shop-rules",
                    null,
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", new string('x', 401))
                )
            ).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (
                await WebWorld.PostAsync(
                    lead,
                    "/shop-rules",
                    null,
                    ("question", "revision"),
                    ("choice", "never"),
                    ("reason", "Two dead phones in a month.")
                )
            ).StatusCode
        );
        try
        {
            Assert.Contains("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0802/match"));
            Assert.Contains("Two dead phones in a month.", await TextAsync(bench, "/shop-rules"));
        }
        finally
        {
            await WebWorld.PostAsync(lead, "/shop-rules", null, ("question", "revision"), ("choice", "stay"), ("reason", "As before."));
        }

        Assert.DoesNotContain("Stopped by shop rule: never raise it", await TextAsync(lead, "/jobs/0802/match"));
    }

    [Fact]
    public async Task What_is_wanted_is_set_judged_by_and_written_down()
    {
        await TakeInAsync("0803", [.. Sample.Cairn().All]);
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "stock"), ("wish", "exactly"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "update"), ("wish", "newest"))).StatusCode
        );
        Assert.Contains("is newer. Stopped by wish.", await TextAsync(lead, "/jobs/0803/match"));
        await WebWorld.PostAsync(lead, "/jobs/0803/match", "Wanted", ("goal", "stock"), ("wish", "not-above"), ("version", "14"));
        Assert.Contains("Nothing above OS version 14 was asked for", await TextAsync(lead, "/jobs/0803/match"));
        await using var db = world.Database.CreateDbContext();
        Assert.Contains(await db.Audit.ToListAsync(), line =>
            line.Act.StartsWith("Wanted: an update, the newest", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task A_row_opens_into_its_reasons_in_place_and_any_two_are_explained()
    {
        await TakeInAsync("0804", [.. Sample.Cairn().All]);
        var page = await TextAsync(lead, "/jobs/0804/match");
        Assert.DoesNotContain("Facts used", page);
        var ids = Regex.Matches(page, @"\?package=([0-9a-f]{64})").Select(match => match.Groups[1].Value).Distinct().ToList();
        var open = await TextAsync(lead, $"/jobs/0804/match?package={ids[0]}&against={ids[^1]}");
        Assert.Contains("Facts used", open);
        Assert.Contains("rules have no objection", open);
        Assert.Contains("comes before", open);
        Assert.Contains("<svg class=\"ladder\"", open);
        var stopped = await TextAsync(lead, "/jobs/0804/match?show=stop");
        Assert.DoesNotContain("candidate go", stopped);
        Assert.Contains("candidate stop", stopped);
        Assert.Equal(
            HttpStatusCode.OK,
            (await lead.GetAsync("/jobs/0804/match?show=nonsense&package=zz&against=zz&whole=true")).StatusCode
        );
    }

    [Fact]
    public async Task A_package_says_which_phones_and_models_it_fits()
    {
        await TakeInAsync("0805", [.. Sample.Cairn().All]);
        await using var db = world.Database.CreateDbContext();
        var id = await db.Packages.Where(row => row.Title == "HX204/15.26w10-7.r3").Select(row => row.Id).FirstAsync();
        var page = await TextAsync(lead, $"/packages/{id}");
        Assert.Contains("/jobs/0805/match?package=" + id, page);
        Assert.Contains("The codes differ in one character only", page);
        var model = await TextAsync(lead, "/catalogue/models/hx204");
        Assert.Contains("revision 3", model);
        Assert.Equal(HttpStatusCode.NotFound, (await lead.GetAsync("/catalogue/models/zz1")).StatusCode);
    }

    [Fact]
    public async Task A_package_that_was_not_looked_into_yet_is_said_to_be_that_and_nothing_more()
    {
        // The watch would look into it at once; here it waits.
        var watch = world.Service<LibraryWatch>();
        await watch.StopAsync(default);
        await using var db = world.Database.CreateDbContext();
        var row = await db.Packages.SingleAsync(one => one.FileName == "cairn-stock-26w10.tar");
        var version = row.InspectorVersion;
        foreach (var older in new[] { 0, version - 1 })
        {
            row.InspectorVersion = older;
            await db.SaveChangesAsync();
            var page = await TextAsync(lead, $"/packages/{row.Id}");
            Assert.Contains("The reader has not looked into it yet", page);
            Assert.Equal("", Regex.Match(page[page.IndexOf("<main", StringComparison.Ordinal)..], "HX204/[^ <]*").Value);
            Assert.DoesNotContain("as its publisher sent it out", page, StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain("signal-go", page[page.IndexOf("<main", StringComparison.Ordinal)..]);
            Assert.Contains("not looked into yet", await TextAsync(lead, "/packages?q=cairn-stock-26w10"));
        }

        row.InspectorVersion = version;
        await db.SaveChangesAsync();
        Assert.Contains("at a glance", await TextAsync(lead, $"/packages/{row.Id}"), StringComparison.OrdinalIgnoreCase);
        await watch.StartAsync(default);
    }

    private async Task<HttpClient> ProgramAsync(HttpClient person)
    {
        var page = WebUtility.HtmlDecode(
            await (await WebWorld.PostAsync(person, "/account", "Token", ("tokenName", "bench script"))).Content.ReadAsStringAsync()
        );
        var client = world.Stranger();
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Bearer",
            Regex.Match(page, "junctra-[0-9a-f]{64}").Value
        );
        return client;
    }

    private static StringContent Json(string text) => new(text, Encoding.UTF8, "application/json");

    private const string Cairn = """
        { "facts": [ { "fact": "model-code", "value": "hx204", "source": "link" }, { "fact": "rollback-floor", "value": "3", "source": "link" }, { "fact": "lock-state", "value": "unlocked", "source": "link" },
          { "fact": "build", "value": "HX204/14.25w30-1.r2", "source": "link" }, { "fact": "radio-build", "value": "HX204-R-26w02", "source": "link" }, { "fact": "mode", "value": "fastboot", "source": "link" } ],
          "policy": { "revision": "stay", "version": "not-above 15" }, "most": 3 }
        """;

    [Fact]
    public async Task A_program_asks_by_a_personal_token_and_gets_the_same_report_as_at_the_command_line()
    {
        using var program = await ProgramAsync(lead);
        using var answer = await program.PostAsync("/api/v1/match", Json(Cairn));
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var report = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(("junctra-match", 1), (report.GetProperty("format").GetString(), report.GetProperty("version").GetInt32()));
        Assert.Equal(3, report.GetProperty("candidates").GetArrayLength());
        Assert.True(report.GetProperty("isCut").GetBoolean());
        var best = report.GetProperty("candidates")[0];
        Assert.True(best.GetProperty("mayBeChosen").GetBoolean());
        Assert.Equal(Matcher.Rules.Count, best.GetProperty("rules").GetArrayLength());
        Assert.Equal("not-above 15", report.GetProperty("policy").GetProperty("version").GetString());
        await using var db = world.Database.CreateDbContext();
        Assert.True(await db.ApiTokens.AnyAsync(token => token.LastUsedAt != null));
    }

    [Theory]
    [InlineData("{", 400)]
    [InlineData("null", 400)]
    [InlineData("{ \"fact\": [] }", 400)]
    [InlineData("{ \"policy\": {} }", 400)]
    [InlineData("{ \"facts\": [ null ] }", 400)]
    [InlineData("{ \"facts\": [ { \"fact\": \"colour\", \"value\": \"red\", \"source\": \"link\" } ] }", 400)]
    [InlineData("{ \"facts\": [ { \"fact\": \"rollback-floor\", \"value\": \"three\", \"source\": \"link\" } ] }", 400)]
    [InlineData("{ \"facts\": [ { \"fact\": \"model-code\", \"value\": \"HX204\" } ] }", 400)]
    [InlineData("{ \"facts\": [], \"policy\": { \"region\": \"all\" } }", 400)]
    [InlineData("{ \"facts\": [], \"policy\": { \"version\": \"exactly\" } }", 400)]
    [InlineData("{ \"facts\": [], \"most\": 0 }", 400)]
    [InlineData("{ \"facts\": [] }", 200)]
    public async Task A_request_that_is_wrong_is_told_where(string body, int status)
    {
        using var program = await ProgramAsync(await world.ClientAsync("bench"));
        using var answer = await program.PostAsync("/api/v1/match", Json(body));
        Assert.Equal(status, (int)answer.StatusCode);
        if (status == 400)
            Assert.NotEmpty((await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("mistakes").EnumerateArray());
        await WebWorld.PostAsync(await world.ClientAsync("bench"), "/account", "Revoke", ("id", await LastTokenAsync()));
    }

    private async Task<string> LastTokenAsync()
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.ApiTokens.MaxAsync(token => token.Id)).ToString(System.Globalization.CultureInfo.InvariantCulture);
    }

    [Fact]
    public async Task Without_a_token_that_counts_nothing_is_answered()
    {
        using var stranger = world.Stranger();
        Assert.Equal(HttpStatusCode.Unauthorized, (await stranger.PostAsync("/api/v1/match", Json(Cairn))).StatusCode);
        // Who is signed in by a browser uses a token too: what a page of another place posts must not be answered.
        Assert.Equal(HttpStatusCode.Unauthorized, (await lead.PostAsync("/api/v1/match", Json(Cairn))).StatusCode);
        stranger.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", "junctra-" + new string('0', 64));
        Assert.Equal(HttpStatusCode.Unauthorized, (await stranger.PostAsync("/api/v1/match", Json(Cairn))).StatusCode);

        using var counter = await world.ClientAsync("counter");
        using var program = await ProgramAsync(counter);
        Assert.Equal(HttpStatusCode.OK, (await program.PostAsync("/api/v1/match", Json(Cairn))).StatusCode);
        Assert.Equal(HttpStatusCode.UnsupportedMediaType, (await program.PostAsync("/api/v1/match", new StringContent(Cairn))).StatusCode);
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await program.PostAsync("/api/v1/match", Json("{ \"facts\": [] " + new string(' ', 300_000) + "}"))).StatusCode
        );
        // A token opens the interface for programs, and no page.
        Assert.NotEqual(HttpStatusCode.OK, (await program.GetAsync("/")).StatusCode);
        Assert.Equal(
            HttpStatusCode.Redirect,
            (await WebWorld.PostAsync(counter, "/account", "Revoke", ("id", await LastTokenAsync()))).StatusCode
        );
        Assert.Equal(HttpStatusCode.Unauthorized, (await program.PostAsync("/api/v1/match", Json(Cairn))).StatusCode);
    }

    [Fact]
    public async Task The_interface_is_described_in_an_open_document()
    {
        using var program = await ProgramAsync(lead);
        var document = await program.GetFromJsonAsync<JsonElement>("/api/v1/openapi.json");
        Assert.StartsWith("3.", document.GetProperty("openapi").GetString());
        var schemas = document.GetProperty("components").GetProperty("schemas");
        Assert.True(schemas.TryGetProperty("MatchRequest", out _) && schemas.TryGetProperty("MatchReportFile", out _));
        Assert.True(document.GetProperty("paths").TryGetProperty("/api/v1/match", out _));
        Assert.Equal(HttpStatusCode.OK, (await lead.GetAsync("/api/v1/openapi.json")).StatusCode);
    }

    [Fact]
    public async Task The_database_narrows_by_the_model_and_loses_nothing_that_could_fit()
    {
        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        var shelf = scope.ServiceProvider.GetRequiredService<PackageIndex>();
        var all = await shelf.CandidatesAsync(Sample.Phone(), default);
        foreach (var code in new[] { "HX204", "HX204C", "TN41E" })
        {
            var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, code));
            var some = await shelf.CandidatesAsync(phone, default);
            var left = all.Packages.Where(package => !some.Packages.Any(kept => kept.Id == package.Id)).ToList();
            Assert.All(left, package => Assert.Equal(Verdict.Stop, Matcher.Match(phone, package, Repo.Catalogue).Verdict));
            Assert.All(some.Packages, package =>
                Assert.True(
                    package.Says(FactName.ModelCode).Count == 0
                        || package.Says(FactName.ModelCode).Any(other => other.StartsWith(code[..5], StringComparison.Ordinal))
                )
            );
        }

        var either = await shelf.CandidatesAsync(
            Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"), Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Label)),
            default
        );
        Assert.Equal(
            all.Packages.Count(package => package.Says(FactName.ModelCode).Any(code => code.StartsWith("HX204", StringComparison.Ordinal))),
            either.Packages.Count(package => package.Says(FactName.ModelCode).Count > 0)
        );
    }

    [Fact]
    public async Task A_package_that_changed_in_its_row_is_read_anew()
    {
        await using var db = world.Database.CreateDbContext();
        var contents = Sample.Set("HX204", "HX204/15.26w50-1.r3").Contents with
        {
            Sha256 = Sample.Digest("changing"),
            PublishedDigest = Sample.Digest("changing"),
        };
        var row = new PackageRow
        {
            Id = contents.Sha256,
            FileName = "changing.tar",
            Contents = contents,
            InspectorVersion = PackageInspector.Version,
        };
        row.Describe(PackageReader.Read(row.FileName, contents, Repo.Catalogue), Repo.Catalogue.Stamp);
        db.Packages.Add(row);
        await db.SaveChangesAsync();
        try
        {
            async Task<bool> IsDamagedAsync()
            {
                await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
                return (await scope.ServiceProvider.GetRequiredService<PackageIndex>().CandidatesAsync(Sample.Cairn(), default))
                    .Packages.Single(package => package.Id == row.Id)
                    .IsDamaged;
            }

            Assert.False(await IsDamagedAsync());
            row.Contents = contents with { Findings = [new PackageFinding(FindingWeight.Fatal, "Cut off.")] };
            await db.SaveChangesAsync();
            Assert.True(await IsDamagedAsync());
        }
        finally
        {
            db.Packages.Remove(row);
            await db.SaveChangesAsync();
        }
    }
}

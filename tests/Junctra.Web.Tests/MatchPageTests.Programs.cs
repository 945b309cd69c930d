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

/// <summary>The interface for programs, and what the database narrows.</summary>
public sealed partial class MatchPageTests
{
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

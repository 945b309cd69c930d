using System.Net;
using System.Net.Http.Json;
using System.Text.Json;

namespace Junctra.Web.Tests;

/// <summary>The interface for programs: every way of doing a job.</summary>
public sealed partial class MatchPageTests
{
    private const string Read = """
        "facts": [ { "fact": "model-code", "value": "HX204", "source": "link" }, { "fact": "serial", "value": "HXA70431", "source": "link" },
          { "fact": "rollback-floor", "value": "3", "source": "link" }, { "fact": "lock-state", "value": "unlocked", "source": "link" },
          { "fact": "mode", "value": "fastboot", "source": "link" } ]
        """;

    [Fact]
    public async Task A_program_gets_every_way_of_doing_a_job_with_steps_fates_gates_and_risks()
    {
        using var program = await ProgramAsync(lead);
        await using var db = world.Database.CreateDbContext();
        var package = db.Packages.Single(row => row.FileName == "cairn-stock-26w10.tar").Id;
        using var answer = await program.PostAsync(
            "/api/v1/plan",
            Json($"{{ {Read}, \"policy\": {{ \"data\": \"keep\" }}, \"package\": \"{package.ToUpperInvariant()}\" }}")
        );
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        var ways = await answer.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal(("junctra-ways", 1), (ways.GetProperty("format").GetString(), ways.GetProperty("version").GetInt32()));
        var first = ways.GetProperty("ways")[0];
        Assert.Equal(("F", false), (first.GetProperty("path").GetString(), first.GetProperty("erasesData").GetBoolean()));
        Assert.Equal("HXA70431", first.GetProperty("plan").GetProperty("target").GetProperty("serial").GetString());
        Assert.True(first.GetProperty("plan").GetProperty("steps").GetArrayLength() > 8);
        Assert.Contains(first.GetProperty("rehearsal").GetProperty("steps").EnumerateArray(), step =>
            step.GetProperty("risk").GetString() == "only-emergency"
        );
        Assert.NotEmpty(first.GetProperty("rehearsal").GetProperty("fates").EnumerateArray());
        Assert.Contains(first.GetProperty("gates").EnumerateArray(), gate => gate.GetProperty("id").GetString() == "data-loss");
        Assert.Equal(
            14,
            ways.GetProperty("ways")
                .EnumerateArray()
                .Concat(ways.GetProperty("missing").EnumerateArray())
                .Select(one => one.GetProperty("path").GetString())
                .Distinct()
                .Count()
        );

        // Without a package: what takes none, and for the others that they take one.
        using var bare = await program.PostAsync("/api/v1/plan", Json($"{{ {Read} }}"));
        var without = await bare.Content.ReadFromJsonAsync<JsonElement>();
        Assert.Equal("K", without.GetProperty("ways")[0].GetProperty("path").GetString());
        Assert.Equal(JsonValueKind.Null, without.GetProperty("verdict").ValueKind);
    }

    [Theory]
    [InlineData("null")]
    [InlineData("{ \"facts\": [], \"path\": \"F\" }")]
    [InlineData("{ \"facts\": [], \"package\": \"abc\" }")]
    [InlineData("{ \"facts\": [], \"policy\": { \"goal\": \"sale\" } }")]
    public async Task A_request_for_a_plan_that_is_wrong_is_told_where(string body)
    {
        using var program = await ProgramAsync(await world.ClientAsync("bench"));
        using var answer = await program.PostAsync("/api/v1/plan", Json(body));
        Assert.Equal(HttpStatusCode.BadRequest, answer.StatusCode);
        Assert.NotEmpty((await answer.Content.ReadFromJsonAsync<JsonElement>()).GetProperty("mistakes").EnumerateArray());
        await WebWorld.PostAsync(await world.ClientAsync("bench"), "/account", "Revoke", ("id", await LastTokenAsync()));
    }
}

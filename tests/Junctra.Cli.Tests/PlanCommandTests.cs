using System.Text.Json.Nodes;
using Junctra.Testing;

namespace Junctra.Cli.Tests;

/// <summary>What a shell gets of triage, plan and rehearsal.</summary>
public class PlanCommandTests
{
    private const string Loop = "docs/examples/tern-6-loop.yaml",
        Unlocked = "docs/examples/cairn-unlocked.json";

    private static Task<(int Code, string Out, string Error)> RunAsync(params string[] args) => Call.RunAsync(args);

    [Fact]
    public async Task A_plan_is_printed_as_json_with_its_key_its_steps_and_what_was_agreed_on()
    {
        var package = await DemoLibrary.PathAsync("cairn-stock-26w10.tar");
        var (code, output, _) = await RunAsync("plan", "--phone", Unlocked, "--package", package, "--data", "keep", "--json");
        Assert.Equal(0, code);
        var plan = JsonNode.Parse(output)!;
        Assert.Equal(("junctra-plan", "F", false), ((string)plan["format"]!, (string)plan["path"]!, (bool)plan["erasesData"]!));
        Assert.Equal("unlocked", (string)plan["target"]!["lockState"]!);
        var steps = plan["steps"]!.AsArray();
        Assert.Equal(Enumerable.Range(1, steps.Count), steps.Select(step => (int)step!["number"]!));
        Assert.Equal("computer", (string)steps[0]!["by"]!);
        Assert.Contains(steps, step => step!["touches"]!.AsArray() is [var only] && (string)only! == "system" && (long)step["bytes"]! > 0);
        Assert.Contains(plan["ifItLoops"]!.AsArray(), step => ((string)step!["title"]!).Contains("Wipe data"));

        // What is rehearsed is this plan, told by its key; another wish is another plan.
        var (_, rehearsed, _) = await RunAsync("rehearse", "--phone", Unlocked, "--package", package, "--data", "keep", "--json");
        var found = JsonNode.Parse(rehearsed)!;
        Assert.Equal((string)plan["key"]!, (string)found["key"]!);
        var chain = found["steps"]!
            .AsArray()
            .Where(step => ((string)step!["title"]!).StartsWith("Write bootloader", StringComparison.Ordinal));
        Assert.All(chain, step => Assert.Equal("only-emergency", (string)step!["risk"]!));
        Assert.Contains(found["fates"]!.AsArray(), fate => (string)fate!["kind"]! == "lost");
        Assert.Contains(found["expectations"]!.AsArray(), expected => (string)expected!["fact"]! == "build");
        var (_, erased, _) = await RunAsync("plan", "--phone", Unlocked, "--package", package, "--data", "erase", "--json");
        Assert.NotEqual((string)plan["key"]!, (string)JsonNode.Parse(erased)!["key"]!);
    }

    [Fact]
    public async Task A_plan_without_a_package_and_one_that_there_is_none_of()
    {
        var (code, output, _) = await RunAsync("plan", "--phone", Loop);
        Assert.Equal(0, code);
        Assert.StartsWith("Wipe only, nothing written", output);
        Assert.Contains("serial not read", output);
        (code, output, _) = await RunAsync("plan", "--phone", Loop, "--path", "F", "--json");
        Assert.Equal(1, code);
        Assert.Contains("It takes a factory set, and no package is chosen.", (string)JsonNode.Parse(output)!["refusals"]![0]!);
        // Its serial was not read over the link: no write is planned for it.
        (code, output, _) = await RunAsync(
            "rehearse",
            "--phone",
            Loop,
            "--package",
            Path.Combine(await DemoLibrary.AllFolderAsync(), "TN63E_WHM_r5_full.zip"),
            "--data",
            "keep"
        );
        Assert.Equal(1, code);
        Assert.Contains("not read over the link", output);
        (code, _, var error) = await RunAsync("plan", "--phone", Loop, "--path", "Z");
        Assert.Equal(2, code);
        Assert.Contains("Z is no path. Paths are A (Bundle, data kept)", error);
    }

    [Fact]
    public async Task Every_way_is_listed_with_what_it_costs_or_why_it_is_none()
    {
        var package = await DemoLibrary.PathAsync("cairn-stock-26w10.tar");
        var (code, output, _) = await RunAsync("ways", "--phone", Unlocked, "--package", package, "--data", "keep", "--json");
        Assert.Equal(0, code);
        var ways = JsonNode.Parse(output)!;
        Assert.Equal(("junctra-ways", 1), ((string)ways["format"]!, (int)ways["version"]!));
        var first = ways["ways"]![0]!;
        Assert.Equal(("F", false, "unknown"), ((string)first["path"]!, (bool)first["erasesData"]!, (string)first["cost"]!["data"]!));
        Assert.Equal((string)first["plan"]!["key"]!, (string)first["rehearsal"]!["key"]!);
        Assert.Contains(first["gates"]!.AsArray(), gate => (string)gate!["id"]! == "backup" && gate["options"]!.AsArray().Count == 2);
        Assert.Contains(ways["ways"]!.AsArray(), way => (string)way!["path"]! == "F" && (bool)way["erasesData"]!);
        Assert.Contains(ways["missing"]!.AsArray(), way => (string)way!["path"]! == "B" && (string)way["why"]! == "It takes a bundle.");

        (code, output, _) = await RunAsync("ways", "--phone", Loop);
        Assert.Equal(0, code);
        Assert.Contains("K  Wipe only, nothing written: data lost", output);
        Assert.Contains("F  Factory set: It takes a factory set, and no package is chosen.", output);
    }

    [Fact]
    public async Task Observations_move_the_chances_and_the_next_check_says_what_it_is_worth()
    {
        var (code, output, _) = await RunAsync("triage", "--phone", Loop, "--json");
        Assert.Equal(1, code);
        var before = JsonNode.Parse(output)!;
        Assert.Equal(1, before["classes"]!.AsArray().Sum(candidate => (double)candidate!["chance"]!), 6);
        Assert.Contains(before["observed"]!.AsArray(), one => (string?)one!["fromFact"] == "mode");
        var next = before["next"]!;
        Assert.True((double)next["bits"]! > 0);
        var check = (string)next["check"]!;
        foreach (var outcome in next["outcomes"]!.AsArray())
        {
            var after = JsonNode.Parse(
                (await RunAsync("triage", "--phone", Loop, "--saw", $"{check}={(string)outcome!["id"]!}", "--json")).Out
            )!;
            Assert.Contains(after["observed"]!.AsArray(), one => (string)one!["check"]! == check && one["fromFact"] is null);
            Assert.NotEqual(check, (string?)after["next"]?["check"]);
        }

        var skipped = JsonNode.Parse((await RunAsync("triage", "--phone", Loop, "--cannot-tell", check, "--json")).Out)!;
        Assert.NotEqual(check, (string?)skipped["next"]?["check"]);
        Assert.Contains("Stop", (await RunAsync("triage", "--phone", Loop, "--cell", "swollen")).Out, StringComparison.OrdinalIgnoreCase);
    }

    [Theory]
    [InlineData("loop", "write CHECK=OUTCOME")]
    [InlineData("loop=1", "loop is no check. Checks are ")]
    [InlineData("now=1", "1 is no outcome of now. Outcomes are ")]
    public async Task An_observation_that_is_none_is_named(string text, string words)
    {
        var (code, output, error) = await RunAsync("triage", "--phone", Loop, "--saw", text);
        Assert.Equal((2, ""), (code, output));
        Assert.Contains(words, error);
    }
}

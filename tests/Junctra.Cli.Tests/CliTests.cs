using System.Text.Json.Nodes;
using Junctra.Testing;

namespace Junctra.Cli.Tests;

/// <summary>The command line as a shell sees it: what it prints, where, and how it ends.</summary>
public class CliTests
{
    private static Task<(int Code, string Out, string Error)> RunAsync(params string[] args) => Call.RunAsync(args);

    [Fact]
    public async Task The_catalogue_that_ships_is_in_order()
    {
        var (code, output, _) = await RunAsync("catalogue");
        Assert.Equal(0, code);
        Assert.Contains("10 models", output);
    }

    [Fact]
    public async Task Mistakes_of_a_catalogue_go_to_the_error_output_with_file_and_line()
    {
        var hadrel = File.ReadAllText(Path.Combine(Repo.CatalogueFolder, "makers", "hadrel.yaml"));
        var folder = OtherCatalogue.Write(("makers/hadrel.yaml", hadrel.Replace("role: overlay", "role: underlay")));
        var (code, output, error) = await Call.ProgramAsync("catalogue", "--catalogue", folder);
        Assert.Equal(2, code);
        Assert.Empty(output);
        Assert.Matches(@"makers/hadrel\.yaml:\d+: role is underlay; it must be one of boot-chain", error);
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task An_intact_package_is_printed_as_json()
    {
        var (code, output, _) = await Call.ProgramAsync("inspect", await DemoLibrary.PathAsync("Cairn_latest_full.zip"), "--json");
        Assert.Equal(0, code);
        var package = JsonNode.Parse(output)!;
        Assert.Equal("factory-set", (string)package["kind"]!);
        Assert.Equal("HX204/15.26w30-2.r4", (string)package["build"]!);
        Assert.Equal(7, package["images"]!.AsArray().Count);
        Assert.Equal("sparse", (string)package["images"]!.AsArray().Single(i => (string)i!["partition"]! == "system")!["format"]!);
    }

    [Fact]
    public async Task A_damaged_package_ends_with_one()
    {
        var (code, output, _) = await RunAsync("inspect", await DemoLibrary.PathAsync("cairn-26w14-from-a-stick.tar"), "--json");
        Assert.Equal(1, code);
        Assert.Contains(JsonNode.Parse(output)!["findings"]!.AsArray(), f => (string)f!["weight"]! == "fatal");
    }

    [Fact]
    public async Task A_file_that_is_not_there_ends_with_two()
    {
        var (code, output, error) = await RunAsync("inspect", "/nowhere/set.tar");
        Assert.Equal((2, ""), (code, output));
        Assert.Contains("/nowhere/set.tar", error);
    }

    private static async Task<string> PhoneAsync(string text)
    {
        var path = Path.Combine(Directory.CreateTempSubdirectory("junctra-cli-").FullName, "phone.yaml");
        await File.WriteAllTextAsync(path, text);
        return path;
    }

    /// <summary>A library of two of the demo packages: one for the phone and one that is not.</summary>
    private static async Task<string> SmallLibraryAsync()
    {
        var folder = Directory.CreateTempSubdirectory("junctra-cli-").FullName;
        foreach (var file in new[] { "cairn-stock-26w10.tar", "cairn-small-26w10.tar" })
            File.Copy(await DemoLibrary.PathAsync(file), Path.Combine(folder, file));
        return folder;
    }

    private const string Cairn =
        "source: link\nfacts: { model-code: HX204, serial: HXA70431, rollback-floor: 3, lock-state: unlocked, build: HX204/15.26w02-1.r3, radio-build: HX204-R-26w02, mode: fastboot }\n";

    [Fact]
    public async Task A_library_is_judged_as_json_best_first()
    {
        var (code, output, _) = await RunAsync(
            "match",
            "--phone",
            await PhoneAsync(Cairn),
            "--library",
            await DemoLibrary.FolderAsync(),
            "--json"
        );
        Assert.Equal(0, code);
        var report = JsonNode.Parse(output)!;
        var candidates = report["candidates"]!.AsArray();
        Assert.Equal(DemoLibrary.Count, candidates.Count);
        Assert.Equal(["care", "care", "care", "care", "stop", "stop", "stop", "stop"], candidates.Select(c => (string)c!["verdict"]!));
        Assert.Equal("HX204/15.26w10-7.r3", (string)candidates[0]!["title"]!);
        Assert.Equal(
            Enumerable.Range(1, 19).Select(number => $"M{number:00}"),
            candidates[0]!["rules"]!.AsArray().Select(rule => (string)rule!["rule"]!)
        );
        Assert.Contains("for ever", (string)candidates[3]!["headline"]!);
        Assert.Empty(report["nearMisses"]!.AsArray());
    }

    [Fact]
    public async Task Where_nothing_may_be_written_it_ends_with_one_and_names_the_nearest()
    {
        var locked = await PhoneAsync(Cairn.Replace("unlocked", "locked"));
        var (code, output, _) = await RunAsync("match", "--phone", locked, "--library", await SmallLibraryAsync());
        Assert.Equal(1, code);
        Assert.Contains("Nearest: HX204/15.26w10-7.r3. The bootloader is locked", output);
        Assert.DoesNotContain("Nearest: HX204C", output);
    }

    [Fact]
    public async Task A_shops_own_catalogue_and_schools_are_used()
    {
        var catalogue = OtherCatalogue.Write(("makers/velloq.yaml", OtherCatalogue.Velloq), ("schools.yaml", "region: any\n"));
        var library = Directory.CreateTempSubdirectory("junctra-cli-").FullName;
        await File.WriteAllTextAsync(Path.Combine(library, "set.tar.partial"), "x");
        var phone = await PhoneAsync("source: bootloader-screen\nfacts: { model-code: TN63W, region: WHM }\n");
        var (code, output, _) = await RunAsync("match", "--phone", phone, "--library", library, "--catalogue", catalogue, "--json");
        Assert.Equal(1, code);
        Assert.Equal("any", (string)JsonNode.Parse(output)!["policy"]!["region"]!);
        Assert.Equal(["set.tar.partial"], JsonNode.Parse(output)!["arriving"]!.AsArray().Select(name => (string)name!));
        Directory.Delete(catalogue, true);
        Directory.Delete(library, true);
    }

    [Fact]
    public async Task A_wrong_phone_file_goes_to_the_error_output_with_its_lines()
    {
        var (code, output, error) = await RunAsync(
            "match",
            "--phone",
            await PhoneAsync("source: link\nfacts:\n  rollback-floor: many\n"),
            "--library",
            await DemoLibrary.FolderAsync()
        );
        Assert.Equal((2, ""), (code, output));
        Assert.Contains("phone.yaml:3: many is no value of rollback-floor", error);
    }

    [Fact]
    public async Task A_library_that_is_not_there_ends_with_two() =>
        Assert.Equal(2, (await RunAsync("match", "--phone", await PhoneAsync(Cairn), "--library", "/nowhere")).Code);

    [Fact]
    public async Task The_report_for_people_names_images_and_findings()
    {
        var (code, output, _) = await RunAsync("inspect", await DemoLibrary.PathAsync("cairn-26w06-set.zip"));
        Assert.Equal(0, code);
        Assert.Contains("image system       sparse, 10.5 MB as sent, 41.9 MB expanded, digest matches", output);
        Assert.Contains("other archive", output);
    }

    [Fact]
    public async Task The_phone_file_of_the_documentation_is_one()
    {
        var text = await File.ReadAllTextAsync(Path.Combine(Repo.Root, "docs", "formats.md"));
        var example = text.Split("```yaml")[1].Split("```")[0];
        var (code, output, error) = await RunAsync(
            "match",
            "--phone",
            await PhoneAsync(example),
            "--library",
            await SmallLibraryAsync(),
            "--json"
        );
        Assert.Equal((0, ""), (code, error));
        // Every field that the documentation names is there, and no other.
        var named = System
            .Text.RegularExpressions.Regex.Matches(
                text.Split("## Match report")[1].Split("```json")[1].Split("```")[0],
                "\"([A-Za-z0-9]+)\":"
            )
            .Select(m => m.Groups[1].Value)
            .ToHashSet();
        var printed = System
            .Text.RegularExpressions.Regex.Matches(output, "\"([A-Za-z0-9]+)\":")
            .Select(m => m.Groups[1].Value)
            .ToHashSet();
        Assert.Equal(named.Except(["between", "opensWith", "noWay"]).Order(), printed.Order());
    }

    [Fact]
    public async Task A_way_into_a_mode_is_printed_with_what_would_shorten_it()
    {
        var phone = Path.GetTempFileName();
        await File.WriteAllTextAsync(phone, "source: settings\nfacts:\n  model-code: TN63E\n  mode: system\n");
        var (code, output, error) = await RunAsync("route", "--phone", phone, "--json");
        Assert.True(code == 0, error);
        var route = JsonNode.Parse(output)!;
        Assert.Equal(("system", "download"), ((string)route["from"]!, (string)route["to"]!));
        Assert.Equal(
            ["system-switch-off", "off-to-warning", "warning-to-download"],
            route["legs"]!.AsArray().Select(leg => (string)leg!["id"]!)
        );
        Assert.Contains(route["openers"]!.AsArray(), opener => (string)opener!["fact"]! == "usb-debugging");
        var plain = await RunAsync("route", "--phone", phone, "--from", "boot-loop");
        Assert.Contains("Hold Power and Volume down until the screen goes dark.", plain.Out);
        var none = await RunAsync("route", "--phone", phone, "--from", "emergency");
        Assert.Equal(1, none.Code);
        Assert.Contains("no way. In chip emergency mode no key works", none.Out);
        Assert.Equal(2, (await RunAsync("route", "--phone", phone, "--to", "mars")).Code);
        File.Delete(phone);
    }

    [Fact]
    public async Task What_happened_to_a_twin_is_replayed_and_printed()
    {
        var events = Path.GetTempFileName();
        await File.WriteAllTextAsync(
            events,
            """[{"is":"key-down","key":"volume-up"},{"is":"time","milliseconds":2000},{"is":"cable-in","computer":"bench"},{"is":"time","milliseconds":1500},{"is":"key-up","key":"volume-up"}]"""
        );
        var (code, output, error) = await RunAsync("replay", "TRB62", events);
        Assert.True(code == 0, error);
        Assert.Matches(@"2\.000 s  cable in, to bench\n +2\.000 s    \[Waking\]", output);
        Assert.Contains("[Download] Download mode", output);
        await File.WriteAllTextAsync(events, """[{"is":"dance"}]""");
        Assert.Equal(2, (await RunAsync("replay", "TRB62", events)).Code);
        Assert.Equal(2, (await RunAsync("replay", "XX99", events)).Code);
        File.Delete(events);
    }
}

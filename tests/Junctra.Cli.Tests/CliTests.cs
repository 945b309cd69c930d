using System.Diagnostics;
using System.Text.Json.Nodes;
using Junctra.Testing;

namespace Junctra.Cli.Tests;

/// <summary>The command line as a shell sees it: what it prints, where, and how it ends.</summary>
public class CliTests
{
    private static async Task<(int Code, string Out, string Error)> RunAsync(params string[] args)
    {
        var start = new ProcessStartInfo("dotnet") { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = Repo.Root };
        foreach (var arg in args.Prepend(Path.Combine(AppContext.BaseDirectory, "Junctra.Cli.dll"))) start.ArgumentList.Add(arg);
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var output = await process.StandardOutput.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, output, await error);
    }

    [Fact]
    public async Task The_catalogue_that_ships_is_in_order()
    {
        var (code, output, _) = await RunAsync("catalogue");
        Assert.Equal(0, code);
        Assert.Contains("2 models", output);
    }

    [Fact]
    public async Task Mistakes_of_a_catalogue_go_to_the_error_output_with_file_and_line()
    {
        var folder = Directory.CreateTempSubdirectory("junctra-cli-").FullName;
        foreach (var file in Directory.EnumerateFiles(Repo.CatalogueFolder, "*.yaml", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(Repo.CatalogueFolder, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.WriteAllText(to, File.ReadAllText(file).Replace("role: overlay", "role: underlay"));
        }

        var (code, output, error) = await RunAsync("catalogue", "--catalogue", folder);
        Assert.Equal(2, code);
        Assert.Empty(output);
        Assert.Matches(@"makers/hadrel\.yaml:\d+: role is underlay; it must be one of boot-chain", error);
        Directory.Delete(folder, true);
    }

    [Fact]
    public async Task An_intact_package_is_printed_as_json()
    {
        var (code, output, _) = await RunAsync("inspect", await DemoLibrary.PathAsync("Cairn_latest_full.zip"), "--json");
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
}

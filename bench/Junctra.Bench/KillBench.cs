using System.Globalization;
using System.Text.RegularExpressions;

namespace Junctra.Bench;

/// <summary>
/// Everything that can die in a write, at every seeded moment that the tests of faults know: either end of each link, the cable at a random
/// byte, the web program, its database. Measured only where it is asked for by name: it takes most of an hour.
/// </summary>
internal static class KillBench
{
    private static readonly (string What, string Project, string[] Classes)[] Kinds =
    [
        (
            "either end of a link killed, over recovery, download with a layout, emergency and debugging",
            "Junctra.Link.Tests",
            ["Junctra.Link.Tests.KilledLinkTests"]
        ),
        (
            "the cable out at a random byte, over recovery, download with a layout, emergency and debugging",
            "Junctra.Link.Tests",
            ["Junctra.Link.Tests.BrokenLinkTests", "Junctra.Link.Tests.FilesOverLinksTests"]
        ),
        (
            "writer, wire or phone lost in fastboot mode",
            "Junctra.Link.Tests",
            ["Junctra.Link.Tests.FaultTests", "Junctra.Link.Tests.BrokenWireTests"]
        ),
        (
            "the web program killed, its database cut off four times a write, over fastboot, recovery, download with a layout, emergency and debugging",
            "Junctra.Web.Tests",
            ["Junctra.Web.Tests.ProcessFaultTests", "Junctra.Web.Tests.EveryLinkProcessTests"]
        ),
    ];

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string database)
    {
        // What both read is written once, before either runs.
        var standIns = Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll");
        await Programs.MeasureAsync(
            "dotnet",
            standIns,
            "packages",
            Path.Combine(Path.GetTempPath(), "junctra-demo-packages"),
            "factory-sets"
        );
        await Programs.MeasureAsync("dotnet", standIns, "packages", Path.Combine(Path.GetTempPath(), "junctra-all-demo-packages"));
        // One lane for each project: most of a test's time is somebody's wait for somebody else.
        var lanes = Kinds.GroupBy(kind => kind.Project).Select(lane => RunAsync(root, database, [.. lane]));
        return [.. (await Task.WhenAll(lanes)).SelectMany(rows => rows)];
    }

    private static async Task<IReadOnlyList<BenchRow>> RunAsync(
        string root,
        string database,
        IReadOnlyList<(string What, string Project, string[] Classes)> lane
    )
    {
        var rows = new List<BenchRow>();
        foreach (var (what, project, classes) in lane)
        {
            Console.WriteLine($"{what} ...");
            using var tests = Programs.Start(
                "dotnet",
                new Dictionary<string, string>
                {
                    ["JUNCTRA_EVERY_FAULT"] = "1",
                    ["JUNCTRA_ROOT"] = root,
                    ["JUNCTRA_TEST_PG"] = database,
                },
                [
                    Path.Combine(root, "tests", project, "bin/Release/net10.0", $"{project}.dll"),
                    "-noColor",
                    .. classes.SelectMany(one => new[] { "-class", one }),
                ]
            );
            var said = await tests.StandardOutput.ReadToEndAsync();
            await tests.WaitForExitAsync();
            if (tests.ExitCode != 0)
                Console.WriteLine(said);
            var (total, failed) = (Figure(said, "Total"), Figure(said, "Failed"));
            rows.Add(
                new BenchRow(
                    what,
                    "",
                    $"{total} tests",
                    "",
                    $"{failed.ToString(CultureInfo.InvariantCulture)} with a wrong journal, a repeated write or a phone that is not written in the end",
                    "none",
                    total > 0 && failed == 0 && tests.ExitCode == 0
                )
            );
        }

        return rows;
    }

    private static int Figure(string said, string name) =>
        Regex.Matches(said, $@"{name}: (\d+)") is [.., var last] ? int.Parse(last.Groups[1].Value, CultureInfo.InvariantCulture) : 0;
}

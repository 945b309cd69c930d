using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;

namespace Junctra.Bench;

/// <summary>
/// Everything that can break, broken: the tests of faults as often as it takes to trust the figures, from a seed of its own, until a
/// time is over. What it found is written into <c>docs/reliability.md</c>.
/// </summary>
internal static class Hammer
{
    /// <summary>Something that breaks.</summary>
    /// <param name="What">What.</param>
    /// <param name="Aim">What must not come of it.</param>
    /// <param name="Project">Project of its tests.</param>
    /// <param name="Classes">Their classes.</param>
    private sealed record Kind(string What, string Aim, string Project, params string[] Classes);

    private const string Wrong = "a wrong journal, a repeated write or a phone that is not written in the end";

    // The most telling first: what a short time leaves out stands at the end.
    private static readonly Kind[] Kinds =
    [
        new(
            "two web processes on one database, either killed or suspended in the middle of writes and downloads",
            Wrong + ", or work that nobody goes on with",
            "Junctra.Web.Tests",
            "TwoNodesTests",
            "PassingOnTests"
        ),
        new("the web program killed, its database cut off, fastboot", Wrong, "Junctra.Web.Tests", "ProcessFaultTests"),
        new(
            "the database server ended, held still and out of disk, the computer's clock set hours ahead and days back",
            Wrong,
            "Junctra.Web.Tests",
            "GroundFaultTests"
        ),
        new(
            "random walks over every page and form, hostile words in every field",
            "an answer of 500, a hang, or words that come back as more than text",
            "Junctra.Web.Tests",
            "RandomWalkTests"
        ),
        new(
            "the library killed while it fetches, stores and unpacks",
            "a file that is lost, or is not what its digest says",
            "Junctra.Web.Tests",
            "KilledLibraryTests"
        ),
        new(
            "mirrors and uploads that break off, lie, drip or never answer; a disk that is full",
            "a file that is taken for another, or an order that hangs",
            "Junctra.Web.Tests",
            "ArrivalTests",
            "MirrorClientTests",
            "UploadTests"
        ),
        new(
            "the web program killed, its database cut off four times a write, over recovery, download with a layout, emergency and debugging",
            Wrong,
            "Junctra.Web.Tests",
            "EveryLinkProcessTests"
        ),
        new("eight phones at once, each with its own trouble", Wrong, "Junctra.Link.Tests", "ManyPhonesTests"),
        new("writer, wire or phone lost in fastboot mode", Wrong, "Junctra.Link.Tests", "FaultTests", "BrokenWireTests", "WriterTests"),
        new(
            "peers that answer anything",
            "a crash, a hang, or a phone that is taken for another",
            "Junctra.Link.Tests",
            "WireTests",
            "BenchProtocolTests"
        ),
        new(
            "files of every format, cut, changed and made up",
            "a crash, a hang, an escape, or a changed image that is taken for whole",
            "Junctra.Formats.Tests",
            "HostileTests",
            "InspectorTests",
            "SparseTests",
            "ImageHeaderTests",
            "ArchiveTests",
            "TextTests"
        ),
        new(
            "the audit changed from outside, turns lost, every earlier version carried over",
            "a change that is not noticed, two owners, or a row that is lost",
            "Junctra.Store.Tests",
            "AuditChainTests",
            "OwnershipTests",
            "UpgradeTests",
            "JournalTests",
            "JournalWriterTests"
        ),
        new(
            "the cable out at a random byte, over recovery, download with a layout, emergency and debugging",
            Wrong,
            "Junctra.Link.Tests",
            "BrokenLinkTests",
            "FilesOverLinksTests",
            "BundleWriteTests",
            "HandsAndLinkTests"
        ),
        new(
            "either end of a link killed, over recovery, download with a layout, emergency and debugging",
            Wrong,
            "Junctra.Link.Tests",
            "KilledLinkTests"
        ),
    ];

    private sealed record Result(Kind Kind, int Tests, int Tries, int Failed, TimeSpan Took, bool IsDone, IReadOnlyList<string> Names);

    /// <summary>Hammers.</summary>
    /// <param name="root">Root of the repository.</param>
    /// <param name="database">How the database server is reached.</param>
    /// <param name="limit">After which time nothing is begun any more, and what is going on is ended.</param>
    /// <param name="seed">Where randomness begins.</param>
    /// <param name="only">Classes of tests whose kinds alone are hammered, the rows of the others left as they were; none for all.</param>
    /// <returns>0 where everything that was tried held.</returns>
    public static async Task<int> RunAsync(string root, string database, TimeSpan limit, int seed, IReadOnlyList<string> only)
    {
        var kinds = Kinds.Where(kind => only.Count == 0 || kind.Classes.Intersect(only).Any()).ToList();
        if (kinds.Count == 0)
        {
            Console.Error.WriteLine(
                $"Nothing is hammered by {string.Join(" or ", only)}. There is: {string.Join(", ", Kinds.SelectMany(kind => kind.Classes))}."
            );
            return 2;
        }

        Console.WriteLine($"Seed {seed}, {limit.TotalMinutes:0} min at most.");
        // What several read is written once, before any runs.
        var standIns = Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll");
        var temp = Path.GetTempPath();
        await Programs.MeasureAsync("dotnet", standIns, "packages", Path.Combine(temp, "junctra-demo-packages"), "factory-sets");
        await Programs.MeasureAsync("dotnet", standIns, "packages", Path.Combine(temp, "junctra-all-demo-packages"));
        await Programs.MeasureAsync("dotnet", standIns, "mirror-files", Path.Combine(temp, "junctra-mirror-files"));
        // Two lanes: most of a test's time is somebody's wait for somebody else.
        var lanes = kinds
            .GroupBy(kind => kind.Project == "Junctra.Web.Tests")
            .Select(lane => LaneAsync(root, database, [.. lane], seed, limit));
        var results = (await Task.WhenAll(lanes)).SelectMany(lane => lane).OrderBy(result => Array.IndexOf(Kinds, result.Kind)).ToList();
        var document = Path.Combine(root, "docs", "reliability.md");
        var told = Document(results, seed, File.Exists(document) ? await File.ReadAllLinesAsync(document) : []);
        await File.WriteAllTextAsync(document, told);
        Console.WriteLine(told);
        return results.Any(result => result.Failed > 0) ? 1 : 0;
    }

    /// <summary>One after the other, each for its share of the time that is left; what one does not need the next have.</summary>
    private static async Task<List<Result>> LaneAsync(string root, string database, IReadOnlyList<Kind> kinds, int seed, TimeSpan limit)
    {
        var (results, watch) = (new List<Result>(), Stopwatch.StartNew());
        for (var i = 0; i < kinds.Count; i++)
        {
            var kind = kinds[i];
            using var over = new CancellationTokenSource((limit - watch.Elapsed) / (kinds.Count - i));
            var tried = Path.Combine(Path.GetTempPath(), $"junctra-tried-{Guid.NewGuid():N}");
            Console.WriteLine($"{kind.What} ...");
            var began = Stopwatch.GetTimestamp();
            using var tests = Programs.Start(
                "dotnet",
                new Dictionary<string, string>
                {
                    ["JUNCTRA_EVERY_FAULT"] = "1",
                    ["JUNCTRA_TRIED"] = tried,
                    ["JUNCTRA_SEED"] = seed.ToString(CultureInfo.InvariantCulture),
                    ["JUNCTRA_ROOT"] = root,
                    ["JUNCTRA_TEST_PG"] = database,
                },
                [
                    Path.Combine(root, "tests", kind.Project, "bin/Release/net10.0", $"{kind.Project}.dll"),
                    "-noColor",
                    // Each is named as it ends, so that one that is ended by the time is counted as far as it came.
                    "-reporter",
                    "verbose",
                    .. kind.Classes.SelectMany(one => new[] { "-class", $"{kind.Project}.{one}" }),
                ]
            );
            var said = new StringBuilder();
            var reading = Task.Run(
                async () =>
                {
                    while (await tests.StandardOutput.ReadLineAsync() is { } line)
                        said.AppendLine(line);
                },
                CancellationToken.None
            );
            var isDone = true;
            try
            {
                await tests.WaitForExitAsync(over.Token);
            }
            catch (OperationCanceledException)
            {
                isDone = false;
                tests.Kill(entireProcessTree: true);
                await tests.WaitForExitAsync(CancellationToken.None);
            }

            await reading;
            var text = said.ToString();
            var failed = Regex
                .Matches(text, @"^\s+(\S.*) \[FAIL\]", RegexOptions.Multiline)
                .Select(found => found.Groups[1].Value)
                .Distinct()
                .ToList();
            var tries = File.Exists(tried) ? File.ReadLines(tried).Count() : 0;
            File.Delete(tried);
            var total = isDone ? Figure(text, "Total") : Regex.Count(text, @"\[FINISHED\]");
            if (failed.Count > 0)
                Console.WriteLine(text);
            // A runner that died before it could count is a failure of its own.
            if (isDone && total == 0)
                failed.Add("the tests did not run");
            results.Add(new Result(kind, total, tries, failed.Count, Stopwatch.GetElapsedTime(began), isDone, failed));
        }

        return results;
    }

    private static string Document(IReadOnlyList<Result> results, int seed, IReadOnlyList<string> before)
    {
        var text = new StringBuilder();
        text.Append(
            """
            # Reliability

            What was broken on purpose, how often, and what came of it. Written by `./junctra hammer [MINUTES [SEED [TESTS]]]`, which runs
            the tests of faults with all their repetitions, on loopback only, and ends after that time. Each test breaks something at a random
            moment and holds journal, phone, library or database against what must be. Each row has its share of the time; one that is ended
            by it has done what its tries say, and nothing was wrong until then.

            Aim: no wrong journal, no repeated write, no lost job, no crash, no hang, no escape.

            | What was broken | Must not come of it | Tests done | Tries within them, where they are counted | It came of it | Took | When, and from which seed |
            |---|---|---|---|---|---|---|

            """
        );
        foreach (var kind in Kinds)
        {
            var begins = $"| {kind.What} | {kind.Aim} | ";
            if (results.FirstOrDefault(result => result.Kind == kind) is { } result)
                text.AppendLine(
                    CultureInfo.InvariantCulture,
                    $"{begins}{result.Tests}{(result.IsDone ? "" : ", ended by the time")} | {(result.Tries == 0 ? "" : $"{result.Tries:N0}")} | {(result.Failed == 0 ? "never" : $"{result.Failed}: {string.Join("; ", result.Names)}")} | {result.Took:h\\:mm\\:ss} | {DateTime.UtcNow:yyyy-MM-dd}, {seed} |"
                );
            else if (before.FirstOrDefault(line => line.StartsWith(begins, StringComparison.Ordinal)) is { } old)
                text.AppendLine(old);
        }

        text.Append(
            """

            ## Not hammered

            - Shared storage over a network, with what it does when the network goes.
            - Two computers: the two processes run on one, and share its disk.
            """
        );
        return text.AppendLine().ToString();
    }

    private static int Figure(string said, string name) =>
        Regex.Matches(said, $@"{name}: (\d+)") is [.., var last] ? int.Parse(last.Groups[1].Value, CultureInfo.InvariantCulture) : 0;
}

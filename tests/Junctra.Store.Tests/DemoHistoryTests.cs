using System.Globalization;
using System.IO.Compression;
using System.Text.Json;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using Junctra.Core.Logbook;
using Junctra.Core.Runs;
using Junctra.StandIns.History;
using Junctra.Testing;

namespace Junctra.Store.Tests;

/// <summary>The demo shop's history is what its simulation makes of today's rules, plans and twins, and nothing else.</summary>
public sealed partial class DemoHistoryTests
{
    private static async Task<string> ReadAsync(string path)
    {
        using var text = new StreamReader(new GZipStream(File.OpenRead(path), CompressionMode.Decompress));
        // The last digits of a logarithm are the computer's own.
        return LongNumber()
            .Replace(await text.ReadToEndAsync(TestContext.Current.CancellationToken), number =>
                double.Parse(number.Value, CultureInfo.InvariantCulture).ToString("G9", CultureInfo.InvariantCulture)
            );
    }

    /// <summary>A line for each job; not the head, which says when all of it was written.</summary>
    private static async Task<IReadOnlyList<string>> LinesAsync(string path) =>
        [.. (await ReadAsync(path)).Split('\n', StringSplitOptions.RemoveEmptyEntries).Skip(1)];

    [GeneratedRegex("(?<=[:\\[,])-?[0-9]+\\.[0-9]{8,}(E-?[0-9]+)?(?=[,}\\]])")]
    private static partial Regex LongNumber();

    // Each job follows from those before it: the first ones tell whether all of it is of today. All of them with JUNCTRA_EVERY_FAULT=1.
    [Fact]
    public async Task The_file_is_what_the_simulation_makes()
    {
        var jobs = Sampled.Of(160, 16);
        var made = Path.Combine(Directory.CreateTempSubdirectory("junctra-history-").FullName, "history.jsonl.gz");
        await using (var file = File.Create(made))
            await HistoryFile.WriteAsync(Repo.Catalogue, await DemoLibrary.ReadAllAsync(), file, jobs);
        var (expected, shipped) = (await LinesAsync(made), await LinesAsync(Path.Combine(Repo.Root, "demo", "history.jsonl.gz")));
        Assert.Equal(jobs, expected.Count);
        Assert.True(
            expected.SequenceEqual(shipped.Take(jobs)),
            "The file is of another day than the rules, plans and twins: play it anew by ./junctra demo history."
        );
    }

    [Fact]
    public async Task It_tells_of_everything_that_the_pages_show()
    {
        var lines = (await ReadAsync(Path.Combine(Repo.Root, "demo", "history.jsonl.gz"))).Split(
            '\n',
            StringSplitOptions.RemoveEmptyEntries
        );
        var jobs = lines.Skip(1).Select(line => (JsonObject)JsonNode.Parse(line)!).ToList();
        Assert.Equal(160, jobs.Count);
        Assert.Equal(160, jobs.Select(job => (string)job["jobs"]!["ticket"]!).Distinct().Count());
        Assert.All(jobs, job => Assert.True(string.CompareOrdinal((string)job["jobs"]!["ticket"]!, "0415") < 0));
        var days = jobs.Max(job => (DateTimeOffset)job["jobs"]!["takenInAt"]!) - (DateTimeOffset)jobs[0]["jobs"]!["takenInAt"]!;
        Assert.InRange(days.TotalDays, 60, 80);
        var runs = jobs.SelectMany(job => (JsonArray?)job["runs"] ?? []).ToList();
        Assert.Contains(runs, run => (string)run!["status"]! == "failed");
        Assert.True(runs.Select(run => (string)run!["plan"]!["choice"]!["path"]!).Distinct().Count() >= 5);
        Assert.Contains(jobs, job => ((JsonArray?)job["findings"])?.Count > 1);
        Assert.Contains(jobs, job => (string)job["jobs"]!["cell"]! != "sound");
        Assert.True(jobs.Select(job => (string?)job["jobs"]!["faultClassId"]).Distinct().Count() >= 12);
    }

    [Fact]
    public async Task Times_that_were_said_by_what_was_logged_before_hold_for_nine_in_ten_of_those_that_came_after()
    {
        var lines = (await ReadAsync(Path.Combine(Repo.Root, "demo", "history.jsonl.gz"))).Split(
            '\n',
            StringSplitOptions.RemoveEmptyEntries
        );
        var (held, all) = (0, 0);
        // The first weeks are what the later ones were foretold by.
        foreach (var job in lines.Skip(1 + 40).Select(line => (JsonObject)JsonNode.Parse(line)!))
        {
            var facts = ((JsonArray)job["facts"]!).Select(fact => fact.Deserialize<FactRow>(StoreJson.Options)!.ToFact()).ToList();
            foreach (var run in (JsonArray?)job["runs"] ?? [])
            {
                var journal = ((JsonArray)job["runEvents"]!)
                    .Where(entry => (int)entry!["runId"]! == (int)run!["id"]!)
                    .Select(entry => new JournalEntry(
                        (long)entry!["seq"]!,
                        (DateTimeOffset)entry["at"]!,
                        entry["event"].Deserialize<RunEvent>(StoreJson.Options)!
                    ));
                var ended = (DateTimeOffset)run!["endedAt"]!;
                var steps = MeasuredStep.Of(PlanVersions.Read(run["plan"]!.ToJsonString()), journal, facts.Where(fact => fact.At >= ended));
                held += steps.Count(step => step.Took <= step.Said.Slow);
                all += steps.Count;
            }
        }

        Assert.True(all > 500, $"{all} times");
        Assert.InRange((double)held / all, 0.85, 0.95);
    }
}

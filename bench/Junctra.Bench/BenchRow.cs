using System.Globalization;

namespace Junctra.Bench;

/// <summary>One budget and what was measured.</summary>
internal sealed record BenchRow(string What, string Against, string Ours, string Theirs, string Measured, string Budget, bool Holds)
{
    private const string Head = "| what | against | ours | theirs | measured | budget | | on |\n|---|---|---|---|---|---|---|---|\n";

    private string Line =>
        $"| {What} | {Against} | {Ours} | {Theirs} | {Measured} | {Budget} | {(Holds ? "holds" : "**does not hold**")} | {DateTime.UtcNow.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)} |";

    public static string Table(IEnumerable<BenchRow> rows) => Head + string.Concat(rows.Select(row => row.Line + "\n"));

    /// <summary>The document with these rows in it; rows that were not measured now stay as they were, with their day.</summary>
    public static string Document(IReadOnlyList<BenchRow> rows, string before)
    {
        var kept = before
            .Split('\n')
            .Where(line =>
                line.StartsWith("| ", StringComparison.Ordinal) && !line.StartsWith("| what | against |", StringComparison.Ordinal)
            )
            .ToList();
        foreach (var row in rows)
        {
            var at = kept.FindIndex(line => line.StartsWith($"| {row.What} |", StringComparison.Ordinal));
            if (at >= 0)
                kept[at] = row.Line;
            else
                kept.Add(row.Line);
        }

        return $"""
            # Benchmarks

            Written by `./junctra bench`, {Environment.ProcessorCount} cores; each row on the day it was last measured. Every figure is a ratio of two things measured in turn in one run;
            times are medians, for orientation only. The programs compared with are in `bench/`: `plain-digests.sh` for the inspection,
            `Plain` for the write, `PlainPage` for the pages. The inspection is that of `junctra-cli inspect`, its start included; the write goes through the writer, the
            journal in the database and a simulated phone on loopback; the match goes through the narrowing in the database and all
            rules, on packages that `MatchBench` makes.

            {Head}{string.Join('\n', kept)}

            """;
    }

    public static string Seconds(double seconds) => seconds.ToString("0.00", CultureInfo.InvariantCulture) + " s";

    public static string Ratio(double ratio) => ratio.ToString("0.00", CultureInfo.InvariantCulture);

    public static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToList();
        return sorted.Count % 2 == 1 ? sorted[sorted.Count / 2] : (sorted[sorted.Count / 2 - 1] + sorted[sorted.Count / 2]) / 2;
    }
}

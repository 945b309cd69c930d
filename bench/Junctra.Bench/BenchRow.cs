using System.Globalization;

namespace Junctra.Bench;

/// <summary>One budget and what was measured.</summary>
internal sealed record BenchRow(string What, string Against, string Ours, string Theirs, string Measured, string Budget, bool Holds)
{
    public static string Table(IEnumerable<BenchRow> rows) =>
        "| what | against | ours | theirs | measured | budget | |\n|---|---|---|---|---|---|---|\n"
        + string.Concat(rows.Select(row => $"| {row.What} | {row.Against} | {row.Ours} | {row.Theirs} | {row.Measured} | {row.Budget} | {(row.Holds ? "holds" : "**does not hold**")} |\n"));

    public static string Document(string table) => $"""
        # Benchmarks

        Written by `./junctra bench` on {DateTime.UtcNow.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)}, {Environment.ProcessorCount} cores. Every figure is a ratio of two things measured in turn in one run;
        times are medians, for orientation only. The programs compared with are in `bench/`: `plain-digests.sh` for the inspection,
        `Plain` for the write, `PlainPage` for the pages. The inspection is that of `junctra-cli inspect`, its start included; the write goes through the writer, the
        journal in the database and a simulated phone on loopback; the match goes through the narrowing in the database and all
        rules, on packages that `MatchBench` makes.

        {table}
        """;

    public static string Seconds(double seconds) => seconds.ToString("0.00", CultureInfo.InvariantCulture) + " s";

    public static string Ratio(double ratio) => ratio.ToString("0.00", CultureInfo.InvariantCulture);

    public static double Median(IEnumerable<double> values)
    {
        var sorted = values.Order().ToList();
        return sorted.Count % 2 == 1 ? sorted[sorted.Count / 2] : (sorted[sorted.Count / 2 - 1] + sorted[sorted.Count / 2]) / 2;
    }
}

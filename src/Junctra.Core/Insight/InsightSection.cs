namespace Junctra.Core.Insight;

/// <summary>One figure, as it is drawn and told.</summary>
/// <param name="Key">Tells it from the others of its section; the jobs behind it are found by it.</param>
/// <param name="Label">What it is the figure of.</param>
/// <param name="Value">The figure: a share of 0 to 1, or minutes.</param>
/// <param name="Words">The figure in words.</param>
/// <param name="Jobs">The jobs behind it, each once.</param>
public sealed record InsightFigure(string Key, string Label, double Value, string Words, IReadOnlyList<int> Jobs)
{
    /// <summary>Between what the figure lies, as far as so few cases tell; null where it is no share.</summary>
    public (double Low, double High)? Between { get; init; }
}

/// <summary>What one question to the log was answered with.</summary>
/// <param name="Key">Tells it from the others.</param>
/// <param name="Title">The question, short.</param>
/// <param name="Sentence">The answer in a sentence.</param>
/// <param name="Figures">The figures behind it, drawn as bars.</param>
public sealed record InsightSection(string Key, string Title, string Sentence, IReadOnlyList<InsightFigure> Figures)
{
    /// <summary>Whether what Junctra said was wrong more often than it should be: such sections come first.</summary>
    public bool IsWrong { get; init; }

    /// <summary>Between what the figures should lie; null where there is no aim.</summary>
    public (double From, double To)? Aim { get; init; }

    /// <summary>Whether the figures are shares; else minutes.</summary>
    public bool AreShares { get; init; }
}

/// <summary>Shares of few cases.</summary>
public static class Shares
{
    // Nineteen of twenty such intervals hold the true share.
    private const double Sure = 1.96;

    /// <summary>Between what a share lies, as far as so many cases tell (Wilson's interval).</summary>
    public static (double Low, double High) Between(int hits, int all)
    {
        if (all == 0)
            return (0, 1);
        var share = (double)hits / all;
        var weight = Sure * Sure / all;
        var middle = (share + weight / 2) / (1 + weight);
        var half = Sure / (1 + weight) * Math.Sqrt(share * (1 - share) / all + weight / 4 / all);
        return (Math.Max(0, middle - half), Math.Min(1, middle + half));
    }

    /// <summary>A share in words: <c>37 of 41 (90 %)</c>.</summary>
    public static string Words(int hits, int all) => all == 0 ? "none yet" : $"{hits} of {all} ({Percent(hits, all)})";

    internal static string Percent(int hits, int all) => $"{Math.Round(100.0 * hits / all):0} %";

    internal static InsightFigure Figure<T>(string key, string label, IReadOnlyCollection<T> of, Func<T, bool> hit, Func<T, int> job)
    {
        var hits = of.Count(hit);
        return new InsightFigure(
            key,
            label,
            of.Count == 0 ? 0 : (double)hits / of.Count,
            Words(hits, of.Count),
            // Those that missed first: they are what somebody wants to look at.
            [.. of.Where(one => !hit(one)).Concat(of.Where(hit)).Select(job).Distinct()]
        )
        {
            Between = Between(hits, of.Count),
        };
    }
}

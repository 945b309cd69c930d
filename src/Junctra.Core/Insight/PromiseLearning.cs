namespace Junctra.Core.Insight;

/// <summary>A promise, what was said of it, and what became of it.</summary>
/// <param name="Job">The job.</param>
/// <param name="For">The moment for which it was promised.</param>
/// <param name="Chance">The chance that it had by the first timetable after it was given, 0 to 1; null where nothing was said.</param>
/// <param name="Ready">When the phone was ready; null while it is not.</param>
public sealed record LoggedPromise(int Job, DateTimeOffset For, double? Chance, DateTimeOffset? Ready)
{
    /// <summary>Whether it was kept; null while nobody knows.</summary>
    public bool? WasKept => Ready is { } ready ? ready <= For : null;
}

/// <summary>
/// When a phone was said to be ready, and when it was, in minutes in which the shop is open, from the moment in which it was said.
/// </summary>
/// <param name="Usual">The minute in which it usually would be.</param>
/// <param name="Slow">The minute by which it would be in nine of ten.</param>
/// <param name="Took">The minute in which it was.</param>
public sealed record SaidReady(double Usual, double Slow, double Took);

/// <summary>
/// How the days of a shop go beside what is said of them: later or earlier on the whole, and further from what was said, or less
/// (specification: section 13 of the job).
/// </summary>
/// <param name="Shift">By how many of its own spreads a phone is later than said; below 0 earlier.</param>
/// <param name="Stretch">How many times as far as was said phones stray.</param>
/// <param name="Jobs">Jobs behind it; 0 where nothing was learned.</param>
public sealed record PromiseBias(double Shift, double Stretch, int Jobs)
{
    // A few bad days are not to make promises of what no day bears out.
    private const double MaxShift = 3,
        MinStretch = 0.5,
        MaxStretch = 3,
        MinSpread = 0.02;

    /// <summary>Nothing was learned: what is reckoned is said.</summary>
    public static PromiseBias None { get; } = new(0, 1, 0);

    /// <summary>
    /// Learns from what was said and what it took, by the rule by which all estimates are drawn towards what was known before.
    /// </summary>
    /// <param name="log">What was said; what was not yet ready is not in it.</param>
    public static PromiseBias Of(IEnumerable<SaidReady> log)
    {
        var strays = log.Where(one => one is { Usual: > 0, Took: > 0 })
            .Select(one => Math.Log(one.Took / one.Usual) / SpreadOf(one.Usual, one.Slow))
            // What lay over a holiday says nothing of a day's work.
            .Select(one => Math.Clamp(one, -2 * MaxShift, 2 * MaxShift))
            .ToList();
        if (strays.Count < Estimates.LeastJobs)
            return None;
        var learned = Learning.Of(strays, 0, 1);
        return new PromiseBias(
            Math.Clamp(learned.Middle, -MaxShift, MaxShift),
            Math.Clamp(learned.Strays, MinStretch, MaxStretch),
            strays.Count
        );
    }

    /// <summary>A minute in which a phone may be ready, as it is by what was learned.</summary>
    /// <param name="minute">The minute that was reckoned, above 0.</param>
    /// <param name="usual">The minute in which it usually is, as reckoned.</param>
    /// <param name="slow">The minute by which it is in nine of ten, as reckoned.</param>
    public double Of(double minute, double usual, double slow) =>
        Jobs == 0 || usual <= 0 || minute <= 0
            ? minute
            : usual * Math.Exp(Shift * SpreadOf(usual, slow)) * Math.Pow(minute / usual, Stretch);

    private static double SpreadOf(double usual, double slow) =>
        Math.Max(MinSpread, Math.Log(Math.Max(1, slow / usual)) / Learning.NineOfTen);
}

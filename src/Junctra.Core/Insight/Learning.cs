using Junctra.Core.Catalogue;

namespace Junctra.Core.Insight;

/// <summary>What a few measured values say, drawn towards what was known before; how far, <see cref="Estimates"/> says.</summary>
/// <param name="Middle">The middle, a logarithm.</param>
/// <param name="Spread">How far single values stray from it.</param>
/// <param name="Strays">The same, together with what the middle itself is not sure of: how far a value to come will stray.</param>
/// <param name="Count">Values behind it.</param>
internal sealed record Learning(double Middle, double Spread, double Strays, int Count)
{
    /// <summary>Of a normal spread, nine of ten values lie below so many spreads over the middle.</summary>
    public const double NineOfTen = 1.2815515655446;

    // What was known of the spread before speaks with the weight of so many jobs.
    private const int SpreadWeighs = 4;

    // Nothing in a workshop strays less than this; a few jobs that agree by chance say too little.
    private const double MinSpread = 0.08;

    /// <summary>Learns from values.</summary>
    /// <param name="values">Logarithms, at least <see cref="Estimates.LeastJobs"/>.</param>
    /// <param name="before">The middle that was known before.</param>
    /// <param name="spreadBefore">The spread that was known before.</param>
    public static Learning Of(IReadOnlyList<double> values, double before, double spreadBefore)
    {
        var (n, middle) = (values.Count, values.Average());
        var squares = values.Sum(one => (one - middle) * (one - middle));
        var spread = (SpreadWeighs * spreadBefore * spreadBefore + squares) / (SpreadWeighs + n - 1);
        spread = Math.Max(spread, MinSpread * MinSpread);
        var (off, strays) = (middle - before, spread / n);
        var doubt = strays * (1 + (double)Estimates.LeastJobs / n);
        var believed = off == 0 ? 0 : Math.Max(0, 1 - doubt / (off * off));
        return new Learning(before + believed * off, Math.Sqrt(spread), Math.Sqrt(spread + strays), n);
    }

    /// <summary>The spread that a figure's band stands for.</summary>
    public static double SpreadOf(Band band) => Math.Max(MinSpread, Math.Log(Math.Max(1, band.Slow / band.Typical)) / NineOfTen);
}

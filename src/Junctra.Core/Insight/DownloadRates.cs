namespace Junctra.Core.Insight;

/// <summary>A file that came whole.</summary>
/// <param name="Mirror">The mirror that it came from.</param>
/// <param name="BytesPerSecond">Bytes a second, of all of it.</param>
public sealed record LoggedDownload(int Mirror, double BytesPerSecond);

/// <summary>How fast a mirror gives.</summary>
/// <param name="Usual">Bytes a second that half of its files beat.</param>
/// <param name="Slow">Bytes a second that nine of ten files beat.</param>
/// <param name="Files">Files behind it; 0 where it is what was measured last, and nothing more.</param>
public sealed record DownloadRate(double Usual, double Slow, int Files);

/// <summary>
/// How fast mirrors give, learned from the files that came (specification: section 9.6 of the job). What was measured last of a mirror says
/// how its line is today; from <see cref="Estimates.LeastJobs"/> files on it is drawn towards what they came with, by the same rule as all
/// estimates are, and how much they differ says how slow it may be.
/// </summary>
public sealed class DownloadRates
{
    // Section 16: 1.3 to 1.5 GB come in one to two hours, so that the slow one takes a third longer than the usual one.
    private static readonly double UsualSpread = Learning.SpreadOf(new Catalogue.Band(1.5, 2));
    private readonly ILookup<int, double> byMirror;

    private DownloadRates(ILookup<int, double> byMirror) => this.byMirror = byMirror;

    /// <summary>Learns from a log.</summary>
    public static DownloadRates Of(IEnumerable<LoggedDownload> log) =>
        new(log.Where(one => one.BytesPerSecond > 0).ToLookup(one => one.Mirror, one => Math.Log(one.BytesPerSecond)));

    /// <summary>How fast a mirror gives; null where it was never measured and too few files came.</summary>
    /// <param name="mirror">The mirror.</param>
    /// <param name="measured">Bytes a second that it gave when it was measured last; null before.</param>
    public DownloadRate? Find(int mirror, double? measured)
    {
        var files = byMirror[mirror].ToList();
        if (files.Count < Estimates.LeastJobs)
            return measured is > 0 and var rate ? new DownloadRate(rate, rate * Math.Exp(-Learning.NineOfTen * UsualSpread), 0) : null;
        var learned = Learning.Of(files, measured is > 0 and var last ? Math.Log(last) : files.Average(), UsualSpread);
        return new DownloadRate(Math.Exp(learned.Middle), Math.Exp(learned.Middle - Learning.NineOfTen * learned.Strays), files.Count);
    }
}

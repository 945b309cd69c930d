using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Web.Library.Arrivals;

namespace Junctra.Web.Pages.Sources;

/// <summary>Times and rates of files that come, in words.</summary>
public static class ArrivalWords
{
    /// <summary>How long is left, as a band in words; null where that cannot be said.</summary>
    public static string? Left(ArrivalRow row)
    {
        if (row.State != ArrivalState.Fetching || row.SizeBytes is not { } size || row.Rate is not > 0)
            return null;
        var left = size - row.BytesDone;
        var (usual, slow) = (left / row.Rate.Value, left / Math.Max(1, row.SlowRate ?? row.Rate.Value));
        return Time(usual) == Time(slow) ? $"about {Time(usual)} left" : $"{Time(usual)} to {Time(slow)} left";
    }

    /// <summary>In what time a file would be here, and how many files say so; empty where nobody knows.</summary>
    public static string Here(MirrorOffer offer) =>
        offer.Seconds is not { } seconds ? ""
        : Time(seconds.Typical) == Time(seconds.Slow) ? $", here in {Time(seconds.Typical)}{Behind(offer.Rate!.Files)}"
        : $", here in {Time(seconds.Typical)} to {Time(seconds.Slow)}{Behind(offer.Rate!.Files)}";

    private static string Behind(int files) => files == 0 ? "" : $" (by {files} files)";

    /// <summary>A time in words.</summary>
    public static string Time(double seconds) =>
        seconds switch
        {
            < 50 => $"{Math.Max(1, Math.Round(seconds)):0} s",
            < 3600 => $"{Math.Max(1, Math.Round(seconds / 60)):0} min",
            _ => $"{seconds / 3600:0.#} h",
        };

    /// <summary>A rate in words.</summary>
    public static string Rate(double? rate) => rate is { } bytes ? $"{ByteSize.Text((long)bytes)}/s" : "not measured";
}

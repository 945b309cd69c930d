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
        return $"{Between(usual, slow)} left";
    }

    /// <summary>In what time a file would be here; empty where nobody knows.</summary>
    public static string Here(MirrorOffer offer) => offer.Seconds is { } seconds ? $", in {Between(seconds.Typical, seconds.Slow)}" : "";

    /// <summary>A usual time and a slow one in words.</summary>
    public static string Between(double usual, double slow)
    {
        var (from, to) = (Time(usual), Time(slow));
        return from == to ? $"about {from}"
            : from.Split(' ')[1] == to.Split(' ')[1] ? $"{from.Split(' ')[0]} to {to}"
            : $"{from} to {to}";
    }

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

using System.Diagnostics;

namespace Junctra.Web.Library.Arrivals;

/// <summary>Measures how fast bytes come, second by second.</summary>
internal sealed class ArrivalMeter
{
    private const int MaxWindows = 30;
    private readonly Queue<double> windows = new();
    private readonly long beganAt = Stopwatch.GetTimestamp();
    private long windowAt = Stopwatch.GetTimestamp();
    private long windowBytes;
    private long bytes;

    /// <summary>Bytes a second of all that was counted, or null where that was too little to say.</summary>
    public double? Whole => bytes > 1 << 18 ? bytes / Math.Max(0.001, Stopwatch.GetElapsedTime(beganAt).TotalSeconds) : null;

    /// <summary>Counts bytes.</summary>
    /// <returns>Once a second the usual rate and that of one second in ten, in bytes a second; null in between.</returns>
    public (double Usual, double Slow)? Count(int count)
    {
        (bytes, windowBytes) = (bytes + count, windowBytes + count);
        var seconds = Stopwatch.GetElapsedTime(windowAt).TotalSeconds;
        if (seconds < 1)
            return null;
        windows.Enqueue(windowBytes / seconds);
        if (windows.Count > MaxWindows)
            windows.Dequeue();
        (windowAt, windowBytes) = (Stopwatch.GetTimestamp(), 0);
        var sorted = windows.Order().ToList();
        return (sorted[sorted.Count / 2], sorted[sorted.Count / 10]);
    }
}

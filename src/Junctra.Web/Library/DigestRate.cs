using System.Diagnostics;
using System.Security.Cryptography;
using Junctra.Core.Catalogue;

namespace Junctra.Web.Library;

/// <summary>
/// How fast this computer reads a package and takes its digest: measured beside its work on a file of the library, at most once an hour.
/// Until it was, the figure of the catalogue counts.
/// </summary>
public sealed class DigestRate(TimeProvider time)
{
    private const int MostBytes = 64 << 20,
        LeastBytes = 1 << 20,
        PieceBytes = 1 << 20;
    private const double Gigabyte = 1e9;
    private static readonly TimeSpan Every = TimeSpan.FromHours(1);
    private long nextAt = long.MinValue;
    private double seconds;

    /// <summary>Seconds a decimal gigabyte; null before it was measured.</summary>
    public double? SecondsPerGigabyte => Volatile.Read(ref seconds) is > 0 and var measured ? measured : null;

    /// <summary>Figures with what was measured in the place of what is usual; slow is as much slower as the figures have it.</summary>
    public Figures Of(Figures figures) =>
        SecondsPerGigabyte is { } measured
            ? figures with
            {
                DigestSecondsPerGigabyte = new Band(
                    measured,
                    measured * figures.DigestSecondsPerGigabyte.Slow / figures.DigestSecondsPerGigabyte.Typical
                ),
            }
            : figures;

    /// <summary>Measures on a file, if it is time to; nobody waits for it.</summary>
    public void Look(string? path)
    {
        var (now, due) = (time.GetUtcNow().UtcTicks, Volatile.Read(ref nextAt));
        if (path is not null && now >= due && Interlocked.CompareExchange(ref nextAt, now + Every.Ticks, due) == due)
            _ = Task.Run(() => MeasureAsync(path));
    }

    /// <summary>Reads the beginning of a file and takes its digest. A file that is too small, or cannot be read, tells nothing.</summary>
    public async Task MeasureAsync(string path)
    {
        try
        {
            await using var file = new FileStream(path, FileMode.Open, FileAccess.Read, FileShare.ReadWrite | FileShare.Delete, 1, true);
            using var digest = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var piece = new byte[PieceBytes];
            var (begin, bytes) = (Stopwatch.GetTimestamp(), 0L);
            while (bytes < MostBytes && await file.ReadAsync(piece) is > 0 and var read)
            {
                digest.AppendData(piece, 0, read);
                bytes += read;
            }

            digest.GetHashAndReset();
            if (bytes < LeastBytes)
                Volatile.Write(ref nextAt, long.MinValue);
            else
                Volatile.Write(ref seconds, Math.Max(Stopwatch.GetElapsedTime(begin).TotalSeconds * Gigabyte / bytes, double.Epsilon));
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            // It is gone or locked; the next look takes another.
            Volatile.Write(ref nextAt, long.MinValue);
        }
    }
}

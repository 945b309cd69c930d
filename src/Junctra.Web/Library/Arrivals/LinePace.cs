using System.Threading.RateLimiting;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library.Arrivals;

/// <summary>Shares the line among all downloads of this program: together they take no more than the shop allows.</summary>
public sealed class LinePace(IOptions<JunctraOptions> options) : IDisposable
{
    private const int Unit = 1 << 10;
    private readonly TokenBucketRateLimiter? bucket = options.Value.LineBytesPerSecond is > 0 and var rate
        ? new TokenBucketRateLimiter(
            new TokenBucketRateLimiterOptions
            {
                // In tenths of a second, so that none waits long for its share.
                TokenLimit = (int)Math.Clamp(rate / Unit, 64, int.MaxValue),
                TokensPerPeriod = (int)Math.Clamp(rate / Unit / 10, 1, int.MaxValue),
                ReplenishmentPeriod = TimeSpan.FromMilliseconds(100),
                QueueLimit = int.MaxValue,
                QueueProcessingOrder = QueueProcessingOrder.OldestFirst,
            }
        )
        : null;

    /// <summary>Waits until so many bytes may be taken.</summary>
    /// <param name="bytes">At most 64 KiB.</param>
    /// <param name="cancel">Cancels.</param>
    public async ValueTask TakeAsync(int bytes, CancellationToken cancel)
    {
        if (bucket is not null)
            (await bucket.AcquireAsync(Math.Max(1, bytes / Unit), cancel)).Dispose();
    }

    public void Dispose() => bucket?.Dispose();
}

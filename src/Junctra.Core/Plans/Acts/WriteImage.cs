using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Sends one image and has it written to its partition.</summary>
/// <param name="Image">The image.</param>
public sealed record WriteImage(PlannedImage Image) : Act
{
    private const double Megabyte = 1e6;

    /// <summary>
    /// The mode in which it is written where that is not fastboot mode: what lies inside the large partition is not reached there.
    /// </summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public PhoneMode? Mode { get; init; }

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => Mode ?? PhoneMode.Fastboot;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [Image.Touch];

    /// <inheritdoc/>
    public override IReadOnlyList<PlannedImage> Sends => [Image];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Write {Image.Partition}",
            $"Writing {Image.Partition}",
            $"{PhoneScreens.Of(In!.Value)}, receiving",
            $"The phone has accepted {Image.Partition} whole."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Transfer(Image.Bytes, figures);

    /// <inheritdoc/>
    public override double QuietSeconds(Figures figures, Band seconds) =>
        Math.Max(
            figures.TransferStallWarnSeconds,
            figures.CommitWarnTimes * figures.CommitSecondsPer100Megabytes * Image.Bytes / (100 * Megabyte)
        );

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => Write(Image, scene.Catalogue.Figures);

    /// <summary>Seconds to send and put away so many bytes.</summary>
    internal static Band Transfer(long bytes, Figures figures) =>
        new(
            Math.Max(1, bytes / Megabyte / figures.WriteMegabytesPerSecond.Typical),
            Math.Max(2, bytes / Megabyte / figures.WriteMegabytesPerSecond.Slow)
        );

    /// <summary>Seconds to send and put away several images, one after the other.</summary>
    internal static Band Transfer(IEnumerable<PlannedImage> images, Figures figures)
    {
        var each = images.Select(image => Transfer(image.Bytes, figures)).ToList();
        return new(each.Sum(band => band.Typical), each.Sum(band => band.Slow));
    }

    /// <summary>A write that takes its time, and its time.</summary>
    internal static IEnumerable<TwinEvent> Write(PlannedImage image, Figures figures)
    {
        var milliseconds = (long)(Transfer(image.Bytes, figures).Typical * 1000);
        yield return new WritePart(image.Partition, image.OnTwin, image.ExpandedBytes, milliseconds);
        yield return new TimePasses(milliseconds);
    }
}

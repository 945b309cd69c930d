using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Writes the boot chain through a loader, and has the phone start from it. Nothing else is written there.</summary>
/// <param name="Images">The images of the boot chain.</param>
public sealed record WriteThroughLoader(IReadOnlyList<PlannedImage> Images) : Act
{
    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.Emergency;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [.. Images.Select(image => image.Touch)];

    /// <inheritdoc/>
    public override bool StartsThePhone => true;

    /// <inheritdoc/>
    public override IReadOnlyList<PlannedImage> Sends => Images;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Write the boot chain through the loader: {string.Join(", ", Images.Select(image => image.Partition))}",
            "Writing the boot chain",
            "Nothing: its screen is dark",
            "The loader says that it is written, and the phone shows a first sign of life."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures)
    {
        var sent = WriteImage.Transfer(Images, figures);
        return new(sent.Typical + figures.RestartSeconds.Typical, sent.Slow + figures.RestartSeconds.Slow);
    }

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var state = now;
        foreach (var happening in Images.SelectMany(image => WriteImage.Write(image, scene.Catalogue.Figures)).Append(new ForcedRestart()))
        {
            yield return happening;
            state = scene.Twin.Next(state, happening);
        }

        foreach (var time in Junctra.Core.Twin.Hands.UntilRest(scene.Twin, state))
            yield return time;
    }
}

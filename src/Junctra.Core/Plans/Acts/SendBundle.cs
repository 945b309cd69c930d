using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Sends the parts of a bundle in one session, the boot chain first, and ends the session.</summary>
/// <param name="Images">All images of all parts, in the order in which they are sent.</param>
/// <param name="Pack">The region pack that was chosen; null where the bundle has none.</param>
/// <param name="HoldsRestart">Whether the phone stays in its write mode when the session ends; else it restarts.</param>
public sealed record SendBundle(IReadOnlyList<PlannedImage> Images, PartKind? Pack, bool HoldsRestart = false) : Act
{
    /// <summary>The command that ends a session with a restart (<c>catalogue/common-ways.yaml</c>).</summary>
    public const string EndSession = "end-session";

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.Download;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [.. Images.Select(image => image.Touch)];

    /// <inheritdoc/>
    public override IReadOnlyList<PlannedImage> Sends => Images;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Send the bundle{(Pack switch { PartKind.KeepDataPack => " with the keep-data pack", PartKind.CleanPack => " with the clean pack", _ => "" })}: {Images.Count} images",
            "Sending the bundle",
            $"{PhoneScreens.Of(PhoneMode.Download)}, receiving",
            HoldsRestart
                ? "The phone has accepted all images and stays in download mode."
                : "The phone has accepted all images and restarts."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => WriteImage.Transfer(Images, figures);

    /// <inheritdoc/>
    public override double QuietSeconds(Figures figures, Band seconds) =>
        Images.Max(image => new WriteImage(image).QuietSeconds(figures, seconds));

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        foreach (var happening in Images.SelectMany(image => WriteImage.Write(image, scene.Catalogue.Figures)))
            yield return happening;
        if (!HoldsRestart)
            yield return new Command(EndSession);
    }
}

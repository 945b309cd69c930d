using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Has custom recovery put back images that were taken earlier from this very phone; it formats what it writes to by itself.
/// </summary>
/// <param name="Images">The images, in the order in which they go back.</param>
/// <param name="HasData">Whether the user data are among them.</param>
/// <param name="Data">Build and OS version of the system that used those data.</param>
public sealed record RestoreBackup(IReadOnlyList<PlannedImage> Images, bool HasData, ImageOrigin Data) : Act
{
    private const int UsualApps = 40;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.CustomRecovery;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [.. Images.Select(image => image.Touch)];

    /// <inheritdoc/>
    public override IReadOnlyList<PlannedImage> Sends => Images;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Restore its own backup: {Images.Count} images{(HasData ? ", the data of that day among them" : "")}",
            "Restoring its own backup",
            PhoneScreens.Of(PhoneMode.CustomRecovery),
            "Recovery says that all of it went back."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => WriteImage.Transfer(Images, figures);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        foreach (var happening in Images.SelectMany(image => WriteImage.Write(image, scene.Catalogue.Figures)))
            yield return happening;
        if (HasData)
            yield return new RestoreData(new TwinData(Data.Build ?? "", Data.Os ?? 0, SoftwareKind.Stock, UsualApps, null));
    }
}

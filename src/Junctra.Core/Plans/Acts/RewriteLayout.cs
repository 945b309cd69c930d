using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>A partition of a layout.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Role">What it is for.</param>
/// <param name="Bytes">Its size in bytes.</param>
public sealed record LaidOut(string Name, PartitionRole Role, long Bytes);

/// <summary>Writes a partition table: all that lies in the old one but the boot chain is lost, the user data first of all.</summary>
/// <param name="Partitions">The new layout, in order.</param>
public sealed record RewriteLayout(IReadOnlyList<LaidOut> Partitions) : Act
{
    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.Download;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches =>
        [
            .. Partitions
                .Where(part => part.Role is not (PartitionRole.BootChain or PartitionRole.Identity))
                .Select(part => new PartitionTouch(part.Name, part.Role, true)),
        ];

    /// <inheritdoc/>
    public override bool TouchesAtOnce => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Rewrite the layout: {Partitions.Count} partitions",
            "Rewriting the layout",
            $"{PhoneScreens.Of(PhoneMode.Download)}, receiving",
            "The phone has accepted the layout. If nothing moves for longer than its usual time: begin again from the start."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Erase;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => figures.EraseSeconds;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        yield return new WriteLayout(Partitions.ToDictionary(part => part.Name, part => part.Bytes));
        yield return new TimePasses((long)(scene.Catalogue.Figures.EraseSeconds.Typical * 1000));
    }
}

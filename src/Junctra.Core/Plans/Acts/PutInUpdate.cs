using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands choose the entry of stock recovery that puts in an update, and the file; recovery then writes by itself.</summary>
/// <param name="Entry">Id of the entry (<c>catalogue/common-ways.yaml</c>).</param>
/// <param name="Label">Its words.</param>
/// <param name="FileName">The file to choose.</param>
/// <param name="Images">What recovery writes of it.</param>
public sealed record PutInUpdate(string Entry, string Label, string FileName, IReadOnlyList<PlannedImage> Images) : Act
{
    private static readonly Band Takes = new(30, 120);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override bool IsAtThePhone => true;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.StockRecovery;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [.. Images.Select(image => image.Touch with { Bytes = 0 })];

    /// <inheritdoc/>
    public override bool TouchesAtOnce => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Choose “{Label}”, then {FileName}",
            $"Waiting for “{Label}”",
            PhoneScreens.Of(PhoneMode.StockRecovery),
            "The bar begins to move."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => ChooseEntry.Choose(scene.Twin, now, Entry);
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>A person reads what became of it, at the check.</summary>
public sealed record CheckResult : Act
{
    /// <inheritdoc/>
    public override ActBy By => ActBy.Phone;

    /// <inheritdoc/>
    public override bool WantsHands => true;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new("Check what became of it", "Checking", "Home screen or set-up", "Everything that the plan intended was read.");

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => new(180, 300);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands let a phone start that was held back in its write mode, once somebody has read what it says.</summary>
/// <param name="From">The mode in which it is held.</param>
public sealed record RestartByHands(PhoneMode From) : Act
{
    private static readonly Band Takes = new(30, 120);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override PhoneMode? In => From;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override bool StartsThePhone => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        new("Read what it says, then let it start", "Held back, to be let start", PhoneScreens.Of(From), "The maker's picture shows.");

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [new ForcedRestart()];
}

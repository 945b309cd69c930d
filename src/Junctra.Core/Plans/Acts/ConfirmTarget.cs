using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Proves once more that this is the phone of the plan: over the link of a mode, where everything that was judged is read again and any
/// difference ends the run; by hands where no link tells.
/// </summary>
/// <param name="Mode">The mode whose link tells; null for hands.</param>
/// <param name="Compare">What hands compare, in words; empty over a link.</param>
public sealed record ConfirmTarget(PhoneMode? Mode, string Compare = "") : Act
{
    /// <summary>What hands compare where no link tells whose phone it is.</summary>
    public const string ByLabel = "Model and serial on its label, and the ticket stuck to it, are those of this job.";

    /// <inheritdoc/>
    public override ActBy By => Mode is null ? ActBy.Hands : ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => Mode;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        Mode is { } mode
            ? new(
                "Read serial, model, floor and lock again",
                "Reading the phone once more",
                PhoneScreens.Of(mode),
                "All is as it was judged."
            )
            : new("Compare the phone with its ticket", "Comparing the phone with its ticket", "Whatever it shows", Compare);

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Mode is null ? new(20, 60) : new(2, 10);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];
}

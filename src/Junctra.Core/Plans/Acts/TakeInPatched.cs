using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Takes a patched part into the library, which judges from which build it was made and by which version of the manager (rule M13).
/// </summary>
public sealed record TakeInPatched : Act
{
    private static readonly Band Takes = new(30, 120);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Computer;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            "Take the patched part into the library",
            "Taking the patched part in",
            PhoneScreens.Of(PhoneMode.System),
            "The library has it, knows the build that it was made from, and the match says go."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];
}

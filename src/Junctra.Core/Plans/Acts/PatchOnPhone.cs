using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands have the root manager on the phone patch a file. It must be the version that the phone has.</summary>
/// <param name="RootManager">The manager's version.</param>
public sealed record PatchOnPhone(string RootManager) : Act
{
    private static readonly Band Takes = new(180, 600);

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.System;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Have root manager {RootManager} on the phone patch the copy",
            "Waiting for the root manager",
            PhoneScreens.Of(PhoneMode.System),
            "It says that a patched copy lies beside the original. Do not let it write anything by itself."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [new TimePasses((long)(Takes.Typical * 1000))];
}

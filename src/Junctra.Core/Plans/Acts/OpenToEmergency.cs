using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Trained hands open the phone and bring its chip to answer alone (specification: section 12 of the job, with the cautions of section
/// 15). Only for a phone with no reaction at all; whether it is worth it was said before.
/// </summary>
public sealed record OpenToEmergency : Act
{
    private static readonly Band Usual = new(45 * 60, 120 * 60);

    /// <summary>Seconds that it takes, by what is known of the phone's inside; null where nothing is.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public Band? Takes { get; init; }

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            "Open it and bring its chip to answer: trained hands only, battery connector first",
            "Waiting until the chip answers",
            "Nothing: its screen is dark",
            "The computer hears a serial port of the chip. A swollen, punctured or hot cell: stop, and set it apart."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes ?? Usual;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];
}

using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Gives a phone whose chip answers alone the signed loader of its chip; a first answer must come within seconds.</summary>
/// <param name="Chip">The chip family.</param>
/// <param name="HighestRevision">The highest bootloader revision that the loader supports.</param>
/// <param name="PhoneAtLeast">The highest revision that the phone is known to have had.</param>
public sealed record SupplyEmergencyLoader(string Chip, Revision HighestRevision, Revision PhoneAtLeast) : Act
{
    private static readonly Band Takes = new(20, 180);

    /// <summary>The shop's file with it; null where the catalogue names none.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? File { get; init; }

    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.Emergency;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Supply the loader for {Chip}, revisions up to {HighestRevision}",
            "Waiting for a first answer",
            "Nothing: its screen is dark",
            "A first answer comes within seconds. None: try the contact again; none again with a good port, and it cannot be helped."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        yield return new SupplyLoader(HighestRevision.Number);
        yield return new TimePasses((long)(Takes.Typical * 1000));
    }
}

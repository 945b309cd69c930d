using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Takes a part out of a bundle that lies in the library.</summary>
/// <param name="Part">The part, in words.</param>
/// <param name="Bytes">Its size, unpacked.</param>
public sealed record UnpackPart(string Part, long Bytes) : Act
{
    /// <summary>Name of the archive in the bundle that is the part; null in plans of before it was kept.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Archive { get; init; }

    /// <inheritdoc/>
    public override bool ReadsPackage => true;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Computer;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Take the {Part} out of the bundle: {ByteSize.Text(Bytes)}",
            "Taking the part out of the bundle",
            "What it showed before",
            "The part lies on this computer, with the digest that the bundle gives for it."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Unpack;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => VerifyFiles.Reading(Bytes, figures);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [];
}

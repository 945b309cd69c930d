using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// A card update is copied to the root of the external card, under the one name that recovery looks for, and the copy's digest compared: by
/// hands, or over the debugging link of a phone that runs with its card in it. Copied, never moved: what is moved and lost is lost for
/// good.
/// </summary>
/// <param name="FileName">The name that recovery looks for.</param>
/// <param name="CardName">How the phone calls its external card.</param>
/// <param name="Bytes">Size of the file.</param>
/// <param name="Sha256">Its digest, which the copy must have.</param>
/// <param name="Origin">Whose it is and what it brings.</param>
public sealed record CopyToCard(string FileName, string CardName, long Bytes, string Sha256, ImageOrigin Origin) : Act
{
    private const double HandsSeconds = 120;
    private const double SlowTimes = 3;

    /// <summary>Whether it goes over the debugging link, to the card in the phone.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool OverLink { get; init; }

    /// <inheritdoc/>
    public override ActBy By => OverLink ? ActBy.Link : ActBy.Hands;

    /// <inheritdoc/>
    public override PhoneMode? In => OverLink ? PhoneMode.System : null;

    /// <inheritdoc/>
    public override bool ReadsPackage => OverLink;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Copy it {(OverLink ? "over the debugging link " : "")}to the root of {CardName}, as {FileName}, and compare the digest",
            OverLink ? $"Copying {FileName}" : "Waiting for the copy",
            OverLink ? PhoneScreens.Of(PhoneMode.System) : "Nothing: the card may lie in a reader",
            $"{FileName} lies in the root of the external card, and its digest begins with {Sha256[..8]}."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Copy;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures)
    {
        var copy = WriteImage.Transfer(Bytes, figures);
        if (OverLink)
            return copy;
        return new(HandsSeconds + copy.Typical, (HandsSeconds + copy.Slow) * SlowTimes);
    }

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var update = new TwinPart(Sha256, Origin.Kind)
        {
            Model = Origin.Model,
            Build = Origin.Build,
            Os = Origin.Os,
        };
        yield return new CardPutIn([.. (now.Card ?? []).Where(file => file.Name != FileName), new CardFile(FileName, true, update)]);
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>By which means data are saved from a phone.</summary>
public enum SavingMeans
{
    /// <summary>Over the debugging link of the running system.</summary>
    DebuggingLink,

    /// <summary>Over the link of custom recovery.</summary>
    RecoveryLink,

    /// <summary>By hands in the running system, to its storage card.</summary>
    Card,
}

/// <summary>
/// Saves what the customer wants of the phone, as far as it was agreed on, before anything else is done. The copy is compared, and deleted
/// after hand-back.
/// </summary>
/// <param name="Means">How.</param>
public sealed record SaveData(SavingMeans Means) : Act
{
    private static readonly Band Takes = new(20 * 60, 90 * 60);

    /// <inheritdoc/>
    public override ActBy By => Means == SavingMeans.Card ? ActBy.Hands : ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => Means == SavingMeans.RecoveryLink ? PhoneMode.CustomRecovery : PhoneMode.System;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            Means switch
            {
                SavingMeans.DebuggingLink => "Save the data over the debugging link, and compare the copy",
                SavingMeans.RecoveryLink => "Save the data from custom recovery, and compare the copy",
                _ => "Save the data to the storage card on the phone, take the card out, and compare the copy",
            },
            "Saving the data",
            PhoneScreens.Of(In!.Value),
            "What was agreed on is saved and compared. No browsing; the copy is deleted after hand-back."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Copy;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now) => [new TimePasses((long)(Takes.Typical * 1000))];
}

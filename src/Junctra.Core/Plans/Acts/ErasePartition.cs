using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Has a partition erased over the link.</summary>
/// <param name="Partition">Its name.</param>
/// <param name="Role">What it is for; null in plans of before roles were kept.</param>
public sealed record ErasePartition(string Partition, PartitionRole? Role) : Act
{
    /// <inheritdoc/>
    public override ActBy By => ActBy.Link;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.Fastboot;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [new(Partition, Role, true)];

    /// <inheritdoc/>
    public override bool TouchesAtOnce => true;

    private string What => Role == PartitionRole.UserData ? "the user data" : Partition;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Erase {What}",
            $"Erasing {What}",
            $"{PhoneScreens.Of(PhoneMode.Fastboot)}, erasing",
            $"The phone says that {What} is erased."
        );

    /// <inheritdoc/>
    public override TimeKind Timed => TimeKind.Erase;

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => figures.EraseSeconds;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        yield return new ErasePart(Partition);
        yield return new TimePasses((long)(scene.Catalogue.Figures.EraseSeconds.Typical * 1000));
    }
}

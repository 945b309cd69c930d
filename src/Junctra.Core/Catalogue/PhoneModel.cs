using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>What a partition is for; decides the order of writing and what becomes of its contents.</summary>
public enum PartitionRole
{
    /// <summary>First code the phone starts; a half-written one leaves only chip emergency mode.</summary>
    BootChain,

    /// <summary>Software of the mobile radio.</summary>
    Radio,

    /// <summary>Kernel and first file system of the system.</summary>
    Boot,

    /// <summary>Hardware description laid over the kernel.</summary>
    Overlay,

    /// <summary>Digests by which the boot chain verifies the rest.</summary>
    Verification,

    /// <summary>The small second system.</summary>
    Recovery,

    /// <summary>The operating system; the largest image.</summary>
    System,

    /// <summary>Photos, apps, accounts: all that is the customer's.</summary>
    UserData,

    /// <summary>Identity numbers and calibration. Junctra never writes it.</summary>
    Identity,

    /// <summary>Apps and settings of a region; comes in two packs, of which one erases the user data.</summary>
    RegionPack,

    /// <summary>Anything else.</summary>
    Other,
}

/// <summary>One partition of a model's layout.</summary>
/// <param name="Name">Name as the bootloader knows it, for example <c>system</c>.</param>
/// <param name="Role">What it is for.</param>
/// <param name="SizeBytes">Size in bytes, above zero.</param>
/// <param name="IsStock">Part of the stock list: a full stock package must bring it.</param>
public sealed record PartitionSpec(string Name, PartitionRole Role, long SizeBytes, bool IsStock);

/// <summary>Where a fact can be read by a person, and what that costs.</summary>
/// <param name="Where">The place, in words.</param>
/// <param name="Minutes">Minutes of hands, above zero.</param>
public sealed record ReadingPlace(string Where, double Minutes);

/// <summary>How stock recovery finds a card update.</summary>
/// <param name="FileName">The one name that it looks for, in the root of the external card.</param>
/// <param name="CardName">How the phone calls its external card.</param>
public sealed record CardUpdateSpec(string FileName, string CardName);

/// <summary>One exact variant of a phone. The product name is never enough: several variants share it.</summary>
/// <param name="Code">Model code, upper case, for example <c>HX204</c>.</param>
/// <param name="ProductName">The name it is sold by.</param>
/// <param name="ChipFamily">Chip family, as printed in the catalogue.</param>
/// <param name="KeyFamily">Id of the key family whose recipes work on it.</param>
/// <param name="WriteMode">The mode in which its packages are written.</param>
/// <param name="PackageKind">The kind of package its maker publishes.</param>
/// <param name="BatteryOut">Whether the battery can be taken out without opening the phone.</param>
/// <param name="RelockErases">Whether closing the lock erases the user data.</param>
/// <param name="StorageSizesGb">Storage sizes sold, in decimal gigabytes.</param>
/// <param name="FindModelCode">Where the model code is to be read.</param>
/// <param name="Partitions">The layout, in order.</param>
/// <param name="CarrierLocked">Whether it is sold for one carrier only.</param>
/// <param name="HasTamperFuse">Whether it keeps a one-time mark that modified software was started.</param>
/// <param name="Slots">How many copies of its system it holds: 1 or 2.</param>
/// <param name="SoldBothWays">Whether this model code is sold open and by a carrier.</param>
public sealed record PhoneModel(
    string Code,
    string ProductName,
    string ChipFamily,
    string KeyFamily,
    PhoneMode WriteMode,
    PackageKind PackageKind,
    bool BatteryOut,
    bool RelockErases,
    IReadOnlyList<int> StorageSizesGb,
    ReadingPlace FindModelCode,
    IReadOnlyList<PartitionSpec> Partitions,
    bool CarrierLocked = false,
    bool HasTamperFuse = false,
    int Slots = 1,
    bool SoldBothWays = false
)
{
    /// <summary>How its stock recovery finds a card update; null where the catalogue does not say.</summary>
    public CardUpdateSpec? CardUpdate { get; init; }

    /// <summary>Partitions of which each slot has its own; empty where there is one slot.</summary>
    public IReadOnlyList<string> SlottedPartitions { get; init; } = [];

    /// <summary>
    /// Partitions that lie inside the one that is large, the system first; empty where all are plain. Each slot has its own.
    /// </summary>
    public IReadOnlyList<string> DynamicPartitions { get; init; } = [];

    /// <summary>The partition in which the dynamic ones lie; null where all are plain.</summary>
    public PartitionSpec? Large =>
        DynamicPartitions.Count == 0 ? null : Partitions.FirstOrDefault(spec => spec.Role == PartitionRole.System);

    /// <summary>
    /// Where an image of that name is written: a partition of the layout, or one inside the large one, which has at most its room. Null
    /// where there is none.
    /// </summary>
    public PartitionSpec? Place(string name) =>
        Partition(name)
        ?? (
            Large is { } large && DynamicPartitions.Contains(name)
                ? new PartitionSpec(name, name == DynamicPartitions[0] ? PartitionRole.System : PartitionRole.Other, large.SizeBytes, true)
                : null
        );

    /// <summary>
    /// Partitions of the stock list that something does not bring. The large one is brought whole, or by all that lies inside it.
    /// </summary>
    /// <param name="brings">Whether an image for a partition is brought.</param>
    public IEnumerable<PartitionSpec> StockMissing(Func<string, bool> brings) =>
        Partitions
            .Where(spec => spec.IsStock && !brings(spec.Name))
            .SelectMany(spec =>
                spec == Large && DynamicPartitions.Any(brings)
                    ? DynamicPartitions.Where(inside => !brings(inside)).Select(inside => Place(inside)!)
                    : [spec]
            );

    /// <summary>The partition of that name, or null. Names are compared exactly, as bootloaders do.</summary>
    public PartitionSpec? Partition(string name) => Partitions.FirstOrDefault(p => p.Name == name);
}

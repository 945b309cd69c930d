using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>The kinds of package that makers and shops have.</summary>
public enum PackageKind
{
    /// <summary>Nothing known; never written.</summary>
    Unknown,

    /// <summary>Boot chain, radio and images with requirement lines, written in fastboot mode.</summary>
    FactorySet,

    /// <summary>One archive with all images, written in download mode.</summary>
    SingleBundle,

    /// <summary>Boot chain, system, radio and region pack, written in download mode.</summary>
    FourPartBundle,

    /// <summary>One signed archive, put in by stock recovery.</summary>
    CardUpdate,

    /// <summary>Images taken earlier from this very phone.</summary>
    BackupSet,

    /// <summary>One image alone, written in fastboot mode.</summary>
    SingleImage,

    /// <summary>A loose part of a four-part bundle, for example one that was patched on a phone.</summary>
    BundlePart,
}

/// <summary>What becomes of the user data when a package is written.</summary>
public enum DataFate
{
    /// <summary>Nothing known.</summary>
    Unknown,

    /// <summary>Nothing in the package is for user data.</summary>
    Kept,

    /// <summary>Usually kept, and not promised.</summary>
    NotPromised,

    /// <summary>Kept or erased as the person chooses.</summary>
    Choice,

    /// <summary>Replaced by what the package holds.</summary>
    Replaced,

    /// <summary>Erased.</summary>
    Erased,
}

/// <summary>
/// What is true of every package of a kind (specification: section 5 of the job). Whoever asks what a kind is like asks this.
/// </summary>
/// <param name="Label">The kind, in words.</param>
/// <param name="Recovery">Whose recovery writes it; null where the model's write mode does.</param>
/// <param name="IsFull">Whether it brings a whole system to any phone of its models by itself.</param>
/// <param name="IsOfOnePhone">Whether it was taken from one phone and is for that one alone, so that who made it, what build and what
/// region it is says nothing of it.</param>
/// <param name="IsBundle">Whether it goes over the link in one session, as archives.</param>
/// <param name="HasRegionPacks">Whether its region pack is a part of its own, of which there are two.</param>
/// <param name="Data">What it does to the data where nothing in it says otherwise.</param>
/// <param name="DataWords">The same in a sentence.</param>
public sealed record KindTraits(
    string Label,
    DataFate Data,
    string DataWords,
    RecoveryKind? Recovery = null,
    bool IsFull = false,
    bool IsOfOnePhone = false,
    bool IsBundle = false,
    bool HasRegionPacks = false
)
{
    /// <summary>Whether it lies on a storage card when it is written.</summary>
    public bool IsOnCard => Recovery == RecoveryKind.Stock;

    /// <summary>The mode in which it is written to a model.</summary>
    public PhoneMode ModeFor(PhoneModel model) =>
        Recovery switch
        {
            RecoveryKind.Stock => PhoneMode.StockRecovery,
            RecoveryKind.Custom => PhoneMode.CustomRecovery,
            _ => model.WriteMode,
        };
}

/// <summary>The traits of the kinds, in one place.</summary>
public static class KindsOfPackage
{
    private static readonly Dictionary<PackageKind, KindTraits> All = new()
    {
        [PackageKind.Unknown] = new("kind not known", DataFate.Unknown, "What it would do to the data is not known."),
        [PackageKind.FactorySet] = new(
            "factory set",
            DataFate.Kept,
            "Nothing in it is for user data. Erasing them is a step of its own.",
            IsFull: true
        ),
        [PackageKind.SingleBundle] = new(
            "single bundle",
            DataFate.NotPromised,
            "Usually keeps the data, and nobody promises it: a single bundle has no clean pack.",
            IsFull: true,
            IsBundle: true
        ),
        [PackageKind.FourPartBundle] = new(
            "four-part bundle",
            DataFate.Kept,
            "Keeps the data: its only region pack is the keep-data one.",
            IsFull: true,
            IsBundle: true,
            HasRegionPacks: true
        ),
        [PackageKind.CardUpdate] = new(
            "card update",
            DataFate.Kept,
            "Keeps the data: a card update leaves them.",
            RecoveryKind.Stock,
            IsFull: true
        ),
        [PackageKind.BackupSet] = new(
            "backup set",
            DataFate.Replaced,
            "Replaces the data by those of the day it was taken.",
            RecoveryKind.Custom,
            IsOfOnePhone: true
        ),
        [PackageKind.SingleImage] = new("single image", DataFate.Kept, "Leaves the data untouched."),
        [PackageKind.BundlePart] = new(
            "part of a bundle",
            DataFate.NotPromised,
            "Nothing in it is for user data; the region pack written with it decides."
        ),
    };

    /// <summary>What is true of every package of a kind.</summary>
    public static KindTraits Traits(this PackageKind kind) => All[kind];

    /// <summary>A kind, in words.</summary>
    public static string Label(this PackageKind kind) => All[kind].Label;
}

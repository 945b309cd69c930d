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

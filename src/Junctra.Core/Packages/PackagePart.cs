using Junctra.Core.Catalogue;

namespace Junctra.Core.Packages;

/// <summary>What a part of a bundle is, by the images in it.</summary>
public enum PartKind
{
    /// <summary>Holds the boot chain.</summary>
    BootChain,

    /// <summary>Holds the system.</summary>
    System,

    /// <summary>Holds the radio's software.</summary>
    Radio,

    /// <summary>Region pack that leaves user data as it is.</summary>
    KeepDataPack,

    /// <summary>Region pack that erases user data.</summary>
    CleanPack,

    /// <summary>Holds a partition table.</summary>
    Layout,

    /// <summary>Replaces user data.</summary>
    UserData,

    /// <summary>Anything else.</summary>
    Other,
}

/// <summary>A part of a package: the images that lie in one archive of it.</summary>
/// <param name="Name">Name of that archive, or null for the package file itself.</param>
/// <param name="Kind">What it is, by its content.</param>
/// <param name="Images">Its images.</param>
/// <param name="Layout">The partition table in it, or null.</param>
public sealed record PackagePart(string? Name, PartKind Kind, IReadOnlyList<PackageImage> Images, PackageMember? Layout = null)
{
    /// <summary>What it is, in words.</summary>
    public string Label =>
        Kind switch
        {
            PartKind.BootChain => "boot chain",
            PartKind.System => "system",
            PartKind.Radio => "radio",
            PartKind.KeepDataPack => "region pack, keeps the data",
            PartKind.CleanPack => "region pack, erases the data",
            PartKind.Layout => "layout",
            PartKind.UserData => "user data",
            _ => "images",
        };

    /// <summary>What a backup or a stick calls a part counts for nothing; what it holds decides.</summary>
    internal static PartKind KindOf(IReadOnlyList<PackageImage> images, bool hasLayout, string? saysOfData)
    {
        bool Has(PartitionRole role) => images.Any(image => image.Role == role);
        if (Has(PartitionRole.RegionPack) && !Has(PartitionRole.System))
            return Has(PartitionRole.UserData) || saysOfData == "clean" ? PartKind.CleanPack : PartKind.KeepDataPack;
        if (Has(PartitionRole.BootChain))
            return PartKind.BootChain;
        if (Has(PartitionRole.System))
            return PartKind.System;
        if (Has(PartitionRole.Radio))
            return PartKind.Radio;
        if (Has(PartitionRole.UserData))
            return PartKind.UserData;
        return hasLayout && images.Count == 0 ? PartKind.Layout : PartKind.Other;
    }
}

/// <summary>What a backup says of the phone it was taken from.</summary>
/// <param name="Serial">Serial of that phone.</param>
/// <param name="TakenOn">The day, as written, or null.</param>
/// <param name="System">What ran on it that day: <c>stock</c> or <c>modified</c>; null where that is not said.</param>
public sealed record BackupOrigin(string Serial, string? TakenOn, string? System);

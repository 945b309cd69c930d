using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>What a person wants to know of a package at the first look, in words.</summary>
public static class PackageWords
{
    /// <summary>What it is, with what sets it apart from others of its kind: <c>card update, incremental</c>.</summary>
    public static string KindWords(this Package package) =>
        package.Kind switch
        {
            PackageKind.CardUpdate => package.BaseBuild is { } from ? $"card update, incremental from {from}" : "card update, full",
            PackageKind.BundlePart when package.Parts is [var part] => $"part of a bundle: {part.Label}",
            PackageKind.SingleImage when package.Images is [var image] => $"single image: {image.Partition}",
            PackageKind.BackupSet when package.Backup is { TakenOn: { } day } => $"backup set of {day}",
            var kind => kind.Label()
                + (package.Layout is null ? "" : ", with layout")
                + (package.Parts.Any(part => part.Kind == PartKind.UserData) ? ", with user data" : ""),
        };

    /// <summary>What writing it does to the customer's data.</summary>
    /// <returns>The fate, and one sentence with the reason.</returns>
    public static (DataFate Fate, string Sentence) Data(this Package package)
    {
        var parts = package.Parts;
        bool Has(PartKind kind) => parts.Any(part => part.Kind == kind);
        var bringsUserData = package.Images.Any(image =>
            image.Role == PartitionRole.UserData && !parts.Any(part => part.Kind == PartKind.CleanPack && part.Images.Contains(image))
        );
        var traits = package.Kind.Traits();
        if (traits.IsOfOnePhone)
            return (
                DataFate.Replaced,
                $"Replaces the data by those of {package.Backup?.TakenOn ?? "the day it was taken"}. Only for the phone it was taken from."
            );
        if (package.Layout is not null && traits.IsBundle)
            return (
                DataFate.Choice,
                "Its layout erases everything when it is written; without the layout it is as of the same bundle alone."
            );
        // Only one of the packs is ever sent, and the rare fifth part never: what it holds is nobody's in the shop.
        if (bringsUserData && traits.HasRegionPacks && Has(PartKind.CleanPack) && Has(PartKind.KeepDataPack))
            return (
                DataFate.Choice,
                "The region pack decides: the keep-data pack leaves the data, the clean pack erases them. The part with user data is left out."
            );
        if (bringsUserData)
            return (DataFate.Replaced, "Replaces the data: it brings an image for user data.");
        if (traits.HasRegionPacks && Has(PartKind.CleanPack) && Has(PartKind.KeepDataPack))
            return (DataFate.Choice, "The region pack decides: the keep-data pack leaves the data, the clean pack erases them.");
        if (Has(PartKind.CleanPack))
            return (
                DataFate.Erased,
                traits.HasRegionPacks
                    ? "Erases the data: its only region pack is the clean one."
                    : "Erases the data: it is the clean region pack."
            );
        if (package.Line("erase") is not null && traits is { IsFull: true, IsBundle: false, Recovery: null })
            return (DataFate.Choice, "Its maker erases the data with it; written without the erase, the data stay.");
        return (traits.Data, traits.DataWords);
    }

    /// <summary>Whether the package is whole, in one sentence.</summary>
    /// <returns>The verdict's weight from 0 (as published) to 2 (not to be written), and the sentence.</returns>
    public static (Wholeness State, string Sentence) Whole(this Package package)
    {
        if (package.Contents.IsLocked)
            return (Wholeness.Locked, "Locked with a password: what is in it cannot be known before it is opened.");
        if (package.IsDamaged)
            return (Wholeness.Damaged, $"Not to be written: {package.Findings[0].Text}");
        if (package.Contents.IsProven)
            return (Wholeness.AsPublished, $"The file is what its publisher sent out, by a digest from {package.Contents.PublishedBy}.");
        if (package.Contents.IsAsPublished == true)
            return (Wholeness.Listed, "Whole, by a list that came with the file. Whose it is, that does not prove.");
        if (package.Images.Count == 0)
            return package.IsListed
                ? (Wholeness.Listed, "Whole, by its own list of digests. Whose it is, that does not prove.")
                : (Wholeness.Unproven, "Readable to its end; no digest was published to compare with.");
        var without = package.Images.Count(image => image.Digest == DigestState.NothingToCompare);
        return without == 0
                ? (Wholeness.Listed, $"{Images(package.Images.Count)}, whole by its own list of digests. Whose it is, that does not prove.")
            : without == package.Images.Count ? (Wholeness.Unproven, "Readable to its end; no digest was published to compare with.")
            : (Wholeness.Unproven, $"{without} of {Images(package.Images.Count)} have no digest to compare with.");
    }

    private static string Images(int count) => count == 1 ? "1 image" : $"{count} images";
}

/// <summary>Whether a package is what its publisher sent out.</summary>
public enum Wholeness
{
    /// <summary>A digest from elsewhere, which the shop trusts, says so.</summary>
    AsPublished,

    /// <summary>Every image agrees with a digest that came with the file: whole, and nothing proves whose it is.</summary>
    Listed,

    /// <summary>Nothing speaks against it, and nothing proves it.</summary>
    Unproven,

    /// <summary>Locked with a password.</summary>
    Locked,

    /// <summary>Damaged, contradictory or hostile.</summary>
    Damaged,
}

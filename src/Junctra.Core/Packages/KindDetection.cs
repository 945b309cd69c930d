using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>Tells the kind of a package by what is in it. Names of files decide nothing.</summary>
internal static class KindDetection
{
    private static readonly PartitionRole[] Whole = [PartitionRole.BootChain, PartitionRole.System, PartitionRole.Radio];

    /// <summary>The kind of a package.</summary>
    /// <param name="contents">What is in the file.</param>
    /// <param name="images">Its images.</param>
    /// <param name="parts">The same, by their archives.</param>
    /// <param name="models">Models of the catalogue that it says it is for.</param>
    public static PackageKind Of(
        PackageContents contents,
        IReadOnlyList<PackageImage> images,
        IReadOnlyList<PackagePart> parts,
        IReadOnlyList<PhoneModel> models
    )
    {
        bool Says(string name) => contents.Requirements.Any(line => PackageStatements.Plain(line.Name) == name);
        if (Says("post-build"))
            return PackageKind.CardUpdate;
        if (Says("backup-serial"))
            return PackageKind.BackupSet;
        if (images.Count == 0)
            return PackageKind.Unknown;
        if (contents.Form == FileForm.Image)
            return PackageKind.SingleImage;
        var hasPack = parts.Any(part => part.Kind is PartKind.KeepDataPack or PartKind.CleanPack);
        if (hasPack && Whole.All(role => images.Any(image => image.Role == role)))
            return PackageKind.FourPartBundle;
        if (models.Any(model => model.PackageKind == PackageKind.FourPartBundle) && parts.Count == 1)
            return PackageKind.BundlePart;
        var isDownload = models.Count > 0 && models.All(model => model.WriteMode == PhoneMode.Download);
        if (
            isDownload
            && images.Any(image => image.Role == PartitionRole.System)
            && images.Any(image => image.Role == PartitionRole.BootChain)
        )
            return PackageKind.SingleBundle;
        if (images.Count == 1 && models.Count > 0 && models.All(model => model.PackageKind != PackageKind.FactorySet))
            return PackageKind.SingleImage;
        if (contents.Requirements.Any(line => line.IsRequired && PackageStatements.Plain(line.Name) == "board"))
            return PackageKind.FactorySet;
        return images.Count == 1 && models.Count > 0 ? PackageKind.SingleImage : PackageKind.Unknown;
    }
}

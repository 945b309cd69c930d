using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>An image of a package, as a plan sends it to a partition.</summary>
/// <param name="Partition">The partition.</param>
/// <param name="Role">What it is for; null in plans of before roles were kept.</param>
/// <param name="Bytes">Its size as it is sent.</param>
/// <param name="ExpandedBytes">Its size in the partition.</param>
/// <param name="Sha256">Digest of the image as it is sent.</param>
/// <param name="Origin">Whose it is and what it brings.</param>
public sealed record PlannedImage(string Partition, PartitionRole? Role, long Bytes, long ExpandedBytes, string Sha256, ImageOrigin Origin)
{
    /// <summary>An image of a package.</summary>
    public static PlannedImage Of(PackageImage image, PartitionRole role, Package package, PhoneModel model)
    {
        var kind =
            package.Provenance == Provenance.Patched
            && role is PartitionRole.Boot or PartitionRole.System
            && package.Kind == PackageKind.BundlePart
                ? SoftwareKind.Patched
                : SoftwareKind.Stock;
        return new PlannedImage(
            image.Partition,
            role,
            image.Body.Bytes,
            image.Body.ExpandedBytes,
            image.Body.Sha256,
            OriginOf(package, model, kind) with
            {
                Root = kind == SoftwareKind.Patched && role == PartitionRole.Boot ? package.PatchedWith : null,
            }
        );
    }

    /// <summary>Whose a package is and what it brings, as a twin keeps it.</summary>
    public static ImageOrigin OriginOf(Package package, PhoneModel model, SoftwareKind kind)
    {
        var said = package.Build?.Os ?? (package.Says(FactName.OsVersion) is [var first, ..] ? first : null);
        var os = said is not null && OsVersion.TryParse(said, out var version) ? version.Major : null;
        return new ImageOrigin(kind, model.Code, package.Build?.Build, os, package.Revisions.Count == 1 ? package.Revisions[0] : null);
    }

    /// <summary>The partition that it touches.</summary>
    public PartitionTouch Touch => new(Partition, Role, false, Bytes, ExpandedBytes);

    /// <summary>What lies in the partition of a twin afterwards.</summary>
    public TwinPart OnTwin =>
        new(Sha256, Origin.Kind)
        {
            Model = Origin.Model,
            Build = Origin.Build,
            Os = Origin.Os,
            Root = Origin.Root,
            Revision = Role == PartitionRole.BootChain ? Origin.Revision?.Number : null,
        };
}

/// <summary>Whose an image is and what it brings.</summary>
/// <param name="Kind">Whose.</param>
/// <param name="Model">The model it is for, or null.</param>
/// <param name="Build">Its build, or null.</param>
/// <param name="Os">Its major OS version, or null.</param>
/// <param name="Revision">The bootloader revision that it brings, or null.</param>
public sealed record ImageOrigin(SoftwareKind Kind, string? Model, string? Build, int? Os, Revision? Revision)
{
    /// <summary>Version of the root manager that patched it; null where it brings no root.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public string? Root { get; init; }
}

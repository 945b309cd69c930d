using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>What a package is, for other programs and other shops: written as JSON, described in <c>docs/formats.md</c>.</summary>
/// <param name="Format">Always <see cref="Name"/>.</param>
/// <param name="Version">Always <see cref="Current"/>; a reader refuses one that it does not know.</param>
/// <param name="File">Name of the file.</param>
/// <param name="SizeBytes">Its size.</param>
/// <param name="Sha256">Its digest.</param>
/// <param name="Kind">What kind it is.</param>
/// <param name="Statements">What it says of itself.</param>
/// <param name="Images">Its images.</param>
public sealed record PackageManifest(
    string Format,
    int Version,
    string File,
    long SizeBytes,
    string Sha256,
    string Kind,
    IReadOnlyList<ManifestStatement> Statements,
    IReadOnlyList<ManifestImage> Images
)
{
    /// <summary>What tells such a file from any other.</summary>
    public const string Name = "junctra-package";

    /// <summary>The version that is written.</summary>
    public const int Current = 1;

    /// <summary>The manifest of a package.</summary>
    public static PackageManifest Of(Package package) =>
        new(
            Name,
            Current,
            package.FileName,
            package.Contents.SizeBytes,
            package.Id,
            package.Kind.Label(),
            [.. package.Statements.Select(said => new ManifestStatement(said.Fact.Value, said.Value, said.Where))],
            [
                .. package.Images.Select(image => new ManifestImage(
                    image.Partition,
                    image.Member.Name,
                    image.Body.Bytes,
                    image.Body.Sha256,
                    image.Body.ExpandedBytes,
                    image.Body.ExpandedSha256
                )),
            ]
        );

    /// <summary>Digests of the package's images as a phone is given them, by the names under which a repacked bundle holds them.</summary>
    public static IReadOnlyList<ChecksumLine> ChecksumsOf(Package package) =>
        [.. package.Images.Select(image => new ChecksumLine(image.Body.Sha256, RepackedName(package, image)))];

    /// <summary>Name of an image in a repacked bundle: its partition, below its pack where the region comes in two.</summary>
    public static string RepackedName(Package package, PackageImage image) =>
        package.Images.Count(other => other.Partition == image.Partition) == 1
        && package.Parts.First(part => part.Images.Contains(image)).Kind is not (PartKind.KeepDataPack or PartKind.CleanPack)
            ? $"{image.Partition}.img"
            : $"{(package.Parts.First(part => part.Images.Contains(image)).Kind == PartKind.CleanPack ? "clean" : "keep-data")}/{image.Partition}.img";
}

/// <summary>Something a package says of itself.</summary>
public sealed record ManifestStatement(string Fact, string Value, string Where);

/// <summary>One image of a package.</summary>
public sealed record ManifestImage(string Partition, string Member, long Bytes, string Sha256, long ExpandedBytes, string? ExpandedSha256);

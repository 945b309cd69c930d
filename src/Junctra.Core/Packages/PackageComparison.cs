using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>How two packages stand to each other.</summary>
public enum PackageRelation
{
    /// <summary>The same file.</summary>
    SameFile,

    /// <summary>Other files with the same images: packed anew.</summary>
    SameImages,

    /// <summary>The same build with images that were changed: one was made from the other.</summary>
    Derived,

    /// <summary>Two builds of one model.</summary>
    OtherBuild,

    /// <summary>Of models that have nothing in common.</summary>
    OtherModel,

    /// <summary>Not enough is known to say.</summary>
    Unknown,
}

/// <summary>One partition in two packages.</summary>
/// <param name="Partition">The partition.</param>
/// <param name="Part">The part of the bundle, where both packs of a region have one; else null.</param>
/// <param name="Left">The image in the first, or null.</param>
/// <param name="Right">The image in the second, or null.</param>
public sealed record ComparedImage(string Partition, PartKind? Part, PackageImage? Left, PackageImage? Right)
{
    /// <summary>Whether both have it with the same expanded bytes; null where one has none or they could not be expanded.</summary>
    public bool? IsSame => Left?.Body.ExpandedSha256 is { } a && Right?.Body.ExpandedSha256 is { } b ? a == b : null;

    /// <summary>How many bytes the second has more, expanded.</summary>
    public long? Growth => Right?.Body.ExpandedBytes - Left?.Body.ExpandedBytes;
}

/// <summary>Something that both packages say, each in its way.</summary>
/// <param name="Fact">Which fact.</param>
/// <param name="Left">Values of the first.</param>
/// <param name="Right">Values of the second.</param>
public sealed record ComparedStatement(FactName Fact, IReadOnlyList<string> Left, IReadOnlyList<string> Right)
{
    /// <summary>Whether both say the same.</summary>
    public bool IsSame =>
        Left.Order(StringComparer.OrdinalIgnoreCase)
            .SequenceEqual(Right.Order(StringComparer.OrdinalIgnoreCase), StringComparer.OrdinalIgnoreCase);
}

/// <summary>Two packages side by side.</summary>
/// <param name="Relation">How they stand to each other.</param>
/// <param name="Images">Every partition of either.</param>
/// <param name="Statements">What they say of themselves.</param>
/// <param name="Order">Below zero where the first build is the older one, above where it is the newer, 0 the same; null where they cannot
/// be ordered.</param>
/// <param name="Loud">Differences that decide, one sentence each, the gravest first.</param>
public sealed record PackageComparison(
    PackageRelation Relation,
    IReadOnlyList<ComparedImage> Images,
    IReadOnlyList<ComparedStatement> Statements,
    int? Order,
    IReadOnlyList<string> Loud
)
{
    private static readonly FactName[] Compared =
    [
        FactName.ModelCode,
        FactName.ChipFamily,
        FactName.Build,
        FactName.Region,
        FactName.OsVersion,
        FactName.SecurityPatch,
        FactName.BootloaderRevision,
        FactName.RadioBuild,
        FactName.StorageSize,
    ];

    /// <summary>Images that both have and that differ.</summary>
    public IEnumerable<ComparedImage> Different => Images.Where(image => image.IsSame == false);

    /// <summary>Images that both have with the same bytes.</summary>
    public IEnumerable<ComparedImage> Equal => Images.Where(image => image.IsSame == true);

    /// <summary>Compares two packages.</summary>
    public static PackageComparison Of(Package left, Package right, ModelCatalogue catalogue)
    {
        var images = Pair(left, right);
        var statements = Compared
            .Select(fact => new ComparedStatement(fact, left.Says(fact), right.Says(fact)))
            .Where(pair => pair.Left.Count + pair.Right.Count > 0)
            .ToList();
        var order =
            left.Build is { } a && right.Build is { } b && a.Maker == b.Maker
                ? catalogue.Makers.FirstOrDefault(maker => maker.Name == a.Maker)?.Grammar.Compare(a, b)
                : null;
        var relation = RelationOf(left, right, images);
        return new PackageComparison(relation, images, statements, order, [.. Sentences(left, right, relation, images, order)]);
    }

    /// <summary>The partitions for which two packages have images that differ.</summary>
    internal static IReadOnlyList<string> DifferingPartitions(Package left, Package right) =>
        [.. Pair(left, right).Where(image => image.IsSame == false).Select(image => image.Partition).Distinct()];

    private static List<ComparedImage> Pair(Package left, Package right)
    {
        var both = left
            .Images.Select(image => (Image: image, Part: PartOf(left, image), IsLeft: true))
            .Concat(right.Images.Select(image => (Image: image, Part: PartOf(right, image), IsLeft: false)));
        return
        [
            .. both.GroupBy(one => (one.Image.Partition, one.Part))
                .Select(group => new ComparedImage(
                    group.Key.Partition,
                    group.Key.Part,
                    group.FirstOrDefault(one => one.IsLeft).Image,
                    group.FirstOrDefault(one => !one.IsLeft).Image
                )),
        ];
    }

    /// <summary>The pack in which an image lies; other parts need no telling apart, as a partition is in one of them only.</summary>
    private static PartKind? PartOf(Package package, PackageImage image) =>
        package.Parts.FirstOrDefault(part => part.Images.Contains(image))?.Kind is PartKind.KeepDataPack or PartKind.CleanPack
            ? package.Parts.First(part => part.Images.Contains(image)).Kind
            : null;

    private static PackageRelation RelationOf(Package left, Package right, List<ComparedImage> images)
    {
        if (left.Id == right.Id)
            return PackageRelation.SameFile;
        var (same, other) = (images.Count(image => image.IsSame == true), images.Count(image => image.IsSame == false));
        if (same > 0 && same == images.Count)
            return PackageRelation.SameImages;
        var (a, b) = (left.Says(FactName.ModelCode), right.Says(FactName.ModelCode));
        if (a.Count == 0 || b.Count == 0)
            return same > 0 && other > 0 ? PackageRelation.Derived : PackageRelation.Unknown;
        if (!a.Intersect(b, StringComparer.OrdinalIgnoreCase).Any())
            return PackageRelation.OtherModel;
        // One build is sent out once: where images of it differ, somebody changed them.
        var isOneBuild = left.Build is not null && left.Build.Build == right.Build?.Build;
        return isOneBuild && same + other > 0
            ? other > 0
                ? PackageRelation.Derived
                : PackageRelation.SameImages
            : isOneBuild
                ? PackageRelation.Unknown
                : PackageRelation.OtherBuild;
    }

    private static IEnumerable<string> Sentences(
        Package left,
        Package right,
        PackageRelation relation,
        List<ComparedImage> images,
        int? order
    )
    {
        var (leftData, rightData) = (left.Data(), right.Data());
        if (leftData.Fate != rightData.Fate)
            yield return $"They do different things to the data. The first: {leftData.Sentence} The second: {rightData.Sentence}";
        if (relation == PackageRelation.OtherModel)
            yield return $"They are for different models: {string.Join(", ", left.Says(FactName.ModelCode))} and {string.Join(", ", right.Says(FactName.ModelCode))}. One is never an update of the other.";
        if (relation == PackageRelation.Derived)
            yield return $"One was made from the other. The same in both: {Names(images.Where(image => image.IsSame == true))}. Changed: {Names(images.Where(image => image.IsSame == false))}.";
        if (left.Revisions is [var from] && right.Revisions is [var to] && from != to)
            yield return $"Bootloader revision {from} against {to}. Writing revision {(from > to ? from : to)} is a one-way step for a phone with rollback fuses that stands below it.";
        if (left.Says(FactName.Region) is { Count: > 0 } a && right.Says(FactName.Region) is { Count: > 0 } b && !a.Intersect(b).Any())
            yield return $"They are for different regions: {string.Join(", ", a)} and {string.Join(", ", b)}.";
        if (relation == PackageRelation.OtherBuild && order is not null and not 0)
            yield return $"{(order < 0 ? right.Title : left.Title)} is the newer build.";
        if (relation == PackageRelation.OtherBuild && order is null)
            yield return "Their builds cannot be put in order.";
    }

    private static string Names(IEnumerable<ComparedImage> images) =>
        string.Join(", ", images.Select(image => image.Partition).Distinct()) is { Length: > 0 } names ? names : "none";
}

/// <summary>The two region packs of one bundle, and what sets them apart.</summary>
/// <param name="Keep">The pack that leaves the data.</param>
/// <param name="Clean">The pack that erases them.</param>
/// <param name="OnlyInClean">Partitions that the clean pack alone brings.</param>
/// <param name="Same">Partitions that are the same in both.</param>
/// <param name="Different">Partitions that both bring with other bytes.</param>
public sealed record RegionPackPair(
    PackagePart Keep,
    PackagePart Clean,
    IReadOnlyList<string> OnlyInClean,
    IReadOnlyList<string> Same,
    IReadOnlyList<string> Different
)
{
    /// <summary>The pair of a bundle, or null where it has only one pack or none.</summary>
    public static RegionPackPair? Of(Package package)
    {
        if (
            package.Parts.FirstOrDefault(part => part.Kind == PartKind.KeepDataPack) is not { } keep
            || package.Parts.FirstOrDefault(part => part.Kind == PartKind.CleanPack) is not { } clean
        )
            return null;
        var both = clean
            .Images.Where(image => keep.Images.Any(other => other.Partition == image.Partition))
            .ToLookup(
                image => keep.Images.First(other => other.Partition == image.Partition).Body.ExpandedSha256 == image.Body.ExpandedSha256,
                image => image.Partition
            );
        return new RegionPackPair(
            keep,
            clean,
            [.. clean.Images.Select(image => image.Partition).Except(keep.Images.Select(image => image.Partition))],
            [.. both[true]],
            [.. both[false]]
        );
    }
}

/// <summary>A package that another one was made from.</summary>
/// <param name="Original">The one whose images are as published.</param>
/// <param name="Same">Partitions that are still the same.</param>
/// <param name="Changed">Partitions that are not.</param>
public sealed record Derivation(Package Original, IReadOnlyList<string> Same, IReadOnlyList<string> Changed)
{
    /// <summary>
    /// What a package was made from, among others that share an image with it; null where it is nobody's copy. The original must be whole
    /// by its digests, and have every image that the copy has: one that it lacks came from somewhere else.
    /// </summary>
    public static Derivation? Of(Package package, IEnumerable<Package> others, ModelCatalogue catalogue)
    {
        if (package.Whole().State == Wholeness.AsPublished)
            return null;
        return others
            .Where(other => other.Whole().State is Wholeness.AsPublished or Wholeness.Listed && other.Marks.Patched is null)
            .Select(other => (Other: other, Comparison: PackageComparison.Of(other, package, catalogue)))
            .Where(pair =>
                pair.Comparison.Relation == PackageRelation.Derived
                && pair.Comparison.Equal.Any()
                && pair.Comparison.Images.All(image => image.Right is null || image.IsSame is not null)
            )
            .OrderByDescending(pair => pair.Comparison.Equal.Count())
            .ThenBy(pair => pair.Other.Id, StringComparer.Ordinal)
            .Select(pair => new Derivation(
                pair.Other,
                [.. pair.Comparison.Equal.Select(image => image.Partition)],
                [.. pair.Comparison.Different.Select(image => image.Partition)]
            ))
            .FirstOrDefault();
    }
}

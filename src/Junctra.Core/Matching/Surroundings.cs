using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// What else lies in the library beside a package: what a patched part was made from, and whether a newer build is there. It depends on
/// packages alone, never on what is known of a phone, so that a fact that is lost never makes an answer better.
/// </summary>
public sealed class Surroundings(IReadOnlyList<Package> library, ModelCatalogue catalogue)
{
    private readonly Dictionary<string, Derivation?> derivations = new(StringComparer.Ordinal);
    private readonly Dictionary<string, (Package, IReadOnlyList<string>)?> others = new(StringComparer.Ordinal);
    private ILookup<string, Package>? byBuild;

    /// <summary>The package that a patched part was made from, with what is still the same; null where the library has none.</summary>
    public Derivation? OriginOf(Package part)
    {
        if (derivations.TryGetValue(part.Id, out var known))
            return known;
        var kin = library.Where(other => other.Id != part.Id && other.Build is not null && other.Build.Build == part.Build?.Build);
        return derivations[part.Id] = Derivation.Of(part, kin, catalogue);
    }

    /// <summary>
    /// Another file that says it brings the same build for the same model and has other bytes for some image: one of the two is not its
    /// maker's. One that is proved comes first; copies that say of themselves that somebody changed them count for nothing. Null where
    /// there is none.
    /// </summary>
    public (Package Package, IReadOnlyList<string> Images)? OtherOf(Package package)
    {
        if (package.Build is null || package.Kind.Traits().IsOfOnePhone)
            return null;
        if (others.TryGetValue(package.Id, out var known))
            return known;
        (Package, IReadOnlyList<string>)? found = null;
        byBuild ??= library
            .Where(other => other.Build is not null && !other.Kind.Traits().IsOfOnePhone && other.Marks.Patched is null)
            .ToLookup(other => other.Build!.Build, StringComparer.OrdinalIgnoreCase);
        foreach (
            var other in byBuild[package.Build.Build]
                .Where(other => other.Id != package.Id && !other.IsDamaged)
                .OrderByDescending(other => other.Contents.IsProven)
                .ThenBy(other => other.Id, StringComparer.Ordinal)
        )
        {
            if (PackageComparison.DifferingPartitions(package, other) is { Count: > 0 } images)
            {
                found = (other, images);
                break;
            }
        }

        return others[package.Id] = found;
    }

    /// <summary>
    /// What proves that a package's images are its maker's: itself, where a digest from elsewhere says so, or a package of the library of
    /// which that is said and in which every one of them lies, byte for byte. Null where nothing does, or there is none.
    /// </summary>
    public Package? ProofOf(Package package)
    {
        return package.Images.Count == 0
            ? null
            : library.Prepend(package).FirstOrDefault(other => IsProven(other) && package.Images.All(image => Lies(image, other)));

        static bool IsProven(Package other) => other.Provenance == Provenance.Official && other.Whole().State == Wholeness.AsPublished;

        static bool Lies(PackageImage image, Package other) =>
            other.Images.Any(one =>
                one.Partition == image.Partition
                && (one.Body.Sha256 == image.Body.Sha256 || one.Body.ExpandedSha256 is { } same && same == image.Body.ExpandedSha256)
            );
    }

    /// <summary>
    /// A build of the library that is newer than the package, for one of its models and one of its regions, whole, and as much a package as
    /// it; null where there is none.
    /// </summary>
    public Package? NewerThan(Package package)
    {
        if (package.Build is not { } build)
            return null;
        var grammar = catalogue.Makers.FirstOrDefault(maker => maker.Name == build.Maker)?.Grammar;
        return library
            .Where(other =>
                other.Build is not null
                && !other.IsDamaged
                && (other.Kind == package.Kind || other.Kind.Traits().IsFull)
                && SharesRegion(package, other)
                && grammar?.Compare(other.Build, build) > 0
            )
            .OrderBy(other => other.Id, StringComparer.Ordinal)
            .Aggregate((Package?)null, (best, other) => best is null || grammar!.Compare(other.Build!, best.Build!) > 0 ? other : best);
    }

    private static bool SharesRegion(Package a, Package b)
    {
        var (ours, theirs) = (a.Says(FactName.Region), b.Says(FactName.Region));
        return ours.Count == 0 || theirs.Count == 0 || ours.Intersect(theirs).Any();
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// What else lies in the library beside a package: what a patched part was made from, and whether a newer build is there. It depends on packages alone, never on
/// what is known of a phone, so that a fact that is lost never makes an answer better.
/// </summary>
public sealed class Surroundings(IReadOnlyList<Package> library, ModelCatalogue catalogue)
{
    private readonly Dictionary<string, Derivation?> derivations = new(StringComparer.Ordinal);

    /// <summary>The package that a patched part was made from, with what is still the same; null where the library has none.</summary>
    public Derivation? OriginOf(Package part)
    {
        if (derivations.TryGetValue(part.Id, out var known)) return known;
        var kin = library.Where(other => other.Id != part.Id && other.Build is not null && other.Build.Build == part.Build?.Build);
        return derivations[part.Id] = Derivation.Of(part, kin, catalogue);
    }

    /// <summary>A build of the library that is newer than the package, for one of its models and one of its regions, whole, and as much a package as it; null where there is none.</summary>
    public Package? NewerThan(Package package)
    {
        if (package.Build is not { } build) return null;
        var grammar = catalogue.Makers.FirstOrDefault(maker => maker.Name == build.Maker)?.Grammar;
        return library.Where(other => other.Build is not null && !other.IsDamaged && (other.Kind == package.Kind || IsWhole(other.Kind)) && SharesRegion(package, other) && grammar?.Compare(other.Build, build) > 0)
            .OrderBy(other => other.Id, StringComparer.Ordinal).Aggregate((Package?)null, (best, other) => best is null || grammar!.Compare(other.Build!, best.Build!) > 0 ? other : best);
    }

    private static bool IsWhole(PackageKind kind) => kind is PackageKind.FactorySet or PackageKind.SingleBundle or PackageKind.FourPartBundle or PackageKind.CardUpdate;

    private static bool SharesRegion(Package a, Package b)
    {
        var (ours, theirs) = (a.Says(FactName.Region), b.Says(FactName.Region));
        return ours.Count == 0 || theirs.Count == 0 || ours.Intersect(theirs).Any();
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// Cases for the rows of the rules' tables that no phone and package of the shipped catalogue reach by themselves, each with words of the
/// row that it must reach.
/// </summary>
internal static partial class HardRows
{
    private static readonly ModelCatalogue Catalogue = Repo.Catalogue;

    private static readonly Package Rest = Sample.Bundle("TN63E.5.2608.WHM2", keepPack: true);

    private static readonly Package Patched = Sample.Patched("TN63E.5.2608.WHM2", "root manager 8.2");

    private static readonly MatchPolicy KeepRoot = new() { Goal = JobGoal.KeepRoot };

    /// <summary>All of them.</summary>
    public static IEnumerable<(IMatchRule Rule, MatchCase Case, string Says)> All() => [.. OfWhatItIs(), .. OfWhatItDoes()];

    private static IEnumerable<(IMatchRule Rule, MatchCase Case, string Says)> OfWhatItIs()
    {
        var maker = Catalogue.MakerOf("TN41K")!;
        var bothWays = new ModelCatalogue(
            [maker with { Models = [.. maker.Models.Select(model => model.Code == "TN41K" ? model with { SoldBothWays = true } : model)] }],
            [],
            Catalogue.Regions,
            Catalogue.Figures
        );
        yield return (
            new M01Model(),
            new MatchCase(
                Phone((FactName.ModelCode, "OB17")),
                Sample.Set("", "none", only: ["recovery"], published: false),
                Catalogue,
                MatchPolicy.Careful,
                new Surroundings([Sample.Set("OB17", "OB17_2.6.118_r04_DNM", only: ["recovery"])], Catalogue)
            ),
            "lies byte for byte in"
        );
        yield return (
            new M03Carrier(),
            Of(Phone((FactName.ModelCode, "TN41K"), (FactName.Region, "LNT")), Sample.Set("TN41K", "none")),
            "does not say which carrier's"
        );
        yield return (
            new M03Carrier(),
            Of(
                Phone((FactName.ModelCode, "TN41K")),
                PackageReader.Read(
                    "two.tar",
                    Sample.Set("TN41E", "none").Contents with
                    {
                        Requirements = [new RequirementLine("board", ["TN41E", "TN41K"], true)],
                    },
                    Catalogue
                )
            ),
            "for a carrier's alike"
        );
        yield return (
            new M03Carrier(),
            Of(Phone((FactName.ModelCode, "TN41K")), Sample.Set("TN41K", "none"), catalogue: bothWays),
            "is sold open"
        );
        yield return (
            new M03Carrier(),
            Of(
                Phone((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "yes")),
                Sample.Set("TN41K", "TN41K.2.2610.WHM1"),
                catalogue: bothWays
            ),
            "the package is for open phones: the lock"
        );
        yield return (
            new M03Carrier(),
            Of(Phone((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "no")), Sample.Set("TN41K", "none"), catalogue: bothWays),
            "it stays open"
        );

        var strict = OtherCatalogue.WithVelloq;
        var older = Sample.Set("TN63E", "TN63E.5.2608.WHM2", catalogue: strict);
        yield return (
            new M05Direction(),
            Of(
                Phone((FactName.ModelCode, "TN63E"), (FactName.DeviceStatus, "custom"), (FactName.Serial, "T1")),
                older,
                new MatchPolicy(DataMayGo: true),
                strict
            ),
            "older or newer cannot be told. {how}"
        );
        yield return (
            new M05Direction(),
            Of(
                Phone((FactName.ModelCode, "TN63E"), (FactName.OsVersion, "16")),
                Sample.Set("TN63E", "none", "os-version=15", catalogue: strict),
                catalogue: strict
            ),
            "Older than what is on the phone, and"
        );
        var had = new Phone(
            Phone((FactName.ModelCode, "TN63E"), (FactName.DeviceStatus, "custom")).All,
            [Sample.Fact(FactName.Build, "TN63E.5.2630.WHM1", FactSource.Settings)]
        );
        yield return (
            new M05Direction(),
            Of(had, older, new MatchPolicy(DataMayGo: true), strict),
            "which this phone has had, and this maker forbids"
        );

        var wider = new ModelCatalogue(
            Catalogue.Makers,
            [],
            [.. Catalogue.Regions, new Region("WHN", "A made-up port", "north")],
            Catalogue.Figures
        );
        yield return (
            new M06Region(),
            Of(Phone((FactName.Region, "WHM")), Sample.Set("TN63E", "TN63E.5.2608.WHN2", catalogue: wider), catalogue: wider),
            "differ in one letter only"
        );
        yield return (
            new M07Intact(),
            Of(Phone(), Sample.Set("TN63E", "none", "os-version=14 os-version=15")),
            "Ask its source which is right"
        );

        var other = PackageReader.Read(
            "other.zip",
            Rest.Contents with
            {
                Sha256 = Sample.Digest("another"),
                PublishedBy = null,
                PublishedDigest = null,
                Members = [.. Rest.Contents.Members.Select(Changed)],
            },
            Catalogue
        );
        var unproven = PackageReader.Read(
            "third.zip",
            Rest.Contents with
            {
                Sha256 = Sample.Digest("third"),
                PublishedBy = null,
                PublishedDigest = null,
            },
            Catalogue
        );
        yield return (new M08Provenance(), Of(Phone(), other, library: [unproven]), "one of the two is not its maker's");
        yield return (new M08Provenance(), Of(Phone(), other, library: [unproven, Rest]), "which is proved to be its maker's");

        yield return (
            new M09Complete(),
            Of(Phone((FactName.ModelCode, "TN63E")), Patched, KeepRoot, library: [Rest]),
            "the rest of its build"
        );
        yield return (
            new M09Complete(),
            Of(Phone((FactName.ModelCode, "TN63E")), Sample.Bundle("TN63E.5.2608.WHM2", keepPack: false)),
            "Its only region pack is the clean one"
        );
    }

    private static Package Backup(string taken) =>
        Sample.Set("OB17", "OB17_2.6.112_r04_DNM", $"backup-serial=OBF20117 taken={taken} system=stock");

    private static PackageMember Changed(PackageMember member) => Same(member, "changed" + member.Name);

    private static PackageMember Same(PackageMember member, string seed) =>
        member with
        {
            Image = member.Image! with { ExpandedSha256 = Sample.Digest(seed) },
        };

    private static Phone Phone(params (FactName Name, string Value)[] facts) =>
        Sample.Phone([.. facts.Select(fact => Sample.Fact(fact.Name, fact.Value))]);

    private static MatchCase Of(
        Phone phone,
        Package package,
        MatchPolicy? policy = null,
        ModelCatalogue? catalogue = null,
        params Package[] library
    ) =>
        new(
            phone,
            package,
            catalogue ?? Catalogue,
            policy ?? MatchPolicy.Careful,
            new Surroundings([package, .. library], catalogue ?? Catalogue)
        );
}

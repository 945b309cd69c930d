using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Rows of M10 and after: what a package does to the phone.</summary>
internal static partial class HardRows
{
    private static IEnumerable<(IMatchRule Rule, MatchCase Case, string Says)> OfWhatItDoes()
    {
        yield return (
            new M10Fits(),
            Of(Phone((FactName.ModelCode, "HX204")), Sample.Package(more: [new RequirementLine("antenna", ["gold"], true)])),
            "does not know"
        );
        var layout = Sample.Image("layout") with
        {
            Image = Sample.Image("layout").Image! with
            {
                Inside = new ImageInside(
                    Table: new PartitionTable(
                        4096,
                        [.. Catalogue.Model("HX204")!.Partitions.Select(partition => new TableEntry(partition.Name, partition.SizeBytes))]
                    )
                ),
            },
        };
        var huge = layout with
        {
            Image = layout.Image! with
            {
                Inside = new ImageInside(
                    Table: new PartitionTable(
                        4096,
                        [
                            .. layout.Image.Inside!.Table!.Entries.Select(entry =>
                                entry.Name == "userdata" ? entry with { SizeBytes = 900L << 30 } : entry
                            ),
                        ]
                    )
                ),
            },
        };
        var sizes = Catalogue.Model("HX204")!.StorageSizesGb;
        yield return (
            new M10Fits(),
            Of(
                Phone((FactName.ModelCode, "HX204")),
                Sample.Package(more: [new RequirementLine("storage-gb", [$"{sizes[0]}"], true)], members: layout)
            ),
            "this phone's is not known. {how}"
        );
        yield return (
            new M10Fits(),
            Of(
                Phone((FactName.ModelCode, "TN63E")),
                PackageReader.Read(
                    "layout.zip",
                    Rest.Contents with
                    {
                        Members =
                        [
                            .. Rest.Contents.Members,
                            layout with
                            {
                                Image = layout.Image! with
                                {
                                    Inside = new ImageInside(Table: new PartitionTable(4096, [new TableEntry("system", 4096)])),
                                },
                            },
                        ],
                    },
                    Catalogue
                )
            ),
            "does not say for which size"
        );
        yield return (
            new M10Fits(),
            Of(
                Phone((FactName.ModelCode, "HX204"), (FactName.StorageSize, $"{sizes[0]}")),
                Sample.Package(more: [new RequirementLine("storage-gb", [$"{sizes[0]}"], true)], members: huge)
            ),
            "Its layout takes"
        );
        yield return (
            new M10Fits(),
            Of(Phone((FactName.ModelCode, "HX204")), Sample.Package(members: layout)),
            "which is made for one size of storage"
        );

        yield return (new M13KeepRoot(), Of(Phone((FactName.RootManager, "8.2")), Patched, KeepRoot, library: [Rest]), "Made from {rest}");
        yield return (new M13KeepRoot(), Of(Phone(), Patched, KeepRoot, library: [Rest]), "and the version on the phone is not known");
        yield return (
            new M13KeepRoot(),
            Of(Phone((FactName.RootManager, "8.1")), Patched, KeepRoot, library: [Rest]),
            "Patch it anew on the phone"
        );
        var lacking = PackageReader.Read(
            "lacking.zip",
            Rest.Contents with
            {
                Sha256 = Sample.Digest("lacking"),
                PublishedDigest = Sample.Digest("lacking"),
                Members = [.. Rest.Contents.Members.Where(member => member.Name != "radio.img")],
            },
            Catalogue
        );
        yield return (new M13KeepRoot(), Of(Phone((FactName.RootManager, "8.2")), Patched, KeepRoot, library: [lacking]), "is not whole");
        var swapped = PackageReader.Read(
            "swapped.tar",
            Patched.Contents with
            {
                Members =
                [
                    .. Patched.Contents.Members.Select(member =>
                        member.Name == "system.img" ? Changed(member) : Same(member, "TN63E.5.2608.WHM2boot")
                    ),
                ],
            },
            Catalogue
        );
        yield return (
            new M13KeepRoot(),
            Of(Phone((FactName.RootManager, "8.2")), swapped, KeepRoot, library: [Rest]),
            "neither those of {rest}"
        );
        yield return (
            new M13KeepRoot(),
            Of(Phone((FactName.RootManager, "8.2")), Patched, KeepRoot, library: [Sample.Bundle("TN63E.5.2608.WHM2", keepPack: false)]),
            "has no keep-data pack"
        );

        var radio = Sample.Set("TRB62", "none", "version-baseband=TRB62-R-N-20260311");
        var fused = new Phone(
            Phone((FactName.ModelCode, "TRB62"), (FactName.Region, "WHM")).All,
            [Sample.Fact(FactName.RadioBuild, "TRB62-R-N-20260401")]
        );
        yield return (new M15Radio(), Of(fused, radio), "which this phone has had, and this maker's phones refuse");
        yield return (
            new M16Wish(),
            new MatchCase(Phone(), Rest, Catalogue, new MatchPolicy { Wish = new VersionWish(WishKind.Newest) }),
            "was not looked at"
        );
        yield return (new M17Backup(), Of(Phone((FactName.Serial, "OBF20117")), Backup("14.2.2026")), "which is no day");
        yield return (new M17Backup(), Of(Phone((FactName.Serial, "OBF20117")), Backup("2031-01-01")), "which is after this phone");
        var card = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM");
        yield return (
            new M18Card(),
            Of(
                Phone(
                    (FactName.ModelCode, "OB17"),
                    (FactName.Card, "present"),
                    (FactName.CardPlace, "root"),
                    (FactName.CardFileName, "fell-update.zip"),
                    (FactName.CardFileDigest, card.Id),
                    (FactName.CardFree, "9000")
                ),
                card
            ),
            "It lies whole"
        );
    }
}

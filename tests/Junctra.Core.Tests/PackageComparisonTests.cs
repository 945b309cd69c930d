using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Two packages side by side, what one was made from, and what the two packs of a region differ in.</summary>
public class PackageComparisonTests
{
    private static PackageMember Image(string partition, string content, string? within = null, long bytes = 1 << 20) =>
        Sample.Image(partition, bytes, name: $"{within}{(within is null ? "" : "/")}{partition}.img") is var member
            ? member with
            {
                Within = within,
                Sha256 = Sample.Digest(content),
                Image = member.Image! with { Sha256 = Sample.Digest(content), ExpandedSha256 = Sample.Digest(content) },
            }
            : member;

    private static Package Read(
        string file,
        IReadOnlyList<PackageMember> members,
        string build,
        bool published = true,
        string code = "TN63E"
    ) =>
        PackageReader.Read(
            file,
            new PackageContents(
                1000,
                Sample.Digest(file),
                published ? Sample.Digest(file) : null,
                members,
                [new("board", [code], true), new("build", [build], false)],
                [],
                []
            ),
            Repo.Catalogue
        );

    private static List<PackageMember> Bundle(string seed, bool erases = true) =>
        [
            Image("bootchain", seed + "chain", "bootchain.tar"),
            Image("boot", seed + "boot", "bootchain.tar"),
            Image("system", seed + "system", "system.tar"),
            Image("recovery", seed + "recovery", "system.tar"),
            Image("radio", seed + "radio", "radio.tar"),
            Image("regionpack", seed + "pack", "keep.tar"),
            Image("regionpack", seed + "pack", "clean.tar"),
            .. erases ? [Image("userdata", "empty", "clean.tar")] : Array.Empty<PackageMember>(),
        ];

    [Fact]
    public void Two_builds_of_a_model_are_put_in_order_and_their_steps_said()
    {
        var (old, young) = (Read("a.zip", Bundle("a"), "TN63E.4.2536.WHM1"), Read("b.zip", Bundle("b"), "TN63E.5.2608.WHM2"));
        var comparison = PackageComparison.Of(old, young, Repo.Catalogue);
        Assert.Equal(PackageRelation.OtherBuild, comparison.Relation);
        Assert.True(comparison.Order < 0);
        Assert.Contains(
            "Bootloader revision 4 against 5. Writing revision 5 is a one-way step for a phone with rollback fuses that stands below it.",
            comparison.Loud
        );
        Assert.Contains("TN63E.5.2608.WHM2 is the newer build.", comparison.Loud);
        Assert.Equal(["userdata"], comparison.Equal.Select(image => image.Partition));
        Assert.Equal(7, comparison.Different.Count());
    }

    [Fact]
    public void Iterations_of_two_regions_are_not_put_in_order()
    {
        var comparison = PackageComparison.Of(
            Read("a.zip", Bundle("a"), "TN63E.5.2608.WHM2"),
            Read("b.zip", Bundle("b"), "TN63E.5.2608.SRV1"),
            Repo.Catalogue
        );
        Assert.Null(comparison.Order);
        Assert.Contains("Their builds cannot be put in order.", comparison.Loud);
        Assert.Contains("They are for different regions: WHM and SRV.", comparison.Loud);
    }

    [Fact]
    public void What_packages_do_to_the_data_is_said_first()
    {
        var clean = Bundle("a").Where(member => member.Within != "keep.tar").ToList();
        var keep = Bundle("a").Where(member => member.Within != "clean.tar").ToList();
        var comparison = PackageComparison.Of(
            Read("keep.zip", keep, "TN63E.5.2608.WHM2"),
            Read("clean.zip", clean, "TN63E.5.2608.WHM2"),
            Repo.Catalogue
        );
        Assert.StartsWith("They do different things to the data.", comparison.Loud[0]);
    }

    [Fact]
    public void Models_that_share_nothing_are_said_to_share_nothing()
    {
        var comparison = PackageComparison.Of(
            Read("a.zip", Bundle("a"), "TN63E.5.2608.WHM2"),
            Read("b.zip", Bundle("b"), "TN63W.6.2612.WHM1", code: "TN63W"),
            Repo.Catalogue
        );
        Assert.Equal(PackageRelation.OtherModel, comparison.Relation);
        Assert.Contains(comparison.Loud, sentence => sentence.Contains("different models: TN63E and TN63W"));
    }

    [Fact]
    public void A_patched_part_is_known_by_its_original()
    {
        var original = Read("full.zip", Bundle("a"), "TN63E.5.2608.WHM2");
        var other = Read("later.zip", Bundle("b"), "TN63E.6.2630.WHM1");
        var patched = Read("patched.tar", [Image("system", "asystem"), Image("boot", "changed")], "TN63E.5.2608.WHM2", published: false);
        var made = Derivation.Of(patched, [other, original], Repo.Catalogue);
        Assert.NotNull(made);
        Assert.Equal(original.Id, made.Original.Id);
        Assert.Equal(["system"], made.Same);
        Assert.Equal(["boot"], made.Changed);
        Assert.Null(Derivation.Of(original, [patched, other], Repo.Catalogue));
    }

    [Fact]
    public void The_packs_of_a_bundle_are_told_apart()
    {
        var pair = RegionPackPair.Of(Read("a.zip", Bundle("a"), "TN63E.5.2608.WHM2"))!;
        Assert.Equal(["userdata"], pair.OnlyInClean);
        Assert.Equal(["regionpack"], pair.Same);
        Assert.Empty(pair.Different);
        Assert.Null(RegionPackPair.Of(Read("b.zip", [.. Bundle("a").Where(member => member.Within != "clean.tar")], "TN63E.5.2608.WHM2")));
    }

    [Theory]
    [InlineData("region_keep.tar", true)]
    [InlineData("region_full.tar", false)]
    public void A_pack_that_erases_under_the_name_of_one_that_keeps_is_refused(string name, bool isRefused)
    {
        var members = Bundle("a")
            .Select(member =>
                member.Within == "clean.tar" ? member with { Within = name, Name = $"{name}/{member.Name.Split('/')[1]}" } : member
            )
            .ToList();
        Assert.Equal(isRefused, Read("a.zip", members, "TN63E.5.2608.WHM2").IsDamaged);
    }

    [Fact]
    public void Comparing_is_the_same_both_ways()
    {
        var packages = Gen.Select(
            Gen.Int[0, 1].Select(n => n == 0 ? "a" : "b"),
            Gen.Int[0, 2].Select(n => new[] { "TN63E.4.2536.WHM1", "TN63E.5.2608.WHM2", "TN63E.5.2608.SRV1" }[n]),
            Gen.Int[1, 8],
            Gen.Bool,
            (seed, build, count, published) => Read($"{seed}{build}{count}{published}", [.. Bundle(seed).Take(count)], build, published)
        );
        Gen.Select(packages, packages)
            .Sample(
                (left, right) =>
                {
                    var (one, other) = (
                        PackageComparison.Of(left, right, Repo.Catalogue),
                        PackageComparison.Of(right, left, Repo.Catalogue)
                    );
                    Assert.Equal(one.Relation, other.Relation);
                    Assert.Equal(one.Order, -other.Order);
                    Assert.Equal(one.Equal.Select(image => image.Partition).Order(), other.Equal.Select(image => image.Partition).Order());
                    Assert.Equal(one.Different.Count(), other.Different.Count());
                }
            );
    }

    [Fact]
    public void A_manifest_holds_what_another_shop_needs()
    {
        var package = Read("a.zip", Bundle("a"), "TN63E.5.2608.WHM2");
        var manifest = PackageManifest.Of(package);
        Assert.Equal((package.Id, "four-part bundle", 8), (manifest.Sha256, manifest.Kind, manifest.Images.Count));
        Assert.Equal(
            [
                "bootchain.img",
                "boot.img",
                "system.img",
                "recovery.img",
                "radio.img",
                "keep-data/regionpack.img",
                "clean/regionpack.img",
                "clean/userdata.img",
            ],
            PackageManifest.ChecksumsOf(package).Select(line => line.FileName)
        );
    }

    [Theory]
    [InlineData(96L << 20, false)]
    [InlineData((96L << 20) + 4096, true)]
    public void An_image_of_more_than_its_partition_is_noticed(long bytes, bool isNoticed)
    {
        var package = Read("a.tar", [Image("bootchain", "c"), Image("system", "s", bytes: bytes)], "TN41E.2.2610.WHM1", code: "TN41E");
        Assert.Equal(isNoticed, package.Findings.Any(finding => finding.Text.Contains("TN41E has 100.7 MB for it")));
        Assert.Equal(bytes / (double)(96 << 20), LayoutFit.Of(package.Images, Repo.Catalogue.Model("TN41E")!)[1].Fill);
    }

    [Fact]
    public void A_layout_of_another_phone_is_refused()
    {
        PackageMember Table(params string[] names) =>
            Image("layout", "t") is var member
                ? member with
                {
                    Image = member.Image! with
                    {
                        Inside = new ImageInside(Table: new PartitionTable(512, [.. names.Select(name => new TableEntry(name, 8 << 20))])),
                    },
                }
                : member;
        Assert.True(Read("a.zip", [.. Bundle("a"), Table("bootchain", "system")], "TN63E.5.2608.WHM2").IsDamaged);
        var whole = Read(
            "a.zip",
            [.. Bundle("a"), Table("bootchain", "radio", "boot", "recovery", "system", "regionpack", "userdata", "identity")],
            "TN63E.5.2608.WHM2"
        );
        Assert.False(whole.IsDamaged);
        Assert.Contains(whole.Findings, finding => finding.Text == "The layout layout.img gives system 8.4 MB; TN63E has 167.8 MB.");
    }

    [Fact]
    public void A_rule_of_the_match_never_takes_a_part_for_a_whole()
    {
        var part = Read("p.tar", [Image("system", "s"), Image("boot", "b")], "TN63E.5.2608.WHM2");
        Assert.Equal(PackageKind.BundlePart, part.Kind);
        Assert.Equal(
            FactName.ModelCode,
            Assert.Single(part.Statements, said => said.Fact == FactName.ModelCode && said.Where.StartsWith("requirement")).Fact
        );
        var judgement = new Matching.M09Complete().Judge(
            new Matching.MatchCase(Sample.Phone(Sample.Fact(FactName.ModelCode, "TN63E")), part, Repo.Catalogue, new Matching.MatchPolicy())
        );
        Assert.Equal(Matching.Verdict.Stop, judgement.Verdict);
    }
}

using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Names inside a package, and lists and updates that come with it.</summary>
public partial class SelfContradictionTests
{
    [Fact]
    public void Names_inside_that_carry_another_phone_are_a_stop_and_the_name_of_the_file_is_only_told()
    {
        var inside = Bundle(
            _ => { },
            contents =>
                contents with
                {
                    Members =
                    [
                        .. contents.Members.Select(member =>
                            member.Name == "system.img" ? member with { Name = "TN63W_system.img" } : member
                        ),
                    ],
                }
        );
        Assert.Contains(inside.Findings, finding => finding.Weight == FindingWeight.Contradiction && finding.Text.Contains("TN63W"));
        var outside = Bundle(_ => { }, fileName: "TN63W_full.zip");
        Assert.Equal(Verdict.Go, Match(outside).Verdict);
        Assert.Contains(outside.Findings, finding => finding.Text.Contains("TN63W"));
    }

    // An image's new name, a line more, and what the finding names.
    [Theory]
    [InlineData("region_SRV_keep/regionpack.img", null, "SRV")]
    [InlineData("srv-regionpack.img", null, "SRV")]
    [InlineData("TN63E.5.2609.SRV1/regionpack.img", null, "TN63E.5.2609.SRV1")]
    [InlineData("region_WHM_SRV/regionpack.img", null, null)]
    [InlineData("whm/regionpack.img", null, null)]
    public void A_name_inside_that_carries_another_region_is_a_stop(string name, string? line, string? named)
    {
        var package = Bundle(
            lines => lines.AddRange(line is null ? [] : [Line(line)]),
            contents =>
                contents with
                {
                    Members =
                    [
                        .. contents.Members.Select(member => member.Name == "regionpack.img" ? member with { Name = name } : member),
                    ],
                }
        );
        if (named is null)
            Assert.DoesNotContain(package.Findings, finding => finding.Weight >= FindingWeight.Contradiction);
        else
            Assert.Contains(package.Findings, finding =>
                finding.Weight == FindingWeight.Contradiction && finding.Text.Contains(name) && finding.Text.Contains(named)
            );
    }

    [Fact]
    public void Where_no_line_says_whose_it_is_its_names_are_held_against_each_other()
    {
        PackageContents Silent(params string[] names) =>
            new(
                100,
                Sample.Digest("file"),
                null,
                [.. names.Select((name, i) => Sample.Image("boot", name: name, offset: i * 512))],
                [],
                [],
                []
            );
        foreach (
            var names in new[]
            {
                new[] { "TN63E/boot.img", "TN63W/system.img" },
                ["region_WHM/regionpack.img", "region_SRV/radio.img"],
                ["TN63E.5.2608.WHM2/boot.img", "TN63E.5.2609.WHM2/radio.img"],
            }
        )
            Assert.Contains(PackageReader.Read("set.tar", Silent(names), Repo.Catalogue).Findings, finding =>
                finding.Weight == FindingWeight.Contradiction
                && names.All(name => finding.Text.Contains(name) || finding.Text.Contains(name.Split('/')[0].Split('_')[^1]))
            );
        Assert.DoesNotContain(
            PackageReader.Read("set.tar", Silent("TN63E/boot.img", "TN63E/system.img"), Repo.Catalogue).Findings,
            finding => finding.Weight == FindingWeight.Contradiction
        );
    }

    // What the beginning of the large partition's image says lies in it, how large it says that partition is, and what follows.
    [Theory]
    [InlineData("system_a,product_a", 512, null)]
    [InlineData("system_a,system_b,product_a,product_b,tools_a", 512, null)]
    [InlineData("system_a", 512, FindingWeight.Contradiction)]
    [InlineData("system_a,vendor_a", 512, FindingWeight.Contradiction)]
    [InlineData("system_a,product_a", 513, FindingWeight.Contradiction)]
    [InlineData("system_a,product_a", 500, FindingWeight.Doubt)]
    public void What_lies_in_the_large_partition_is_held_against_the_model(string inside, int megabytes, FindingWeight? weight)
    {
        var layout = new DynamicLayout((long)megabytes << 20, [.. inside.Split(',').Select(name => new TableEntry(name, 1 << 20))]);
        Package Of(string model, string build, string partition, string lines) =>
            PackageReader.Read(
                "set.tar",
                new PackageContents(
                    100,
                    Sample.Digest("file"),
                    null,
                    [
                        Sample.Image(partition) with
                        {
                            Image = Sample.Image(partition).Image! with { Inside = new ImageInside(Dynamic: layout) },
                        },
                    ],
                    [
                        Line($"board={model}"),
                        Line($"build={build}"),
                        .. lines.Split(' ', StringSplitOptions.RemoveEmptyEntries).Select(line => Line(line)),
                    ],
                    [],
                    []
                ),
                Repo.Catalogue
            );
        // A backup of this very phone is held against it like any other package.
        foreach (var lines in new[] { "", "backup-serial=HXC30441 taken=2026-02-14 system=stock" })
        {
            var worst = Of("HX310", "HX310/16.26w20-1.r2", "super", lines)
                .Findings.Where(finding => finding.Text.StartsWith("super.img", StringComparison.Ordinal))
                .Select(finding => (FindingWeight?)finding.Weight)
                .Max();
            Assert.Equal(weight, worst);
        }

        // A model without such a partition has no use for the image.
        Assert.Contains(Of("HX204", "HX204/15.26w10-7.r3", "system", "").Findings, finding =>
            finding.Weight == FindingWeight.Contradiction && finding.Text.Contains("partitions of its own")
        );
    }

    [Fact]
    public void What_boot_headers_say_is_held_against_the_rest()
    {
        Package With(BootHeader header) =>
            Bundle(
                _ => { },
                contents =>
                    contents with
                    {
                        Members =
                        [
                            .. contents.Members.Select(member =>
                                member.Name == "boot.img"
                                    ? member with
                                    {
                                        Image = member.Image! with { Inside = new ImageInside(Boot: header) },
                                    }
                                    : member
                            ),
                        ],
                    }
            );
        Assert.Equal(Verdict.Go, Match(With(new BootHeader(2, "15", "2026-03", "TN63E"))).Verdict);
        Assert.Equal(Verdict.Go, Match(With(new BootHeader(2, "15.0", "2026-03", "some board"))).Verdict);
        Assert.True(Match(With(new BootHeader(2, "14", "2026-03"))).Verdict >= Verdict.Ask);
        Assert.Equal(Verdict.Stop, Match(With(new BootHeader(2, "15", "2026-03", "TN63W"))).Verdict);
    }

    [Fact]
    public void A_list_that_came_with_it_proves_it_whole_and_not_whose_it_is()
    {
        PackageContents Beside(PackageContents contents) => contents with { PublishedBy = null };
        var package = Bundle(_ => { }, Beside);
        Assert.Equal((Provenance.Unknown, Wholeness.Listed), (package.Provenance, package.Whole().State));
        Assert.Equal(Verdict.Care, Match(package).Results.Single(result => result.RuleId == "M08").Verdict);
        var locked = Sample.Phone([.. Tern.All.Where(fact => fact.Name != FactName.LockState), Sample.Fact(FactName.LockState, "locked")]);
        Assert.True(Matcher.Match(locked, package, Repo.Catalogue).Verdict >= Verdict.Ask);
        Assert.Equal(Verdict.Go, Matcher.Match(locked, Bundle(), Repo.Catalogue).Verdict);
        // An MD5 tells damage and no ill will: it proves nobody.
        Assert.Equal(
            Provenance.Unknown,
            Bundle(
                _ => { },
                contents => contents with { PublishedDigest = new string('0', 32), Others = new OtherDigests(Md5: new string('0', 32)) }
            ).Provenance
        );
    }

    [Fact]
    public void A_card_update_of_unknown_origin_is_at_least_asked_about_on_a_locked_phone()
    {
        Package Update(bool published) => Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM", published);
        Verdict On(string? state, bool published) =>
            Matcher
                .Match(
                    Sample.Phone([
                        Sample.Fact(FactName.ModelCode, "OB17"),
                        .. state is null ? Array.Empty<Fact>() : [Sample.Fact(FactName.LockState, state)],
                    ]),
                    Update(published),
                    Repo.Catalogue
                )
                .Results.Single(result => result.RuleId == "M12")
                .Verdict;
        Assert.Equal(
            (Verdict.Ask, Verdict.Ask, Verdict.Care, Verdict.Go),
            (On("locked", false), On(null, false), On("unlocked", false), On("locked", true))
        );
    }

    [Fact]
    public void An_update_with_its_own_matching_list_is_no_worse_than_a_full_one()
    {
        PackageMember delta = new(1, "patches/boot.delta", null, MemberKind.Image, 100, Sample.Digest("delta"));
        RequirementLine[] lines = [Line("post-build=OB17_2.6.118_r04_DNM"), Line("pre-build=OB17_2.6.112_r04_DNM")];
        Package With(params ChecksumLine[] list) =>
            PackageReader.Read(
                "update.zip",
                new PackageContents(100, Sample.Digest("file"), null, [delta with { Kind = MemberKind.Stray }], lines, list, []),
                Repo.Catalogue
            );
        Assert.Equal(
            Verdict.Go,
            new M07Intact()
                .Judge(new MatchCase(Tern, With(new ChecksumLine(delta.Sha256, delta.Name)), Repo.Catalogue, MatchPolicy.Careful))
                .Verdict
        );
        Assert.Equal(Verdict.Care, new M07Intact().Judge(new MatchCase(Tern, With(), Repo.Catalogue, MatchPolicy.Careful)).Verdict);
    }

    [Theory]
    [InlineData("OB17_2.6.112_r04_DNM", false)]
    [InlineData("OB17_2.6.112_r03_DNM", false)]
    [InlineData("OB17_2.6.112_r04_KRW", true)]
    [InlineData("TN63E.5.2606.WHM1", true)]
    public void An_update_goes_from_a_build_of_the_same_phone(string from, bool contradicts)
    {
        var package = PackageReader.Read(
            "update.zip",
            new PackageContents(
                100,
                Sample.Digest("file"),
                null,
                [Sample.Image("boot")],
                [Line("device=OB17"), Line("post-build=OB17_2.6.118_r04_DNM"), Line($"pre-build={from}")],
                [],
                []
            ),
            Repo.Catalogue
        );
        Assert.Equal(
            contradicts,
            package.Findings.Any(finding => finding.Weight == FindingWeight.Contradiction && finding.Text.Contains("base build"))
        );
    }

    [Fact]
    public void User_data_beside_a_clean_pack_is_the_rare_fifth_part_and_no_clash()
    {
        PackageMember In(PackageMember member, string within, int number) => member with { Within = within, Number = number };
        var package = Bundle(
            _ => { },
            contents =>
                contents with
                {
                    Members =
                    [
                        .. contents.Members,
                        In(Sample.Image("regionpack"), "clean.tar", 90),
                        In(Sample.Image("userdata"), "clean.tar", 91),
                        In(Sample.Image("userdata"), "user.tar", 92),
                    ],
                }
        );
        Assert.DoesNotContain(package.Findings, finding => finding.Text.Contains("claim the partition"));
        Assert.Contains(package.Parts, part => part.Kind == PartKind.UserData);
    }
}

using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Packages that contradict themselves, say nothing, or are somebody else's.</summary>
public partial class SelfContradictionTests
{
    private static readonly Phone Tern = Sample.Phone(
        Sample.Fact(FactName.ModelCode, "TN63E"),
        Sample.Fact(FactName.Region, "WHM"),
        Sample.Fact(FactName.RollbackFloor, "5", FactSource.BootloaderScreen),
        Sample.Fact(FactName.Build, "TN63E.5.2606.WHM1", FactSource.Settings),
        Sample.Fact(FactName.LockState, "unlocked"),
        Sample.Fact(FactName.Mode, "download"),
        Sample.Fact(FactName.StorageSize, "64"),
        Sample.Fact(FactName.RadioBuild, "TN63E-R-2606-N"),
        Sample.Fact(FactName.OsVersion, "15", FactSource.Settings),
        Sample.Fact(FactName.SecurityPatch, "2026-02", FactSource.Settings)
    );

    private static RequirementLine Line(string line, string? within = null)
    {
        var isRequired = line.StartsWith("require ", StringComparison.Ordinal);
        var text = isRequired ? line["require ".Length..] : line;
        return new RequirementLine(text.Split('=')[0], text.Split('=', 2)[1].Split('|'), isRequired, within);
    }

    /// <summary>A four-part bundle as its maker sends it out: each part says of itself what it is.</summary>
    private static Package Bundle(params RequirementLine[] more) => Bundle(lines => lines.AddRange(more));

    private static Package Bundle(
        Action<List<RequirementLine>> change,
        Func<PackageContents, PackageContents>? after = null,
        string fileName = "bundle.zip"
    )
    {
        var clean = Sample.Bundle("TN63E.5.2608.WHM2", keepPack: true).Contents;
        List<RequirementLine> lines = [];
        foreach (var part in new[] { "chain.tar", "system.tar", "radio.tar", "pack.tar" })
        {
            string[] texts =
            [
                "require board=TN63E",
                "require chip=Merak Four",
                "require storage-gb=64",
                "build=TN63E.5.2608.WHM2",
                "region=WHM",
                "security-patch=2026-03",
                "os-version=15",
            ];
            lines.AddRange(texts.Select(text => Line(text, part)));
        }

        lines.Add(Line("version-baseband=TN63E-R-2608-N", "radio.tar"));
        lines.Add(Line("require version-bootloader=5", "chain.tar"));
        change(lines);
        var contents = clean with { Requirements = lines };
        return PackageReader.Read(fileName, after?.Invoke(contents) ?? contents, Repo.Catalogue);
    }

    private static MatchReport Match(Package package, MatchPolicy? policy = null) => Matcher.Match(Tern, package, Repo.Catalogue, policy);

    [Fact]
    public void A_bundle_whose_parts_say_one_thing_is_go() =>
        Assert.Equal(
            (Verdict.Go, ""),
            (
                Match(Bundle()).Verdict,
                string.Join(" ", Match(Bundle()).Results.Where(result => result.Verdict > Verdict.Go).Select(result => result.Sentence))
            )
        );

    // One statement of one part, changed.
    [Theory]
    [InlineData("require board=TN63W")]
    [InlineData("require board=TN63E|TN63W")]
    [InlineData("require chip=Dolan Major")]
    [InlineData("build=TN63E.5.2609.SRV1")]
    [InlineData("build=TN63E.6.2608.WHM2")]
    [InlineData("build=TN63W.5.2608.WHM2")]
    [InlineData("build=something else")]
    [InlineData("region=SRV")]
    [InlineData("region=ALL")]
    [InlineData("require storage-gb=128")]
    [InlineData("require storage-gb=64|128")]
    [InlineData("version-bootloader=6")]
    [InlineData("version-baseband=TN63W-R-2608-N")]
    [InlineData("version-baseband=TN63E-R-2640-N")]
    [InlineData("device=TN63W")]
    [InlineData("Board=TN63W")]
    public void A_part_of_another_package_is_a_stop_with_both_places_named(string line)
    {
        foreach (var part in new[] { "chain.tar", "system.tar", "radio.tar", "pack.tar", null })
        {
            var report = Match(Bundle(Line(line, part)));
            Assert.Equal(Verdict.Stop, report.Verdict);
            var said = report.Results.Single(result => result.RuleId == "M07");
            Assert.True(said.Verdict == Verdict.Stop, $"{line} in {part}: {said.Sentence}");
        }
    }

    [Theory]
    [InlineData("os-version=14")]
    [InlineData("security-patch=2026-01")]
    public void A_version_that_is_told_in_two_ways_is_cleared_up_first(string line) =>
        Assert.True(Match(Bundle(Line(line, "system.tar"))).Verdict >= Verdict.Ask);

    [Fact]
    public void Whatever_statement_of_whatever_part_is_changed_the_package_is_never_go()
    {
        var count = Bundle().Contents.Requirements.Count;
        string[] others = ["TN63W", "Dolan Major", "128", "TN63E.5.2610.WHM3", "SRV", "2026-09", "16", "TN63E-R-2640-E", "6"];
        for (var i = 0; i < count; i++)
        {
            foreach (var other in others)
            {
                var package = Bundle(lines =>
                {
                    if (!lines[i].Values.SequenceEqual([other]))
                        lines[i] = lines[i] with { Values = [other] };
                });
                Assert.True(Match(package).Verdict != Verdict.Go, $"{Bundle().Contents.Requirements[i]} changed to {other}");
            }
        }
    }

    [Theory]
    [InlineData("require antenna=gold")]
    [InlineData("require storage-gb=plenty")]
    [InlineData("require partition-table=3")]
    public void A_requirement_that_nobody_knows_is_one_that_nobody_has_met(string line)
    {
        var report = Match(Bundle(Line(line)));
        Assert.True(report.Verdict >= Verdict.Ask);
        Assert.Contains(report.Results, result =>
            result.RuleId == "M10" && result.Verdict >= Verdict.Ask && result.Sentence.Contains(line.Split(' ')[1].Split('=')[0])
        );
    }

    // A line of a name that is not known here, and whether its value is another phone's.
    [Theory]
    [InlineData("product=TN63W", true)]
    [InlineData("soc=Dolan Major", true)]
    [InlineData("sold-in=SRV", true)]
    [InlineData("fingerprint=TN63W.5.2608.WHM2", true)]
    [InlineData("product=TN63E", false)]
    [InlineData("soc=Merak Four", false)]
    [InlineData("sold-in=WHM", false)]
    [InlineData("note=made on a Tuesday", false)]
    public void A_line_of_any_name_that_names_another_phone_is_asked_about(string line, bool isOfAnother)
    {
        foreach (var part in new[] { "radio.tar", null })
        {
            var report = Match(Bundle(Line(line, part)));
            Assert.Equal(isOfAnother ? Verdict.Ask : Verdict.Go, report.Verdict);
            if (isOfAnother)
                Assert.Contains(line.Split('=')[1], report.Results.Single(result => result.RuleId == "M07").Sentence);
        }
    }

    [Theory]
    [InlineData("Channel=Beta")]
    [InlineData("release-type=preview")]
    [InlineData("prerelease=yes")]
    [InlineData("note=a pre release for testers")]
    public void A_pre_release_is_one_in_any_spelling_and_place(string line)
    {
        foreach (var part in new[] { "system.tar", null })
            Assert.Equal(Provenance.PreRelease, Bundle(Line("channel=stable"), Line(line, part)).Provenance);
    }

    [Theory]
    [InlineData("Patched_By=root manager 8.2")]
    [InlineData("rooted=yes")]
    [InlineData("patcher=8.2")]
    public void So_is_what_somebody_patched(string line)
    {
        Assert.Equal(Provenance.Patched, Bundle(Line(line, "system.tar")).Provenance);
        Assert.Equal(
            Provenance.Patched,
            Bundle(
                _ => { },
                contents =>
                    contents with
                    {
                        Members =
                        [
                            .. contents.Members.Select(member =>
                                member.Name == "boot.img" ? member with { Name = "boot-patched.img" } : member
                            ),
                        ],
                    }
            ).Provenance
        );
        Assert.Equal(Provenance.Official, Bundle(Line("patched-by=none")).Provenance);
    }
}

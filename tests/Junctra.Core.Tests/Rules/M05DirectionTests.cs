using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision tables of M05, and what a package that goes back means for the plan.</summary>
public class M05DirectionTests
{
    private static Judgement Judge(Package package, bool mayGo, params Fact[] facts) =>
        new M05Direction().Judge(
            new MatchCase(
                Sample.Phone([Sample.Fact(FactName.ModelCode, package.Says(FactName.ModelCode)[0]), .. facts]),
                package,
                OtherCatalogue.WithVelloq,
                new MatchPolicy(DataMayGo: mayGo)
            )
        );

    private static Package Hadrel(string build = "HX204/15.26w10-7.r3", string? patch = null) =>
        Sample.Package(build: build, more: patch is null ? [] : [new RequirementLine("security-patch", [patch], false)]);

    private static Fact Build(string value, FactSource source = FactSource.Link) => Sample.Fact(FactName.Build, value, source);

    [Theory]
    [InlineData("HX204/15.26w10-7.r3", Verdict.Go)]
    [InlineData("hx204/15.26W10-7.R3", Verdict.Go)]
    [InlineData("HX204/15.26w10-6.r3", Verdict.Go)]
    [InlineData("HX204/15.26w09-9.r3", Verdict.Go)]
    [InlineData("HX204/14.26w09-9.r3", Verdict.Go)]
    [InlineData("HX204/15.26w10-8.r3", Verdict.Care)]
    [InlineData("HX204/15.27w01-1.r3", Verdict.Care)]
    public void Builds_of_one_model_are_ordered(string now, Verdict expected)
    {
        var judgement = Judge(Hadrel(), false, Build(now));
        Assert.Equal(expected, judgement.Verdict);
        Assert.Equal(expected == Verdict.Care, judgement.NeedsCleanWrite);
    }

    [Theory]
    [InlineData("16", "2026-01", Verdict.Care)]
    [InlineData("15", "2026-04", Verdict.Care)]
    [InlineData("15", "2026-03", Verdict.Go)]
    [InlineData("14", "2026-02", Verdict.Go)]
    [InlineData("14", "2026-09", Verdict.Care)]
    public void Without_a_build_the_version_and_the_patch_decide(string os, string patch, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                Hadrel(patch: "2026-03"),
                false,
                Sample.Fact(FactName.OsVersion, os, FactSource.Settings),
                Sample.Fact(FactName.SecurityPatch, patch, FactSource.Settings)
            ).Verdict
        );

    // What a boot header says of the version is less than what the build string says, and nothing else.
    [Theory]
    [InlineData("2.6.112", Verdict.Go)]
    [InlineData("2.6.118", Verdict.Go)]
    [InlineData("2.6.121", Verdict.Care)]
    [InlineData("3", Verdict.Care)]
    public void A_coarser_word_for_the_same_version_is_not_older(string os, Verdict expected)
    {
        var package = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "os-version=2");
        Assert.Equal(["2.6.118", "2"], package.Says(FactName.OsVersion));
        Assert.Equal(
            expected,
            Judge(
                package,
                false,
                Sample.Fact(FactName.Build, $"OB17_{(os == "3" ? "3.1.1" : os)}_r04_DNM", FactSource.Settings),
                Sample.Fact(FactName.OsVersion, os, FactSource.Settings)
            ).Verdict
        );
    }

    [Fact]
    public void A_patch_that_goes_back_counts_against_a_newer_build() =>
        Assert.True(
            Judge(
                Hadrel(patch: "2026-02"),
                false,
                Build("HX204/15.26w09-1.r3"),
                Sample.Fact(FactName.SecurityPatch, "2026-03")
            ).NeedsCleanWrite
        );

    [Fact]
    public void A_maker_that_forbids_going_back_makes_it_a_stop()
    {
        var package = Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: OtherCatalogue.WithVelloq);
        Assert.Equal(Verdict.Stop, Judge(package, true, Build("TN63E.5.2609.WHM1")).Verdict);
        Assert.Equal(Verdict.Go, Judge(package, true, Build("TN63E.5.2608.WHM1")).Verdict);
    }

    [Fact]
    public void What_nobody_read_is_asked_for() => Assert.Equal(Verdict.Ask, Judge(Hadrel(), true).Verdict);

    [Fact]
    public void A_phone_that_was_asked_and_does_not_tell_is_care() =>
        Assert.Equal(Verdict.Care, Judge(Hadrel(), true, Sample.Fact(FactName.Serial, "HXB70988")).Verdict);

    [Theory]
    [InlineData(true, Verdict.Go)]
    [InlineData(false, Verdict.Care)]
    public void A_custom_system_has_no_direction_and_its_data_decide(bool mayGo, Verdict expected)
    {
        Assert.Equal(expected, Judge(Hadrel(), mayGo, Build("custom-2.1")).Verdict);
        Assert.Equal(expected, Judge(Hadrel(), mayGo, Sample.Fact(FactName.DeviceStatus, "custom", FactSource.Customer)).Verdict);
    }

    // Where the string was read, and what its status was said to be.
    [Theory]
    [InlineData(FactSource.Settings, null)]
    [InlineData(FactSource.Customer, null)]
    [InlineData(FactSource.Label, "official")]
    [InlineData(FactSource.Link, "official")]
    public void A_build_that_no_grammar_reads_is_not_taken_for_a_custom_system(FactSource source, string? status)
    {
        Fact[] said = status is null ? [] : [Sample.Fact(FactName.DeviceStatus, status)];
        foreach (var mayGo in new[] { true, false })
            Assert.Equal(
                Verdict.Ask,
                Judge(Hadrel(), mayGo, [Sample.Fact(FactName.Build, "HX2O4/15.26w10-7.r3", source), .. said]).Verdict
            );
    }

    [Fact]
    public void Sources_that_disagree_are_both_judged()
    {
        Assert.Equal(
            Verdict.Ask,
            Judge(Hadrel(), false, Build("HX204/15.26w09-1.r3"), Build("HX204/15.26w11-1.r3", FactSource.Settings)).Verdict
        );
        Assert.Equal(
            Verdict.Stop,
            Judge(
                Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: OtherCatalogue.WithVelloq),
                false,
                Build("TN63E.5.2607.WHM2"),
                Build("TN63E.5.2609.WHM2", FactSource.Settings)
            ).Verdict
        );
    }

    [Fact]
    public void A_package_that_says_nothing_of_itself_asks() =>
        Assert.Equal(Verdict.Ask, Judge(Sample.Package(build: "no build of any maker"), true, Build("HX204/15.26w09-1.r3")).Verdict);

    [Fact]
    public void A_package_that_goes_back_is_never_written_over_data()
    {
        var (phone, package) = (Sample.Cairn(more: [Sample.Fact(FactName.SecurityPatch, "2026-09")]), Hadrel(patch: "2026-03"));
        var report = Matcher.Match(phone, package, Repo.Catalogue);
        Assert.True(report.NeedsCleanWrite);
        Assert.Contains(Planned.Compile(phone, package, false, report.NeedsCleanWrite).Refusals, why => why.Contains("user data erased"));
        Assert.Empty(Planned.Compile(phone, package, true, report.NeedsCleanWrite).Refusals);
    }

    [Theory]
    [InlineData("9", "15", -1)]
    [InlineData("15", "15.0", 0)]
    [InlineData("14c", "14b", 1)]
    [InlineData("14", "14b", -1)]
    [InlineData("2026-03", "2026-11", -1)]
    [InlineData("2.6.118", "2.6.99", 1)]
    [InlineData("b", "2", null)]
    [InlineData("", "2", null)]
    public void Versions_are_ordered_as_people_mean_them(string left, string right, int? expected) =>
        Assert.Equal(expected, VersionOrder.Compare(left, right) is { } order ? Math.Sign(order) : null);

    [Fact]
    public void Turning_two_versions_round_turns_the_order_round() =>
        Gen.Select(Gen.String[Gen.Char["0123456789abc.-"], 0, 8], Gen.String[Gen.Char["0123456789abc.-"], 0, 8])
            .Sample((a, b) => Assert.Equal(Sign(VersionOrder.Compare(a, b)), -Sign(VersionOrder.Compare(b, a))));

    private static int? Sign(int? order) => order is { } some ? Math.Sign(some) : null;
}

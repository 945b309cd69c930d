using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests;

/// <summary>Which package comes first, and what is shown where none fits.</summary>
public class RankingTests
{
    [Fact]
    public void Where_nothing_fits_the_nearest_are_shown_and_never_another_phones()
    {
        Package[] library =
        [
            Sample.Package(leaveOut: "recovery"),
            Sample.Package(revision: "2", build: "HX204/14.25w40-3.r2", leaveOut: "recovery"),
            Sample.Package(board: "HX204C", build: "HX204C/15.26w10-4.r3"),
        ];
        var ranked = Matcher.Rank(Sample.Cairn(), library, Repo.Catalogue);
        Assert.Equal(
            ["HX204/15.26w10-7.r3", "HX204/14.25w40-3.r2"],
            Matcher.Nearest(Sample.Cairn(), ranked, Repo.Catalogue).Select(miss => miss.Report.PackageTitle)
        );
        Assert.Empty(
            Matcher.Nearest(Sample.Cairn(), Matcher.Rank(Sample.Cairn(), [.. library, Sample.Package()], Repo.Catalogue), Repo.Catalogue)
        );
        Assert.Empty(Matcher.Nearest(Sample.Cairn(), Matcher.Rank(Sample.Cairn(), library[2..], Repo.Catalogue), Repo.Catalogue));
    }

    [Fact]
    public void The_own_region_comes_before_another_that_the_school_allows()
    {
        Phone phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "TN63E"),
            Sample.Fact(FactName.Serial, "T1"),
            Sample.Fact(FactName.LockState, "unlocked"),
            Sample.Fact(FactName.RollbackFloor, "5"),
            Sample.Fact(FactName.Region, "WHM"),
            Sample.Fact(FactName.Build, "TN63E.5.2601.WHM1")
        );
        Package Of(string build) => PackageReader.Read(build, Sample.Package(board: "TN63E", revision: null, build: build).Contents, Wide);
        var ranked = Matcher.Rank(
            phone,
            [Of("TN63E.5.2609.SRV1"), Of("TN63E.5.2608.WHM1"), Of("TN63E.6.2610.WHM1")],
            Wide,
            new MatchPolicy(RegionSchool.Any)
        );
        Assert.Equal("TN63E.5.2608.WHM1", ranked[0].Package.Title);
        Assert.Equal(Verdict.Stop, Matcher.Rank(phone, [Of("TN63E.5.2609.SRV1")], Wide)[0].Report.Verdict);
    }
}

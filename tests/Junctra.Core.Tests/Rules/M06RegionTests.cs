using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M06.</summary>
public class M06RegionTests
{
    // M06: the phone is of WHM, group north.
    [Theory]
    [InlineData("TN63E.5.2608.WHM2", RegionSchool.Own, Verdict.Go)]
    [InlineData("TN63E.5.2608.KRW2", RegionSchool.Own, Verdict.Stop)]
    [InlineData("TN63E.5.2608.KRW2", RegionSchool.Group, Verdict.Care)]
    [InlineData("TN63E.5.2608.SRV2", RegionSchool.Group, Verdict.Stop)]
    [InlineData("TN63E.5.2608.SRV2", RegionSchool.Any, Verdict.Care)]
    [InlineData("TN63E.5.2608.QQQ2", RegionSchool.Group, Verdict.Stop)]
    [InlineData("HX204/15.26w10-7.r3", RegionSchool.Own, Verdict.Go)]
    public void Regions_are_as_wide_as_the_school(string build, RegionSchool school, Verdict expected)
    {
        var package = Sample.Package(board: build[..5], revision: null, build: build, catalogue: Wide);
        var judgement = Judge(new M06Region(), Of((FactName.Region, "WHM")), package, new MatchPolicy(school), catalogue: Wide);
        Assert.Equal(expected, judgement.Verdict);
        Assert.Equal(expected == Verdict.Care, judgement.NeedsCleanWrite);
        if (expected == Verdict.Stop)
            Assert.Contains("by shop rule: " + school.Label(), judgement.Sentence);
    }

    [Fact]
    public void A_region_that_is_not_known_is_asked_for_on_either_side()
    {
        Assert.Equal(
            Verdict.Ask,
            Judge(
                new M06Region(),
                Of(),
                Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: Wide),
                catalogue: Wide
            ).Verdict
        );
        Assert.Equal(Verdict.Ask, Judge(new M06Region(), Of((FactName.Region, "WHM")), Saying("TN63E", "region"), catalogue: Wide).Verdict);
        Assert.Equal(Verdict.Go, Judge(new M06Region(), Of(), Saying("TN63E", "region", "all"), catalogue: Wide).Verdict);
    }

    [Fact]
    public void Two_claims_on_the_region_take_the_worse()
    {
        var phone = Sample.Phone(Sample.Fact(FactName.Region, "WHM"), Sample.Fact(FactName.Region, "SRV", FactSource.Label));
        var package = Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: Wide);
        Assert.Equal(Verdict.Stop, Judge(new M06Region(), phone, package, catalogue: Wide).Verdict);
        Assert.Equal(Verdict.Ask, Judge(new M06Region(), phone, package, new MatchPolicy(RegionSchool.Any), catalogue: Wide).Verdict);
    }

    [Theory]
    [InlineData("TRB62-N-14c-04-20260311", "WHM", null, RegionSchool.Own, Verdict.Ask)]
    [InlineData("TRB62-N-14c-04-20260311", "WHM", null, RegionSchool.Group, Verdict.Care)]
    [InlineData("TRB62-E-14c-04-20260311", "WHM", null, RegionSchool.Group, Verdict.Stop)]
    [InlineData("TRB62-E-14c-04-20260311", "WHM", null, RegionSchool.Any, Verdict.Care)]
    [InlineData("TRB62-N-14c-04-20260311", null, "north", RegionSchool.Own, Verdict.Ask)]
    [InlineData("TRB62-N-14c-04-20260311", null, "east", RegionSchool.Own, Verdict.Stop)]
    [InlineData("TRB62-N-14c-04-20260311", null, null, RegionSchool.Any, Verdict.Ask)]
    [InlineData("TN63E.5.2608.WHM2", null, "north", RegionSchool.Any, Verdict.Ask)]
    [InlineData("TN63E.5.2608.WHM2", null, "east", RegionSchool.Group, Verdict.Stop)]
    public void A_build_that_tells_its_group_alone_leaves_the_region_open(
        string build,
        string? region,
        string? group,
        RegionSchool school,
        Verdict expected
    ) =>
        Assert.Equal(
            expected,
            Judge(
                new M06Region(),
                Of((FactName.Region, region), (FactName.RegionGroup, group)),
                Sample.Set(build[..5], build),
                new MatchPolicy(school)
            ).Verdict
        );

    [Fact]
    public void A_single_bundle_of_another_region_promises_no_data_and_asks_for_no_wipe()
    {
        var judgement = Judge(
            new M06Region(),
            Of((FactName.Region, "WHM")),
            Sample.Set("TN41E", "TN41E.2.2624.KRW1"),
            new MatchPolicy(RegionSchool.Group)
        );
        Assert.Equal((Verdict.Care, false), (judgement.Verdict, judgement.NeedsCleanWrite));
        Assert.Equal(
            [ConsequenceKind.RegionApps, ConsequenceKind.DataNotPromised],
            judgement.Consequences.Select(consequence => consequence.Kind)
        );
    }
}

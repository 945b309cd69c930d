using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Decision tables of M02, M06 and M09, and what is shown when nothing fits.</summary>
public class WiderRuleTests
{
    private static readonly ModelCatalogue Catalogue = OtherCatalogue.WithVelloq;

    private static Judgement Judge(IMatchRule rule, Phone phone, Package package, RegionSchool school = RegionSchool.Own) =>
        rule.Judge(new MatchCase(phone, package, Catalogue, new MatchPolicy(school)));

    private static Phone Of(params (FactName Name, string Value)[] facts) =>
        Sample.Phone([.. facts.Select(fact => Sample.Fact(fact.Name, fact.Value))]);

    private static Package Saying(string board, string name, params string[] values) =>
        Sample.Package(board: board, build: "none", more: values.Length == 0 ? [] : [new RequirementLine(name, values, true)]);

    // M02: phone's chip, phone's model, package's chip, package's model.
    [Theory]
    [InlineData(null, "HX204", null, "HX204", Verdict.Go)]
    [InlineData(null, "HX204", "Dolan Major", "HX204", Verdict.Go)]
    [InlineData(null, "HX204", "Dolan Minor", "HX204", Verdict.Stop)]
    [InlineData("Dolan Minor", "HX204", null, "HX204", Verdict.Stop)]
    [InlineData(null, "TN63E", null, "TN63W", Verdict.Stop)]
    [InlineData("dolan major", null, null, "HX204", Verdict.Go)]
    [InlineData(null, null, null, "HX204", Verdict.Ask)]
    [InlineData(null, "HX204", null, "ZZ999", Verdict.Ask)]
    [InlineData(null, "ZZ999", null, "HX204", Verdict.Ask)]
    public void Software_of_another_chip_family_stops(string? chip, string? model, string? theirChip, string theirModel, Verdict expected)
    {
        List<Fact> facts = [];
        if (chip is not null)
            facts.Add(Sample.Fact(FactName.ChipFamily, chip));
        if (model is not null)
            facts.Add(Sample.Fact(FactName.ModelCode, model));
        Assert.Equal(
            expected,
            Judge(new M02Chip(), new Phone(facts), Saying(theirModel, "chip", theirChip is null ? [] : [theirChip])).Verdict
        );
    }

    [Fact]
    public void A_board_that_is_not_the_models_is_in_doubt_even_where_the_package_takes_both()
    {
        var package = Saying("HX204", "chip", "Dolan Major", "Dolan Minor");
        Assert.Equal(Verdict.Go, Judge(new M02Chip(), Of((FactName.ModelCode, "HX204")), package).Verdict);
        Assert.Equal(
            Verdict.Ask,
            Judge(new M02Chip(), Of((FactName.ModelCode, "HX204"), (FactName.ChipFamily, "Dolan Minor")), package).Verdict
        );
    }

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
        var package = Sample.Package(board: build[..5], revision: null, build: build, catalogue: Catalogue);
        var judgement = Judge(new M06Region(), Of((FactName.Region, "WHM")), package, school);
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
                Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: Catalogue)
            ).Verdict
        );
        Assert.Equal(Verdict.Ask, Judge(new M06Region(), Of((FactName.Region, "WHM")), Saying("TN63E", "region")).Verdict);
        Assert.Equal(Verdict.Go, Judge(new M06Region(), Of(), Saying("TN63E", "region", "all")).Verdict);
    }

    [Fact]
    public void Two_claims_on_the_region_take_the_worse()
    {
        var phone = Sample.Phone(Sample.Fact(FactName.Region, "WHM"), Sample.Fact(FactName.Region, "SRV", FactSource.Label));
        var package = Sample.Package(board: "TN63E", revision: null, build: "TN63E.5.2608.WHM2", catalogue: Catalogue);
        Assert.Equal(Verdict.Stop, Judge(new M06Region(), phone, package).Verdict);
        Assert.Equal(Verdict.Ask, Judge(new M06Region(), phone, package, RegionSchool.Any).Verdict);
    }

    [Theory]
    [InlineData("HX204", null, Verdict.Go)]
    [InlineData("HX204", "recovery", Verdict.Stop)]
    [InlineData("ZZ999", null, Verdict.Ask)]
    public void A_full_write_needs_every_stock_image(string model, string? missing, Verdict expected)
    {
        var judgement = Judge(new M09Complete(), Of((FactName.ModelCode, model)), Sample.Package(leaveOut: missing));
        Assert.Equal(expected, judgement.Verdict);
        if (missing is not null)
            Assert.Contains(missing, judgement.Sentence);
    }

    [Fact]
    public void What_is_no_package_of_a_known_kind_is_never_written() =>
        Assert.Equal(
            Verdict.Stop,
            Judge(
                new M09Complete(),
                Sample.Cairn(),
                PackageReader.Read("x", Sample.Package().Contents with { Requirements = [] }, Catalogue)
            ).Verdict
        );

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
        Package Of(string build) =>
            PackageReader.Read(build, Sample.Package(board: "TN63E", revision: null, build: build).Contents, Catalogue);
        var ranked = Matcher.Rank(
            phone,
            [Of("TN63E.5.2609.SRV1"), Of("TN63E.5.2608.WHM1"), Of("TN63E.6.2610.WHM1")],
            Catalogue,
            new MatchPolicy(RegionSchool.Any)
        );
        Assert.Equal("TN63E.5.2608.WHM1", ranked[0].Package.Title);
        Assert.Equal(Verdict.Stop, Matcher.Rank(phone, [Of("TN63E.5.2609.SRV1")], Catalogue)[0].Report.Verdict);
    }
}

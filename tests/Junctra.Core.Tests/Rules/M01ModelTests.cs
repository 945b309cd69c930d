using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M01.</summary>
public class M01ModelTests
{
    [Fact]
    public void The_exact_model_goes() => Assert.Equal(Verdict.Go, Judge(new M01Model(), Sample.Cairn(), Sample.Package()).Verdict);

    [Theory]
    [InlineData("HX204C")]
    [InlineData("HX20")]
    [InlineData("HX2O4")]
    public void Another_code_stops_however_near_it_is(string board) =>
        Assert.Equal(Verdict.Stop, Judge(new M01Model(), Sample.Cairn(), Sample.Package(board: board, build: "none")).Verdict);

    [Fact]
    public void The_same_product_name_with_another_code_stops_and_says_so()
    {
        var hadrel = Repo.Catalogue.Makers[0];
        var twin = hadrel.Models[0] with { Code = "HX204W" };
        var catalogue = new ModelCatalogue(
            [hadrel with { Models = [.. hadrel.Models, twin] }],
            [Repo.Catalogue.KeyFamilyOf(twin)],
            [],
            Repo.Catalogue.Figures
        );
        var judgement = Judge(new M01Model(), Sample.Cairn(), Sample.Package(board: "HX204W", build: "none"), catalogue: catalogue);
        Assert.Equal(Verdict.Stop, judgement.Verdict);
        Assert.Contains("Also called Cairn", judgement.Sentence);
    }

    [Fact]
    public void An_unknown_model_asks() => Assert.Equal(Verdict.Ask, Judge(new M01Model(), Sample.Phone(), Sample.Package()).Verdict);

    [Fact]
    public void A_conflict_on_the_model_is_judged_for_each_claim()
    {
        var swapped = Sample.Cairn(more: Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Label));
        Assert.Equal(Verdict.Stop, Judge(new M01Model(), swapped, Sample.Package()).Verdict);
        var both = Sample.Package(board: "HX204", more: [new RequirementLine("board", ["HX204C"], true)]);
        var judgement = Judge(new M01Model(), swapped, both);
        Assert.Equal(Verdict.Ask, judgement.Verdict);
        Assert.Contains("label or box", judgement.Sentence);
    }

    [Fact]
    public void Pairs_that_look_right_and_are_not_have_a_sentence_of_their_own()
    {
        Assert.Contains(
            "differ in one character only",
            Judge(new M01Model(), Of((FactName.ModelCode, "HX204")), Sample.Set("HX204C", "none")).Sentence
        );
        Assert.Contains(
            "Also called Tern 6",
            Judge(new M01Model(), Of((FactName.ModelCode, "TN63E")), Sample.Set("TN63W", "none")).Sentence
        );
        Assert.Contains(
            "reads like 5 written twice",
            Judge(
                new M04Revision(),
                Of((FactName.ModelCode, "TN63E"), (FactName.RollbackFloor, "5")),
                Sample.Set("TN63E", "TN63E.55.2608.WHM2")
            ).Sentence
        );
        var regions = Repo.Catalogue.Regions.Append(new Region("WHN", "Whinholm", "north")).ToList();
        var wider = new ModelCatalogue(Repo.Catalogue.Makers, [], regions, Repo.Catalogue.Figures);
        Assert.Contains(
            "differ in one letter only",
            Judge(
                new M06Region(),
                Of((FactName.Region, "WHM")),
                Sample.Set("TN63E", "TN63E.5.2608.WHN2", catalogue: wider),
                catalogue: wider
            ).Sentence
        );
    }

    /// <summary>A single image that names nothing is known by the package in which the very same bytes lie.</summary>
    [Fact]
    public void An_image_that_names_no_model_is_known_by_the_proven_package_in_which_it_lies()
    {
        var image = Sample.Set("", "none", only: ["recovery"], published: false);
        var update = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM", only: ["boot", "recovery"]);
        var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "OB17"));
        Assert.Empty(image.Says(FactName.ModelCode));
        Assert.Equal((Verdict.Go, Verdict.Go), Both([image, update]));
        Assert.Contains("lies byte for byte in", Said(new M01Model(), [image, update]).Sentence);
        // Alone, or beside a package of which nobody says whose it is, it stays unknown.
        Assert.Equal((Verdict.Ask, Verdict.Ask), Both([image]));
        Assert.Equal((Verdict.Ask, Verdict.Ask), Both([image, Sample.Set("OB17", "OB17_2.6.118_r04_DNM", published: false)]));
        Assert.Equal(Verdict.Stop, Said(new M01Model(), [image, Sample.Set("HX204", "HX204/15.26w10-7.r3")]).Verdict);

        (Verdict, Verdict) Both(Package[] library) => (Said(new M01Model(), library).Verdict, Said(new M02Chip(), library).Verdict);

        Judgement Said(IMatchRule rule, Package[] library) =>
            rule.Judge(new MatchCase(phone, image, Repo.Catalogue, MatchPolicy.Careful, new Surroundings(library, Repo.Catalogue)));
    }
}

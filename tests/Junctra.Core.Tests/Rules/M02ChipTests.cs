using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M02.</summary>
public class M02ChipTests
{
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
            Judge(
                new M02Chip(),
                new Phone(facts),
                Saying(theirModel, "chip", theirChip is null ? [] : [theirChip]),
                catalogue: Wide
            ).Verdict
        );
    }

    [Fact]
    public void A_board_that_is_not_the_models_is_in_doubt_even_where_the_package_takes_both()
    {
        var package = Saying("HX204", "chip", "Dolan Major", "Dolan Minor");
        Assert.Equal(Verdict.Go, Judge(new M02Chip(), Of((FactName.ModelCode, "HX204")), package, catalogue: Wide).Verdict);
        Assert.Equal(
            Verdict.Ask,
            Judge(new M02Chip(), Of((FactName.ModelCode, "HX204"), (FactName.ChipFamily, "Dolan Minor")), package, catalogue: Wide).Verdict
        );
    }
}

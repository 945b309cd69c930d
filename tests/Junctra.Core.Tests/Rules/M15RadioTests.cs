using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M15.</summary>
public class M15RadioTests
{
    // M15: the model (by its maker: older ones taken with care, allowed, refused), the package's radio, the phone's, the phone's region.
    [Theory]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w05", null, Verdict.Go)]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w06", null, Verdict.Go)]
    [InlineData("HX204", "HX204-R-26w06", "HX204-R-26w07", null, Verdict.Care)]
    [InlineData("HX204", "HX204-R-26w06", null, null, Verdict.Ask)]
    [InlineData("HX204", null, "HX204-R-26w06", null, Verdict.Ask)]
    [InlineData("HX204", "HX204-R-26w06", "gibberish", null, Verdict.Care)]
    [InlineData("TN63E", "TN63E-R-2608-N", "TN63E-R-2640-N", "WHM", Verdict.Go)]
    [InlineData("TN63E", "TN63E-R-2608-N", null, "KRW", Verdict.Go)]
    [InlineData("TN63E", "TN63E-R-2608-N", null, null, Verdict.Ask)]
    [InlineData("TN63E", "TN63E-R-2608-E", null, "WHM", Verdict.Care)]
    [InlineData("TN63E", null, null, "WHM", Verdict.Ask)]
    [InlineData("TN63E", "gibberish", null, "WHM", Verdict.Ask)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "gibberish", "WHM", Verdict.Ask)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260310", "WHM", Verdict.Go)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260311", "WHM", Verdict.Go)]
    [InlineData("TRB62", "TRB62-R-N-20260311", "TRB62-R-N-20260312", "WHM", Verdict.Stop)]
    [InlineData("TRB62", "TRB62-R-N-20260311", null, "WHM", Verdict.Ask)]
    [InlineData("TRB62", null, "TRB62-R-N-20260311", "WHM", Verdict.Ask)]
    [InlineData("OB17", "anything", "else", null, Verdict.Go)]
    [InlineData(null, "HX204-R-26w06", "HX204-R-26w07", null, Verdict.Ask)]
    public void A_radio_serves_the_regions_networks_and_does_not_go_back(
        string? model,
        string? theirs,
        string? ours,
        string? region,
        Verdict expected
    )
    {
        var package = Sample.Set(model ?? "HX204", "none", theirs is null ? "" : $"version-baseband={theirs}");
        Assert.Equal(
            expected,
            Judge(new M15Radio(), Of((FactName.ModelCode, model), (FactName.RadioBuild, ours), (FactName.Region, region)), package).Verdict
        );
    }

    [Fact]
    public void What_brings_no_radio_is_not_judged_by_one() =>
        Assert.Equal(
            Verdict.Go,
            Judge(new M15Radio(), Of((FactName.ModelCode, "TRB62")), Sample.Set("TRB62", "none", only: ["boot", "system"])).Verdict
        );

    [Fact]
    public void Two_readings_of_the_radio_ask()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204"),
            Sample.Fact(FactName.RadioBuild, "HX204-R-26w01"),
            Sample.Fact(FactName.RadioBuild, "HX204-R-26w02", FactSource.Settings)
        );
        Assert.Equal(Verdict.Ask, Judge(new M15Radio(), phone, Sample.Set("HX204", "none", "version-baseband=HX204-R-26w06")).Verdict);
    }
}

using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M03.</summary>
public class M03CarrierTests
{
    // M03: the phone's model, its lock as a fact, the package's model.
    [Theory]
    [InlineData("TN41E", null, "TN41E", Verdict.Go)]
    [InlineData("TN41K", null, "TN41K", Verdict.Ask)]
    [InlineData("TN41K", null, "TN41E", Verdict.Stop)]
    [InlineData("TN41E", null, "TN41K", Verdict.Stop)]
    [InlineData("TN41E", "yes", "TN41E", Verdict.Stop)]
    [InlineData("TN41K", "no", "TN41E", Verdict.Ask)]
    [InlineData(null, "no", "TN41E", Verdict.Go)]
    [InlineData(null, null, "TN41E", Verdict.Ask)]
    [InlineData("ZZ999", null, "TN41E", Verdict.Ask)]
    [InlineData("TN41E", null, "ZZ999", Verdict.Ask)]
    [InlineData("TN41E", "no", "", Verdict.Ask)]
    public void A_carriers_software_is_for_the_carriers_phones(string? model, string? locked, string theirs, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(new M03Carrier(), Of((FactName.ModelCode, model), (FactName.CarrierLocked, locked)), PackageOf(theirs, "none")).Verdict
        );

    [Fact]
    public void A_package_for_a_carriers_region_is_the_carriers_whatever_its_model() =>
        Assert.Equal(
            Verdict.Stop,
            Judge(new M03Carrier(), Of((FactName.ModelCode, "TN41E")), PackageOf("TN41E", "TN41E.2.2610.LNT1")).Verdict
        );

    [Fact]
    public void A_code_that_is_sold_both_ways_is_asked_for_and_then_taken_with_care()
    {
        var maker = Repo.Catalogue.MakerOf("TN41K")!;
        var both = new ModelCatalogue(
            [maker with { Models = [.. maker.Models.Select(model => model.Code == "TN41K" ? model with { SoldBothWays = true } : model)] }],
            [],
            Repo.Catalogue.Regions,
            Repo.Catalogue.Figures
        );
        Assert.Equal(
            Verdict.Ask,
            Judge(new M03Carrier(), Of((FactName.ModelCode, "TN41K")), PackageOf("TN41K", "none"), catalogue: both).Verdict
        );
        Assert.Equal(
            Verdict.Care,
            Judge(
                new M03Carrier(),
                Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "no")),
                PackageOf("TN41K", "none"),
                catalogue: both
            ).Verdict
        );
        var lockedTakesOpen = Judge(
            new M03Carrier(),
            Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "yes")),
            PackageOf("TN41K", "TN41K.2.2610.WHM1"),
            catalogue: both
        );
        Assert.Equal(Verdict.Care, lockedTakesOpen.Verdict);
        Assert.Contains("The phone is locked to a carrier", lockedTakesOpen.Sentence);
        Assert.Equal(
            Verdict.Go,
            Judge(
                new M03Carrier(),
                Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "no")),
                PackageOf("TN41K", "TN41K.2.2610.WHM1"),
                catalogue: both
            ).Verdict
        );
    }
}

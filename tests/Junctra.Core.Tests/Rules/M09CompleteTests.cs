using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M09.</summary>
public class M09CompleteTests
{
    [Theory]
    [InlineData("HX204", null, Verdict.Go)]
    [InlineData("HX204", "recovery", Verdict.Stop)]
    [InlineData("ZZ999", null, Verdict.Ask)]
    public void A_full_write_needs_every_stock_image(string model, string? missing, Verdict expected)
    {
        var judgement = Judge(new M09Complete(), Of((FactName.ModelCode, model)), Sample.Package(leaveOut: missing), catalogue: Wide);
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
                PackageReader.Read("x", Sample.Package().Contents with { Requirements = [] }, Wide),
                catalogue: Wide
            ).Verdict
        );

    // M09 by kind and goal.
    [Theory]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM", null, JobGoal.Stock, Verdict.Go)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM", "boot", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM", "", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "post-build=OB17_2.6.118_r04_DNM pre-build=OB17_2.6.112_r04_DNM", "", JobGoal.Update, Verdict.Go)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot system", JobGoal.Stock, Verdict.Go)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "backup-serial=A taken=2026-02-14 system=stock", "boot system", JobGoal.Update, Verdict.Stop)]
    [InlineData("OB17", "", "recovery", JobGoal.Stock, Verdict.Stop)]
    [InlineData("OB17", "", "recovery", JobGoal.Recovery, Verdict.Go)]
    [InlineData("OB17", "", "boot", JobGoal.Recovery, Verdict.Stop)]
    [InlineData("TN63E", "", "system boot", JobGoal.Stock, Verdict.Stop)]
    public void What_is_needed_depends_on_what_it_is_for(string model, string lines, string? only, JobGoal goal, Verdict expected)
    {
        var package = Sample.Set(
            model,
            model == "OB17" ? "OB17_2.6.118_r04_DNM" : "TN63E.5.2608.WHM2",
            lines,
            only: only?.Split(' ', StringSplitOptions.RemoveEmptyEntries)
        );
        Assert.Equal(expected, Judge(new M09Complete(), Of((FactName.ModelCode, model)), package, new MatchPolicy { Goal = goal }).Verdict);
    }

    [Theory]
    [InlineData(false, Verdict.Care)]
    [InlineData(true, Verdict.Go)]
    public void A_bundle_with_the_clean_pack_alone_costs_the_data(bool mayGo, Verdict expected)
    {
        var judgement = Judge(
            new M09Complete(),
            Of((FactName.ModelCode, "TN63E")),
            Sample.Bundle("TN63E.5.2608.WHM2", keepPack: false),
            new MatchPolicy(DataMayGo: mayGo)
        );
        Assert.Equal((expected, !mayGo), (judgement.Verdict, judgement.NeedsCleanWrite));
    }
}

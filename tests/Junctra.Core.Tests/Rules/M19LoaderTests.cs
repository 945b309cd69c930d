using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M19.</summary>
public class M19LoaderTests
{
    // M19: the model (TN63W's loader supports up to 6), the mode, the finding, the revision and where it comes from.
    [Theory]
    [InlineData("TN63W", "emergency", false, "5", FactSource.Logbook, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "6", FactSource.Logbook, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "7", FactSource.Logbook, Verdict.Stop)]
    [InlineData("TN63W", "emergency", false, "6", FactSource.Link, Verdict.Go)]
    [InlineData("TN63W", "emergency", false, "7", FactSource.Link, Verdict.Stop)]
    [InlineData("TN63W", "emergency", false, null, FactSource.Link, Verdict.Ask)]
    [InlineData("TN63W", "off", true, "7", FactSource.Label, Verdict.Stop)]
    [InlineData("TN63W", "off", false, "7", FactSource.Label, Verdict.Go)]
    [InlineData("TN63W", "download", true, "7", FactSource.Label, Verdict.Go)]
    [InlineData("TN41E", "emergency", false, "1", FactSource.Link, Verdict.Ask)]
    [InlineData(null, "emergency", false, "1", FactSource.Link, Verdict.Ask)]
    public void A_loader_must_support_the_revision_before_anything_is_opened(
        string? model,
        string mode,
        bool found,
        string? revision,
        FactSource source,
        Verdict expected
    )
    {
        List<Fact> facts = [Sample.Fact(FactName.Mode, mode)];
        if (model is not null)
            facts.Add(Sample.Fact(FactName.ModelCode, model));
        if (revision is not null)
            facts.Add(Sample.Fact(FactName.RollbackFloor, revision, source));
        Assert.Equal(
            expected,
            Judge(
                new M19Loader(),
                new Phone(facts),
                Sample.Set("TN63W", "TN63W.6.2612.WHM1"),
                new MatchPolicy { NeedsBoardRescue = found }
            ).Verdict
        );
    }

    [Fact]
    public void A_revision_from_before_a_write_counts_for_the_loader()
    {
        var phone = new Phone(
            [Sample.Fact(FactName.ModelCode, "TN63W"), Sample.Fact(FactName.Mode, "emergency")],
            earlier: [Sample.Fact(FactName.BootloaderRevision, "7")]
        );
        Assert.Equal(Verdict.Stop, Judge(new M19Loader(), phone, Sample.Set("TN63W", "TN63W.6.2612.WHM1")).Verdict);
    }
}

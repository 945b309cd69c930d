using Junctra.Core.Facts;
using Junctra.Core.Matching;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M14.</summary>
public class M14ReachableTests
{
    [Theory]
    [InlineData("HX204", "fastboot", null, Verdict.Go)]
    [InlineData("HX204", "system", "yes", Verdict.Go)]
    [InlineData("HX204", "boot-loop", null, Verdict.Go)]
    [InlineData("HX204", "system", "no", Verdict.Ask)]
    [InlineData("HX204", "emergency", null, Verdict.Ask)]
    [InlineData("HX204C", "emergency", null, Verdict.Stop)]
    [InlineData("ZZ999", "system", null, Verdict.Ask)]
    [InlineData(null, "system", null, Verdict.Ask)]
    public void The_write_mode_must_be_within_reach(string? model, string mode, string? reached, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M14Reachable(),
                Of((FactName.ModelCode, model), (FactName.Mode, mode), (FactName.Reached(PhoneMode.Fastboot), reached)),
                PackageOf("HX204", "none")
            ).Verdict
        );
}

using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M08.</summary>
public class M08ProvenanceTests
{
    [Theory]
    [InlineData("", true, Verdict.Go)]
    [InlineData("", false, Verdict.Care)]
    [InlineData("channel=stable", true, Verdict.Go)]
    [InlineData("channel=preview", true, Verdict.Care)]
    [InlineData("patched-by=somebody", true, Verdict.Stop)]
    public void What_is_not_proved_to_be_the_makers_is_taken_with_care(string lines, bool published, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(new M08Provenance(), Sample.Cairn(), PackageOf("HX204", "HX204/15.26w10-7.r3", lines, published)).Verdict
        );
}

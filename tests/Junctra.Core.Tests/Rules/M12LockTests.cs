using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M12.</summary>
public class M12LockTests
{
    [Theory]
    [InlineData("unlocked", Verdict.Go)]
    [InlineData("locked", Verdict.Stop)]
    public void The_lock_decides_in_fastboot_mode(string state, Verdict expected) =>
        Assert.Equal(expected, Judge(new M12Lock(), Sample.Cairn(lockState: state), Sample.Package()).Verdict);

    [Fact]
    public void An_unknown_lock_asks() => Assert.Equal(Verdict.Ask, Judge(new M12Lock(), Sample.Phone(), Sample.Package()).Verdict);

    // M12: the model, the lock, whether the package is proved to be the maker's.
    [Theory]
    [InlineData("HX204", "unlocked", true, Verdict.Go)]
    [InlineData("HX204", "locked", true, Verdict.Stop)]
    [InlineData("HX204", null, true, Verdict.Ask)]
    [InlineData("TN63E", "locked", true, Verdict.Go)]
    [InlineData("TN63E", null, true, Verdict.Go)]
    [InlineData("TN63E", "locked", false, Verdict.Stop)]
    [InlineData("TN63E", "unlocked", false, Verdict.Care)]
    [InlineData("TN63E", null, false, Verdict.Ask)]
    public void Modes_ask_different_things_of_the_lock(string model, string? state, bool published, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M12Lock(),
                Of((FactName.ModelCode, model), (FactName.LockState, state)),
                PackageOf(model, "none", published: published)
            ).Verdict
        );
}

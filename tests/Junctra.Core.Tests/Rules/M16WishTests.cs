using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M16.</summary>
public class M16WishTests
{
    // M16: the wish, the package's build; the phone's floor is 5, and a build 5.2620 of WHM and 6.2630 of SRV lie beside it.
    [Theory]
    [InlineData("none", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2608.WHM2", Verdict.Stop)]
    [InlineData("newest", "TN63E.5.2620.WHM1", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2621.WHM1", Verdict.Go)]
    [InlineData("newest", "TN63E.5.2608.KRW1", Verdict.Go)]
    [InlineData("newest", "gibberish", Verdict.Ask)]
    [InlineData("exactly TN63E.5.2608.WHM2", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("exactly TN63E.5.2608.WHM2", "TN63E.5.2608.WHM3", Verdict.Stop)]
    [InlineData("exactly TN63E.5.2608.WHM2", "gibberish", Verdict.Ask)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2607.WHM9", Verdict.Go)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.WHM3", Verdict.Stop)]
    [InlineData("not-above TN63E.5.2608.WHM2", "TN63E.5.2608.KRW3", Verdict.Ask)]
    [InlineData("not-above TN63E.5.2608.WHM2", "gibberish", Verdict.Ask)]
    [InlineData("same-revision", "TN63E.4.2536.WHM1", Verdict.Stop)]
    [InlineData("same-revision", "TN63E.5.2608.WHM2", Verdict.Go)]
    [InlineData("same-revision", "TN63E.6.2630.WHM1", Verdict.Stop)]
    [InlineData("same-revision", "gibberish", Verdict.Ask)]
    public void A_wish_for_a_version_holds_or_stops(string wish, string build, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                Of((FactName.ModelCode, "TN63E"), (FactName.RollbackFloor, "5")),
                Sample.Set("TN63E", build),
                new MatchPolicy { Wish = GoalWords.ReadWish(wish)! },
                null,
                Sample.Set("TN63E", "TN63E.5.2620.WHM1"),
                Sample.Set("TN63E", "TN63E.6.2630.SRV1")
            ).Verdict
        );

    // The wish for an OS version, and what the package says.
    [Theory]
    [InlineData("exactly 14", "14", Verdict.Go)]
    [InlineData("exactly 14", "14.2", Verdict.Go)]
    [InlineData("exactly 14", "15", Verdict.Stop)]
    [InlineData("exactly 14.2", "14", Verdict.Stop)]
    [InlineData("exactly 14", null, Verdict.Ask)]
    [InlineData("not-above 14", "13", Verdict.Go)]
    [InlineData("not-above 14", "14", Verdict.Go)]
    [InlineData("not-above 14", "14.9", Verdict.Go)]
    [InlineData("not-above 14", "15", Verdict.Stop)]
    [InlineData("not-above 14", null, Verdict.Ask)]
    public void A_wish_may_be_for_an_os_version(string wish, string? os, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                Of(),
                Sample.Set("TN63E", "none", os is null ? "" : $"os-version={os}"),
                new MatchPolicy { Wish = GoalWords.ReadWish(wish)! }
            ).Verdict
        );

    [Theory]
    [InlineData("TN63E", null, FactSource.Link, Verdict.Ask)]
    [InlineData("TN63E", "5", FactSource.Label, Verdict.Ask)]
    [InlineData("TN63E", "6", FactSource.Label, Verdict.Stop)]
    [InlineData("OB17", null, FactSource.Link, Verdict.Go)]
    public void The_same_revision_is_that_of_a_floor_that_was_read(string model, string? floor, FactSource source, Verdict expected)
    {
        List<Fact> facts = [Sample.Fact(FactName.ModelCode, model)];
        if (floor is not null)
            facts.Add(Sample.Fact(FactName.RollbackFloor, floor, source));
        Assert.Equal(
            expected,
            Judge(
                new M16Wish(),
                new Phone(facts),
                Sample.Set(model, "TN63E.5.2608.WHM2"),
                new MatchPolicy { Wish = new VersionWish(WishKind.SameRevision) }
            ).Verdict
        );
    }

    [Fact]
    public void A_damaged_newer_build_stands_in_nobodys_way()
    {
        var newer = Sample.Set("TN63E", "TN63E.5.2620.WHM1");
        var damaged = PackageReader.Read(
            "x.tar",
            newer.Contents with
            {
                Findings = [new PackageFinding(FindingWeight.Fatal, "Cut off.")],
            },
            Repo.Catalogue
        );
        Assert.Equal(
            Verdict.Go,
            Judge(
                new M16Wish(),
                Of(),
                Sample.Set("TN63E", "TN63E.5.2608.WHM2"),
                new MatchPolicy { Wish = new VersionWish(WishKind.Newest) },
                null,
                damaged
            ).Verdict
        );
    }
}

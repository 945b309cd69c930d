using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests;

/// <summary>What would open a package that may not be written, and that no less would.</summary>
public class NearMissTests
{
    [Fact]
    public void A_missing_reading_is_named_with_its_minutes_and_what_it_would_have_to_be()
    {
        var phone = Sample.Phone([
            .. Sample.Cairn().All.Where(fact => fact.Name != FactName.RollbackFloor && fact.Name != FactName.LockState),
        ]);
        var miss = NearMisses.Of(phone, Sample.Package(), Repo.Catalogue, MatchPolicy.Careful);
        Assert.Equal([FactName.RollbackFloor, FactName.LockState], miss.Changes.Select(change => change.Fact!.Value));
        Assert.All(miss.Changes, change => Assert.Contains("min. It opens if that is", change.Sentence));
        Assert.Null(miss.NoWay);
    }

    [Fact]
    public void A_shop_rule_is_named_where_it_alone_stands_between()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "TN41E"),
            Sample.Fact(FactName.Region, "WHM"),
            Sample.Fact(FactName.LockState, "locked"),
            Sample.Fact(FactName.RollbackFloor, "2"),
            Sample.Fact(FactName.Build, "TN41E.2.2610.WHM1"),
            Sample.Fact(FactName.DeviceStatus, "official"),
            Sample.Fact(FactName.OsVersion, "11"),
            Sample.Fact(FactName.Mode, "system")
        );
        var package = PackageOf("TN41E", "TN41E.2.2624.KRW1", "version-baseband=TN41E-R-2624-N");
        var miss = NearMisses.Of(phone, package, Repo.Catalogue, MatchPolicy.Careful);
        Assert.Equal(["group"], miss.Changes.Select(change => change.School!.Id));
        var region = miss.Report.Results.Single(result => result.RuleId == "M06");
        Assert.Equal(
            [("same group", Verdict.Care), ("any for this model", Verdict.Care)],
            region.OtherSchools!.Select(other => (other.School, other.Verdict))
        );
        Assert.All(miss.Report.Results.Where(result => result.RuleId != "M06"), result => Assert.Null(result.OtherSchools));
    }

    [Theory]
    [InlineData("TN41S")]
    [InlineData("HX204")]
    public void Where_nothing_helps_the_reason_is_said(string model)
    {
        var miss = NearMisses.Of(
            Of((FactName.ModelCode, model)),
            PackageOf("TN41E", "TN41E.2.2610.WHM1"),
            Repo.Catalogue,
            MatchPolicy.Careful
        );
        Assert.Empty(miss.Changes);
        Assert.Contains("not " + model, miss.NoWay);
    }

    [Fact]
    public void The_changes_that_are_named_do_open_it_and_no_smaller_set_does() =>
        MatchCases.All.Sample(
            one =>
            {
                var miss = NearMisses.Of(one.Phone, one.Package, Repo.Catalogue, one.Policy);
                if (miss.Report.MayBeChosen)
                {
                    Assert.Empty(miss.Changes);
                    return;
                }

                var all = NearMisses.ChangesFor(one.Phone, one.Package, Repo.Catalogue, one.Policy);
                if (miss.NoWay is null)
                    Assert.True(NearMisses.Opens(one.Phone, one.Package, Repo.Catalogue, one.Policy, miss.Changes));
                var most = miss.NoWay is null ? miss.Changes.Count - 1 : 4;
                // Every smaller set, made here in another way: by the bits of a number.
                Assert.InRange(all.Count, 1, 21);
                for (var bits = 0; bits < 1 << all.Count; bits++)
                {
                    if (System.Numerics.BitOperations.PopCount((uint)bits) > most)
                        continue;
                    var set = all.Where((_, i) => (bits >> i & 1) == 1).ToList();
                    if (set.GroupBy(change => change.Settles).Any(group => group.Count() > 1))
                        continue;
                    Assert.False(
                        NearMisses.Opens(one.Phone, one.Package, Repo.Catalogue, one.Policy, set),
                        string.Join(" ", set.Select(change => change.Sentence))
                    );
                }
            },
            iter: Sampled.Of(150, 20)
        );
}

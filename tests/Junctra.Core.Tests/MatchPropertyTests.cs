using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests;

/// <summary>What holds for every phone, package and shop rule.</summary>
public class MatchPropertyTests
{
    [Fact]
    public void A_bound_of_the_floor_alone_never_lets_anything_be_written()
    {
        var phone = Sample.Phone([.. Sample.Cairn().All.Where(fact => fact.Name != FactName.RollbackFloor)]);
        foreach (var build in new[] { "HX204/14.25w40-3.r2", "HX204/15.26w10-7.r3", "HX204/15.26w30-2.r4" })
            Assert.True(Matcher.Match(phone, Sample.Package(revision: build[^1..], build: build), Repo.Catalogue).Verdict >= Verdict.Ask);
    }

    [Fact]
    public void A_stricter_school_and_a_fact_less_never_make_it_better() =>
        MatchCases.All.Sample(one =>
        {
            var verdict = Matcher.Match(one.Phone, one.Package, Repo.Catalogue, one.Policy).Verdict;
            foreach (var school in Enum.GetValues<RegionSchool>().Where(school => school < one.Policy.Region))
                Assert.True(Matcher.Match(one.Phone, one.Package, Repo.Catalogue, one.Policy with { Region = school }).Verdict >= verdict);
            if (verdict != Verdict.Stop)
                return;
            // What one fact forbids another claim of it may have allowed all along; a whole fact less is never a permission.
            foreach (var name in one.Phone.Names.ToList())
                Assert.NotEqual(
                    Verdict.Go,
                    Matcher
                        .Match(new Phone(one.Phone.All.Where(fact => fact.Name != name)), one.Package, Repo.Catalogue, one.Policy)
                        .Verdict
                );
        });

    [Fact]
    public void The_order_of_facts_and_packages_does_not_matter() =>
        Gen.Select(MatchCases.All, MatchCases.All, Gen.Int[0, 1000])
            .Sample(
                (one, other, seed) =>
                {
                    var shuffled = one.Phone.All.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    var report = Matcher.Match(one.Phone, one.Package, Repo.Catalogue, one.Policy);
                    Assert.Equal(
                        report.Results.Select(result => (result.RuleId, result.Verdict)),
                        Matcher
                            .Match(new Phone(shuffled), one.Package, Repo.Catalogue, one.Policy)
                            .Results.Select(result => (result.RuleId, result.Verdict))
                    );
                    Package[] library = [one.Package, other.Package, PackageOf("TN63E", "TN63E.5.2620.WHM3")];
                    var ranked = Matcher.Rank(one.Phone, library, Repo.Catalogue, one.Policy).Select(pair => pair.Package.Id);
                    Assert.Equal(
                        ranked,
                        Matcher.Rank(one.Phone, library.Reverse(), Repo.Catalogue, one.Policy).Select(pair => pair.Package.Id)
                    );
                },
                iter: 200
            );

    [Fact]
    public void Ranking_is_a_total_order_and_says_why() =>
        Gen.Select(MatchCases.All, MatchCases.All, MatchCases.All)
            .Sample(
                (a, b, c) =>
                {
                    var order = new Ranking(Repo.Catalogue);
                    Candidate Judged(Package package) => new(Matcher.Match(a.Phone, package, Repo.Catalogue, a.Policy), package);
                    var (x, y, z) = (Judged(a.Package), Judged(b.Package), Judged(c.Package));
                    Assert.Equal(Math.Sign(order.Compare(x, y)), -Math.Sign(order.Compare(y, x)));
                    if (order.Compare(x, y) <= 0 && order.Compare(y, z) <= 0)
                        Assert.True(order.Compare(x, z) <= 0);
                    Assert.Equal(x.Package.Id == y.Package.Id, order.Compare(x, y) == 0);
                    Assert.Equal(order.Why(x, y), order.Why(y, x));
                    if (order.Compare(x, y) < 0)
                        Assert.StartsWith($"{x.Report.PackageTitle} comes before {y.Report.PackageTitle}: ", order.Why(x, y));
                },
                iter: 300
            );
}

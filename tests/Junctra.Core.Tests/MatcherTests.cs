using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class MatcherTests
{
    private static readonly Gen<Fact> AnyFact = Gen.OneOf(
        Gen.Select(Gen.OneOf("HX204", "HX204C"), Source, (value, source) => Sample.Fact(FactName.ModelCode, value, source)),
        Gen.Select(Gen.Int[1, 5], Source, (value, source) => Sample.Fact(FactName.RollbackFloor, value.ToString(), source)),
        Gen.Select(Gen.Int[1, 5], Source, (value, source) => Sample.Fact(FactName.BootloaderRevision, value.ToString(), source)),
        Gen.Select(Gen.OneOf("locked", "unlocked"), Source, (value, source) => Sample.Fact(FactName.LockState, value, source))
    );

    private static Gen<FactSource> Source => Gen.Enum<FactSource>();

    private static readonly Gen<Package> AnyPackage = Gen.Select(
        Gen.OneOf("HX204", "HX204C"),
        Gen.Int[1, 5],
        Gen.Bool,
        (board, revision, sums) => Sample.Package(board, revision.ToString(), $"{board}/15.26w10-7.r{revision}", withChecksums: sums)
    );

    [Fact]
    public void The_whole_is_the_worst_of_its_parts() =>
        Gen.Select(AnyFact.Array[0, 8], AnyPackage)
            .Sample(
                (facts, package) =>
                {
                    var report = Matcher.Match(new Phone(facts), package, Repo.Catalogue);
                    Assert.Equal(report.Results.Max(r => r.Verdict), report.Verdict);
                    Assert.Equal(Matcher.Rules.Select(r => r.Id), report.Results.Select(r => r.RuleId));
                    Assert.All(report.Results, r => Assert.False(string.IsNullOrWhiteSpace(r.Sentence)));
                }
            );

    [Fact]
    public void A_further_claim_on_a_known_fact_never_betters_the_verdict() =>
        Gen.Select(AnyFact.Array[0, 8], AnyPackage, AnyFact)
            .Sample(
                (facts, package, more) =>
                {
                    var before = new Phone(facts);
                    // A new source for a fact on which the bootloader has spoken; a first word on an unknown fact may of course help.
                    if (
                        before[more.Name].Best is not { } best
                        || more.Source >= best.Source
                        || facts.Any(f => f.Name == more.Name && f.Source == more.Source)
                    )
                        return;
                    var after = new Phone([.. facts, more]);
                    Assert.True(
                        Matcher.Match(after, package, Repo.Catalogue).Verdict >= Matcher.Match(before, package, Repo.Catalogue).Verdict
                    );
                }
            );

    [Fact]
    public void What_may_be_chosen_rests_on_a_floor_from_the_bootloader() =>
        Gen.Select(AnyFact.Array[0, 8], AnyPackage)
            .Sample(
                (facts, package) =>
                {
                    var phone = new Phone(facts);
                    if (!Matcher.Match(phone, package, Repo.Catalogue).MayBeChosen)
                        return;
                    var floor = RollbackFloor.Of(phone, Repo.Catalogue);
                    Assert.Single(floor.Exact);
                    Assert.True(package.Revisions.All(revision => revision >= floor.Exact[0]));
                    Assert.Equal(["unlocked"], phone[FactName.LockState].Values);
                }
            );

    [Fact]
    public void The_same_revision_comes_before_a_one_way_step_and_stops_come_last()
    {
        Package[] library =
        [
            Sample.Package(revision: "4", build: "HX204/15.26w30-2.r4"),
            Sample.Package(revision: "2", build: "HX204/14.25w40-3.r2"),
            Sample.Package(build: "HX204/15.26w10-7.r3"),
            Sample.Package(build: "HX204/15.26w14-1.r3"),
        ];
        var ranked = Matcher.Rank(Sample.Cairn(), library, Repo.Catalogue);
        Assert.Equal(
            ["HX204/15.26w14-1.r3", "HX204/15.26w10-7.r3", "HX204/15.26w30-2.r4", "HX204/14.25w40-3.r2"],
            ranked.Select(r => r.Package.Title)
        );
        Assert.Equal([Verdict.Go, Verdict.Go, Verdict.Care, Verdict.Stop], ranked.Select(r => r.Report.Verdict));
    }

    [Fact]
    public void Ranking_mixed_models_does_not_fail() =>
        AnyPackage
            .Array[0, 40]
            .Sample(packages => Assert.Equal(packages.Length, Matcher.Rank(Sample.Cairn(), packages, Repo.Catalogue).Count));

    [Fact]
    public void Every_result_names_the_facts_it_used_with_their_sources()
    {
        var report = Matcher.Match(Sample.Cairn(), Sample.Package(), Repo.Catalogue);
        var revision = report.Results.Single(r => r.RuleId == "M04");
        Assert.Contains(revision.FactsUsed, f => f.Name == FactName.RollbackFloor && f.Value == "3" && f.Source == FactSource.Link);
    }
}

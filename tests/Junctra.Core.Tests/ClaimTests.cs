using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// Claims against claims: what is said twice, impossible, or not at all never passes as fine, in whatever order it was said.
/// </summary>
public partial class ClaimTests
{
    private static readonly Package Fitting = Sample.Package();

    private static Verdict Whole(Phone phone, Package? package = null, MatchPolicy? policy = null) =>
        Matcher.Match(phone, package ?? Fitting, Repo.Catalogue, policy).Verdict;

    private static RuleResult Rule(string id, Phone phone, Package package, MatchPolicy? policy = null) =>
        Matcher.Match(phone, package, Repo.Catalogue, policy).Results.Single(result => result.RuleId == id);

    // A fact, two values of it that one source gave, and minutes between them.
    [Theory]
    [InlineData("model-code", "HX204", "HX204C", FactSource.Label)]
    [InlineData("lock-state", "unlocked", "locked", FactSource.BootloaderScreen)]
    [InlineData("storage-gb", "64", "128", FactSource.Settings)]
    [InlineData("chip-family", "Dolan Major", "Dolan Minor", FactSource.Settings)]
    [InlineData("region", "WHM", "SRV", FactSource.Label)]
    [InlineData("serial", "HXA70431", "HXA70432", FactSource.Label)]
    [InlineData("carrier-locked", "no", "yes", FactSource.Customer)]
    [InlineData("rollback-floor", "3", "4", FactSource.BootloaderScreen)]
    public void Two_claims_of_one_source_are_a_conflict_in_any_order_and_at_any_time(
        string name,
        string one,
        string other,
        FactSource source
    )
    {
        var fact = FactName.Parse(name)!.Value;
        foreach (var (first, second) in new[] { (one, other), (other, one) })
        {
            foreach (var minutes in new[] { 0, 1, 90 })
            {
                Fact[] claims = [Sample.Fact(fact, first, source), Sample.Fact(fact, second, source, minutes)];
                Assert.All(new[] { claims, [.. claims.Reverse()] }, said =>
                    Assert.Equal((FactState.Conflicting, 2), (Sample.Phone(said)[fact].State, Sample.Phone(said)[fact].Claims.Count))
                );
            }
        }
    }

    [Fact]
    public void A_shell_and_a_SIM_tray_with_two_codes_are_at_least_asked_about()
    {
        foreach (var order in new[] { new[] { "HX204", "HX204C" }, ["HX204C", "HX204"] })
        {
            var facts = Sample
                .Cairn()
                .All.Where(fact => fact.Name != FactName.ModelCode)
                .Concat(order.Select(code => Sample.Fact(FactName.ModelCode, code, FactSource.Label)))
                .ToArray();
            Assert.Equal(Verdict.Stop, Whole(Sample.Phone(facts)));
            Assert.Equal(
                Rule("M01", Sample.Phone(facts), Fitting).Sentence,
                Rule("M01", Sample.Phone([.. facts.Reverse()]), Fitting).Sentence
            );
        }
    }

    private static readonly Gen<Fact> AnyClaim =
        from claim in Gen.OneOf<(FactName Name, string[] Values)>([
            (FactName.ModelCode, ["HX204", "HX204C"]),
            (FactName.LockState, ["locked", "unlocked"]),
            (FactName.RollbackFloor, ["2", "3", "4"]),
            (FactName.BootloaderRevision, ["3", "4"]),
            (FactName.Build, ["HX204/14.25w30-1.r2", "HX204/15.26w30-2.r4"]),
            (FactName.Mode, ["fastboot", "boot-loop", "emergency"]),
            (FactName.BatteryPercent, ["20", "90"]),
            (FactName.Recovery, ["stock", "custom"]),
            (FactName.Reached(PhoneMode.Fastboot), ["yes", "no"]),
            (FactName.UsbDebugging, ["on", "off"]),
        ])
        from value in Gen.OneOf(claim.Values)
        from source in Gen.Enum<FactSource>()
        from minute in Gen.Int[0, 3]
        select Sample.Fact(claim.Name, value, source, minute);

    [Fact]
    public void The_order_in_which_claims_are_given_changes_nothing() =>
        Gen.Select(AnyClaim.Array[1, 12], Gen.Int)
            .Sample(
                (claims, seed) =>
                {
                    var shuffled = claims.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    var (a, b) = (
                        Matcher.Match(Sample.Phone(claims), Fitting, Repo.Catalogue),
                        Matcher.Match(Sample.Phone(shuffled), Fitting, Repo.Catalogue)
                    );
                    Assert.Equal(
                        a.Results.Select(result => (result.Verdict, result.Sentence)),
                        b.Results.Select(result => (result.Verdict, result.Sentence))
                    );
                },
                iter: Sampled.Of(3000, 150)
            );

    [Fact]
    public void A_claim_that_contradicts_never_improves_a_verdict() =>
        Gen.Select(AnyClaim.Array[0, 6], AnyClaim)
            .Sample(
                (claims, more) =>
                {
                    var phone = Sample.Phone([.. Sample.Cairn().All, .. claims]);
                    // What changes by itself or by hand is replaced by a newer claim, which may well be a better one.
                    if (
                        more.Name.IsMomentary
                        || more.Name.IsReached
                        || more.Name.Definition.IsChangedByHand
                        || phone[more.Name].State == FactState.Unknown
                        || phone[more.Name].Values.Contains(more.Value)
                    )
                        return;
                    var after = Sample.Phone([.. phone.All, more]);
                    foreach (
                        var (before, now) in Matcher
                            .Match(phone, Fitting, Repo.Catalogue)
                            .Results.Zip(Matcher.Match(after, Fitting, Repo.Catalogue).Results)
                    )
                        Assert.True(now.Verdict >= before.Verdict, $"{before.RuleId}: {before.Sentence} became {now.Sentence} by {more}");
                },
                iter: 800
            );

    [Fact]
    public void A_fuse_that_is_read_lower_later_is_a_contradiction_and_the_higher_counts()
    {
        var phone = new Phone([.. Sample.Cairn("4").All], [Sample.Fact(FactName.RollbackFloor, "5", minute: -30)]);
        Assert.True(RollbackFloor.Of(phone, Repo.Catalogue).IsConflicting);
        Assert.Equal(Verdict.Stop, Rule("M04", phone, Sample.Package(revision: "4", build: "HX204/15.26w10-7.r4")).Verdict);
        Assert.Equal(Verdict.Ask, Rule("M04", phone, Sample.Package(revision: "5", build: "HX204/15.26w10-7.r5")).Verdict);
    }

    // A build that ran on this phone, where it was noted.
    [Theory]
    [InlineData("last-good-build", FactSource.Customer)]
    [InlineData("build", FactSource.CustomSystem)]
    [InlineData("build", FactSource.Settings)]
    public void A_floor_below_the_revision_of_a_build_that_ran_here_is_a_contradiction(string name, FactSource source)
    {
        var phone = Sample.Phone([.. Sample.Cairn("3").All, Sample.Fact(FactName.Parse(name)!.Value, "HX204/15.26w30-2.r4", source)]);
        var result = Rule("M04", phone, Fitting);
        Assert.Equal(Verdict.Stop, result.Verdict);
        Assert.Contains(source.Label(), result.Sentence);
        Assert.Contains(result.FactsUsed, fact => fact.Value == "HX204/15.26w30-2.r4");
    }

    // What was read in one place beside a build string, and the fact that is in doubt then.
    [Theory]
    [InlineData("build", "HX204C/15.26w10-4.r3", "model-code", "HX204")]
    [InlineData("build", "TN63E.5.2608.WHM2", "region", "SRV")]
    [InlineData("build", "HX204/15.26w10-7.r3", "bootloader-revision", "4")]
    [InlineData("last-good-build", "HX204C/15.26w10-4.r3", "model-code", "HX204")]
    public void What_a_build_string_says_is_held_against_what_stands_beside_it(string from, string build, string name, string beside)
    {
        var fact = FactName.Parse(name)!.Value;
        Fact[] read = [Sample.Fact(fact, beside), Sample.Fact(FactName.Parse(from)!.Value, build)];
        foreach (var order in new[] { read, [.. read.Reverse()] })
            Assert.Equal(FactState.Conflicting, new Phone(BuildFacts.With(order, Repo.Catalogue))[fact].State);
        // The same, said twice, is one claim.
        Assert.Single(
            BuildFacts.With([Sample.Fact(FactName.Build, "HX204/15.26w10-7.r3"), Sample.Fact(FactName.ModelCode, "HX204")], Repo.Catalogue),
            told => told.Name == FactName.ModelCode
        );
    }

    [Fact]
    public void Of_the_build_that_ran_last_only_what_no_write_changes_is_taken_over() =>
        Assert.Equal(
            [FactName.LastGoodBuild, FactName.ModelCode],
            BuildFacts.With(Sample.Fact(FactName.LastGoodBuild, "TN63E.5.2608.WHM2"), Repo.Catalogue).Select(told => told.Name)
        );

    [Fact]
    public void A_label_with_a_region_beside_a_build_of_another_tells_both()
    {
        var phone = new Phone(CodeReading.Read("TN63E SRV TN63E.5.2608.WHM2", Repo.Catalogue).Facts(FactSource.Label, Sample.Noon, "lead"));
        Assert.Equal(FactState.Conflicting, phone[FactName.Region].State);
    }

    [Fact]
    public void A_bound_is_named_with_its_source_and_never_called_the_floor()
    {
        var result = Rule(
            "M04",
            Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"), Sample.Fact(FactName.RollbackFloor, "5", FactSource.Customer)),
            Fitting
        );
        Assert.Equal(
            (Verdict.Stop, true, false),
            (result.Verdict, result.Sentence.Contains("(customer)"), result.Sentence.Contains("below the floor"))
        );
        Assert.Contains(result.FactsUsed, fact => fact is { Value: "5", Source: FactSource.Customer });
    }

    [Fact]
    public void What_was_reached_once_does_not_outweigh_what_is_there_now()
    {
        var backup = Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock");
        Phone With(params Fact[] facts) =>
            Sample.Phone([Sample.Fact(FactName.ModelCode, "OB17"), Sample.Fact(FactName.Mode, "system"), .. facts]);
        var seen = Sample.Fact(FactName.Reached(PhoneMode.CustomRecovery), "yes", FactSource.Customer, -60);
        Assert.Equal(Verdict.Go, Rule("M14", With(seen), backup).Verdict);
        Assert.NotEqual(Verdict.Go, Rule("M14", With(seen, Sample.Fact(FactName.Recovery, "stock")), backup).Verdict);
        var bundle = Sample.Set("TN63E", "TN63E.5.2608.WHM2");
        Phone Tern(params Fact[] facts) =>
            Sample.Phone([
                Sample.Fact(FactName.ModelCode, "TN63E"),
                Sample.Fact(FactName.Reached(PhoneMode.Download), "yes", FactSource.Customer, -60),
                .. facts,
            ]);
        Assert.NotEqual(Verdict.Go, Rule("M14", Tern(Sample.Fact(FactName.Mode, "emergency")), bundle).Verdict);
        Assert.Equal(
            Verdict.Ask,
            Rule(
                "M14",
                Tern(
                    Sample.Fact(FactName.Mode, "off"),
                    Sample.Fact(FactName.Reached(PhoneMode.Download), "no", FactSource.BootloaderScreen, -90)
                ),
                bundle
            ).Verdict
        );
        Assert.Equal(
            Reach.Seen,
            WantedFacts.ReachOf(
                PhoneMode.System,
                Sample.Phone(Sample.Fact(FactName.Reached(PhoneMode.System), "yes"), Sample.Fact(FactName.Mode, "off")),
                null
            )
        );
        Assert.NotEqual(
            Reach.Seen,
            WantedFacts.ReachOf(
                PhoneMode.System,
                Sample.Phone(Sample.Fact(FactName.Reached(PhoneMode.System), "yes", minute: -5), Sample.Fact(FactName.Mode, "boot-loop")),
                null
            )
        );
    }
}

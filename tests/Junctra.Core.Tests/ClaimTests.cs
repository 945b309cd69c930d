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
public class ClaimTests
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
                iter: 3000
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

    [Fact]
    public void Where_the_phone_is_not_known_nothing_is_said_of_its_ways()
    {
        var phone = Sample.Phone([.. Sample.Cairn().All.Where(fact => fact.Name != FactName.Mode)]);
        Assert.Equal((Verdict.Ask, Verdict.Ask), (Rule("M14", phone, Fitting).Verdict, Rule("M19", phone, Fitting).Verdict));
    }

    [Fact]
    public void For_every_rule_that_an_input_decides_an_unknown_one_is_never_go()
    {
        // A phone and a package for which the rule says go, and the facts of which it cannot go without.
        (string Rule, Phone Phone, Package Package, string[] Facts)[] cases =
        [
            ("M01", Sample.Cairn(), Fitting, ["model-code"]),
            ("M02", Sample.Cairn(), Fitting, ["model-code"]),
            ("M04", Sample.Cairn(), Fitting, ["rollback-floor"]),
            ("M05", Sample.Cairn(), Fitting, ["build"]),
            ("M09", Sample.Cairn(), Fitting, ["model-code"]),
            ("M10", Sample.Cairn(), Fitting, ["model-code"]),
            ("M12", Sample.Cairn(), Fitting, ["lock-state"]),
            ("M14", Sample.Cairn(), Fitting, ["mode", "model-code"]),
            ("M15", Sample.Cairn(), Fitting, ["radio-build", "model-code"]),
            ("M19", Sample.Cairn(), Fitting, ["mode"]),
            (
                "M06",
                Sample.Phone(Sample.Fact(FactName.ModelCode, "TN63E"), Sample.Fact(FactName.Region, "WHM")),
                Sample.Set("TN63E", "TN63E.5.2608.WHM2"),
                ["region"]
            ),
            (
                "M03",
                Sample.Phone(Sample.Fact(FactName.ModelCode, "TN41K"), Sample.Fact(FactName.Region, "LNT")),
                Sample.Set("TN41K", "TN41K.2.2610.LNT1"),
                ["region", "model-code"]
            ),
            (
                "M17",
                Sample.Phone(Sample.Fact(FactName.Serial, "OBF20117")),
                Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
                ["serial"]
            ),
        ];
        foreach (var (id, phone, package, facts) in cases)
        {
            Assert.True(Verdict.Go == Rule(id, phone, package).Verdict, $"{id}: {Rule(id, phone, package).Sentence}");
            foreach (var name in facts)
            {
                // The build alone: OS version and patch tell the direction too.
                var without = Sample.Phone([
                    .. phone.All.Where(fact => fact.Name.Value != name && !(name == "build" && fact.Name == FactName.OsVersion)),
                ]);
                Assert.True(
                    Rule(id, without, package).Verdict != Verdict.Go,
                    $"{id} without {name}: {Rule(id, without, package).Sentence}"
                );
            }
        }
    }

    [Fact]
    public void Sizes_of_one_partition_that_disagree_are_asked_about()
    {
        var phone = Sample.Phone([
            .. Sample.Cairn().All,
            Sample.Fact(FactName.PartitionSize("system"), "300000000"),
            Sample.Fact(FactName.PartitionSize("system"), "310000000", FactSource.BootloaderScreen),
        ]);
        var result = Rule("M10", phone, Fitting);
        Assert.Equal(Verdict.Ask, result.Verdict);
        Assert.Contains(result.FactsUsed, fact => fact.Name.IsPartitionSize);
    }

    [Fact]
    public void A_loader_goes_by_the_chip_that_was_read()
    {
        Phone With(string chip) =>
            Sample.Phone(
                Sample.Fact(FactName.ModelCode, "TN63W"),
                Sample.Fact(FactName.Mode, "emergency"),
                Sample.Fact(FactName.RollbackFloor, "5", FactSource.Logbook),
                Sample.Fact(FactName.ChipFamily, chip)
            );
        var package = Sample.Set("TN63W", "TN63W.6.2612.WHM1");
        Assert.Equal(Verdict.Go, Rule("M19", With("Dolan Major"), package).Verdict);
        Assert.Equal(Verdict.Ask, Rule("M19", With("Merak Four"), package).Verdict);
    }

    [Theory]
    [InlineData("mode", "fastbot")]
    [InlineData("mode", "yes")]
    [InlineData("battery-percent", "yes")]
    [InlineData("storage-gb", "0")]
    [InlineData("os-version", "newest")]
    [InlineData("carrier-locked", "true")]
    public void What_is_no_value_of_a_fact_is_none(string name, string value) => Assert.Null(FactName.Parse(name)!.Value.Normalise(value));

    [Fact]
    public void A_reading_of_the_build_also_tells_region_and_model_and_what_is_said_to_open_a_package_opens_it()
    {
        var random = new Random(29);
        FactName[] names =
        [
            FactName.ModelCode,
            FactName.Region,
            FactName.RollbackFloor,
            FactName.Build,
            FactName.LockState,
            FactName.Mode,
            FactName.Recovery,
            FactName.Serial,
        ];
        (string Model, string Build, string Lines)[] packages =
        [
            ("TN63E", "TN63E.5.2608.WHM2", "version-baseband=TN63E-R-2608-N"),
            ("TN41E", "TN41E.2.2610.WHM1", "version-baseband=TN41E-R-2610-N"),
            ("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
        ];
        string[][] values =
        [
            ["TN63E", "TN41E", "OB17"],
            ["WHM", "DNM"],
            ["2", "5"],
            ["TN63E.5.2606.WHM1", "OB17_2.6.112_r04_DNM"],
            ["unlocked", "locked"],
            ["system", "no-command", "off"],
            ["stock", "custom"],
            ["OBF20117"],
        ];
        var opened = 0;
        for (var i = 0; i < 400; i++)
        {
            var (model, build, lines) = packages[i % packages.Length];
            var phone = Sample.Phone([
                .. names
                    .Select((name, n) => (name, n))
                    .Where(_ => random.Next(3) > 0)
                    .Select(pair =>
                        Sample.Fact(pair.name, values[pair.n][random.Next(values[pair.n].Length)], FactSource.BootloaderScreen)
                    ),
            ]);
            var package = Sample.Set(model, build, lines);
            var miss = NearMisses.Of(phone, package, Repo.Catalogue, MatchPolicy.Careful);
            if (miss.Changes.Count == 0)
                continue;
            opened++;
            // By readings alone, as a person would note them, not by the finder's own means.
            var read = miss.Changes.Where(change => change.Fact is not null).ToList();
            var facts = phone.All.Where(fact => read.All(change => change.Fact != fact.Name)).ToList();
            foreach (var change in read)
            {
                facts.Add(Sample.Fact(change.Fact!.Value, change.Value!, FactSource.Link, 5));
                if (change.Fact == FactName.Build && Repo.Catalogue.ReadBuild(change.Value!) is { } told)
                    facts.AddRange(
                        told.Facts.Select(fact => new Fact(
                            fact.Name,
                            fact.Value,
                            FactSource.Link,
                            Sample.Noon.AddMinutes(5),
                            "bench",
                            change.Value
                        ))
                    );
            }

            var policy = miss
                .Changes.Where(change => change.School is not null)
                .Aggregate(MatchPolicy.Careful, (now, change) =>
                    Schools.All.First(question => question.Choices.Contains(change.School)).Apply(now, change.School!)
                );
            if (miss.Changes.Any(change => change.Fact is null && change.School is null))
                continue;
            Assert.True(
                Matcher.Match(Sample.Phone([.. facts]), package, Repo.Catalogue, policy).MayBeChosen,
                string.Join(" ", miss.Changes.Select(change => change.Sentence))
            );
        }

        Assert.True(opened > 50, $"{opened} near misses");
    }

    [Fact]
    public void Near_misses_are_said_in_English() =>
        Assert.All(
            NearMisses.ChangesFor(
                Sample.Phone(Sample.Fact(FactName.ModelCode, "OB17")),
                Sample.Set("OB17", "OB17_2.6.112_r04_DNM", "backup-serial=OBF20117 taken=2026-02-14 system=stock"),
                Repo.Catalogue,
                MatchPolicy.Careful
            ),
            change => Assert.DoesNotContain("Read the reaches", change.Sentence)
        );
}

using CsCheck;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Decision tables of M03, M08, M11, M12, M14 and M17; what would open a package; why one stands before another.</summary>
public class MatchRuleTests
{
    private static readonly ModelCatalogue Catalogue = Repo.Catalogue;

    private static Phone Of(params (FactName Name, string? Value)[] facts) =>
        Sample.Phone([.. facts.Where(fact => fact.Value is not null).Select(fact => Sample.Fact(fact.Name, fact.Value!))]);

    private static Judgement Judge(IMatchRule rule, Phone phone, Package package, ModelCatalogue? catalogue = null) =>
        rule.Judge(new MatchCase(phone, package, catalogue ?? Catalogue, MatchPolicy.Careful));

    private static Package Package(string model, string build, string lines = "", bool published = true) =>
        Sample.Set(model, build, lines, published);

    // M03: the phone's model, its lock as a fact, the package's model.
    [Theory]
    [InlineData("TN41E", null, "TN41E", Verdict.Go)]
    [InlineData("TN41K", null, "TN41K", Verdict.Ask)]
    [InlineData("TN41K", null, "TN41E", Verdict.Stop)]
    [InlineData("TN41E", null, "TN41K", Verdict.Stop)]
    [InlineData("TN41E", "yes", "TN41E", Verdict.Stop)]
    [InlineData("TN41K", "no", "TN41E", Verdict.Ask)]
    [InlineData(null, "no", "TN41E", Verdict.Go)]
    [InlineData(null, null, "TN41E", Verdict.Ask)]
    [InlineData("ZZ999", null, "TN41E", Verdict.Ask)]
    [InlineData("TN41E", null, "ZZ999", Verdict.Ask)]
    [InlineData("TN41E", "no", "", Verdict.Ask)]
    public void A_carriers_software_is_for_the_carriers_phones(string? model, string? locked, string theirs, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(new M03Carrier(), Of((FactName.ModelCode, model), (FactName.CarrierLocked, locked)), Package(theirs, "none")).Verdict
        );

    [Fact]
    public void A_package_for_a_carriers_region_is_the_carriers_whatever_its_model() =>
        Assert.Equal(
            Verdict.Stop,
            Judge(new M03Carrier(), Of((FactName.ModelCode, "TN41E")), Package("TN41E", "TN41E.2.2610.LNT1")).Verdict
        );

    [Fact]
    public void A_code_that_is_sold_both_ways_is_asked_for_and_then_taken_with_care()
    {
        var maker = Catalogue.MakerOf("TN41K")!;
        var both = new ModelCatalogue(
            [maker with { Models = [.. maker.Models.Select(model => model.Code == "TN41K" ? model with { SoldBothWays = true } : model)] }],
            [],
            Catalogue.Regions,
            Catalogue.Figures
        );
        Assert.Equal(Verdict.Ask, Judge(new M03Carrier(), Of((FactName.ModelCode, "TN41K")), Package("TN41K", "none"), both).Verdict);
        Assert.Equal(
            Verdict.Care,
            Judge(
                new M03Carrier(),
                Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "no")),
                Package("TN41K", "none"),
                both
            ).Verdict
        );
        var lockedTakesOpen = Judge(
            new M03Carrier(),
            Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "yes")),
            Package("TN41K", "TN41K.2.2610.WHM1"),
            both
        );
        Assert.Equal(Verdict.Care, lockedTakesOpen.Verdict);
        Assert.Contains("The phone is locked to a carrier", lockedTakesOpen.Sentence);
        Assert.Equal(
            Verdict.Go,
            Judge(
                new M03Carrier(),
                Of((FactName.ModelCode, "TN41K"), (FactName.CarrierLocked, "no")),
                Package("TN41K", "TN41K.2.2610.WHM1"),
                both
            ).Verdict
        );
    }

    [Theory]
    [InlineData("", true, Verdict.Go)]
    [InlineData("", false, Verdict.Care)]
    [InlineData("channel=stable", true, Verdict.Go)]
    [InlineData("channel=preview", true, Verdict.Care)]
    [InlineData("patched-by=somebody", true, Verdict.Stop)]
    public void What_is_not_proved_to_be_the_makers_is_taken_with_care(string lines, bool published, Verdict expected) =>
        Assert.Equal(
            expected,
            Judge(new M08Provenance(), Sample.Cairn(), Package("HX204", "HX204/15.26w10-7.r3", lines, published)).Verdict
        );

    // M11: the base, the phone's build, its status, its root.
    [Theory]
    [InlineData(null, null, null, null, Verdict.Go)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "official", null, Verdict.Go)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", null, null, Verdict.Ask)]
    [InlineData("OB17_2.6.112_r04_DNM", null, "official", null, Verdict.Ask)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.111_r04_DNM", "official", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.113_r04_DNM", "official", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "custom", null, Verdict.Stop)]
    [InlineData("OB17_2.6.112_r04_DNM", "OB17_2.6.112_r04_DNM", "official", "present", Verdict.Stop)]
    public void An_increment_goes_from_its_base_on_an_unmodified_phone(
        string? from,
        string? build,
        string? status,
        string? root,
        Verdict expected
    )
    {
        var package = Package(
            "OB17",
            "OB17_2.6.118_r04_DNM",
            "post-build=OB17_2.6.118_r04_DNM" + (from is null ? "" : $" pre-build={from}")
        );
        Assert.Equal(
            expected,
            Judge(
                new M11Incremental(),
                Of((FactName.Build, build), (FactName.DeviceStatus, status), (FactName.Root, root)),
                package
            ).Verdict
        );
    }

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
                Package(model, "none", published: published)
            ).Verdict
        );

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
                Package("HX204", "none")
            ).Verdict
        );

    // M17: the phone's serial, the backup's, when, what ran.
    [Theory]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", "stock", Verdict.Go)]
    [InlineData("OBF20117", "OBF88230", "2026-02-14", "stock", Verdict.Stop)]
    [InlineData(null, "OBF20117", "2026-02-14", "stock", Verdict.Ask)]
    [InlineData("OBF20117", "OBF20117", null, "stock", Verdict.Stop)]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", "modified", Verdict.Stop)]
    [InlineData("OBF20117", "OBF20117", "2026-02-14", null, Verdict.Stop)]
    public void A_backup_goes_back_onto_its_own_phone_from_before_its_modification(
        string? serial,
        string theirs,
        string? taken,
        string? system,
        Verdict expected
    )
    {
        var lines = $"backup-serial={theirs}" + (taken is null ? "" : $" taken={taken}") + (system is null ? "" : $" system={system}");
        Assert.Equal(
            expected,
            Judge(new M17Backup(), Of((FactName.Serial, serial)), Package("OB17", "OB17_2.6.112_r04_DNM", lines)).Verdict
        );
    }

    [Fact]
    public void What_is_no_backup_is_not_judged_as_one() =>
        Assert.Equal(Verdict.Go, Judge(new M17Backup(), Of(), Sample.Package()).Verdict);

    [Fact]
    public void A_bound_of_the_floor_alone_never_lets_anything_be_written()
    {
        var phone = Sample.Phone([.. Sample.Cairn().All.Where(fact => fact.Name != FactName.RollbackFloor)]);
        foreach (var build in new[] { "HX204/14.25w40-3.r2", "HX204/15.26w10-7.r3", "HX204/15.26w30-2.r4" })
            Assert.True(Matcher.Match(phone, Sample.Package(revision: build[^1..], build: build), Catalogue).Verdict >= Verdict.Ask);
    }

    [Fact]
    public void A_missing_reading_is_named_with_its_minutes_and_what_it_would_have_to_be()
    {
        var phone = Sample.Phone([
            .. Sample.Cairn().All.Where(fact => fact.Name != FactName.RollbackFloor && fact.Name != FactName.LockState),
        ]);
        var miss = NearMisses.Of(phone, Sample.Package(), Catalogue, MatchPolicy.Careful);
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
        var package = Package("TN41E", "TN41E.2.2624.KRW1", "version-baseband=TN41E-R-2624-N");
        var miss = NearMisses.Of(phone, package, Catalogue, MatchPolicy.Careful);
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
        var miss = NearMisses.Of(Of((FactName.ModelCode, model)), Package("TN41E", "TN41E.2.2610.WHM1"), Catalogue, MatchPolicy.Careful);
        Assert.Empty(miss.Changes);
        Assert.Contains("not " + model, miss.NoWay);
    }

    /// <summary>Phones of which this or that is known, wrong or disputed, and packages of some builds.</summary>
    private static readonly Gen<(Phone Phone, Package Package, MatchPolicy Policy)> Cases = Gen.Select(
        Gen.Int[0, 4],
        Gen.Int[0, 3],
        Gen.Int[0, 3],
        Gen.Int[0, 2],
        Gen.Int[0, 3],
        Gen.Int[0, 2],
        Gen.Select(Gen.Int[0, 3], Gen.Bool),
        (model, floor, locked, region, build, school, package) =>
        {
            List<Fact> facts = [Sample.Fact(FactName.Serial, "T1"), Sample.Fact(FactName.DeviceStatus, "official")];
            if (model > 0)
                facts.Add(Sample.Fact(FactName.ModelCode, model == 4 ? "TN63W" : "TN63E"));
            if (model == 3)
                facts.Add(Sample.Fact(FactName.ModelCode, "TN63W", FactSource.Label));
            if (floor > 0)
                facts.Add(Sample.Fact(FactName.RollbackFloor, floor == 1 ? "5" : "6", floor == 3 ? FactSource.Label : FactSource.Link));
            if (locked > 0)
                facts.Add(Sample.Fact(FactName.LockState, locked == 1 ? "unlocked" : "locked"));
            if (locked == 3)
                facts.Add(Sample.Fact(FactName.LockState, "unlocked", FactSource.Settings));
            if (region > 0)
                facts.Add(Sample.Fact(FactName.Region, region == 1 ? "WHM" : "SRV"));
            if (build > 0)
                facts.Add(Sample.Fact(FactName.Build, new[] { "TN63E.5.2606.WHM1", "TN63E.6.2640.WHM1", "gibberish" }[build - 1]));
            return (
                new Phone(facts),
                Package(
                    "TN63E",
                    new[] { "TN63E.4.2536.WHM1", "TN63E.5.2608.WHM2", "TN63E.6.2630.WHM1", "TN63E.5.2609.SRV1" }[package.Item1],
                    published: package.Item2
                ),
                new MatchPolicy((RegionSchool)school)
            );
        }
    );

    [Fact]
    public void The_changes_that_are_named_do_open_it_and_no_smaller_set_does() =>
        Cases.Sample(
            one =>
            {
                var miss = NearMisses.Of(one.Phone, one.Package, Catalogue, one.Policy);
                if (miss.Report.MayBeChosen)
                {
                    Assert.Empty(miss.Changes);
                    return;
                }

                var all = NearMisses.ChangesFor(one.Phone, one.Package, Catalogue, one.Policy);
                if (miss.NoWay is null)
                    Assert.True(NearMisses.Opens(one.Phone, one.Package, Catalogue, one.Policy, miss.Changes));
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
                        NearMisses.Opens(one.Phone, one.Package, Catalogue, one.Policy, set),
                        string.Join(" ", set.Select(change => change.Sentence))
                    );
                }
            },
            iter: Sampled.Of(150, 50)
        );

    [Fact]
    public void A_stricter_school_and_a_fact_less_never_make_it_better() =>
        Cases.Sample(one =>
        {
            var verdict = Matcher.Match(one.Phone, one.Package, Catalogue, one.Policy).Verdict;
            foreach (var school in Enum.GetValues<RegionSchool>().Where(school => school < one.Policy.Region))
                Assert.True(Matcher.Match(one.Phone, one.Package, Catalogue, one.Policy with { Region = school }).Verdict >= verdict);
            if (verdict != Verdict.Stop)
                return;
            // What one fact forbids another claim of it may have allowed all along; a whole fact less is never a permission.
            foreach (var name in one.Phone.Names.ToList())
                Assert.NotEqual(
                    Verdict.Go,
                    Matcher.Match(new Phone(one.Phone.All.Where(fact => fact.Name != name)), one.Package, Catalogue, one.Policy).Verdict
                );
        });

    [Fact]
    public void The_order_of_facts_and_packages_does_not_matter() =>
        Gen.Select(Cases, Cases, Gen.Int[0, 1000])
            .Sample(
                (one, other, seed) =>
                {
                    var shuffled = one.Phone.All.ToArray();
                    new Random(seed).Shuffle(shuffled);
                    var report = Matcher.Match(one.Phone, one.Package, Catalogue, one.Policy);
                    Assert.Equal(
                        report.Results.Select(result => (result.RuleId, result.Verdict)),
                        Matcher
                            .Match(new Phone(shuffled), one.Package, Catalogue, one.Policy)
                            .Results.Select(result => (result.RuleId, result.Verdict))
                    );
                    Package[] library = [one.Package, other.Package, Package("TN63E", "TN63E.5.2620.WHM3")];
                    var ranked = Matcher.Rank(one.Phone, library, Catalogue, one.Policy).Select(pair => pair.Package.Id);
                    Assert.Equal(ranked, Matcher.Rank(one.Phone, library.Reverse(), Catalogue, one.Policy).Select(pair => pair.Package.Id));
                },
                iter: 200
            );

    [Fact]
    public void Ranking_is_a_total_order_and_says_why() =>
        Gen.Select(Cases, Cases, Cases)
            .Sample(
                (a, b, c) =>
                {
                    var order = new Ranking(Catalogue);
                    Candidate Judged(Package package) => new(Matcher.Match(a.Phone, package, Catalogue, a.Policy), package);
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

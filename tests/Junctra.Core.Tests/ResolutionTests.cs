using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class ResolutionTests
{
    private static readonly Gen<Fact> AnyModel = Gen.Select(
        Gen.OneOf("TN63E", "TN63W", "HX204"),
        Gen.Enum<FactSource>(),
        Gen.Int[0, 1000],
        (value, source, minute) => Sample.Fact(FactName.ModelCode, value, source, minute)
    );

    [Fact]
    public void A_less_trusted_source_never_replaces_a_value_and_where_it_disagrees_the_fact_is_conflicting() =>
        Gen.Select(AnyModel.Array[1, 6], AnyModel)
            .Sample(
                (facts, weaker) =>
                {
                    var before = Sample.Phone(facts)[FactName.ModelCode];
                    if (weaker.Source >= before.Best!.Source)
                        return;
                    var after = Sample.Phone([.. facts, weaker])[FactName.ModelCode];
                    Assert.Equal(before.Value, after.Value);
                    var newestOfSource = facts.Append(weaker).Where(fact => fact.Source == weaker.Source).MaxBy(fact => fact.At)!;
                    if (newestOfSource.Value != before.Value)
                        Assert.Equal(FactState.Conflicting, after.State);
                }
            );

    [Fact]
    public void No_claim_is_ever_changed_or_lost() =>
        AnyModel
            .Array[0, 8]
            .Sample(facts =>
            {
                var resolved = Sample.Phone(facts)[FactName.ModelCode];
                Assert.All(resolved.Claims, claim => Assert.Contains(claim, facts));
                foreach (var source in facts.Select(fact => fact.Source).Distinct())
                    Assert.Contains(resolved.Claims, claim => claim.Source == source);
            });

    [Fact]
    public void A_parsed_fact_has_the_trust_of_its_string()
    {
        var phone = Sample.Phone([
            .. CodeReading.Read("TN63E.5.2608.WHM2", Repo.Catalogue).Facts(FactSource.Customer, Sample.Noon, "counter"),
            Sample.Fact(FactName.Region, "KRW", FactSource.Label),
        ]);
        Assert.Equal((FactState.Conflicting, "KRW"), (phone[FactName.Region].State, phone[FactName.Region].Value));
        Assert.Contains("label or box: KRW, customer: WHM", phone[FactName.Region].Reason);
    }

    [Fact]
    public void The_trust_order_is_the_shops() =>
        Assert.Equal(
            [
                FactSource.Link,
                FactSource.BootloaderScreen,
                FactSource.Seen,
                FactSource.Settings,
                FactSource.Label,
                FactSource.CustomSystem,
                FactSource.Logbook,
                FactSource.Customer,
            ],
            FactSources.All
        );

    [Theory]
    [InlineData(FactSource.Label)]
    [InlineData(FactSource.Logbook)]
    [InlineData(FactSource.Settings)]
    [InlineData(FactSource.Customer)]
    public void Anything_but_the_bootloader_gives_the_floor_a_lower_bound_only(FactSource source)
    {
        var phone = Sample.Phone(Sample.Fact(FactName.RollbackFloor, "6", source));
        Assert.Equal(FactState.Unknown, phone[FactName.RollbackFloor].State);
        Assert.Contains("At least 6", phone[FactName.RollbackFloor].Reason);
        Assert.Equal(6, RollbackFloor.Of(phone, Repo.Catalogue).AtLeast);
    }

    [Fact]
    public void A_bound_below_a_floor_that_was_read_is_no_conflict_and_one_above_it_is()
    {
        Fact[] Readings(string bound) =>
            [
                Sample.Fact(FactName.RollbackFloor, "6", FactSource.BootloaderScreen),
                Sample.Fact(FactName.RollbackFloor, bound, FactSource.Logbook),
            ];
        Assert.Equal(FactState.Known, Sample.Phone(Readings("5"))[FactName.RollbackFloor].State);
        Assert.DoesNotContain(PhoneFindings.Of(Sample.Phone(Readings("5")), Repo.Catalogue), finding => finding.Title == "Rollback floor");
        Assert.Contains(PhoneFindings.Of(Sample.Phone(Readings("7")), Repo.Catalogue), finding =>
            finding is { Title: "Rollback floor", IsGrave: true }
        );
    }

    [Fact]
    public void What_the_logbook_says_of_things_that_a_write_changes_is_history()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.Build, "HX204/14.25w30-1.r2", FactSource.Logbook),
            Sample.Fact(FactName.ModelCode, "HX204", FactSource.Logbook)
        );
        Assert.Equal(FactState.Unknown, phone[FactName.Build].State);
        Assert.Contains("earlier visit", phone[FactName.Build].Reason);
        Assert.Equal("HX204", phone[FactName.ModelCode].Value);
    }

    [Fact]
    public void A_conflict_on_the_model_says_what_the_board_and_the_shell_say()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "TN63W", FactSource.BootloaderScreen),
            Sample.Fact(FactName.ModelCode, "TN63E", FactSource.Label)
        );
        var finding = Assert.Single(PhoneFindings.Of(phone, Repo.Catalogue), finding => finding.Title == "The model is in doubt");
        Assert.True(finding.IsGrave);
        Assert.Contains("The board says TN63W, the shell says TN63E", finding.Sentence);
    }

    [Theory]
    [InlineData("chip-family", "Merak Four", "Dolan Major")]
    [InlineData("product-name", "Cairn Small", "sold as Cairn")]
    [InlineData("carrier-locked", "yes", "sold open")]
    [InlineData("storage-gb", "128", "sold with 64")]
    public void What_does_not_belong_to_the_model_is_a_finding(string name, string value, string words)
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204", FactSource.Label),
            Sample.Fact(new FactName(name), value, FactSource.Settings)
        );
        Assert.Contains(PhoneFindings.Of(phone, Repo.Catalogue), finding => finding.Sentence.Contains(words));
    }

    [Theory]
    [InlineData("unlocked", "off", "contradict")]
    [InlineData("unlocked", "greyed", "Already open")]
    [InlineData("locked", "hidden", "hidden")]
    [InlineData("locked", "off", null)]
    [InlineData("locked", "on", null)]
    public void Lock_and_permission_switch_are_read_together(string lockState, string permission, string? word)
    {
        var findings = PhoneFindings.Of(
            Sample.Phone(
                Sample.Fact(FactName.LockState, lockState),
                Sample.Fact(FactName.UnlockPermission, permission, FactSource.Settings)
            ),
            Repo.Catalogue
        );
        Assert.Equal(word is not null, findings.Count > 0);
        if (word is not null)
            Assert.Contains(word, findings[0].Title);
    }

    [Fact]
    public void A_boot_chain_and_a_system_of_two_revisions_are_a_finding()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.BootloaderRevision, "3"),
            new Fact(FactName.BootloaderRevision, "2", FactSource.Settings, Sample.Noon, "bench", "HX204/14.25w30-1.r2")
        );
        Assert.Contains(PhoneFindings.Of(phone, Repo.Catalogue), finding =>
            finding.Sentence.Contains("of revision 3") && finding.Sentence.Contains("of 2")
        );
    }

    /// <summary>Every fact, and what must be touched to make it void.</summary>
    [Fact]
    public void A_write_makes_void_just_the_facts_that_it_touches()
    {
        var package = Sample.Package();
        var plan = Planned.Plan(Sample.Cairn(), package, true);
        foreach (var step in plan.Steps.Where(step => step.IsWrite() || step.IsErase()))
        {
            RunEvent[] events = step.IsWrite()
                ? [new StepStarted(step.Number, step.Title), new WriteAsked(step.Number, 1, 1)]
                : [new StepStarted(step.Number, step.Title)];
            var touched = RunState.Of(plan, events.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what))).TouchedBy;
            foreach (var definition in FactName.All.Select(name => name.Definition))
                Assert.Equal((definition.TouchedBy & touched) != 0, new FactName(definition.Id).ExpiresBy(touched));
            string[] never = ["model-code", "serial", "chip-family", "storage-gb", "product-name", "home-key", "last-good-build"];
            Assert.All(never, name => Assert.False(new FactName(name).ExpiresBy(touched)));
            Assert.True(FactName.RollbackFloor.ExpiresBy(touched));
            Assert.Equal(step.Partition() == "radio", FactName.RadioBuild.ExpiresBy(touched));
            Assert.Equal(step.Partition() == "bootloader", FactName.BootloaderRevision.ExpiresBy(touched));
            Assert.Equal(step.Partition() == "recovery", FactName.Recovery.ExpiresBy(touched));
            Assert.Equal(step.Partition() == "userdata", FactName.Account.ExpiresBy(touched));
            Assert.Equal(step.Partition() is "system" or "boot" or "overlay" or "verify", FactName.Build.ExpiresBy(touched));
        }
    }

    [Fact]
    public void A_plan_that_does_not_say_its_roles_makes_everything_void_that_a_write_can()
    {
        var plan = Planned.Plan(Sample.Cairn(), Sample.Package(), false);
        plan = plan with
        {
            Steps =
            [
                .. plan.Steps.Select(step =>
                    step.Act is Plans.Acts.WriteImage write
                        ? step with
                        {
                            Act = new Plans.Acts.WriteImage(write.Image with { Role = null }),
                        }
                        : step
                ),
            ],
        };
        var first = plan.Steps.First(step => step.IsWrite()).Number;
        Assert.Equal(WriteTouch.Anything, RunState.Of(plan, [new JournalEntry(1, Sample.Noon, new WriteAsked(first, 1, 1))]).TouchedBy);
    }

    [Fact]
    public void A_snapshot_keeps_what_was_known_and_what_was_not()
    {
        var snapshot = BeforeSnapshot.Of(Sample.Cairn());
        Assert.Contains(snapshot.Facts, fact => fact.Name == FactName.RollbackFloor && fact.Value == "3");
        Assert.Contains(FactName.AppCount, snapshot.Missing);
        Assert.Equal(BeforeSnapshot.Holds.Count, snapshot.Facts.Count + snapshot.Missing.Count);
    }

    [Theory]
    [InlineData("lock-state", "Unlocked", "unlocked")]
    [InlineData("usb-debugging", "authorised for this computer", "authorised")]
    [InlineData("account", "signed in", "signed-in")]
    [InlineData("card-free-mb", "512 MB", "512")]
    [InlineData("storage-gb", "64 GB", "64")]
    [InlineData("unlock-permission", "grey", null)]
    [InlineData("region", "wh m", "WHM")]
    [InlineData("tamper-fuse", "tripped", "tripped")]
    [InlineData("reached:fastboot", "yes", "yes")]
    [InlineData("reached:fastboot", "maybe", null)]
    public void Every_form_of_fact_has_its_values(string name, string value, string? expected) =>
        Assert.Equal(expected, new FactName(name).Normalise(value));

    [Theory]
    [InlineData("reached:nowhere")]
    [InlineData("partition-size:")]
    [InlineData("nothing")]
    [InlineData("")]
    [InlineData(null)]
    public void What_is_no_fact_is_not_parsed(string? name) => Assert.Null(FactName.Parse(name));

    [Fact]
    public void Wanted_facts_are_listed_by_what_they_cost_and_where_this_phone_can_still_show_them()
    {
        var looping = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "TN63E", FactSource.Label),
            Sample.Fact(FactName.Mode, "boot-loop", FactSource.Customer)
        );
        var wanted = WantedFacts.Of(looping, dataMayGo: false, Repo.Catalogue);
        var region = wanted.Single(one => one.Fact == FactName.Region);
        Assert.Equal("the box", region.Place!.Where);
        Assert.DoesNotContain(wanted, one =>
            one.Place is { } place && place.In.Count > 0 && place.In.All(mode => mode == PhoneMode.System)
        );
        Assert.DoesNotContain(wanted, one =>
            one.Place?.In.Contains(PhoneMode.Fastboot) is true && !one.Place.In.Contains(PhoneMode.Download)
        );
        Assert.Null(wanted.Single(one => one.Fact == FactName.AppCount).Place);
        Assert.Equal(wanted.Select(one => (one.Reach, one.Minutes)).Order(), wanted.Select(one => (one.Reach, one.Minutes)));
        Assert.Contains(wanted, one => one.Fact == FactName.TamperFuse);
    }

    [Fact]
    public void What_does_not_matter_for_the_job_is_not_asked()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "OB17", FactSource.Label),
            Sample.Fact(FactName.Mode, "system", FactSource.Customer)
        );
        var wanted = WantedFacts.Of(phone, dataMayGo: true, Repo.Catalogue).Select(one => one.Fact).ToList();
        Assert.DoesNotContain(FactName.RollbackFloor, wanted);
        Assert.DoesNotContain(FactName.AppCount, wanted);
        Assert.DoesNotContain(FactName.TamperFuse, wanted);
        Assert.Contains(FactName.Account, wanted);
        Assert.DoesNotContain(
            FactName.Region,
            WantedFacts.Of(Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204")), true, Repo.Catalogue).Select(one => one.Fact)
        );
    }

    [Fact]
    public void A_mode_that_was_tried_in_vain_shows_nothing()
    {
        var phone = Sample.Phone(
            Sample.Fact(FactName.ModelCode, "HX204", FactSource.Label),
            Sample.Fact(FactName.Reached(PhoneMode.Fastboot), "no", FactSource.BootloaderScreen)
        );
        Assert.Equal(Reach.RuledOut, WantedFacts.ReachOf(PhoneMode.Fastboot, phone, Repo.Catalogue.Model("HX204")));
        Assert.Null(WantedFacts.Of(phone, true, Repo.Catalogue).Single(one => one.Fact == FactName.RollbackFloor).Place);
    }
}

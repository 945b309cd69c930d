using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>What a shop decided on carrying out: held restarts, when to unplug, what a hang is, which programs are there.</summary>
public class WatchRuleTests
{
    private static readonly PlanPolicy Usual = PlanPolicy.Usual;

    private static PathCase Bundle(PlanPolicy policy, bool erase = true) =>
        PathWorld.Case(
            PathWorld.Phone("TN63E", PhoneMode.Download, (FactName.DeviceStatus, "official")),
            WholePackage.Of(PathWorld.Model("TN63E")),
            erase
        ) with
        {
            Policy = policy,
        };

    [Theory]
    [InlineData("A", false)]
    [InlineData("B", true)]
    public void A_restart_that_is_held_by_shop_rule_is_let_go_by_hands_and_ends_like_the_other(string path, bool erase)
    {
        var (plain, held) = (
            PathWorld.Plan(Bundle(Usual, erase), path),
            PathWorld.Plan(Bundle(Usual with { HoldsRestart = true }, erase), path)
        );
        Assert.True(held.Steps.Single(step => step.Act is SendBundle).Act is SendBundle { HoldsRestart: true });
        Assert.Equal(plain.Steps.Count + 1, held.Steps.Count);
        var letStart = held.Steps.Single(step => step.Act is RestartByHands);
        Assert.True(letStart.Act.WantsHands && HandsOrder.Leads(letStart.Act));
        Assert.Equal(plain.Rehearsal.Fates.Select(fate => fate.Kind), held.Rehearsal.Fates.Select(fate => fate.Kind));
        Assert.NotEqual(plain.Key, held.Key);
    }

    [Fact]
    public void A_factory_set_that_is_held_restarts_by_hands_and_not_by_command()
    {
        var plan = PathWorld.Plan(
            PathWorld.Case(PathWorld.Phone("HX204", PhoneMode.Fastboot), WholePackage.Of(PathWorld.Model("HX204")), true) with
            {
                Policy = Usual with { HoldsRestart = true },
            },
            "F"
        );
        Assert.DoesNotContain(plan.Steps, step => step.Act is RestartInto { ToBootloader: false });
        Assert.Contains(plan.Steps, step => step.Act is RestartByHands { From: PhoneMode.Fastboot });
    }

    [Fact]
    public void Hands_that_let_a_phone_start_are_told_the_keys_and_to_read_first()
    {
        var plan = PathWorld.Plan(Bundle(Usual with { HoldsRestart = true }), "B");
        var step = plan.Steps.Single(one => one.Act is RestartByHands);
        HandsOrder From(PhoneMode mode) =>
            HandsOrder.Of(
                RunState.Of(plan, [new JournalEntry(1, Sample.Noon, new HandsWanted(step.Number, step.Title, mode.Id()))]),
                PathWorld.Phone("TN63E", PhoneMode.Download),
                PathWorld.Model("TN63E"),
                Repo.Catalogue
            )!;
        var order = From(PhoneMode.Download);
        // Whatever somebody said it shows, there is a next thing to do.
        Assert.NotNull(From(PhoneMode.Starting));
        Assert.NotNull(From(PhoneMode.Unknown));
        Assert.StartsWith("Read what the phone says", order.Words[0]);
        Assert.NotNull(order.Way);
        Assert.True(order.Allows(PhoneMode.Starting, true));
        Assert.False(order.Allows(PhoneMode.Download, true));
    }

    [Fact]
    public void An_entry_that_another_recovery_lacks_is_left_out_but_never_one_that_erases()
    {
        var phone = PathWorld.Phone("HX204", PhoneMode.BootLoop);
        var plan = PathWorld.Plan(PathWorld.Case(phone, null, true), "K");
        HandsOrder At(string entry)
        {
            var step = plan.Steps.Single(one => one.Act is ChooseEntry choose && choose.Entry == entry);
            var run = RunState.Of(
                plan,
                [new JournalEntry(1, Sample.Noon, new HandsWanted(step.Number, step.Title, PhoneMode.CustomRecovery.Id()))]
            );
            return HandsOrder.Of(run, phone, PathWorld.Model("HX204"), Repo.Catalogue)!;
        }

        Assert.Contains("leave it out", At("wipe-cache").Words[0]);
        Assert.DoesNotContain("leave it out", At("wipe-data").Words[0]);
        Assert.Contains("Restart: system", At("restart").Words[0]);
    }

    [Fact]
    public void The_rules_of_the_watch_are_frozen_with_the_plan_and_the_usual_ones_leave_its_key_alone()
    {
        var usual = PathWorld.Plan(Bundle(Usual), "B");
        Assert.Null(usual.Watch);
        var other = PathWorld.Plan(Bundle(Usual with { Hang = HangSchool.TenMinutes, UnplugsAtRestart = true }), "B");
        Assert.Equal((10, true), (other.Watch!.MostMinutes, other.Watch.UnplugsAtRestart));
        Assert.Null(WatchRules.Of(Usual));
        Assert.Equal(6, WatchRules.Of(Usual with { Hang = HangSchool.SixMinutes })!.MostMinutes);
    }

    [Fact]
    public void The_cable_stays_in_until_a_written_phone_has_booted_unless_the_shop_says_otherwise()
    {
        Unplugging While(PlanPolicy policy, PhoneMode now) =>
            Unplugging.Of(now, RunState.Of(PathWorld.Plan(Bundle(policy), "B"), [new JournalEntry(1, Sample.Noon, new RunFinished())]));
        Assert.False(While(Usual, PhoneMode.Starting).May);
        Assert.True(While(Usual, PhoneMode.SetupWizard).May);
        Assert.True(While(Usual with { UnplugsAtRestart = true }, PhoneMode.Starting).May);
        Assert.True(Unplugging.Of(PhoneMode.Starting, null).May);
    }

    [Theory]
    [InlineData(false, false, false)]
    [InlineData(true, false, true)]
    [InlineData(true, true, false)]
    public void The_online_writer_is_asked_about_where_it_is_tried_first_and_a_system_is_written(bool first, bool wipeOnly, bool asked)
    {
        var @case = wipeOnly
            ? PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.BootLoop), null, true) with
            {
                Policy = Usual with { OnlineFirst = first },
            }
            : Bundle(Usual with { OnlineFirst = first });
        Assert.Equal(asked, Gates(@case, wipeOnly ? "K" : "B").Any(gate => gate.Id == GateId.OnlineWriter));
    }

    [Fact]
    public void What_is_asked_of_the_companion_program_follows_what_is_installed()
    {
        string Asked(bool suite) =>
            Gates(Bundle(Usual with { HasWholeSuite = suite }), "B").Single(gate => gate.Id == GateId.Program).Options[0].Text;
        Assert.Contains("never installed", Asked(false));
        Assert.Contains("installed for its drivers", Asked(true));
    }

    private static IReadOnlyList<Gate> Gates(PathCase @case, string path) =>
        Plans.Gates.Evaluate(
            new GateCase(PathWorld.Plan(@case, path), @case.Package, @case.Phone, null, true, 0, null, [], [], Repo.Catalogue.Figures)
            {
                Policy = @case.Policy,
            }
        );
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class PathTests
{
    private static Phone Of(string model, PhoneMode mode, params (FactName Name, string Value)[] more) =>
        Sample.Phone([
            Sample.Fact(FactName.ModelCode, model, FactSource.Label),
            Sample.Fact(FactName.Mode, mode.Id(), FactSource.Customer),
            .. more.Select(one => Sample.Fact(one.Name, one.Value)),
        ]);

    private static PlanOutcome Wipe(Phone phone) => new WipeOnly().Compile(new PathCase(phone, null, true, Repo.Catalogue));

    public static TheoryData<string, string> Stuck
    {
        get
        {
            var data = new TheoryData<string, string>();
            foreach (var model in Repo.Catalogue.Models)
            {
                // Not every recovery begins with an idle picture.
                var idles = Repo.Catalogue.KeyFamilyOf(model).Behaviour.RecoveryOpensWith == PhoneStage.NoCommand;
                foreach (
                    var mode in new[]
                    {
                        PhoneMode.BootLoop,
                        PhoneMode.StuckAtLogo,
                        PhoneMode.Off,
                        PhoneMode.NoCommand,
                        PhoneMode.StockRecovery,
                    }.Where(mode => idles || mode != PhoneMode.NoCommand)
                )
                    data.Add(model.Code, mode.Id());
            }

            return data;
        }
    }

    [Theory]
    [MemberData(nameof(Stuck))]
    public void A_wipe_is_planned_for_every_model_from_wherever_it_is_stuck_and_ends_at_the_set_up(string code, string mode)
    {
        var outcome = Wipe(Of(code, PhoneModes.Parse(mode)!.Value));
        Assert.True(outcome.Plan is not null, string.Join(" ", outcome.Refusals));
        var plan = outcome.Plan!;
        Assert.Equal("K", plan.Choice.Path);
        Assert.False(plan.NeedsLink);
        Assert.Empty(plan.Packages);
        Assert.Equal(0, plan.BytesToSend);
        Assert.All(plan.Steps.Where(step => !step.Act.FollowsTheRun), step => Assert.Equal(ActBy.Hands, step.Act.By));
        Assert.Single(plan.Steps, step => step.Act is ChooseEntry { Entry: "wipe-data" });
        Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.IsNoReturn));
        Assert.Equal(FateKind.Lost, plan.Rehearsal.Fates[0].Kind);
        Assert.Contains(plan.Rehearsal.Expectations, expected => expected.Fact == FactName.Reached(PhoneMode.SetupWizard));
        Assert.Equal(
            "Neither boot nor system is written.",
            plan.Rehearsal.Fates.Single(fate => fate.Thing.StartsWith("Root", StringComparison.Ordinal)).Reason
        );
    }

    [Theory]
    [InlineData("HX204", "boot-loop")]
    [InlineData("OB17", "stuck-at-logo")]
    public void Whose_recovery_it_has_is_played_both_ways_unless_it_is_known_or_a_closed_lock_settles_it(string code, string mode)
    {
        var open = Of(code, PhoneModes.Parse(mode)!.Value).Supposing(FactName.LockState, "unlocked");
        int Branches(Phone phone) => Wipe(phone).Plan!.Rehearsal.Branches;
        Assert.Equal(2 * Branches(open.Supposing(FactName.Recovery, "stock")), Branches(open));
        Assert.Equal(Branches(open.Supposing(FactName.Recovery, "custom")), Branches(open.Supposing(FactName.LockState, "locked")));
    }

    [Fact]
    public void A_wipe_of_a_phone_of_which_nobody_knows_where_it_is_or_what_is_refused_with_what_to_do()
    {
        Assert.Contains("Look at it", Assert.Single(Wipe(Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204"))).Refusals));
        Assert.Contains("model code", Assert.Single(Wipe(Sample.Phone(Sample.Fact(FactName.Mode, "boot-loop"))).Refusals));
        Assert.Contains("emergency", Assert.Single(Wipe(Of("HX204", PhoneMode.Emergency)).Refusals));
    }

    [Fact]
    public void A_wipe_needs_no_gate_of_a_link_or_of_a_package_and_every_consent()
    {
        var plan = Wipe(Of("HX204", PhoneMode.BootLoop)).Plan!;
        var gates = Gates
            .Evaluate(new GateCase(plan, null, Of("HX204", PhoneMode.BootLoop), null, true, 0, null, [], [], Repo.Catalogue.Figures))
            .Select(gate => gate.Id)
            .ToList();
        Assert.Equal([GateId.Ownership, GateId.Battery, GateId.Backup, GateId.DataLoss, GateId.Accounts], gates);
    }

    [Fact]
    public void Hands_are_led_from_wherever_the_phone_really_is()
    {
        var phone = Of("HX204", PhoneMode.BootLoop);
        var model = Repo.Catalogue.Model("HX204")!;
        var plan = Wipe(phone).Plan!;
        var bring = plan.Steps.First(step => step.Act is BringInto);
        var order = Order(new HandsWanted(bring.Number, bring.Title, "boot-loop"));
        Assert.NotNull(order.Way);
        Assert.Contains(order.Choices, choice => choice is { Shows: PhoneMode.StockRecovery, Done: true });
        var elsewhere = Order(new HandsWanted(bring.Number, bring.Title, "fastboot"));
        Assert.Equal(PhoneMode.Fastboot, elsewhere.Way!.From);
        Assert.False(order.Allows(PhoneMode.Fastboot, done: true));
        Assert.True(order.Allows(PhoneMode.Fastboot, done: false));

        var wipe = plan.Steps.First(step => step.Act is ChooseEntry { Entry: "wipe-data" });
        var there = Order(new HandsWanted(wipe.Number, wipe.Title, "stock-recovery"));
        Assert.Null(there.Way);
        Assert.Contains(there.Words, line => line.Contains("Wipe data"));
        // It restarted meanwhile: first back into the menu, and only then is it done.
        var lost = Order(new HandsWanted(wipe.Number, wipe.Title, "boot-loop"));
        Assert.Equal(PhoneMode.BootLoop, lost.Way!.From);
        Assert.DoesNotContain(lost.Choices, choice => choice.Done);

        HandsOrder Order(HandsWanted wanted) =>
            HandsOrder.Of(RunState.Of(plan, [new JournalEntry(1, Sample.Noon, wanted)]), phone, model, Repo.Catalogue)!;
    }

    [Fact]
    public void A_run_for_hands_waits_and_goes_on_by_their_word()
    {
        var plan = Wipe(Of("HX204", PhoneMode.BootLoop)).Plan!;
        var wipe = plan.Steps.First(step => step.Act is ChooseEntry { Entry: "wipe-data" });
        RunState Fold(params RunEvent[] events) =>
            RunState.Of(plan, events.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what)));
        RunEvent[] wanted =
        [
            new RunQueued("bench", null),
            new RunStarted("w"),
            new StepStarted(wipe.Number, wipe.Title),
            new HandsWanted(wipe.Number, wipe.Title, "stock-recovery"),
        ];
        var waits = Fold(wanted);
        Assert.Equal((RunStatus.Waiting, true, true), (waits.Status, waits.Status.IsOpen(), waits.HasTouchedPhone));
        Assert.Contains("Perhaps erased", waits.PhoneNow);
        var elsewhere = Fold([.. wanted, new HandsSaid(wipe.Number, "bench", "boot-loop", false)]);
        Assert.Equal((RunStatus.Queued, PhoneMode.BootLoop, null), (elsewhere.Status, elsewhere.ShownByHands, elsewhere.HandsDone));
        var done = Fold([.. wanted, new HandsSaid(wipe.Number, "bench", "stock-recovery", true)]);
        Assert.Equal((RunStatus.Queued, wipe.Number), (done.Status, done.HandsDone));
        Assert.Contains("userdata", done.Erased);
        Assert.Equal(WriteTouch.UserData, done.TouchedBy);
    }

    [Fact]
    public async Task A_bundle_goes_in_one_session_the_boot_chain_first_with_the_pack_that_was_chosen()
    {
        var package = await Package("TN63E_WHM_r5_full.zip");
        foreach (var (erase, pack) in new[] { (false, PartKind.KeepDataPack), (true, PartKind.CleanPack) })
        {
            var plan = Planned.Plan(Tern(), package, erase);
            Assert.Equal(erase ? "B" : "A", plan.Choice.Path);
            var bundle = Assert.Single(plan.Steps.Select(step => step.Act).OfType<SendBundle>());
            Assert.Equal(pack, bundle.Pack);
            Assert.Equal(PartitionRole.BootChain, bundle.Images[0].Role);
            Assert.Equal(bundle.Images.Count, bundle.Images.Select(image => image.Partition).Distinct().Count());
            Assert.Equal(erase, bundle.Images.Any(image => image.Role == PartitionRole.UserData));
            Assert.Equal(erase, plan.IfItLoops.Count == 0);
            Assert.DoesNotContain(bundle.Images, image => image.Role == PartitionRole.Identity);
        }
    }

    [Fact]
    public async Task A_break_in_a_bundle_is_final_in_its_boot_chain_only()
    {
        var plan = Planned.Plan(Tern(), await Package("TN63E_WHM_r5_full.zip"), false);
        var send = plan.Steps.First(step => step.Act is SendBundle);
        Assert.Equal(RiskKind.OnlyEmergency, plan.RiskOf(send).Risk);
        foreach (var image in ((SendBundle)send.Act).Images)
            Assert.Equal(
                image.Role == PartitionRole.BootChain ? RiskKind.OnlyEmergency : RiskKind.KeysBringItBack,
                plan.RiskOf(send, image.Partition).Risk
            );
    }

    private static Task<Package> Package(string file) => DemoLibrary.ReadAnyAsync(file);

    private static Phone Tern() =>
        Sample.Phone([
            .. new (FactName Name, string Value)[]
            {
                (FactName.ModelCode, "TN63E"),
                (FactName.Serial, "TNH60418"),
                (FactName.LockState, "unlocked"),
                (FactName.RollbackFloor, "5"),
                (FactName.BootloaderRevision, "5"),
                (FactName.ChipFamily, "Merak Four"),
                (FactName.Mode, "download"),
                (FactName.DeviceStatus, "custom"),
                (FactName.BatteryPercent, "70"),
                (FactName.TamperFuse, "tripped"),
            }.Select(one => Sample.Fact(one.Name, one.Value)),
        ]);

    [Fact]
    public void What_was_agreed_on_for_a_loop_is_a_plan_of_its_own_that_wipes_and_is_begun_only_for_a_phone_that_loops()
    {
        var written = Planned.Plan(erase: false);
        Assert.NotEmpty(written.IfItLoops);
        var looping = new PathCase(Of("HX204", PhoneMode.BootLoop, (FactName.Serial, "HXA70431")), null, true, Repo.Catalogue);
        var wipe = LadderPlans.Of(Rung.WipeData, written, looping).Plan!;
        Assert.Equal((written.Key, true, false), (wipe.Follows, wipe.ErasesData, wipe.NeedsLink));
        Assert.Equal(written.Target, wipe.Target);
        Assert.NotEqual(written.Key, wipe.Key);
        Assert.Contains(wipe.Rehearsal.Expectations, expected => expected.Fact == FactName.Reached(PhoneMode.SetupWizard));
        Assert.All(written.Rehearsal.Expectations, expected => Assert.Contains(expected, wipe.Rehearsal.Expectations));
        Assert.Equal(FateKind.Lost, wipe.Rehearsal.Fates[0].Kind);
        Assert.Contains(
            "loops",
            Assert.Single(LadderPlans.Of(Rung.WipeData, written, looping with { Phone = Of("HX204", PhoneMode.System) }).Refusals)
        );
        Assert.Contains("erased with the write", Assert.Single(LadderPlans.Of(Rung.WipeData, Planned.Plan(erase: true), looping).Refusals));
        Assert.DoesNotContain("\"Follows\"", System.Text.Json.JsonSerializer.Serialize(written));
    }
}

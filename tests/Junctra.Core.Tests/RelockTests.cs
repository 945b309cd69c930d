using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Closing the lock: a plan of its own, never over software that is not proved to be the maker's.</summary>
public class RelockTests
{
    private static readonly (FactName Name, string Value)[] Stock =
    [
        (FactName.LockState, "unlocked"),
        (FactName.DeviceStatus, "official"),
        (FactName.UnlockPermission, "greyed"),
    ];

    private static Phone Of(string model, PhoneMode mode, params (FactName Name, string Value)[] more) =>
        Sample.Phone([
            Sample.Fact(FactName.ModelCode, model, FactSource.Label),
            Sample.Fact(FactName.Mode, mode.Id(), FactSource.Customer),
            .. more.Select(one => Sample.Fact(one.Name, one.Value)),
        ]);

    private static PlanOutcome Close(Phone phone) => PathList.Compile(new PathCase(phone, null, true, Repo.Catalogue), "J");

    private static Plan PlanOf(string model, PhoneMode mode = PhoneMode.System)
    {
        var outcome = Close(Of(model, mode, Stock));
        Assert.True(outcome.Plan is not null, $"{model}: {string.Join(" ", outcome.Refusals)}");
        return outcome.Plan!;
    }

    public static TheoryData<string> WithALockScreen =>
        [
            .. Repo
                .Catalogue.Models.Where(model =>
                    ChangeLock.AnswerOf(Repo.Catalogue.KeyFamilyOf(model), Repo.Catalogue.CommonWays) is not null
                )
                .Select(model => model.Code),
        ];

    [Theory]
    [MemberData(nameof(WithALockScreen))]
    public void It_is_planned_for_every_model_that_asks_and_ends_closed_started_and_with_the_switch_off(string code)
    {
        var plan = PlanOf(code);
        var model = Repo.Catalogue.Model(code)!;
        Assert.Equal("J", plan.Choice.Path);
        Assert.False(plan.NeedsLink);
        Assert.Empty(plan.Packages);
        Assert.Equal(model.RelockErases, plan.ErasesData);
        var fates = plan.Rehearsal.Fates;
        var fate = fates.Single(one => one.Thing == "Lock state");
        Assert.Equal((FateKind.OneWay, "becomes locked"), (fate.Kind, fate.Word));
        Assert.Equal(model.RelockErases ? FateKind.Lost : FateKind.Kept, fates[0].Kind);
        Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.IsNoReturn, $"{risk.Step}: {risk.Words}"));
        Assert.Contains(plan.Rehearsal.Expectations, one => one.Fact == FactName.LockState && one.Value == "locked" && one.IsNeeded);
        Assert.Contains(plan.Rehearsal.Expectations, one => one.Fact == FactName.UnlockPermission && one.Value == "off");
    }

    [Fact]
    public void A_model_that_has_no_such_screen_is_refused_in_words()
    {
        var without = Repo.Catalogue.Models.Select(model => model.Code).Except(WithALockScreen.Select(row => row.Data)).ToList();
        Assert.NotEmpty(without);
        Assert.All(without, code => Assert.Contains("is not known", string.Join(" ", Close(Of(code, PhoneMode.System, Stock)).Refusals)));
    }

    [Theory]
    [InlineData("lock-state", "locked", "closed already")]
    [InlineData("lock-state", null, "Whether the lock is open is not known")]
    [InlineData("device-status", "custom", "not its maker's")]
    [InlineData("device-status", null, "is not known: look at the device status")]
    [InlineData("recovery", "custom", "recovery is not its maker's")]
    [InlineData("root", "present", "It has root")]
    [InlineData("unlock-permission", "off", "no way leads into the lock-change screen")]
    public void What_speaks_against_it_ends_the_plan_and_is_named(string fact, string? value, string why)
    {
        var name = Stock.Select(one => one.Name).Concat([FactName.Recovery, FactName.Root]).Single(one => one.Value == fact);
        var facts = Stock.Where(one => one.Name != name).Concat(value is null ? [] : [(name, value)]).ToArray();
        var outcome = Close(Of("TN63E", PhoneMode.System, facts));
        Assert.Null(outcome.Plan);
        Assert.False(outcome.IsRefusedByRehearsal);
        Assert.Contains(why, string.Join(" ", outcome.Refusals));
    }

    [Fact]
    public void What_this_job_has_proved_need_not_be_looked_up_and_still_never_beats_what_somebody_saw()
    {
        var unknown = Of("TN63E", PhoneMode.System, [.. Stock.Where(one => one.Name != FactName.DeviceStatus)]);
        PlanOutcome Proven(Phone phone) => PathList.Compile(new PathCase(phone, null, true, Repo.Catalogue) { IsProvenStock = true }, "J");
        Assert.NotNull(Proven(unknown).Plan);
        Assert.Null(Proven(new Phone(unknown.All.Append(Sample.Fact(FactName.DeviceStatus, "custom")))).Plan);
    }

    [Fact]
    public void Two_sources_that_disagree_on_its_software_are_no_proof()
    {
        var phone = new Phone(
            Of("TN63E", PhoneMode.System, Stock).All.Append(Sample.Fact(FactName.DeviceStatus, "custom", FactSource.BootloaderScreen))
        );
        Assert.Contains("not its maker's", string.Join(" ", Close(phone).Refusals));
    }

    [Fact]
    public void The_twin_of_a_modified_phone_does_not_survive_it()
    {
        var model = Repo.Catalogue.Model("TN63E")!;
        var twin = new PhoneTwin(model, Repo.Catalogue);
        var scene = new TwinScene(twin, Repo.Catalogue, Of("TN63E", PhoneMode.System, Stock));
        var act = new ChangeLock(true, "userdata", "Press Volume up shortly");
        var asked = TwinFactory.In(model, PhoneMode.LockChange, new TwinNature { Unlocked = true, Root = "4" });
        var end = twin.Run(asked, act.OnTwin(scene, asked));
        end = twin.Run(end, Hands.UntilRest(twin, end));
        Assert.False(end.Unlocked);
        Assert.NotEqual(PhoneMode.System, end.Mode);
        Assert.NotEqual(PhoneMode.SetupWizard, end.Mode);
    }

    [Fact]
    public void Whoever_finds_it_closed_leaves_the_screen_that_would_open_it()
    {
        foreach (var code in WithALockScreen.Select(row => row.Data))
        {
            var model = Repo.Catalogue.Model(code)!;
            var twin = new PhoneTwin(model, Repo.Catalogue);
            var scene = new TwinScene(twin, Repo.Catalogue, Of(code, PhoneMode.System, Stock));
            var closed = TwinFactory.In(model, PhoneMode.LockChange, new TwinNature { Permission = true });
            var end = twin.Run(closed, new ChangeLock(true, null, "x").OnTwin(scene, closed));
            Assert.False(end.Unlocked);
            Assert.Equal(closed.Data, end.Data);
            Assert.NotEqual(PhoneMode.LockChange, end.Mode);
        }
    }

    [Fact]
    public void Hands_are_told_to_read_the_question_before_they_answer_it()
    {
        var plan = PlanOf("TN63E");
        var step = plan.Steps.Single(one => one.Act is ChangeLock);
        Assert.Contains("Volume up", step.Title);
        var run = RunState.Of(
            plan,
            [new JournalEntry(1, Sample.Noon, new HandsWanted(step.Number, step.Title, PhoneMode.LockChange.Id()))]
        );
        var order = HandsOrder.Of(run, Of("TN63E", PhoneMode.LockChange, Stock), Repo.Catalogue.Model("TN63E")!, Repo.Catalogue)!;
        Assert.Contains("Lock the bootloader?", order.Words[0]);
        Assert.True(order.Allows(PhoneMode.Starting, true));
    }

    [Fact]
    public void A_lock_that_hands_were_told_to_change_is_read_anew_even_where_nothing_is_erased()
    {
        var code = Repo.Catalogue.Models.First(model => !model.RelockErases && WithALockScreen.Any(row => row.Data == model.Code)).Code;
        var plan = PlanOf(code);
        var step = plan.Steps.Single(one => one.Act is ChangeLock);
        Assert.Empty(step.Act.Touches);
        RunState Fold(params RunEvent[] events) =>
            RunState.Of(plan, events.Select((what, i) => new JournalEntry(i + 1, Sample.Noon, what)));
        Assert.False(Fold(new RunQueued("bench", null)).HasTouchedPhone);
        var asked = Fold(new RunQueued("bench", null), new StepStarted(step.Number, step.Title));
        Assert.True(asked.HasTouchedPhone);
        Assert.Contains("lock may have changed", asked.PhoneNow);
        Assert.True(FactName.LockState.Name.ExpiresBy(asked.TouchedBy));
        Assert.False(FactName.Build.Name.ExpiresBy(asked.TouchedBy));
    }

    [Fact]
    public void A_job_that_is_to_be_locked_is_led_from_its_checked_write_to_the_lock_and_from_there_to_the_counter()
    {
        var written = Planned.Plan();
        Phone Read(string lockState) =>
            new(
                written
                    .Rehearsal.Expectations.Where(one => one.IsNeeded)
                    .Select(one => Sample.Fact(one.Fact, one.Fact == FactName.LockState ? lockState : one.Value))
            );
        JobStanding Standing(Phone phone, JobGoal goal) =>
            JobLine.Standing(new JobState(phone, true, RunStatus.Finished, Checker.Compare(written, phone), false, true, Goal: goal));
        Assert.Equal(Station.Plan, Standing(Read("unlocked"), JobGoal.Relock).At);
        Assert.Equal(Station.HandBack, Standing(Read("unlocked"), JobGoal.Stock).At);
        // Not yet checked: nothing is closed over what nobody looked at.
        Assert.Equal(Station.Check, Standing(Sample.Phone(), JobGoal.Relock).At);
    }

    // ---- what proves the software ----

    private static WrittenPlan Written(Package package, bool whole = true)
    {
        var phone = Sample.Cairn();
        var plan = PathList.Compile(new PathCase(phone, package, true, Repo.Catalogue)).Plan!;
        return new WrittenPlan(plan, whole, DateTimeOffset.UnixEpoch.AddYears(60), package);
    }

    private static Phone Started(bool since = true) =>
        new(
            Sample
                .Cairn()
                .All.Where(fact => fact.Name != FactName.Mode)
                .Append(
                    FactName.Mode.Claim(
                        PhoneMode.SetupWizard,
                        FactSource.Customer,
                        DateTimeOffset.UnixEpoch.AddYears(since ? 61 : 59),
                        "test"
                    )
                )
        );

    private static StockProof Prove(WrittenPlan? written, Phone phone) =>
        StockProof.Of(Repo.Catalogue.Model("HX204")!, written is null ? [] : [written], phone);

    [Fact]
    public async Task A_full_official_write_and_one_boot_prove_it_and_nothing_less_does()
    {
        var official = Written(await DemoLibrary.ReadAsync("cairn-stock-26w10.tar"));
        Assert.True(Prove(official, Started()).Holds, Prove(official, Started()).Why);
        // Whole by a list that lies in it: that says nothing of whose it is.
        var listed = await DemoLibrary.ReadAnyAsync("cairn-stock-26w10.tar", trusted: false);
        Assert.Equal(Wholeness.Listed, listed.Whole().State);
        Assert.False(Prove(official with { Package = listed }, Started()).Holds);
        Assert.Contains("has not been seen to start", Prove(official, Started(since: false)).Why);
        Assert.Contains("did not end whole", Prove(official with { IsWhole = false }, Started()).Why);
        Assert.Contains("no longer in the library", Prove(official with { Package = null }, Started()).Why);
        var part = official with { Plan = official.Plan with { Steps = [.. official.Plan.Steps.Where(one => one.Partition() != "boot")] } };
        Assert.Contains("Not written in this job: boot", Prove(part, Started()).Why);
        Assert.Equal(StockProof.None, Prove(null, Started()));
    }

    [Fact]
    public void The_gate_stands_for_a_lock_that_is_closed_and_opens_by_the_proof_alone()
    {
        var plan = PlanOf("TN63E");
        Gate GateWith(StockProof proof) =>
            Gates
                .Evaluate(new GateCase(plan, null, Sample.Cairn(), null, true, 0, null, [], [], Repo.Catalogue.Figures) { Stock = proof })
                .Single(gate => gate.Id == GateId.ProvenStock);
        Assert.False(GateWith(StockProof.None).Holds);
        Assert.Empty(GateWith(StockProof.None).Options);
        Assert.True(GateWith(new StockProof(true, "")).Holds);
    }
}

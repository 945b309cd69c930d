using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class RehearsalTests
{
    private static Phone With(params (FactName Name, string Value)[] facts) =>
        new(
            Sample
                .Cairn()
                .All.Where(fact => facts.All(one => one.Name != fact.Name))
                .Concat(facts.Select(one => Sample.Fact(one.Name, one.Value, minute: 9)))
        );

    [Fact]
    public void Every_step_has_a_risk_and_only_the_boot_chain_is_final()
    {
        var plan = Planned.Plan();
        Assert.Equal(
            plan.Steps.Select(step => step.Number),
            plan.Rehearsal.Risks.Where(risk => risk.Partition is null).Select(risk => risk.Step)
        );
        Assert.Equal(RiskKind.SafeToStop, plan.RiskOf(plan.Steps[0]).Risk);
        Assert.Equal(RiskKind.SafeToStop, plan.RiskOf(plan.Steps[1]).Risk);
        foreach (var step in plan.Steps.Where(step => step.IsWrite()))
            Assert.Equal(step.Partition() == "bootloader" ? RiskKind.OnlyEmergency : RiskKind.KeysBringItBack, plan.RiskOf(step).Risk);
        Assert.Contains("emergency", plan.RiskOf(plan.Steps.First(step => step.Partition() == "bootloader")).Words);
    }

    [Fact]
    public void What_nobody_knows_makes_a_twin_for_each_thing_that_it_may_be()
    {
        var known = With((FactName.DeviceStatus, "official"), (FactName.Account, "none"), (FactName.Recovery, "stock"));
        Assert.Equal(1, Planned.Plan(known).Rehearsal.Branches);
        Assert.Equal(
            8,
            Planned
                .Plan(
                    new Phone(
                        Sample
                            .Cairn()
                            .All.Where(fact =>
                                fact.Name != FactName.DeviceStatus && fact.Name != FactName.Account && fact.Name != FactName.Recovery
                            )
                    )
                )
                .Rehearsal.Branches
        );
    }

    [Fact]
    public void Data_that_is_kept_is_never_promised_and_what_comes_from_a_custom_system_is_said_to_loop()
    {
        var official = Planned.Plan(With((FactName.DeviceStatus, "official")), erase: false).Rehearsal.Fates[0];
        Assert.Equal((FateKind.Unknown, "kept if it starts"), (official.Kind, official.Word));
        Assert.DoesNotContain("custom", official.Reason);
        Assert.Contains("likely to loop", Planned.Plan(With((FactName.DeviceStatus, "custom")), erase: false).Rehearsal.Fates[0].Reason);
    }

    [Fact]
    public void What_erases_the_data_is_named_by_its_step()
    {
        var plan = Planned.Plan();
        var erase = plan.Steps.First(step => step.IsErase());
        Assert.Contains($"Step {erase.Number} erases the user data.", plan.Rehearsal.Fates[0].Reason);
    }

    [Fact]
    public void An_account_that_is_signed_in_is_asked_for_and_one_that_is_not_is_not()
    {
        Assert.Contains("may ask", Planned.Plan(With((FactName.Account, "signed-in"))).Rehearsal.Fates[1].Reason);
        Assert.Contains("No account", Planned.Plan(With((FactName.Account, "none"))).Rehearsal.Fates[1].Reason);
    }

    [Fact]
    public void A_plan_that_the_twin_refuses_is_none()
    {
        var outcome = Planned.Compile(Sample.Cairn(lockState: "locked"));
        Assert.Null(outcome.Plan);
        Assert.Contains("takes no write", Assert.Single(outcome.Refusals));
        var older = Planned.Compile(package: Sample.Package(revision: "2", build: "HX204/14.25w40-3.r2"));
        Assert.Null(older.Plan);
        Assert.Contains("below the floor", Assert.Single(older.Refusals));
    }

    [Fact]
    public void The_key_follows_what_is_done_to_whom_with_what_and_nothing_else()
    {
        var plan = Planned.Plan();
        Assert.Equal(plan.Key, Planned.Plan().Key);
        Assert.Equal(plan.Key, Planned.Plan(With((FactName.Account, "none"))).Key);
        var others = new[]
        {
            Planned.Plan(erase: false).Key,
            Planned.Plan(package: Sample.Package(revision: "4", build: "HX204/15.26w30-2.r4")).Key,
            (plan with { Target = plan.Target with { Serial = "OTHER" } }).Key,
            (plan with { Steps = [.. plan.Steps.Reverse()] }).Key,
            (plan with { Packages = [plan.Packages[0] with { Id = "00" }] }).Key,
        };
        Assert.Equal(others.Length + 1, others.Append(plan.Key).Distinct().Count());
    }

    /// <summary>
    /// What the rehearsal says of a break, done to a twin by other means: every event of every step, cut by every mistake.
    /// </summary>
    [Fact]
    public void No_break_anywhere_is_worse_than_the_rehearsal_says()
    {
        var phone = With((FactName.DeviceStatus, "official"), (FactName.Account, "none"), (FactName.Recovery, "stock"));
        var plan = Planned.Plan(phone);
        var model = Repo.Catalogue.Model("HX204")!;
        var twin = new PhoneTwin(model, Repo.Catalogue);
        var scene = new TwinScene(twin, Repo.Catalogue, phone);
        var state = TwinFactory.Of(phone, model, PhoneMode.Fastboot, TwinScene.Computer) with
        {
            Cable = CableTo.Computer,
            Computer = TwinScene.Computer,
        };
        foreach (var step in plan.Steps)
        {
            foreach (var happening in step.Act.OnTwin(scene, state))
            {
                foreach (var cut in Cuts(state))
                    Hold(step, cut);
                if (happening is TimePasses { Milliseconds: > 1 } time)
                {
                    foreach (var share in new[] { 0.1, 0.37, 0.8, 0.97 })
                    foreach (var cut in Cuts(twin.Next(state, new TimePasses((long)(time.Milliseconds * share)))))
                        Hold(step, cut);
                }

                state = twin.Next(state, happening);
            }
        }

        IEnumerable<TwinState> Cuts(TwinState now) =>
            new TwinEvent[] { new CableOut(), new PowerGone(), new ForcedRestart() }.Select(cut => twin.Next(now, cut));

        void Hold(PlanStep step, TwinState cut)
        {
            var started = cut with { Charge = 80_000_000 };
            foreach (
                var happening in new TwinEvent[] { new ForcedRestart() }.Concat(
                    Hands.UntilRest(twin, twin.Next(started, new ForcedRestart()))
                )
            )
                started = twin.Next(started, happening);
            if (started.Mode == PhoneMode.Emergency)
                Assert.Equal(RiskKind.OnlyEmergency, plan.RiskOf(step).Risk);
        }
    }

    [Fact]
    public void Keys_let_go_early_or_held_too_long_on_the_way_cost_nothing_that_keys_do_not_mend()
    {
        foreach (var model in Repo.Catalogue.Models)
        {
            var phone = Sample.Phone(
                Sample.Fact(FactName.ModelCode, model.Code, FactSource.Label),
                Sample.Fact(FactName.Mode, "boot-loop", FactSource.Customer)
            );
            var plan = new Core.Plans.Paths.WipeOnly().Compile(new(phone, null, true, Repo.Catalogue)).Plan!;
            var bring = plan.Steps.Single(step => step.Act is BringInto);
            Assert.InRange(plan.RiskOf(bring).Risk, RiskKind.SafeToStop, RiskKind.KeysBringItBack);
        }
    }

    [Fact]
    public void A_risk_is_one_sentence_whether_a_mistake_is_named_in_it_or_not()
    {
        Assert.Equal(
            "If it breaks here: nothing on the phone has changed. Begin again.",
            new StepRisk(1, RiskKind.SafeToStop, false).Sentence
        );
        var named = new StepRisk(3, RiskKind.OnlyEmergency, false, "the cable comes out").Sentence;
        Assert.StartsWith("If the cable comes out now, ", named);
        Assert.DoesNotContain("If it breaks here", named);
        Assert.Equal("", StepRisk.None.Sentence);
    }
}

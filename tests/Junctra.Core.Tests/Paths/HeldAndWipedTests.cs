using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Bundles whose data are wiped by hands: with the restart held back (path D), and before from custom recovery (path C).</summary>
public class HeldAndWipedTests
{
    public static TheoryData<string> TakeBundles => PathWorld.Codes(model => model.WriteMode == PhoneMode.Download);

    private static PathCase Case(string code, bool erase = true, params (FactName Name, string? Value)[] more) =>
        PathWorld.Case(PathWorld.Phone(code, PhoneMode.Download, more), WholePackage.Of(PathWorld.Model(code)), erase);

    [Theory]
    [MemberData(nameof(TakeBundles))]
    public void A_held_restart_ends_wiped_and_started_for_every_model(string code)
    {
        var plan = PathWorld.Plan(Case(code), "D");
        Assert.True(plan.Steps.Single(step => step.Act is SendBundle).Act is SendBundle { HoldsRestart: true });
        Assert.True(plan.ErasesData);
        var kinds = plan.Steps.Select(step => step.Act.GetType().Name).ToList();
        Assert.True(kinds.IndexOf(nameof(SendBundle)) < kinds.IndexOf(nameof(BringInto)));
        Assert.True(kinds.IndexOf(nameof(BringInto)) < kinds.IndexOf(nameof(ChooseEntry)));
        Assert.Equal(FateKind.Lost, PathWorld.Fate(plan, "Photos").Kind);
        Assert.Contains(plan.Steps, step => step.Act is ChooseEntry { Entry: "wipe-cache" });
        Assert.Empty(plan.IfItLoops);
    }

    [Fact]
    public void A_single_bundle_that_is_to_erase_is_planned_with_its_restart_held()
    {
        var outcome = PathList.Compile(Case("TN41E"));
        Assert.Equal("D", outcome.Plan?.Choice.Path);
        Assert.Contains("no clean pack", PathWorld.Refusal(Case("TN41E"), "B"));
        // One with a clean pack takes fewer hands.
        Assert.Equal("B", PathList.Compile(Case("TN63E")).Plan?.Choice.Path);
    }

    [Fact]
    public void On_the_way_into_recovery_it_is_not_started_with_the_old_data_whatever_its_system_would_allow()
    {
        // With debugging and root a command would be quicker, and lead through a system that loops on data of another.
        var plan = PathWorld.Plan(
            Case("TN63E", true, (FactName.UsbDebugging, "authorised"), (FactName.Root, "present"), (FactName.DeviceStatus, "custom")),
            "D"
        );
        Assert.True(Assert.IsType<BringInto>(plan.Steps.Single(step => step.Act is BringInto).Act).PastSystem);
    }

    [Fact]
    public void The_custom_recovery_that_it_came_with_is_gone_once_the_bundle_is_on_it()
    {
        var plan = PathWorld.Plan(Case("TN63E", true, (FactName.Recovery, "custom"), (FactName.DeviceStatus, "custom")), "D");
        Assert.Contains(plan.Steps, step => step.Act is BringInto { To: PhoneMode.StockRecovery });
        Assert.Equal(FateKind.Replaced, PathWorld.Fate(plan, "Custom recovery").Kind);
    }

    [Theory]
    [MemberData(nameof(TakeBundles))]
    public void Wiping_first_formats_the_system_and_ends_started_for_every_model(string code)
    {
        var plan = PathWorld.Plan(Case(code, true, (FactName.Recovery, "custom"), (FactName.DeviceStatus, "custom")), "C");
        var acts = plan.Steps.Select(step => step.Act).ToList();
        var format = acts.FindIndex(act => act is ChooseEntry { Entry: "format-system" });
        // Nothing is formatted before the package is verified and the link has answered; the phone is confirmed anew before the write.
        Assert.True(acts.FindIndex(act => act is VerifyFiles) < format);
        Assert.True(acts.FindIndex(act => act is ConfirmTarget { Mode: PhoneMode.Download }) < format);
        Assert.True(acts.FindLastIndex(act => act is ConfirmTarget { Mode: PhoneMode.Download }) > format);
        Assert.Equal(PartitionRole.System, Assert.Single(acts[format].Touches).Role);
        Assert.Equal(FateKind.Lost, PathWorld.Fate(plan, "Photos").Kind);
    }

    [Fact]
    public void What_speaks_against_wiping_first_is_named()
    {
        Assert.Contains("its maker's", PathWorld.Refusal(Case("TN63E", true, (FactName.Recovery, "stock")), "C"));
        Assert.Contains("is not known", PathWorld.Refusal(Case("TN63E"), "C"));
        Assert.Contains("to be kept", PathWorld.Refusal(Case("TN63E", false, (FactName.Recovery, "custom")), "C"));
        Assert.Contains("to be kept", PathWorld.Refusal(Case("TN63E", false), "D"));
        var set = PathWorld.Case(PathWorld.Phone("HX204", PhoneMode.Fastboot), Sample.Package(), true);
        Assert.Contains("It takes a bundle", PathWorld.Refusal(set, "C"));
        Assert.Contains("It takes a bundle", PathWorld.Refusal(set, "D"));
    }

    [Fact]
    public void A_phone_that_is_formatted_is_brought_back_by_keys_wherever_it_breaks()
    {
        var plan = PathWorld.Plan(Case("TN63E", true, (FactName.Recovery, "custom"), (FactName.DeviceStatus, "custom")), "C");
        var format = plan.Steps.Single(step => step.Act is ChooseEntry { Entry: "format-system" });
        Assert.Equal(RiskKind.KeysBringItBack, plan.RiskOf(format).Risk);
        var send = plan.Steps.Single(step => step.Act is SendBundle);
        Assert.Equal(RiskKind.OnlyEmergency, plan.RiskOf(send).Risk);
    }

    [Fact]
    public void Cards_are_out_before_a_recovery_formats()
    {
        var @case = Case("TN63E", true, (FactName.Recovery, "custom"), (FactName.DeviceStatus, "custom"));
        Assert.Contains(GateId.CardsOut, GatesOf(@case, "C"));
        Assert.DoesNotContain(GateId.CardsOut, GatesOf(@case, "B"));
    }

    private static List<GateId> GatesOf(PathCase @case, string letter) =>
        [
            .. Gates
                .Evaluate(
                    new GateCase(
                        PathWorld.Plan(@case, letter),
                        @case.Package,
                        @case.Phone,
                        null,
                        true,
                        long.MaxValue,
                        @case.Package!.Contents.SizeBytes,
                        ["p1"],
                        [],
                        Repo.Catalogue.Figures
                    )
                )
                .Select(gate => gate.Id),
        ];
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Updates from the card (path G), stock recovery alone (path M), and the phone's own backup (path H).</summary>
public class CardAndRecoveryTests
{
    public static TheoryData<string> WithACard => PathWorld.Codes(model => model.CardUpdate is not null);

    public static TheoryData<string> TakeAnImage =>
        PathWorld.Codes(model =>
            model.WriteMode == PhoneMode.Fastboot && model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery)
        );

    private static PathCase Card(string code, PhoneMode mode = PhoneMode.System, params (FactName Name, string? Value)[] more) =>
        PathWorld.Case(PathWorld.Phone(code, mode, more), WholePackage.CardUpdate(PathWorld.Model(code)), false);

    [Theory]
    [MemberData(nameof(WithACard))]
    public void An_update_from_the_card_is_planned_from_wherever_it_stands_with_its_lock_closed_too(string code)
    {
        foreach (var mode in new[] { PhoneMode.System, PhoneMode.BootLoop, PhoneMode.Off, PhoneMode.StockRecovery })
        {
            foreach (var locked in new[] { "locked", "unlocked" })
            {
                var whose = (FactName.Recovery.Name, locked == "locked" ? null : "stock");
                var plan = PathWorld.Plan(Card(code, mode, (FactName.LockState, locked), whose), "G");
                Assert.False(plan.NeedsLink);
                Assert.True(plan is { Writes: true, ErasesData: false, BytesToSend: 0 });
                var copy = Assert.IsType<CopyToCard>(plan.Steps.Single(step => step.Act is CopyToCard).Act);
                Assert.Equal(PathWorld.Model(code).CardUpdate!.FileName, copy.FileName);
                Assert.Equal("the card gets a file", PathWorld.Fate(plan, "SIM").Word);
                Assert.Contains(plan.Rehearsal.Expectations, one => one.Fact == FactName.Build && one.IsNeeded);
                Assert.NotEmpty(plan.IfItLoops);
            }
        }
    }

    [Theory]
    [InlineData(PhoneMode.System, "authorised", "present", true)]
    [InlineData(PhoneMode.System, "authorised", "none", false)]
    [InlineData(PhoneMode.System, "on", "present", false)]
    [InlineData(PhoneMode.System, null, "present", false)]
    [InlineData(PhoneMode.BootLoop, "authorised", "present", false)]
    public void The_update_goes_to_the_card_over_the_debugging_link_only_where_the_phone_gives_it(
        PhoneMode mode,
        string? debugging,
        string card,
        bool overLink
    )
    {
        foreach (var code in WithACard.Select(row => row.Data))
        {
            var plan = PathWorld.Plan(
                Card(
                    code,
                    mode,
                    (FactName.UsbDebugging, debugging),
                    (FactName.Card, card),
                    (FactName.Recovery, "stock"),
                    (FactName.LockState, "locked")
                ),
                "G"
            );
            var copy = plan.Steps.Single(step => step.Act is CopyToCard);
            Assert.Equal(overLink, ((CopyToCard)copy.Act).OverLink);
            Assert.Equal(overLink, plan.NeedsLink);
            // Whose phone it is is settled before recovery writes: by its own word, or by a person who reads the label.
            var confirm = (ConfirmTarget)plan.Steps.Single(step => step.Act is ConfirmTarget).Act;
            Assert.Equal(overLink ? PhoneMode.System : null, confirm.Mode);
            Assert.Equal(overLink, plan.Steps.Single(step => step.Act is ConfirmTarget).Number < copy.Number);
        }
    }

    [Fact]
    public void What_speaks_against_an_update_from_the_card_is_named()
    {
        Assert.Contains("Look at it", PathWorld.Refusal(Card("OB17", PhoneMode.Unknown), "G"));
        var other = PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.System), WholePackage.CardUpdate(PathWorld.Model("TN63E")), false);
        Assert.Contains("not in the catalogue", PathWorld.Refusal(other, "G"));
        Assert.Contains("to be erased", PathList.Find("G")!.WhyUnfit(Card("OB17") with { ErasesData = true }));
        Assert.Contains("Write stock recovery first", PathWorld.Refusal(Card("OB17", more: (FactName.Recovery, "custom")), "G"));
        Assert.Contains("is not known", PathWorld.Refusal(Card("OB17"), "G"));
        Assert.Contains(
            "Only the phone's chip answers",
            PathWorld.Refusal(Card("OB17", PhoneMode.Emergency, (FactName.LockState, "locked")), "G")
        );
    }

    [Fact]
    public void Room_on_the_card_is_asked_and_no_gate_of_a_link()
    {
        var @case = Card("OB17", more: (FactName.Recovery, "stock"));
        var gates = Gates
            .Evaluate(
                new GateCase(PathWorld.Plan(@case, "G"), @case.Package, @case.Phone, null, true, 0, 5_000, [], [], Repo.Catalogue.Figures)
            )
            .Select(gate => gate.Id)
            .ToList();
        Assert.Contains(GateId.RoomThere, gates);
        Assert.DoesNotContain(GateId.Target, gates);
        Assert.DoesNotContain(GateId.Cable, gates);
    }

    [Theory]
    [MemberData(nameof(TakeAnImage))]
    public void Stock_recovery_alone_is_written_proved_by_entering_it_and_touches_nothing_else(string code)
    {
        var phone = PathWorld.Phone(code, PhoneMode.Fastboot, (FactName.Recovery, "custom"), (FactName.DeviceStatus, "custom"));
        var plan = PathWorld.Plan(PathWorld.Case(phone, WholePackage.Recovery(PathWorld.Model(code)), false, JobGoal.Recovery), "M");
        Assert.Equal("recovery", Assert.Single(plan.Touches).Partition);
        Assert.Contains(plan.Steps, step => step.Act is BringInto { To: PhoneMode.StockRecovery });
        Assert.Equal(FateKind.Kept, PathWorld.Fate(plan, "Photos").Kind);
        Assert.Equal(FateKind.Kept, PathWorld.Fate(plan, "Root").Kind);
        Assert.Equal(FateKind.Replaced, PathWorld.Fate(plan, "Custom recovery").Kind);
        Assert.Contains(plan.Rehearsal.Expectations, one => one.Fact == FactName.Recovery && one is { Value: "stock", IsNeeded: true });
        Assert.DoesNotContain(plan.Rehearsal.Expectations, one => one.Fact == FactName.Build);
        Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.IsNoReturn || risk.DataGone, $"{risk.Step}: {risk.Words}"));
        var gates = Gates
            .Evaluate(new GateCase(plan, null, phone, null, true, 0, null, ["p"], [], Repo.Catalogue.Figures))
            .Select(gate => gate.Id)
            .ToList();
        Assert.DoesNotContain(GateId.DataLoss, gates);
        Assert.DoesNotContain(GateId.Accounts, gates);
        Assert.DoesNotContain(GateId.Modification, gates);
    }

    [Fact]
    public void A_whole_set_gives_its_recovery_alone_where_the_job_is_for_nothing_else()
    {
        var phone = PathWorld.Phone("HX204", PhoneMode.Fastboot, (FactName.Recovery, "custom"));
        Assert.Equal("M", PathList.Compile(PathWorld.Case(phone, Sample.Package(), false, JobGoal.Recovery)).Plan?.Choice.Path);
        Assert.Equal("F", PathList.Compile(PathWorld.Case(phone, Sample.Package(), false)).Plan?.Choice.Path);
        Assert.Contains("more than its recovery", PathWorld.Refusal(PathWorld.Case(phone, Sample.Package(), false), "M"));
    }

    [Fact]
    public void What_speaks_against_writing_recovery_alone_is_named()
    {
        var bundle = PathWorld.Case(
            PathWorld.Phone("TN63E", PhoneMode.Download),
            WholePackage.Of(PathWorld.Model("TN63E")),
            false,
            JobGoal.Recovery
        );
        Assert.Contains("takes no single image", PathWorld.Refusal(bundle, "M"));
        var unread = PathWorld.Phone("OB17", PhoneMode.System, (FactName.Serial, null));
        Assert.Contains(
            "was not read over the link",
            PathWorld.Refusal(PathWorld.Case(unread, WholePackage.Recovery(PathWorld.Model("OB17")), false), "M")
        );
        var locked = PathWorld.Phone("OB17", PhoneMode.Fastboot, (FactName.LockState, "locked"));
        Assert.Contains(
            "lock is closed",
            PathWorld.Refusal(PathWorld.Case(locked, WholePackage.Recovery(PathWorld.Model("OB17")), false), "M")
        );
        Assert.Contains("no package is chosen", PathWorld.Refusal(PathWorld.Case(unread, null, false), "M"));
    }

    private static PathCase Backup(
        string code,
        string? serial = null,
        string? system = "stock",
        bool hasData = true,
        string? recovery = "custom"
    ) =>
        PathWorld.Case(
            PathWorld.Phone(code, PhoneMode.CustomRecovery, (FactName.Recovery, recovery), (FactName.DeviceStatus, "custom")),
            WholePackage.Backup(PathWorld.Model(code), serial ?? "SN" + code, system, hasData),
            true
        );

    public static TheoryData<string> Every => PathWorld.Codes(model => model.DynamicPartitions.Count == 0);

    [Theory]
    [MemberData(nameof(Every))]
    public void Its_own_backup_goes_back_with_the_data_of_its_day(string code)
    {
        var plan = PathWorld.Plan(Backup(code), "H");
        var restore = Assert.IsType<RestoreBackup>(plan.Steps.Single(step => step.Act is RestoreBackup).Act);
        Assert.DoesNotContain(restore.Images, image =>
            image.Role is PartitionRole.BootChain or PartitionRole.Radio or PartitionRole.Recovery
        );
        Assert.Equal(PartitionRole.UserData, restore.Images[^1].Role);
        Assert.Equal("as of the backup", PathWorld.Fate(plan, "Photos").Word);
        Assert.Contains("untouched", PathWorld.Fate(plan, "Custom recovery").Word);
        Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.IsNoReturn, $"{risk.Step}: {risk.Words}"));
        Assert.Contains(plan.Rehearsal.Expectations, one => one.Fact == FactName.Build && one.Why == "the backup");
    }

    [Fact]
    public void A_backup_without_data_is_followed_by_a_wipe_or_the_phone_would_loop()
    {
        var plan = PathWorld.Plan(Backup("OB17", hasData: false), "H");
        Assert.Contains(plan.Steps, step => step.Act is ChooseEntry { Entry: "wipe-data" });
        Assert.Equal(FateKind.Lost, PathWorld.Fate(plan, "Photos").Kind);
    }

    [Fact]
    public void What_speaks_against_a_backup_is_named()
    {
        Assert.Contains("another phone", PathWorld.Refusal(Backup("OB17", serial: "OBF88230"), "H"));
        Assert.Contains("modification back", PathWorld.Refusal(Backup("OB17", system: "modified"), "H"));
        Assert.Contains("modification back", PathWorld.Refusal(Backup("OB17", system: null), "H"));
        Assert.Contains("restores no backup", PathWorld.Refusal(Backup("OB17", recovery: "stock"), "H"));
        Assert.Contains("is not known", PathWorld.Refusal(Backup("OB17", recovery: null), "H"));
    }
}

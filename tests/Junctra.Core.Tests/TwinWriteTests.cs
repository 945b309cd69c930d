using Junctra.Core.Facts;
using Junctra.Core.Twin;
using static Junctra.Core.Tests.TwinCases;

namespace Junctra.Core.Tests;

/// <summary>What a twin takes and refuses: writes, power, links and cards, case by case.</summary>
public class TwinWriteTests
{
    // ---- writing ----

    [Theory]
    [InlineData("HX204", PhoneMode.Fastboot, false, "system", "locked")]
    [InlineData("HX204", PhoneMode.Fastboot, true, "identity", "protected")]
    [InlineData("HX204", PhoneMode.Fastboot, true, "nothing", "no partition nothing")]
    [InlineData("HX204", PhoneMode.System, true, "system", "takes no writes")]
    [InlineData("TN63E", PhoneMode.Download, false, "system", "not signed")]
    [InlineData("HX310", PhoneMode.Fastboot, true, "product", "recovery-hosted command mode")]
    [InlineData("HX310", PhoneMode.RecoveryCommands, true, "bootloader", "not written here")]
    public void What_the_phone_refuses(string code, PhoneMode mode, bool unlocked, string partition, string why)
    {
        var refused = Of(code)
            .WhyRefused(Born(code, mode, new TwinNature { Unlocked = unlocked, Computer = Computer }), partition, Custom, 1);
        Assert.Contains(why, refused);
    }

    [Fact]
    public void A_boot_chain_below_the_floor_is_refused_and_a_newer_one_raises_it_when_it_starts()
    {
        var twin = Of("HX204");
        var state = Born(
            "HX204",
            PhoneMode.Fastboot,
            new TwinNature
            {
                Unlocked = true,
                Revision = 3,
                Computer = Computer,
            }
        );
        TwinPart Chain(int revision, string model = "HX204") =>
            new($"chain {revision}", SoftwareKind.Stock) { Model = model, Revision = revision };
        Assert.Contains("below the floor 3", twin.WhyRefused(state, "bootloader", Chain(2), 1));
        Assert.Contains("not for this model", twin.WhyRefused(state, "bootloader", Chain(4, "HX204C"), 1));
        Assert.Contains("holds", twin.WhyRefused(state, "bootloader", Chain(4), 5 << 20));
        var written = twin.Next(state, new WritePart("bootloader", Chain(4), 1));
        Assert.Equal(3, written.Floor);
        Assert.Equal(4, Rest(twin, twin.Next(written, new Command("reboot-bootloader"))).Floor);
        var old = Of("OB17");
        Assert.Null(
            old.WhyRefused(
                Born("OB17", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Revision = 3 }),
                "bootchain",
                Chain(2, "OB17"),
                1
            )
        );
    }

    [Fact]
    public void Of_two_slots_the_other_takes_over_after_three_starts_that_failed()
    {
        var twin = Of("HX310");
        var state = Born("HX310", PhoneMode.Off, new TwinNature { Unlocked = true });
        var damaged = state with { Parts = state.Parts.SetItem("system_a", state.Parts["system_a"] with { Whole = false }) };
        var end = Seconds(twin, Start(twin, damaged), 240);
        Assert.Equal((PhoneStage.System, 'b'), (end.Stage, end.Slot));
        var both = damaged with { Parts = damaged.Parts.SetItem("system_b", damaged.Parts["system_b"] with { Whole = false }) };
        Assert.Equal(PhoneStage.Fastboot, Seconds(twin, Start(twin, both), 240).Stage);
    }

    [Fact]
    public void Dynamic_partitions_are_written_in_the_recovery_hosted_command_mode_into_the_active_slot()
    {
        var twin = Of("HX310");
        var state = Born("HX310", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        state = Rest(twin, twin.Next(state, new Command("reboot-fastboot")));
        Assert.Equal(PhoneStage.RecoveryCommands, state.Stage);
        state = twin.Next(state, new WritePart("product", new TwinPart("new product", SoftwareKind.Stock), 1));
        Assert.Equal(("new product", "stock/super/product"), (state.Parts["product_a"].Content, state.Parts["product_b"].Content));
        Assert.Equal(
            "new product",
            twin.Next(state, new WritePart("product_b", new TwinPart("new product", SoftwareKind.Stock), 1)).Parts["product_b"].Content
        );
    }

    [Fact]
    public void Another_layout_loses_all_but_the_boot_chain_and_holds_what_it_holds()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        var own = twin.Model.Partitions.ToDictionary(spec => spec.Name, spec => spec.SizeBytes);
        var small = new WriteLayout(new Dictionary<string, long>(own) { ["system"] = 1 << 20 });
        Assert.Same(state.Parts, twin.Next(state with { Unlocked = false }, small).Parts);
        state = twin.Next(state, small);
        Assert.Equal(["bootloader"], state.Parts.Keys);
        Assert.Null(state.Data);
        Assert.Contains("system holds 1048576", twin.WhyRefused(state, "system", new TwinPart("s", SoftwareKind.Stock), 2 << 20));
        Assert.Equal(state.ToJson(), TwinState.FromJson(state.ToJson()).ToJson());
        Assert.Equal(PhoneMode.BootLoop, Rest(twin, twin.Next(state, new Command("reboot"))).Mode);
        state = twin.Next(state, new WriteLayout(own));
        Assert.Empty(state.Layout);
        Assert.Null(twin.WhyRefused(state, "system", new TwinPart("s", SoftwareKind.Stock), 2 << 20));
    }

    // ---- power, links, cards ----

    [Fact]
    public void A_dead_flat_phone_shows_nothing_until_it_charged_for_long()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Off, new TwinNature { ChargePercent = 0 }) with { SignOfLifeAt = 20_000_000 };
        Assert.Equal(PhoneStage.Off, Start(twin, state).Stage);
        state = twin.Next(state, new CableIn(null));
        Assert.Equal(PhoneStage.Off, Seconds(twin, state, 15 * 60).Stage);
        state = Seconds(twin, state, 25 * 60);
        Assert.Equal(PhoneStage.Charging, state.Stage);
        Assert.InRange(state.ChargePercent, 20, 30);
        Assert.Equal(PhoneMode.System, Start(twin, state).Mode);
        Assert.Equal(PhoneStage.Off, Seconds(twin, Born("HX204", PhoneMode.System, new TwinNature { ChargePercent = 1 }), 4 * 3600).Stage);
    }

    [Fact]
    public void The_debugging_link_answers_only_where_the_phone_allows_this_computer()
    {
        var twin = Of("TN63E");
        var state = twin.Next(Born("TN63E", PhoneMode.System), new CableIn(Computer));
        Assert.Null(PhoneTwin.LinkOf(state));
        Assert.DoesNotContain(twin.ScreenOf(state).Entries, entry => entry.Id == "debugging");
        state = twin.Run(state, [.. Enumerable.Repeat(new Choose("build-number"), 7), new Choose("debugging")]);
        Assert.Equal(("debugging", false), (PhoneTwin.LinkOf(state), PhoneTwin.IsAllowed(state)));
        Assert.Equal(state.Stage, twin.Next(state, new Command("debugging-write-mode")).Stage);
        state = twin.Next(state, new Choose("allow"));
        Assert.True(PhoneTwin.IsAllowed(state));
        Assert.Equal(PhoneStage.Download, Rest(twin, twin.Next(state, new Command("debugging-write-mode"))).Stage);
        Assert.False(PhoneTwin.IsAllowed(twin.Next(state, new Choose("revoke"))));
    }

    [Fact]
    public void Stock_recovery_takes_an_update_from_the_card_only_under_its_name_in_its_place_and_whole()
    {
        var twin = Of("OB17");
        var update = new TwinPart("OB17_2.7.001", SoftwareKind.Stock)
        {
            Model = "OB17",
            Build = "OB17_2.7.001_r04_DNM",
            Os = 14,
        };
        var state = Born("OB17", PhoneMode.StockRecovery);
        foreach (
            var (file, taken) in new[]
            {
                (new CardFile("fell-update.zip", true, update), true),
                (new CardFile("fell-update.zip.zip", true, update), false),
                (new CardFile("fell-update.zip", false, update), false),
                (new CardFile("fell-update.zip", true, null), false),
                (new CardFile("fell-update.zip", true, update with { Kind = SoftwareKind.Custom }), false),
                (new CardFile("fell-update.zip", true, update with { Model = "HX204" }), false),
            }
        )
        {
            var chosen = Choose(twin, twin.Next(state, new CardPutIn([file])), "Put in an update from the card");
            Assert.Equal(taken ? PhoneStage.UpdateRunning : PhoneStage.StockRecovery, chosen.Stage);
            if (!taken)
                continue;
            var end = Rest(twin, chosen);
            Assert.Equal(PhoneStage.System, end.Stage);
            Assert.Equal("OB17_2.7.001_r04_DNM", end.Data!.Build);
            // A battery pulled in the middle leaves half a system.
            var cut = twin.Run(Seconds(twin, chosen, 30), [new BatteryOut(), new BatteryIn()]);
            Assert.Equal(PhoneMode.BootLoop, Start(twin, cut).Mode);
        }
    }

    [Fact]
    public void A_custom_recovery_breaks_nothing_until_the_lock_is_closed()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { CustomRecovery = true, Unlocked = true });
        Assert.Equal(PhoneMode.System, Start(twin, state).Mode);
        var recovery = twin.Family.Recipes.First(recipe => recipe.Id == "charging-to-recovery");
        Assert.Equal(PhoneStage.CustomRecovery, Hands.Play(twin, state, recovery, Computer).End.Stage);
        Assert.Equal(PhoneStage.Unverified, Hands.Play(twin, state with { Unlocked = false }, recovery, Computer).End.Stage);
    }

    [Fact]
    public void A_dead_board_does_nothing()
    {
        var twin = Of("TN63W");
        var state = Born("TN63W", PhoneMode.Off) with { Faults = new TwinFaults { DeadBoard = true } };
        state = Start(twin, twin.Next(state, new CableIn(Computer)));
        Assert.Equal(PhoneStage.Off, state.Stage);
        Assert.Null(PhoneTwin.LinkOf(state));
    }
}

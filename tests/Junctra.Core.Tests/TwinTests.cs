using Junctra.Core.Facts;
using Junctra.Core.Twin;
using static Junctra.Core.Tests.TwinCases;

namespace Junctra.Core.Tests;

/// <summary>What a twin does when it starts, and when its lock changes, case by case.</summary>
public class TwinTests
{
    // ---- starting ----

    [Theory]
    [InlineData("TN41E"), InlineData("TN63E"), InlineData("TRB62"), InlineData("HX204"), InlineData("HX310"), InlineData("OB17")]
    public void A_phone_that_is_whole_starts_into_its_system(string code)
    {
        var twin = Of(code);
        var state = Start(twin, Born(code, PhoneMode.Off));
        Assert.Equal(PhoneStage.System, state.Stage);
        Assert.Equal(DeviceStatus.Official, twin.StatusOf(state));
    }

    [Fact]
    public void After_a_wipe_it_starts_into_the_set_up_and_asks_for_the_account_that_was_signed_in()
    {
        var twin = Of("HX204");
        var state = Born(
            "HX204",
            PhoneMode.Fastboot,
            new TwinNature
            {
                Unlocked = true,
                Account = "ferry",
                Computer = Computer,
            }
        );
        state = twin.Next(state, new ErasePart("userdata"));
        var restarted = twin.Next(state, new Command("reboot"));
        var soon = Seconds(twin, restarted, 60);
        Assert.Equal(PhoneMode.Starting, soon.Mode);
        state = Rest(twin, restarted);
        Assert.Equal(PhoneStage.SetupWizard, state.Stage);
        Assert.Contains(twin.ScreenOf(state).Lines, line => line.Contains("account that was on it", StringComparison.Ordinal));
        // There is no way round: the set-up does not end without it, nor after another start.
        Assert.Equal(PhoneStage.SetupWizard, Rest(twin, twin.Next(state, new Choose("finish"))).Stage);
        Assert.Equal(PhoneStage.SetupWizard, Rest(twin, twin.Next(state, new Choose("restart"))).Stage);
        var open = state with { AsksForAccount = null };
        Assert.Equal(PhoneStage.System, Rest(twin, twin.Next(open, new Choose("finish"))).Stage);
    }

    [Fact]
    public void Whoever_signed_out_before_the_wipe_is_not_asked()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.System, new TwinNature { Account = "ferry" });
        state = twin.Next(state, new Choose("sign-out"));
        var recovery = state with { Stage = PhoneStage.StockRecovery, StageSinceMs = state.NowMs };
        recovery = Choose(twin, recovery, "Wipe data");
        Assert.Contains("Wipe data?", twin.ScreenOf(recovery).Title);
        recovery = Choose(twin, recovery, "Yes, wipe data");
        Assert.NotNull(recovery.Task);
        recovery = Seconds(twin, recovery, 31);
        Assert.Null(recovery.Data);
        Assert.Null(recovery.AsksForAccount);
    }

    [Fact]
    public void Stale_data_make_it_loop_until_they_are_wiped()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.BootLoop, new TwinNature { Unlocked = true });
        var later = Seconds(twin, state, 600);
        Assert.Equal(PhoneMode.BootLoop, later.Mode);
        Assert.True(later.Loops > 20);
        Assert.Equal(
            PhoneStage.SetupWizard,
            Rest(twin, later with { Data = null, Stage = PhoneStage.Dark, StageSinceMs = later.NowMs, Loops = 0 }).Stage
        );
    }

    [Fact]
    public void Data_of_a_newer_system_do_not_fit_an_older_one()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { Os = 14 });
        Assert.Equal(PhoneMode.BootLoop, Start(twin, state with { Data = state.Data! with { Os = 15 } }).Mode);
        Assert.Equal(PhoneMode.System, Start(twin, state with { Data = state.Data! with { Os = 13, Build = "older" } }).Mode);
    }

    [Fact]
    public void After_a_keep_data_write_the_apps_are_prepared_one_by_one()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { Apps = 40 });
        state = state with { Data = state.Data! with { Build = "older" } };
        state = twin.Next(state, new KeyDown("power"));
        state = twin.Next(Seconds(twin, state, 1.6), new KeyUp("power"));
        while (state.Stage != PhoneStage.Optimising)
            state = Seconds(twin, state, 1);
        Assert.Contains("of 40", twin.ScreenOf(Seconds(twin, state, 10)).Lines[0]);
        Assert.Equal(PhoneStage.System, Rest(twin, state).Stage);
    }

    [Fact]
    public void Without_a_boot_chain_it_answers_in_emergency_mode_only()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        var chain = new TwinPart("new", SoftwareKind.Stock) { Model = "HX204", Revision = 3 };
        state = twin.Next(state, new WritePart("bootloader", chain, 1 << 20, TakesMilliseconds: 4000));
        Assert.False(state.Parts["bootloader"].Whole);
        // The cable goes in the middle of it; nothing is noticed before the next start.
        state = twin.Next(Seconds(twin, state, 2), new CableOut());
        Assert.Equal(PhoneStage.Fastboot, state.Stage);
        state = Rest(twin, twin.Next(Choose(twin, state, "Start"), new CableIn(Computer)));
        Assert.Equal(PhoneStage.Emergency, state.Stage);
        Assert.Equal("emergency", PhoneTwin.LinkOf(state));
        Assert.True(twin.ScreenOf(state).IsDark);
    }

    [Fact]
    public void A_write_that_ends_is_whole()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        state = twin.Next(state, new WritePart("boot", new TwinPart("b", SoftwareKind.Stock), 1 << 20, TakesMilliseconds: 4000));
        Assert.NotNull(twin.WhyRefused(state, "nonsense", null, 0));
        Assert.True(Seconds(twin, state, 4).Parts["boot"].Whole);
    }

    [Fact]
    public void In_download_mode_a_write_that_was_cut_shows_a_software_error_that_still_takes_a_write()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Download, new TwinNature { Computer = Computer });
        state = twin.Next(state, new WritePart("system", new TwinPart("s", SoftwareKind.Stock) { Model = "TN63E" }, 1 << 20, 60_000));
        state = twin.Next(Seconds(twin, state, 5), new CableOut());
        state = Hands.Play(twin, state, twin.Family.Recipes.First(recipe => recipe.Id == "forced-restart"), Computer).End;
        Assert.Equal(PhoneStage.Download, state.Stage);
        Assert.Contains(twin.ScreenOf(state).Lines, line => line.StartsWith("Software error", StringComparison.Ordinal));
    }

    // ---- locks ----

    [Theory]
    [InlineData("TN63E"), InlineData("HX204"), InlineData("OB17")]
    public void A_locked_phone_never_starts_modified_software(string code)
    {
        var twin = Of(code);
        var state = Born(code, PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom });
        Assert.Equal(PhoneStage.Unverified, Start(twin, state).Stage);
        Assert.Equal(PhoneMode.System, Start(twin, state with { Unlocked = true }).Mode);
        Assert.Equal(DeviceStatus.Custom, twin.StatusOf(state));
    }

    [Fact]
    public void Modified_software_blows_the_tamper_fuse_once_and_for_ever()
    {
        var twin = Of("TN63E");
        var state = Start(twin, Born("TN63E", PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom, Unlocked = true }));
        Assert.True(state.Tripped);
        Assert.Contains("modified", twin.ScreenOf(Seconds(twin, twin.Next(state, new Choose("update-check")), 6)).Lines[^1]);
        Assert.False(
            Start(Of("HX204"), Born("HX204", PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom, Unlocked = true })).Tripped
        );
    }

    [Fact]
    public void The_permission_switch_goes_through_all_its_cases()
    {
        // A phone to be locked again: greyed while it is open, hidden after the reset, shown once it was online, then switched off.
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.WarningScreen, new TwinNature { Unlocked = true, Seed = 2 });
        Assert.Equal(UnlockSwitch.Greyed, PhoneTwin.PermissionOf(state));
        state = Hands.Play(twin, state, twin.Family.Recipes.First(recipe => recipe.Id == "warning-to-lock-change"), Computer).End;
        var screen = twin.ScreenOf(state);
        Assert.Equal((PhoneStage.LockChange, "Lock the bootloader?"), (screen.Stage, screen.Title));
        Assert.Contains("Locking erases everything on the phone.", screen.Lines);
        Assert.Equal(
            PhoneMode.System,
            Hands.Play(twin, state, twin.Family.Recipes.First(recipe => recipe.Id == "leave-lock-change"), Computer).End.Mode
        );
        state = twin.Run(state, [new KeyDown("volume-up"), new TimePasses(300), new KeyUp("volume-up")]);
        state = Rest(twin, state);
        Assert.False(state.Unlocked);
        Assert.Equal((PhoneStage.SetupWizard, UnlockSwitch.Hidden), (state.Stage, PhoneTwin.PermissionOf(state)));
        state = Rest(twin, twin.Next(state, new Choose("finish")));
        state = twin.Run(state, Enumerable.Repeat(new Choose("build-number"), 7));
        Assert.DoesNotContain(twin.ScreenOf(state).Entries, entry => entry.Id == "permission");
        state = Seconds(twin, twin.Next(state, new Choose("update-check")), 6);
        Assert.Equal(UnlockSwitch.On, PhoneTwin.PermissionOf(state));
        state = twin.Next(state, new Choose("permission"));
        Assert.Equal(UnlockSwitch.Off, PhoneTwin.PermissionOf(state));
        Assert.DoesNotContain("Volume up, long: change the lock", twin.ScreenOf(Born("TN63E", PhoneMode.WarningScreen)).Lines);
    }

    [Fact]
    public void On_some_phones_the_switch_comes_only_with_one_more_start()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.System, new TwinNature { Seed = 1 }) with { PermissionShown = false };
        state = Seconds(twin, twin.Next(state, new Choose("update-check")), 6);
        Assert.Equal(UnlockSwitch.Hidden, PhoneTwin.PermissionOf(state));
        Assert.Equal(UnlockSwitch.Off, PhoneTwin.PermissionOf(Rest(twin, twin.Next(state, new Choose("restart")))));
    }

    [Fact]
    public void Relocking_keeps_the_data_where_the_model_says_so_and_ends_a_phone_with_modified_software()
    {
        var twin = Of("OB17");
        var state = Born("OB17", PhoneMode.LockChange, new TwinNature { Unlocked = true });
        var locked = Choose(twin, state, "Yes, change it");
        Assert.NotNull(locked.Data);
        Assert.Equal(PhoneMode.System, Rest(twin, locked).Mode);
        var trap = Choose(
            Of("HX204"),
            Born("HX204", PhoneMode.LockChange, new TwinNature { Unlocked = true, System = SoftwareKind.Custom }),
            "Yes, change it"
        );
        Assert.Null(trap.Data);
        Assert.Equal(PhoneStage.Unverified, Rest(Of("HX204"), trap).Stage);
    }
}

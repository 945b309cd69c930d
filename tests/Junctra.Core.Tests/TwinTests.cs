using Junctra.Core.Modes;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>What a twin does on the bench, case by case.</summary>
public class TwinTests
{
    private const string Computer = "bench 1";
    private static readonly TwinPart Custom = new("custom", SoftwareKind.Custom) { Build = "custom-2.1", Os = 14 };

    private static PhoneTwin Of(string code) => new(Repo.Catalogue.Model(code)!, Repo.Catalogue);

    private static TwinState Born(string code, PhoneMode mode, TwinNature? nature = null) => TwinBirth.In(Repo.Catalogue.Model(code)!, mode, nature ?? new TwinNature());

    private static TwinState Rest(PhoneTwin twin, TwinState state) => twin.Run(state, Hands.UntilRest(twin, state));

    private static TwinState Seconds(PhoneTwin twin, TwinState state, double seconds) => twin.Next(state, new TimePasses((long)(seconds * 1000)));

    private static TwinState Start(PhoneTwin twin, TwinState state)
    {
        state = twin.Next(state, new KeyDown("power"));
        state = twin.Next(Seconds(twin, state, 1.6), new KeyUp("power"));
        return Rest(twin, state);
    }

    // ---- starting ----

    [Theory]
    [InlineData("TN41E"), InlineData("TN63E"), InlineData("TRB62"), InlineData("HX204"), InlineData("HX310"), InlineData("OB17")]
    public void APhoneThatIsWholeStartsIntoItsSystem(string code)
    {
        var twin = Of(code);
        var state = Start(twin, Born(code, PhoneMode.Off));
        Assert.Equal(PhoneStage.System, state.Stage);
        Assert.Equal("official", twin.StatusOf(state));
    }

    [Fact]
    public void AfterAWipeItStartsIntoTheSetUpAndAsksForTheAccountThatWasSignedIn()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Account = "ferry", Computer = Computer });
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
    public void WhoeverSignedOutBeforeTheWipeIsNotAsked()
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
    public void StaleDataMakeItLoopUntilTheyAreWiped()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.BootLoop, new TwinNature { Unlocked = true });
        var later = Seconds(twin, state, 600);
        Assert.Equal(PhoneMode.BootLoop, later.Mode);
        Assert.True(later.Loops > 20);
        Assert.Equal(PhoneStage.SetupWizard, Rest(twin, later with { Data = null, Stage = PhoneStage.Dark, StageSinceMs = later.NowMs, Loops = 0 }).Stage);
    }

    [Fact]
    public void DataOfANewerSystemDoNotFitAnOlderOne()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { Os = 14 });
        Assert.Equal(PhoneMode.BootLoop, Start(twin, state with { Data = state.Data! with { Os = 15 } }).Mode);
        Assert.Equal(PhoneMode.System, Start(twin, state with { Data = state.Data! with { Os = 13, Build = "older" } }).Mode);
    }

    [Fact]
    public void AfterAKeepDataWriteTheAppsArePreparedOneByOne()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { Apps = 40 });
        state = state with { Data = state.Data! with { Build = "older" } };
        state = twin.Next(state, new KeyDown("power"));
        state = twin.Next(Seconds(twin, state, 1.6), new KeyUp("power"));
        while (state.Stage != PhoneStage.Optimising) state = Seconds(twin, state, 1);
        Assert.Contains("of 40", twin.ScreenOf(Seconds(twin, state, 10)).Lines[0]);
        Assert.Equal(PhoneStage.System, Rest(twin, state).Stage);
    }

    [Fact]
    public void WithoutABootChainItAnswersInEmergencyModeOnly()
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
    public void AWriteThatEndsIsWhole()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        state = twin.Next(state, new WritePart("boot", new TwinPart("b", SoftwareKind.Stock), 1 << 20, TakesMilliseconds: 4000));
        Assert.NotNull(twin.WhyRefused(state, "nonsense", null, 0));
        Assert.True(Seconds(twin, state, 4).Parts["boot"].Whole);
    }

    [Fact]
    public void InDownloadModeAWriteThatWasCutShowsASoftwareErrorThatStillTakesAWrite()
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
    public void ALockedPhoneNeverStartsModifiedSoftware(string code)
    {
        var twin = Of(code);
        var state = Born(code, PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom });
        Assert.Equal(PhoneStage.Unverified, Start(twin, state).Stage);
        Assert.Equal(PhoneMode.System, Start(twin, state with { Unlocked = true }).Mode);
        Assert.Equal("custom", twin.StatusOf(state));
    }

    [Fact]
    public void ModifiedSoftwareBlowsTheTamperFuseOnceAndForEver()
    {
        var twin = Of("TN63E");
        var state = Start(twin, Born("TN63E", PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom, Unlocked = true }));
        Assert.True(state.Tripped);
        Assert.Contains("modified", twin.ScreenOf(Seconds(twin, twin.Next(state, new Choose("update-check")), 6)).Lines[^1]);
        Assert.False(Start(Of("HX204"), Born("HX204", PhoneMode.Off, new TwinNature { System = SoftwareKind.Custom, Unlocked = true })).Tripped);
    }

    [Fact]
    public void ThePermissionSwitchGoesThroughAllItsCases()
    {
        // A phone to be locked again: greyed while it is open, hidden after the reset, shown once it was online, then switched off.
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.WarningScreen, new TwinNature { Unlocked = true, Seed = 2 });
        Assert.Equal("greyed", PhoneTwin.PermissionOf(state));
        state = Hands.Play(twin, state, twin.Family.Recipes.First(recipe => recipe.Id == "warning-to-lock-change"), Computer).End;
        var screen = twin.ScreenOf(state);
        Assert.Equal((PhoneStage.LockChange, "Lock the bootloader?"), (screen.Stage, screen.Title));
        Assert.Contains("Locking erases everything on the phone.", screen.Lines);
        Assert.Equal(PhoneMode.System, Hands.Play(twin, state, twin.Family.Recipes.First(recipe => recipe.Id == "leave-lock-change"), Computer).End.Mode);
        state = twin.Run(state, [new KeyDown("volume-up"), new TimePasses(300), new KeyUp("volume-up")]);
        state = Rest(twin, state);
        Assert.False(state.Unlocked);
        Assert.Equal((PhoneStage.SetupWizard, "hidden"), (state.Stage, PhoneTwin.PermissionOf(state)));
        state = Rest(twin, twin.Next(state, new Choose("finish")));
        state = twin.Run(state, Enumerable.Repeat(new Choose("build-number"), 7));
        Assert.DoesNotContain(twin.ScreenOf(state).Entries, entry => entry.Id == "permission");
        state = Seconds(twin, twin.Next(state, new Choose("update-check")), 6);
        Assert.Equal("on", PhoneTwin.PermissionOf(state));
        state = twin.Next(state, new Choose("permission"));
        Assert.Equal("off", PhoneTwin.PermissionOf(state));
        Assert.DoesNotContain("Volume up, long: change the lock", twin.ScreenOf(Born("TN63E", PhoneMode.WarningScreen)).Lines);
    }

    [Fact]
    public void OnSomePhonesTheSwitchComesOnlyWithOneMoreStart()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.System, new TwinNature { Seed = 1 }) with { PermissionShown = false };
        state = Seconds(twin, twin.Next(state, new Choose("update-check")), 6);
        Assert.Equal("hidden", PhoneTwin.PermissionOf(state));
        Assert.Equal("off", PhoneTwin.PermissionOf(Rest(twin, twin.Next(state, new Choose("restart")))));
    }

    [Fact]
    public void RelockingKeepsTheDataWhereTheModelSaysSoAndEndsAPhoneWithModifiedSoftware()
    {
        var twin = Of("OB17");
        var state = Born("OB17", PhoneMode.LockChange, new TwinNature { Unlocked = true });
        var locked = Choose(twin, state, "Yes, change it");
        Assert.NotNull(locked.Data);
        Assert.Equal(PhoneMode.System, Rest(twin, locked).Mode);
        var trap = Choose(Of("HX204"), Born("HX204", PhoneMode.LockChange, new TwinNature { Unlocked = true, System = SoftwareKind.Custom }), "Yes, change it");
        Assert.Null(trap.Data);
        Assert.Equal(PhoneStage.Unverified, Rest(Of("HX204"), trap).Stage);
    }

    // ---- writing ----

    [Theory]
    [InlineData("HX204", PhoneMode.Fastboot, false, "system", "locked")]
    [InlineData("HX204", PhoneMode.Fastboot, true, "identity", "protected")]
    [InlineData("HX204", PhoneMode.Fastboot, true, "nothing", "no partition nothing")]
    [InlineData("HX204", PhoneMode.System, true, "system", "takes no writes")]
    [InlineData("TN63E", PhoneMode.Download, false, "system", "not signed")]
    [InlineData("HX310", PhoneMode.Fastboot, true, "product", "recovery-hosted command mode")]
    [InlineData("HX310", PhoneMode.RecoveryCommands, true, "bootloader", "not written here")]
    public void WhatThePhoneRefuses(string code, PhoneMode mode, bool unlocked, string partition, string why)
    {
        var refused = Of(code).WhyRefused(Born(code, mode, new TwinNature { Unlocked = unlocked, Computer = Computer }), partition, Custom, 1);
        Assert.Contains(why, refused);
    }

    [Fact]
    public void ABootChainBelowTheFloorIsRefusedAndANewerOneRaisesItWhenItStarts()
    {
        var twin = Of("HX204");
        var state = Born("HX204", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Revision = 3, Computer = Computer });
        TwinPart Chain(int revision, string model = "HX204") => new($"chain {revision}", SoftwareKind.Stock) { Model = model, Revision = revision };
        Assert.Contains("below the floor 3", twin.WhyRefused(state, "bootloader", Chain(2), 1));
        Assert.Contains("not for this model", twin.WhyRefused(state, "bootloader", Chain(4, "HX204C"), 1));
        Assert.Contains("holds", twin.WhyRefused(state, "bootloader", Chain(4), 5 << 20));
        var written = twin.Next(state, new WritePart("bootloader", Chain(4), 1));
        Assert.Equal(3, written.Floor);
        Assert.Equal(4, Rest(twin, twin.Next(written, new Command("reboot-bootloader"))).Floor);
        var old = Of("OB17");
        Assert.Null(old.WhyRefused(Born("OB17", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Revision = 3 }), "bootchain", Chain(2, "OB17"), 1));
    }

    [Fact]
    public void OfTwoSlotsTheOtherTakesOverAfterThreeStartsThatFailed()
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
    public void DynamicPartitionsAreWrittenInTheRecoveryHostedCommandModeIntoTheActiveSlot()
    {
        var twin = Of("HX310");
        var state = Born("HX310", PhoneMode.Fastboot, new TwinNature { Unlocked = true, Computer = Computer });
        state = Rest(twin, twin.Next(state, new Command("reboot-fastboot")));
        Assert.Equal(PhoneStage.RecoveryCommands, state.Stage);
        state = twin.Next(state, new WritePart("product", new TwinPart("new product", SoftwareKind.Stock), 1));
        Assert.Equal(("new product", "stock/super/product"), (state.Parts["product_a"].Content, state.Parts["product_b"].Content));
        Assert.Equal("new product", twin.Next(state, new WritePart("product_b", new TwinPart("new product", SoftwareKind.Stock), 1)).Parts["product_b"].Content);
    }

    [Fact]
    public void AnotherLayoutLosesAllButTheBootChainAndHoldsWhatItHolds()
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
    public void ADeadFlatPhoneShowsNothingUntilItChargedForLong()
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
    public void TheDebuggingLinkAnswersOnlyWhereThePhoneAllowsThisComputer()
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
    public void StockRecoveryTakesAnUpdateFromTheCardOnlyUnderItsNameInItsPlaceAndWhole()
    {
        var twin = Of("OB17");
        var update = new TwinPart("OB17_2.7.001", SoftwareKind.Stock) { Model = "OB17", Build = "OB17_2.7.001_r04_DNM", Os = 14 };
        var state = Born("OB17", PhoneMode.StockRecovery);
        foreach (var (file, taken) in new[]
        {
            (new CardFile("fell-update.zip", true, update), true), (new CardFile("fell-update.zip.zip", true, update), false), (new CardFile("fell-update.zip", false, update), false),
            (new CardFile("fell-update.zip", true, null), false), (new CardFile("fell-update.zip", true, update with { Kind = SoftwareKind.Custom }), false), (new CardFile("fell-update.zip", true, update with { Model = "HX204" }), false),
        })
        {
            var chosen = Choose(twin, twin.Next(state, new CardPutIn([file])), "Put in an update from the card");
            Assert.Equal(taken ? PhoneStage.UpdateRunning : PhoneStage.StockRecovery, chosen.Stage);
            if (!taken) continue;
            var end = Rest(twin, chosen);
            Assert.Equal(PhoneStage.System, end.Stage);
            Assert.Equal("OB17_2.7.001_r04_DNM", end.Data!.Build);
            // A battery pulled in the middle leaves half a system.
            var cut = twin.Run(Seconds(twin, chosen, 30), [new BatteryOut(), new BatteryIn()]);
            Assert.Equal(PhoneMode.BootLoop, Start(twin, cut).Mode);
        }
    }

    [Fact]
    public void ACustomRecoveryBreaksNothingUntilTheLockIsClosed()
    {
        var twin = Of("TN63E");
        var state = Born("TN63E", PhoneMode.Off, new TwinNature { CustomRecovery = true, Unlocked = true });
        Assert.Equal(PhoneMode.System, Start(twin, state).Mode);
        var recovery = twin.Family.Recipes.First(recipe => recipe.Id == "charging-to-recovery");
        Assert.Equal(PhoneStage.CustomRecovery, Hands.Play(twin, state, recovery, Computer).End.Stage);
        Assert.Equal(PhoneStage.Unverified, Hands.Play(twin, state with { Unlocked = false }, recovery, Computer).End.Stage);
    }

    [Fact]
    public void ADeadBoardDoesNothing()
    {
        var twin = Of("TN63W");
        var state = Born("TN63W", PhoneMode.Off) with { Faults = new TwinFaults { DeadBoard = true } };
        state = Start(twin, twin.Next(state, new CableIn(Computer)));
        Assert.Equal(PhoneStage.Off, state.Stage);
        Assert.Null(PhoneTwin.LinkOf(state));
    }

    /// <summary>Moves to an entry of a menu that has keys, and selects it.</summary>
    private static TwinState Choose(PhoneTwin twin, TwinState state, string label)
    {
        var entries = twin.ScreenOf(state).Entries;
        var at = entries.ToList().FindIndex(entry => entry.Label == label);
        Assert.True(at >= 0, $"“{label}” is not among {string.Join(", ", entries.Select(entry => entry.Label))}");
        for (var i = 0; i < at; i++) state = twin.Run(state, [new KeyDown("volume-down"), new TimePasses(100), new KeyUp("volume-down")]);
        var select = twin.Family.Behaviour.SelectKey;
        return twin.Run(state, [new KeyDown(select), new TimePasses(100), new KeyUp(select)]);
    }
}

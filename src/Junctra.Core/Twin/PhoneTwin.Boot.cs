using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

// Starting: what follows what, what is verified, and where it ends.
public sealed partial class PhoneTwin
{
    private enum Start
    {
        System,
        SetUp,
        Loop,
        Unverified,
        Unfinished,
    }

    /// <summary>How long a stage lasts by itself; null where it stands.</summary>
    private long? TimeoutOf(TwinState state) =>
        state.Stage switch
        {
            PhoneStage.Waking => Times.WakingMs,
            PhoneStage.Dark => Times.DarkMs,
            PhoneStage.PowerOn => Times.PowerOnMs,
            PhoneStage.Logo => Times.LogoMs,
            PhoneStage.Booting => BootingMs(state),
            PhoneStage.Optimising => Optimising(state),
            PhoneStage.RecoveryStarting => Times.RecoveryStartingMs,
            PhoneStage.SwitchingOff => Times.SwitchingOffMs,
            PhoneStage.UpdateRunning => Times.UpdateMs,
            _ => null,
        };

    private TwinState AfterStage(TwinState state) =>
        state.Stage switch
        {
            PhoneStage.Waking => Enter(state, PhoneStage.Charging),
            PhoneStage.Dark => BeginStart(state),
            PhoneStage.PowerOn => state.Pending is { } pending
                ? Enter(state, pending) with
                {
                    Pending = null,
                    Loops = 0,
                }
                : Enter(state, PhoneStage.Logo),
            PhoneStage.Logo => WhereTo(state) switch
            {
                Start.Unverified => Enter(state, PhoneStage.Unverified),
                Start.Unfinished => Enter(state, Model.WriteMode == PhoneMode.Download ? PhoneStage.Download : PhoneStage.Fastboot) with
                {
                    Loops = 0,
                    Message = "Software error. A write did not end; write again from the start.",
                },
                _ => Enter(state, PhoneStage.Booting),
            },
            PhoneStage.Booting => AfterBooting(state),
            PhoneStage.Optimising => IntoSystem(state),
            PhoneStage.RecoveryStarting => OpenRecovery(state),
            PhoneStage.SwitchingOff => Enter(state, state.Cable == CableTo.Nothing ? PhoneStage.Off : PhoneStage.Waking) with { Loops = 0 },
            PhoneStage.UpdateRunning => FinishUpdate(state),
            _ => state,
        };

    /// <summary>The chip starts its boot chain, or answers itself where there is none.</summary>
    private TwinState BeginStart(TwinState state)
    {
        if (state.Faults.DeadBoard)
            return Enter(state, PhoneStage.Off);
        if (
            ChainOf(state) is not { Whole: true } chain
            || chain.Model is { } made && made != Model.Code
            || Maker.HasRollbackFuses && chain.Revision < state.Floor
        )
            return Enter(state, PhoneStage.Emergency) with { Loops = 0, Pending = null };
        // The fuse is blown when the newer chain first starts, and never heals.
        return Enter(state, PhoneStage.PowerOn) with
        {
            StartedMs = state.NowMs,
            RunningRevision = chain.Revision ?? 0,
            Floor = Maker.HasRollbackFuses ? Math.Max(state.Floor, chain.Revision ?? 0) : state.Floor,
        };
    }

    private Start WhereTo(TwinState state)
    {
        var system = SystemOf(state);
        if (!state.Unlocked && Verified.Any(role => PartOf(state, role) is { } part && !part.IsSigned))
            return Start.Unverified;
        if (
            Model.WriteMode == PhoneMode.Download
            && Model.Partitions.Any(spec =>
                spec.IsStock && spec.Role != PartitionRole.BootChain && state.Parts.TryGetValue(spec.Name, out var part) && !part.Whole
            )
        )
            return Start.Unfinished;
        if (system is not { Whole: true } || system.Model is { } made && made != Model.Code)
            return Start.Loop;
        if (PartOf(state, PartitionRole.Boot) is { Whole: false })
            return Start.Loop;
        if (state.Data is not { } data)
            return Start.SetUp;
        // Another maker's data, or data of a newer system, make it start for ever.
        var other = (data.Kind == SoftwareKind.Custom) != (system.Kind == SoftwareKind.Custom);
        return other || system.Os < data.Os ? Start.Loop : Start.System;
    }

    private static readonly PartitionRole[] Verified =
    [
        PartitionRole.Boot,
        PartitionRole.System,
        PartitionRole.Overlay,
        PartitionRole.Verification,
    ];

    private TwinState AfterBooting(TwinState state)
    {
        var to = WhereTo(state);
        if (to is Start.Loop or Start.Unverified)
            return Failed(state);
        if (!AllSigned(state) && Model.HasTamperFuse)
            state = state with { Tripped = true };
        if (to == Start.SetUp)
        {
            var system = SystemOf(state)!;
            return Enter(state, PhoneStage.SetupWizard) with
            {
                Loops = 0,
                SlotFailures = 0,
                Data = new TwinData(system.Build ?? "", system.Os ?? 0, system.Kind, 0, null),
                Message = AccountLine(state),
            };
        }

        return IsFirstStart(state) && state.Data!.Apps > 0 ? Enter(state, PhoneStage.Optimising) : IntoSystem(state);
    }

    private static string? AccountLine(TwinState state) =>
        state.AsksForAccount is null ? null : "This phone was reset. Sign in with the account that was on it before.";

    private TwinState IntoSystem(TwinState state)
    {
        var system = SystemOf(state)!;
        var data = state.Data! with { Build = system.Build ?? "", Os = system.Os ?? 0, Kind = system.Kind };
        // A set-up that was never gone through to its end goes on where it was.
        if (data is { Apps: 0, Account: null } && state.AsksForAccount is not null)
            return Enter(state, PhoneStage.SetupWizard) with { Loops = 0, SlotFailures = 0, Message = AccountLine(state) };
        var shown = state.PermissionShown || state.AskedForUpdate;
        return Enter(state, PhoneStage.System) with { Loops = 0, SlotFailures = 0, Data = data, PermissionShown = shown };
    }

    /// <summary>
    /// A start that did not get there. Of two slots the other takes over after three; without another it gives up in command mode.
    /// </summary>
    private TwinState Failed(TwinState state)
    {
        var looping = Enter(state, PhoneStage.Dark) with { Loops = state.Loops + 1 };
        // Data that does not fit is no fault of a slot.
        if (Model.Slots < 2 || SystemOf(state) is { Whole: true } && PartOf(state, PartitionRole.Boot) is not { Whole: false })
            return looping;
        if (state.SlotFailures + 1 < SlotTries)
            return looping with { SlotFailures = state.SlotFailures + 1 };
        var other = looping with { Slot = state.Slot == 'a' ? 'b' : 'a', SlotFailures = 0 };
        return SystemOf(other) is { Whole: true } && PartOf(other, PartitionRole.Boot) is { Whole: true }
            ? other
            : Enter(state, PhoneStage.Dark) with
            {
                Pending = PhoneStage.Fastboot,
                SlotFailures = 0,
                Loops = 0,
            };
    }

    private bool IsFirstStart(TwinState state) => state.Data is null || state.Data.Build != (SystemOf(state)?.Build ?? "");

    private long BootingMs(TwinState state) =>
        WhereTo(state) switch
        {
            Start.System or Start.SetUp => IsFirstStart(state)
                ? (long)(figures.FirstBootMinutes.Typical * 60_000)
                : Times.BootingMs + state.Seed % 1000,
            _ => Times.LoopMs,
        };

    private static long Optimising(TwinState state) => Math.Max(1, state.Data?.Apps ?? 1) * 1000L;

    private TwinState OpenRecovery(TwinState state)
    {
        var recovery = RecoveryOf(state);
        if (recovery is not { Whole: true })
            return Failed(state);
        if (!state.Unlocked && !recovery.IsSigned)
            return Enter(state, PhoneStage.Unverified);
        if (!recovery.IsSigned && Model.HasTamperFuse)
            state = state with { Tripped = true };
        return Enter(state, recovery.Kind == SoftwareKind.Custom ? PhoneStage.CustomRecovery : Family.Behaviour.RecoveryOpensWith) with
        {
            Loops = 0,
        };
    }

    private TwinState FinishUpdate(TwinState state)
    {
        if (state.Update is not { } content)
            return Enter(state, PhoneStage.StockRecovery) with { Message = "The update was not accepted." };
        var parts = state.Parts;
        foreach (
            var spec in Model.Partitions.Where(spec => spec.IsStock && spec.Role is not (PartitionRole.BootChain or PartitionRole.Radio))
        )
        {
            if (spec.Role == PartitionRole.System && Model.DynamicPartitions.Count > 0)
                continue;
            parts = parts.SetItem(NameIn(state, spec.Name), content with { Content = $"{content.Content}/{spec.Name}", Revision = null });
        }

        foreach (var inside in Model.DynamicPartitions)
            parts = parts.SetItem($"{inside}_{state.Slot}", content with { Content = $"{content.Content}/{inside}", Revision = null });
        return Enter(state, PhoneStage.Dark) with { Parts = parts, Update = null };
    }

    /// <summary>
    /// The file that stock recovery takes: under its one name, in the root of the card, whole, its maker's and for this model; null where
    /// there is none.
    /// </summary>
    private CardFile? CardUpdate(TwinState state) =>
        Model.CardUpdate is { } spec
            ? state.Card?.FirstOrDefault(file =>
                file.InRoot
                && file.Name == spec.FileName
                && file.Content is { IsSigned: true, Whole: true } content
                && (content.Model is null || content.Model == Model.Code)
            )
            : null;

    // ---- what lies where ----

    /// <summary>What lies in the first partition of a role, in the active slot where there are two; null where nothing does.</summary>
    public TwinPart? PartOf(TwinState state, PartitionRole role)
    {
        if (role == PartitionRole.System)
            return state.Parts.GetValueOrDefault(SystemName(state));
        return Model.Partitions.FirstOrDefault(spec => spec.Role == role) is { } found
            ? state.Parts.GetValueOrDefault(NameIn(state, found.Name))
            : null;
    }

    private TwinPart? ChainOf(TwinState state) => PartOf(state, PartitionRole.BootChain);

    private TwinPart? SystemOf(TwinState state) => PartOf(state, PartitionRole.System);

    /// <summary>The recovery that it would start; models without a partition for it carry it in their boot image.</summary>
    public TwinPart? RecoveryOf(TwinState state) =>
        Model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery)
            ? PartOf(state, PartitionRole.Recovery)
            : PartOf(state, PartitionRole.Boot);

    private string NameIn(TwinState state, string partition) =>
        Model.SlottedPartitions.Contains(partition) ? $"{partition}_{state.Slot}" : partition;

    private bool AllSigned(TwinState state) =>
        Verified.Append(PartitionRole.Recovery).All(role => PartOf(state, role) is not { IsSigned: false });

    /// <summary>What the system says of itself: <c>official</c> or <c>custom</c>.</summary>
    public DeviceStatus StatusOf(TwinState state) => AllSigned(state) ? DeviceStatus.Official : DeviceStatus.Custom;

    /// <summary>The switch that permits changing the lock: <c>on</c>, <c>off</c>, <c>hidden</c> or <c>greyed</c>.</summary>
    public static UnlockSwitch PermissionOf(TwinState state) =>
        state.Unlocked ? UnlockSwitch.Greyed
        : !state.PermissionShown ? UnlockSwitch.Hidden
        : state.PermissionOn ? UnlockSwitch.On
        : UnlockSwitch.Off;
}

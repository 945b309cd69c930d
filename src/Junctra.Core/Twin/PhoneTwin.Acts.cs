using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

// Menus, commands and writes: what is chosen, asked and sent.
public sealed partial class PhoneTwin
{
    private const long MenuTapMs = 2000;

    /// <summary>The menu that shows, or null.</summary>
    public PhoneMenu? MenuOf(TwinState state) => state.Task is null ? common.MenuOf(Family, state.Stage) : null;

    /// <summary>The entries that the menu shows now.</summary>
    public IReadOnlyList<MenuEntry> EntriesOf(TwinState state) =>
        MenuOf(state) is not { } menu ? []
        : state.Asks is { } asked && menu.Entries.FirstOrDefault(entry => entry.Id == asked) is { } entry
            ?
            [
                new MenuEntry("no", "No", Target.Stage, null),
                entry with
                {
                    Id = "yes",
                    Label = "Yes, " + entry.Label.ToLowerInvariant(),
                    Confirm = false,
                },
            ]
        : [.. menu.Entries.Where(entry => Shows(state, entry.When))];

    private bool Shows(TwinState state, EntryCondition when) =>
        when switch
        {
            EntryCondition.Root => RootOf(state) is not null,
            EntryCondition.DeveloperOptions => state.BuildTaps >= TapsToDeveloper,
            EntryCondition.PermissionSwitch => state.BuildTaps >= TapsToDeveloper
                && PermissionOf(state) is UnlockSwitch.On or UnlockSwitch.Off,
            EntryCondition.ComputerAsks => AsksForComputer(state),
            EntryCondition.TwoSlots => Model.Slots > 1,
            EntryCondition.Account => state.Data?.Account is not null,
            EntryCondition.AccountAsked => state.AsksForAccount is not null,
            _ => true,
        };

    /// <summary>Root manager's version on the phone, or null.</summary>
    public string? RootOf(TwinState state) => PartOf(state, PartitionRole.Boot)?.Root;

    private static bool AsksForComputer(TwinState state) =>
        state is { Stage: PhoneStage.System, Debugging: true, Computer: { } computer }
        && !state.Faults.BadSocket
        && !state.Allowed.Contains(computer);

    /// <summary>A key in a menu that has keys: the volume keys move, one selects.</summary>
    private TwinState MenuKey(TwinState state, string key)
    {
        if (MenuOf(state) is not { IsTouch: false } menu)
            return state;
        var entries = EntriesOf(state);
        if (key == (menu.SelectKey ?? Family.Behaviour.SelectKey))
            return Take(state, entries[Math.Min(state.MenuAt, entries.Count - 1)]);
        return key switch
        {
            "volume-down" => state with { MenuAt = (state.MenuAt + 1) % entries.Count },
            "volume-up" => state with { MenuAt = (state.MenuAt + entries.Count - 1) % entries.Count },
            _ => state,
        };
    }

    private TwinState Touch(TwinState state, string id) =>
        MenuOf(state) is { IsTouch: true } && EntriesOf(state).FirstOrDefault(entry => entry.Id == id) is { } entry
            ? Take(state, entry)
            : state;

    private TwinState Take(TwinState state, MenuEntry entry)
    {
        if (entry.Id == "no" && state.Asks is not null)
            return state with { Asks = null, MenuAt = 0 };
        if (entry.Confirm)
            return state with { Asks = entry.Id, MenuAt = 0 };
        if (entry.Does == MenuEffect.CardUpdate && CardUpdate(state) is null)
            return state with { Message = state.Card is null ? "No card." : "No update that can be put in lies on the card." };
        // The set-up does not go on without the account that it asks for; the twin knows no way round either.
        if (entry.Does == MenuEffect.FinishSetup && state.AsksForAccount is not null)
            return state with { Message = AccountLine(state) };
        if (entry.TakesMs > 0)
            return state with
            {
                Asks = null,
                Task = new TwinTask(entry.Label, state.NowMs + entry.TakesMs, entry.Does, null, Resolve(entry.Target, entry.To)),
            };
        if (entry.Does == MenuEffect.CardUpdate)
            state = state with { Update = CardUpdate(state)!.Content };
        var done = Do(state with { Asks = null }, entry.Does);
        return GoTo(done, entry.Target, entry.To);
    }

    private TwinState FinishTask(TwinState state)
    {
        var task = state.Task!;
        var done = state with { Task = null };
        if (task.Partition is { } partition && done.Parts.TryGetValue(partition, out var part))
            done = Holding(done, partition, part with { Whole = true });
        done = Do(done, task.Does);
        return task.Then is { } then
            ? Enter(done, then) with
            {
                Message = done.Message,
            }
            : done with
            {
                Message = done.Message ?? "Done: " + task.What.ToLowerInvariant(),
            };
    }

    /// <summary>Where a target leads at once; restarts lead there by way of a start.</summary>
    private static PhoneStage? Resolve(Target target, PhoneStage? to) => target == Target.Stage ? to : PhoneStage.Dark;

    private TwinState GoTo(TwinState state, Target target, PhoneStage? to) =>
        target switch
        {
            Target.Start => Enter(state, PhoneStage.Dark) with { Pending = null, Loops = 0 },
            Target.Recovery => Enter(state, PhoneStage.Dark) with { Pending = PhoneStage.RecoveryStarting, Loops = 0 },
            Target.WriteMode => Enter(state, PhoneStage.Dark) with { Pending = Model.WriteMode.Standing(), Loops = 0 },
            _ when to is PhoneStage.RecoveryCommands or PhoneStage.Fastboot
                    && state.Stage is not PhoneStage.BootMenu and not PhoneStage.LockChange => Enter(state, PhoneStage.Dark) with
            {
                Pending = to,
                Loops = 0,
            },
            _ when to is { } stage => Enter(state, stage),
            _ => state,
        };

    private TwinState Obey(TwinState state, string id)
    {
        if (state.Task is not null || state.Cable != CableTo.Computer || state.Faults.BadSocket)
            return state;
        if (
            common.Commands.FirstOrDefault(known => known.Id == id && known.In.Contains(state.Stage)) is not { } command
            || !Shows(state, command.When)
        )
            return state;
        if (state.Stage == PhoneStage.System && !(state.Debugging && state.Computer is { } computer && state.Allowed.Contains(computer)))
            return state;
        return GoTo(Do(state, command.Does), command.Target, command.To);
    }

    private TwinState Do(TwinState state, MenuEffect effect) =>
        effect switch
        {
            MenuEffect.WipeData => Wipe(state),
            MenuEffect.FormatSystem => Format(state),
            MenuEffect.ChangeLock => ChangeLock(state),
            MenuEffect.BuildNumberTap => state with
            {
                BuildTaps = Math.Min(state.BuildTaps + 1, TapsToDeveloper),
                Message = state.BuildTaps + 1 >= TapsToDeveloper ? "Developer options are shown." : null,
            },
            MenuEffect.SwitchDebugging => state with { Debugging = !state.Debugging },
            MenuEffect.AllowComputer when state.Computer is { } computer => state with { Allowed = state.Allowed.Add(computer) },
            MenuEffect.RevokeComputers => state with { Allowed = [] },
            MenuEffect.SwitchPermission => state with { PermissionOn = !state.PermissionOn },
            MenuEffect.AskForUpdate => AskForUpdate(state),
            MenuEffect.SignOut => state with { Data = state.Data is { } data ? data with { Account = null } : null },
            MenuEffect.SignIn => state with { AsksForAccount = null, Message = null },
            MenuEffect.FinishSetup => state with { Data = state.Data is { } data ? data with { Apps = Math.Max(data.Apps, 30) } : null },
            _ => state,
        };

    private static TwinState Wipe(TwinState state) =>
        state with
        {
            Data = null,
            AsksForAccount = state.Data?.Account ?? state.AsksForAccount,
            PermissionShown = false,
            AskedForUpdate = false,
            BuildTaps = 0,
            Debugging = false,
            Allowed = [],
        };

    private TwinState Format(TwinState state) => state with { Parts = state.Parts.Remove(SystemName(state)) };

    /// <summary>Under which name the system of the active slot lies.</summary>
    private string SystemName(TwinState state) =>
        Model.DynamicPartitions.Count > 0
            ? $"{Model.DynamicPartitions[0]}_{state.Slot}"
            : Model.Partitions.FirstOrDefault(spec => spec.Role == PartitionRole.System)?.Name ?? "";

    /// <summary>The lock becomes what it is not. Opening it erases always; closing it where the model says so.</summary>
    private TwinState ChangeLock(TwinState state)
    {
        if (!state.Unlocked && !state.PermissionOn)
            return state;
        var changed = state with { Unlocked = !state.Unlocked, PermissionOn = true };
        return changed.Unlocked || Model.RelockErases ? Wipe(changed) : changed;
    }

    private TwinState AskForUpdate(TwinState state)
    {
        var asked = state with
        {
            AskedForUpdate = true,
            Message =
                StatusOf(state) == DeviceStatus.Custom
                    ? "The system of this phone was modified. Updates are not offered."
                    : "This phone is up to date.",
        };
        // On every other phone the switch comes only with the next start.
        return state.Seed % 2 == 0 ? asked with { PermissionShown = true } : asked;
    }
}

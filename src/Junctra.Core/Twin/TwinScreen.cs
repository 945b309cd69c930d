using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>What a phone shows, as data: what would be drawn.</summary>
/// <param name="Stage">What it does.</param>
/// <param name="Mode">The mode that a person sees.</param>
/// <param name="Title">The largest words on it; empty where it is dark or shows a picture.</param>
/// <param name="Lines">Lines below.</param>
/// <param name="Entries">Menu entries, with their ids.</param>
/// <param name="Marked">Which of them is marked; -1 where they are touched, or none is.</param>
/// <param name="Picture">What is drawn: <c>dark</c>, <c>logo</c>, <c>charging</c>, <c>warning</c>, <c>lying-robot</c>, <c>spinner</c>, or
/// <c>text</c>.</param>
public sealed record TwinScreen(
    PhoneStage Stage,
    PhoneMode Mode,
    string Title,
    IReadOnlyList<string> Lines,
    IReadOnlyList<(string Id, string Label)> Entries,
    int Marked,
    string Picture
)
{
    /// <summary>Whether anything is lit.</summary>
    public bool IsDark => Picture == "dark";
}

// What the screen shows.
public sealed partial class PhoneTwin
{
    /// <summary>What the phone shows now.</summary>
    public TwinScreen ScreenOf(TwinState state)
    {
        var menu = MenuOf(state);
        var entries = EntriesOf(state).Select(entry => (entry.Id, entry.Label)).ToList();
        var (title, picture, lines) = Face(state);
        List<string> all = [.. lines];
        if (state.Message is { } message)
            all.Add(message);
        if (state.Task is { } task)
            all.Add($"{task.What}: {Math.Max(0, (task.UntilMs - state.NowMs + 999) / 1000)} s to go");
        if (AsksForComputer(state))
            all.Add($"Allow USB debugging for {state.Computer}?");
        return new TwinScreen(
            state.Stage,
            state.Mode,
            state.Asks is null ? menu?.Title ?? title : $"{menu?.Entries.FirstOrDefault(entry => entry.Id == state.Asks)?.Label}?",
            all,
            entries,
            menu is { IsTouch: false } && entries.Count > 0 ? Math.Min(state.MenuAt, entries.Count - 1) : -1,
            picture
        );
    }

    private (string Title, string Picture, IReadOnlyList<string> Lines) Face(TwinState state) =>
        state.Stage switch
        {
            PhoneStage.Off or PhoneStage.Waking or PhoneStage.Dark or PhoneStage.PowerOn or PhoneStage.Emergency => ("", "dark", []),
            PhoneStage.Charging => ("", "charging", [$"{state.ChargePercent} %"]),
            PhoneStage.Logo => (Maker.Name, "logo", state.Unlocked ? ["The bootloader is unlocked."] : []),
            PhoneStage.StuckAtLogo => (Maker.Name, "logo", []),
            PhoneStage.Booting => ("", "spinner", []),
            PhoneStage.Optimising => ("", "spinner", [OptimisingLine(state)]),
            PhoneStage.SwitchingOff => ("", "spinner", ["Switching off"]),
            PhoneStage.RecoveryStarting => (Maker.Name, "logo", []),
            PhoneStage.NoCommand => ("No command", "lying-robot", []),
            PhoneStage.WarningScreen => (
                "Warning",
                "warning",
                [
                    "Other software can harm this phone.",
                    "Volume up: go on",
                    .. state.Unlocked || state.PermissionOn ? ["Volume up, long: change the lock"] : Array.Empty<string>(),
                    "Volume down: cancel",
                ]
            ),
            PhoneStage.Download => ("Download mode", "text", ["Do not unplug", .. Identity(state)]),
            PhoneStage.LockChange => (state.Unlocked ? "Lock the bootloader?" : "Unlock the bootloader?", "warning", LockLines(state)),
            PhoneStage.Fastboot => ("Bootloader", "text", Identity(state)),
            PhoneStage.RecoveryCommands => ("Recovery command mode", "text", Identity(state)),
            PhoneStage.UpdateRunning => ("", "spinner", ["Putting in the update"]),
            PhoneStage.Unverified => (
                "Verification failed",
                "warning",
                ["The software on this phone cannot be verified.", "It does not start."]
            ),
            PhoneStage.System => ("Home screen", "text", SystemLines(state)),
            _ => ("", "text", []),
        };

    private string[] LockLines(TwinState state) =>
        [
            state.Unlocked
                ? Model.RelockErases
                    ? "Locking erases everything on the phone."
                    : "Locking keeps what is on the phone."
                : "Unlocking erases everything on the phone.",
            .. Family.Behaviour.Menus.Any(menu => menu.Stage == PhoneStage.LockChange)
                ? Array.Empty<string>()
                : ["Volume up: change it", "Volume down: leave it"],
        ];

    private static string OptimisingLine(TwinState state)
    {
        var apps = Math.Max(1, state.Data?.Apps ?? 1);
        return $"Optimising app {Math.Min(apps, 1 + (state.NowMs - state.StageSinceMs) / 1000)} of {apps}";
    }

    private List<string> Identity(TwinState state)
    {
        List<string> lines = [$"model {Model.Code}", $"serial {state.Serial}"];
        lines.Add(Maker.HasRollbackFuses ? $"revision {state.RunningRevision}, floor {state.Floor}" : $"revision {state.RunningRevision}");
        lines.Add(FactName.LockState.Write(state.Unlocked ? LockState.Unlocked : LockState.Locked));
        lines.Add($"system {FactName.DeviceStatus.Write(StatusOf(state))}");
        if (Model.HasTamperFuse)
            lines.Add(state.Tripped ? "tamper fuse tripped" : "tamper fuse intact");
        if (Model.Slots > 1)
            lines.Add($"slot {state.Slot}");
        lines.Add($"battery {state.ChargePercent} %");
        lines.Add(state.Cable == CableTo.Nothing ? "cable out" : "cable in");
        return lines;
    }

    private List<string> SystemLines(TwinState state)
    {
        var system = SystemOf(state);
        List<string> lines =
        [
            $"model {Model.Code}",
            $"build {system?.Build}",
            $"OS version {system?.Os}",
            $"status {FactName.DeviceStatus.Write(StatusOf(state))}",
            $"battery {state.ChargePercent} %",
        ];
        if (RootOf(state) is { } root)
            lines.Add($"root manager {root}");
        if (state.BuildTaps >= TapsToDeveloper)
        {
            lines.Add(
                PermissionOf(state) switch
                {
                    UnlockSwitch.Hidden => "permission to change the lock: not shown",
                    UnlockSwitch.Greyed => "permission to change the lock: on, greyed",
                    var value => $"permission to change the lock: {FactName.UnlockPermission.Write(value)}",
                }
            );
            lines.Add(state.Debugging ? "USB debugging on" : "USB debugging off");
        }

        return lines;
    }

    /// <summary>
    /// The link over which a computer reaches the phone now, or null: <c>fastboot</c>, <c>download</c>, <c>recovery</c>, <c>debugging</c>
    /// or <c>emergency</c>.
    /// </summary>
    public static string? LinkOf(TwinState state) =>
        state.Cable != CableTo.Computer || state.Faults.BadSocket || state.Faults.DeadBoard
            ? null
            : state.Stage switch
            {
                PhoneStage.Fastboot or PhoneStage.RecoveryCommands => "fastboot",
                PhoneStage.Download => "download",
                PhoneStage.StockRecovery or PhoneStage.CustomRecovery => "recovery",
                PhoneStage.System when state.Debugging => "debugging",
                PhoneStage.Emergency => "emergency",
                _ => null,
            };

    /// <summary>Whether the computer at the cable may give commands: over the debugging link only where the phone allows it.</summary>
    public static bool IsAllowed(TwinState state) =>
        LinkOf(state) is { } link && (link != "debugging" || state.Computer is { } computer && state.Allowed.Contains(computer));
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

// What the phone says of itself, in either protocol.
internal sealed partial class BenchPhone
{
    /// <summary>What the bootloader answers for a variable, or null.</summary>
    public string? Variable(string name) =>
        name switch
        {
            "version" => "0.4",
            "product" => Faults.Product ?? State.Model,
            "serialno" => State.Serial,
            "is-userspace" => State.Stage == PhoneStage.RecoveryCommands ? "yes" : "no",
            "max-download-size" => $"0x{pace.MaxDownload:x}",
            "slot-count" => Twin.Model.Slots.ToString(),
            "current-slot" => Twin.Model.Slots > 1 ? State.Slot.ToString() : null,
            "chip-family" => Twin.Model.ChipFamily,
            "unlocked" => State.Unlocked ? "yes" : "no",
            "bootloader-revision" => State.RunningRevision.ToString(),
            "rollback-floor" => Twin.Maker.HasRollbackFuses ? State.Floor.ToString() : null,
            "battery-percent" => State.ChargePercent.ToString(),
            "version-baseband" => Partitions.Radio(),
            "system-build" => Twin.PartOf(State, PartitionRole.System)?.Build,
            _ when name.StartsWith("partition-size:", StringComparison.Ordinal) => Twin.Model.Partition(name["partition-size:".Length..])
                is { } partition
                ? $"0x{partition.SizeBytes:x}"
                : null,
            _ => null,
        };

    /// <summary>Answers a question of Junctra's own protocol.</summary>
    private (IReadOnlyDictionary<string, object?> Answer, Func<Task>? Then) Answer(IReadOnlyDictionary<string, object?> question)
    {
        switch (question.GetValueOrDefault("ask"))
        {
            case "who":
                return (
                    new Dictionary<string, object?>
                    {
                        ["ok"] = true,
                        ["mode"] = State.Mode.Id(),
                        ["facts"] = Facts(),
                    },
                    null
                );
            case "screen":
                var screen = Twin.ScreenOf(State);
                return (
                    new Dictionary<string, object?>
                    {
                        ["ok"] = true,
                        ["stage"] = screen.Stage.Id(),
                        ["title"] = screen.Title,
                        ["lines"] = screen.Lines.ToList<object?>(),
                        ["entries"] = screen.Entries.Select(entry => entry.Label).ToList<object?>(),
                    },
                    null
                );
            case "do" when question.GetValueOrDefault("command") is string command:
                if (!PhoneTwin.IsAllowed(State))
                    return (BenchServer.No("this computer is not allowed"), null);
                return Twin.Next(State, new Command(command)).Stage == State.Stage
                    ? (BenchServer.No("no such command here"), null)
                    : (new Dictionary<string, object?> { ["ok"] = true }, () => DoAsync(new Command(command)));
            default:
                return (BenchServer.No("no such question"), null);
        }
    }

    /// <summary>What it says of itself in the mode in which it is, by the names of facts.</summary>
    private Dictionary<string, object?> Facts()
    {
        // The chip's own ROM knows the chip and no more.
        var facts = new Dictionary<string, object?> { [FactName.ChipFamily.Value] = Twin.Model.ChipFamily };
        if (State.Stage == PhoneStage.Emergency)
            return facts;
        facts[FactName.ModelCode.Value] = Faults.Product ?? State.Model;
        facts[FactName.Serial.Value] = State.Serial;
        facts[FactName.BatteryPercent.Value] = State.ChargePercent.ToString();
        if (State.Stage is PhoneStage.StockRecovery or PhoneStage.CustomRecovery)
        {
            facts[FactName.Recovery.Value] = State.Stage == PhoneStage.CustomRecovery ? "custom" : "stock";
            return facts;
        }

        facts[FactName.DeviceStatus.Value] = FactName.DeviceStatus.Write(Twin.StatusOf(State));
        if (State.Stage == PhoneStage.System)
        {
            if (!PhoneTwin.IsAllowed(State))
                return new() { [FactName.Serial.Value] = State.Serial, [FactName.UsbDebugging.Value] = "on" };
            facts[FactName.UsbDebugging.Value] = "authorised";
            if (Twin.PartOf(State, PartitionRole.System)?.Build is { } build && !build.StartsWith("custom", StringComparison.Ordinal))
                facts[FactName.Build.Value] = build;
            facts[FactName.Root.Value] = FactName.Root.Write(Twin.RootOf(State) is null ? Presence.None : Presence.Present);
            return facts;
        }

        facts[FactName.LockState.Value] = State.Unlocked ? "unlocked" : "locked";
        facts[FactName.BootloaderRevision.Value] = State.RunningRevision.ToString();
        if (Twin.Maker.HasRollbackFuses)
            facts[FactName.RollbackFloor.Value] = State.Floor.ToString();
        if (Twin.Model.HasTamperFuse)
            facts[FactName.TamperFuse.Value] = State.Tripped ? "tripped" : "intact";
        return facts;
    }
}

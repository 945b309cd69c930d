using System.Collections.Immutable;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Twin;

/// <summary>What a new twin is like.</summary>
public sealed record TwinNature
{
    /// <summary>Serial.</summary>
    public string Serial { get; init; } = "TWIN0001";

    /// <summary>Seeds what differs from phone to phone.</summary>
    public uint Seed { get; init; } = 1;

    /// <summary>Build of its software.</summary>
    public string Build { get; init; } = "stock";

    /// <summary>Major version of its system.</summary>
    public int Os { get; init; } = 14;

    /// <summary>Bootloader revision, and floor.</summary>
    public int Revision { get; init; } = 3;

    /// <summary>Whether the bootloader accepts any software.</summary>
    public bool Unlocked { get; init; }

    /// <summary>Whether changing the lock is permitted.</summary>
    public bool Permission { get; init; }

    /// <summary>Whether recovery is somebody else's.</summary>
    public bool CustomRecovery { get; init; }

    /// <summary>Whose system it has.</summary>
    public SoftwareKind System { get; init; }

    /// <summary>Root manager's version, or null.</summary>
    public string? Root { get; init; }

    /// <summary>Whether debugging is on.</summary>
    public bool Debugging { get; init; }

    /// <summary>Computers that are allowed.</summary>
    public IReadOnlyList<string> Allowed { get; init; } = [];

    /// <summary>The account that is signed in, or null.</summary>
    public string? Account { get; init; }

    /// <summary>How many apps the customer has.</summary>
    public int Apps { get; init; } = 40;

    /// <summary>Charge in percent, 0 to 100.</summary>
    public int ChargePercent { get; init; } = 70;

    /// <summary>Whether a cable to a computer of that name is in; null for none.</summary>
    public string? Computer { get; init; }
}

/// <summary>Makes twins that stand in a mode, with what such a phone has.</summary>
public static class TwinFactory
{
    /// <summary>A phone of a model that stands in a mode.</summary>
    /// <param name="model">The model.</param>
    /// <param name="mode">The mode; what brings a phone there is done to it: a loop has data that do not fit, emergency mode no boot
    /// chain.</param>
    /// <param name="nature">What it is like.</param>
    public static TwinState In(PhoneModel model, PhoneMode mode, TwinNature nature)
    {
        if (mode == PhoneMode.CustomRecovery)
            nature = nature with { CustomRecovery = true, Unlocked = true };
        if (mode == PhoneMode.LockChange && !nature.Unlocked)
            nature = nature with { Permission = true };
        var state = new TwinState
        {
            Model = model.Code,
            Serial = nature.Serial,
            Identity = "ID-" + nature.Serial,
            Seed = nature.Seed,
            Stage = mode.Standing() ?? PhoneStage.Off,
            Parts = Parts(model, nature),
            Floor = nature.Revision,
            RunningRevision = nature.Revision,
            Unlocked = nature.Unlocked,
            PermissionOn = nature.Permission || nature.Unlocked,
            Debugging = nature.Debugging,
            BuildTaps = nature.Debugging ? 7 : 0,
            Allowed = [.. nature.Allowed],
            Data = new TwinData(nature.Build, nature.Os, nature.System, nature.Apps, nature.Account),
            Charge = Math.Clamp(nature.ChargePercent, 0, 100) * 1_000_000L,
            Cable = nature.Computer is null ? CableTo.Nothing : CableTo.Computer,
            Computer = nature.Computer,
        };
        return mode switch
        {
            // It loops on what a system of somebody else's left behind.
            PhoneMode.BootLoop => state with
            {
                Loops = 1,
                Data = state.Data! with { Kind = nature.System == SoftwareKind.Custom ? SoftwareKind.Stock : SoftwareKind.Custom },
            },
            PhoneMode.SetupWizard => state with { Data = state.Data! with { Apps = 0, Account = null } },
            PhoneMode.Emergency => state with
            {
                Parts = state.Parts.Remove(model.Partitions.First(spec => spec.Role == PartitionRole.BootChain).Name),
            },
            PhoneMode.UpdateRunning => state with
            {
                Update = PartFor(model, PartitionRole.System, "update", nature) with { Build = nature.Build + "+1" },
            },
            PhoneMode.Charging => state with { Cable = state.Cable == CableTo.Nothing ? CableTo.Charger : state.Cable },
            PhoneMode.Off => state with { Cable = CableTo.Nothing, Computer = null },
            _ => state,
        };
    }

    /// <summary>A twin of a phone of which some facts are known; what nobody knows is as most phones are.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="model">Its model.</param>
    /// <param name="mode">Where it stands.</param>
    /// <param name="computer">The computer that is allowed, where debugging is authorised.</param>
    public static TwinState Of(Phone phone, PhoneModel model, PhoneMode mode, string computer)
    {
        var permission = phone.Of(FactName.UnlockPermission).Best();
        var debugging = phone.Of(FactName.UsbDebugging).Best();
        // Somebody else's recovery was written through an open lock.
        var isUnlocked =
            phone.Of(FactName.LockState).Is(LockState.Unlocked)
            || phone.Of(FactName.Recovery).Is(RecoveryKind.Custom) && !phone.Of(FactName.LockState).Is(LockState.Locked);
        var revision = phone.Of(FactName.RollbackFloor).Best() ?? phone.Of(FactName.BootloaderRevision).Best();
        return In(
            model,
            mode,
            new TwinNature
            {
                Serial = phone[FactName.Serial].Value ?? "TWIN0001",
                Build = phone[FactName.Build].Value ?? "stock",
                Os = phone.Of(FactName.OsVersion).Best()?.Major ?? 14,
                Revision = revision?.Number ?? 3,
                Unlocked = isUnlocked || permission == UnlockSwitch.Greyed,
                Permission = permission == UnlockSwitch.On,
                CustomRecovery = phone.Of(FactName.Recovery).Is(RecoveryKind.Custom),
                System = phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Custom) && isUnlocked ? SoftwareKind.Custom : SoftwareKind.Stock,
                Root = phone[FactName.RootManager].Value ?? (phone.Of(FactName.Root).Is(Presence.Present) ? "1" : null),
                Debugging = debugging is Debugging.On or Debugging.Authorised,
                Allowed = debugging == Debugging.Authorised ? [computer] : [],
                Account = phone.Of(FactName.Account).Is(AccountState.SignedIn) ? "owner" : null,
                ChargePercent = phone.Of(FactName.BatteryPercent).Best()?.Number ?? 70,
                Computer = mode == PhoneMode.Charging || debugging == Debugging.Authorised && mode == PhoneMode.System ? computer : null,
            }
        );
    }

    private static ImmutableSortedDictionary<string, TwinPart> Parts(PhoneModel model, TwinNature nature)
    {
        var parts = ImmutableSortedDictionary.CreateBuilder<string, TwinPart>(StringComparer.Ordinal);
        foreach (var spec in model.Partitions.Where(spec => spec.IsStock))
        {
            var part = PartFor(model, spec.Role, spec.Name, nature);
            if (spec.Role == PartitionRole.System && model.DynamicPartitions.Count > 0)
            {
                foreach (var (inside, slot) in model.DynamicPartitions.SelectMany(inside => "ab".Select(slot => (inside, slot))))
                    parts[$"{inside}_{slot}"] = part with { Content = $"{part.Content}/{inside}" };
            }
            else if (model.SlottedPartitions.Contains(spec.Name))
            {
                foreach (var slot in "ab")
                    parts[$"{spec.Name}_{slot}"] = part;
            }
            else
                parts[spec.Name] = part;
        }

        return parts.ToImmutable();
    }

    private static TwinPart PartFor(PhoneModel model, PartitionRole role, string name, TwinNature nature)
    {
        var carriesRecovery =
            role == PartitionRole.Recovery
            || role == PartitionRole.Boot && !model.Partitions.Any(spec => spec.Role == PartitionRole.Recovery);
        var kind = role switch
        {
            PartitionRole.System => nature.System,
            _ when carriesRecovery && nature.CustomRecovery => SoftwareKind.Custom,
            PartitionRole.Boot when nature.Root is not null => SoftwareKind.Patched,
            _ => SoftwareKind.Stock,
        };
        return new TwinPart($"{nature.Build}/{name}", kind)
        {
            Model = model.Code,
            Build = nature.Build,
            Os = role == PartitionRole.System ? nature.Os : null,
            Revision = role == PartitionRole.BootChain ? nature.Revision : null,
            Root = role == PartitionRole.Boot ? nature.Root : null,
        };
    }
}

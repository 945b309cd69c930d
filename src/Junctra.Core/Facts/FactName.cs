using System.Text.Json.Serialization;
using System.Text.Json;

namespace Junctra.Core.Facts;

/// <summary>
/// Which fact about a phone. The names are the ones used in files, in the database and on the link table of the
/// catalogue: lower case with hyphens; sizes of partitions carry the partition's name after a colon, modes that were
/// reached carry the mode's. What each is and how its values look stands in <see cref="FactDefinitions"/>.
/// </summary>
[JsonConverter(typeof(FactNameJson))]
public readonly record struct FactName
{
    /// <summary>Takes a name as written in files.</summary>
    /// <exception cref="ArgumentException">The name is empty.</exception>
    public FactName(string value)
    {
        ArgumentException.ThrowIfNullOrWhiteSpace(value);
        Value = value;
    }

    /// <summary>The name as written in files.</summary>
    public string Value { get; }

    /// <summary>Exact variant, as printed in settings and on the label.</summary>
    public static FactName ModelCode { get; } = new("model-code");
    /// <summary>The name it is sold by; never enough to tell a variant.</summary>
    public static FactName ProductName { get; } = new("product-name");
    /// <summary>Who made it.</summary>
    public static FactName Maker { get; } = new("maker");
    /// <summary>The phone's own number, by which one of two connected phones is told from the other.</summary>
    public static FactName Serial { get; } = new("serial");
    /// <summary>Chip family, as the catalogue writes it.</summary>
    public static FactName ChipFamily { get; } = new("chip-family");
    /// <summary>Sales region of the software now on the phone.</summary>
    public static FactName Region { get; } = new("region");
    /// <summary>Group of the sales region, where a build string tells no more.</summary>
    public static FactName RegionGroup { get; } = new("region-group");
    /// <summary>Whether it only works with one carrier.</summary>
    public static FactName CarrierLocked { get; } = new("carrier-locked");
    /// <summary>Month of the security patch, <c>2026-08</c>.</summary>
    public static FactName SecurityPatch { get; } = new("security-patch");
    /// <summary>The build now on the phone.</summary>
    public static FactName Build { get; } = new("build");
    /// <summary>Major version of the operating system.</summary>
    public static FactName OsVersion { get; } = new("os-version");
    /// <summary>The radio's own build.</summary>
    public static FactName RadioBuild { get; } = new("radio-build");
    /// <summary>Revision of the boot chain now on the phone; a lower bound of the rollback floor.</summary>
    public static FactName BootloaderRevision { get; } = new("bootloader-revision");
    /// <summary>Lowest bootloader revision the phone still accepts, from its one-time fuses.</summary>
    public static FactName RollbackFloor { get; } = new("rollback-floor");
    /// <summary><c>locked</c> or <c>unlocked</c>.</summary>
    public static FactName LockState { get; } = new("lock-state");
    /// <summary>The switch in developer options that allows changing the lock: <c>on</c>, <c>off</c>, <c>hidden</c> or <c>greyed</c>.</summary>
    public static FactName UnlockPermission { get; } = new("unlock-permission");
    /// <summary>What the system says of itself: <c>official</c> or <c>custom</c>.</summary>
    public static FactName DeviceStatus { get; } = new("device-status");
    /// <summary>One-time mark that modified software was started: <c>intact</c> or <c>tripped</c>.</summary>
    public static FactName TamperFuse { get; } = new("tamper-fuse");
    /// <summary><c>stock</c> or <c>custom</c>.</summary>
    public static FactName Recovery { get; } = new("recovery");
    /// <summary><c>present</c> or <c>none</c>.</summary>
    public static FactName Root { get; } = new("root");
    /// <summary>Version of the root manager on the phone.</summary>
    public static FactName RootManager { get; } = new("root-manager");
    /// <summary><c>off</c>, <c>on</c>, or <c>authorised</c> for this computer.</summary>
    public static FactName UsbDebugging { get; } = new("usb-debugging");
    /// <summary><c>none</c> or <c>signed-in</c>.</summary>
    public static FactName Account { get; } = new("account");
    /// <summary>Charge in percent, 0 to 100.</summary>
    public static FactName BatteryPercent { get; } = new("battery-percent");
    /// <summary>The build that last ran well on this phone.</summary>
    public static FactName LastGoodBuild { get; } = new("last-good-build");
    /// <summary>Whether an own backup image exists.</summary>
    public static FactName OwnBackup { get; } = new("own-backup");
    /// <summary>How many apps are installed.</summary>
    public static FactName AppCount { get; } = new("app-count");
    /// <summary>Networks that are set up.</summary>
    public static FactName Networks { get; } = new("networks");
    /// <summary><c>none</c> or <c>present</c>.</summary>
    public static FactName Card { get; } = new("card");
    /// <summary>Free on the storage card, in decimal megabytes.</summary>
    public static FactName CardFree { get; } = new("card-free-mb");
    /// <summary>Where a copied update lies: <c>root</c> or <c>folder</c> of the external card, <c>internal</c>, or <c>none</c>.</summary>
    public static FactName CardPlace { get; } = new("card-place");
    /// <summary>The name under which a copied update lies there.</summary>
    public static FactName CardFileName { get; } = new("card-file-name");
    /// <summary>SHA-256 of the copy, read from the card.</summary>
    public static FactName CardFileDigest { get; } = new("card-file-digest");
    /// <summary>Storage size in decimal gigabytes.</summary>
    public static FactName StorageSize { get; } = new("storage-gb");
    /// <summary>The mode the phone is in; values are those of <see cref="PhoneMode"/>.</summary>
    public static FactName Mode { get; } = new("mode");

    private const string PartitionSizePrefix = "partition-size:";
    private const string ReachedPrefix = "reached:";

    /// <summary>Size in bytes of one partition of this phone.</summary>
    public static FactName PartitionSize(string partition) => new(PartitionSizePrefix + partition);

    /// <summary>Whether the phone was seen to reach a mode: <c>yes</c>, or <c>no</c> after a real try.</summary>
    public static FactName Reached(PhoneMode mode) => new(ReachedPrefix + mode.Id());

    /// <summary>Whether this names a partition's size.</summary>
    public bool IsPartitionSize => Value.StartsWith(PartitionSizePrefix, StringComparison.Ordinal);

    /// <summary>Whether this names a mode that was or was not reached.</summary>
    public bool IsReached => Value.StartsWith(ReachedPrefix, StringComparison.Ordinal);

    /// <summary>The partition or mode after the colon, or nothing.</summary>
    public string Detail => Value.IndexOf(':') is > 0 and var colon ? Value[(colon + 1)..] : "";

    /// <summary>The mode this is about, where <see cref="IsReached"/>.</summary>
    public PhoneMode ReachedMode => IsReached ? PhoneModes.Parse(Detail) ?? PhoneMode.Unknown : PhoneMode.Unknown;

    /// <summary>The name as a technician says it.</summary>
    public string Label => FactDefinitions.Of(this).Label;

    /// <summary>The name as it stands in the middle of a sentence: a beginning that is an abbreviation keeps its capitals.</summary>
    public string LabelInText => Label is [_, var second, ..] && char.IsUpper(second) ? Label : Label.ToLowerInvariant();

    /// <summary>The unit after the value, with its space, or nothing.</summary>
    public string Unit => FactDefinitions.Of(this).Unit;

    /// <summary>Every fact that has a name of its own; sizes of partitions and modes that were reached besides.</summary>
    public static IReadOnlyList<FactName> All { get; } = [.. FactDefinitions.All.Select(definition => new FactName(definition.Id))];

    /// <summary>The fact of that name as files write it, or null.</summary>
    public static FactName? Parse(string? text)
    {
        if (FactDefinitions.Find(text) is not null) return new FactName(text!);
        if (text is null or { Length: > 80 }) return null;
        var name = text.Length > 0 ? new FactName(text) : default;
        return (name.Value is not null && name.IsPartitionSize && name.Detail.Length > 0) || (name.Value is not null && name.IsReached && name.ReachedMode != PhoneMode.Unknown) ? name : null;
    }

    /// <summary>A momentary fact changes by itself: the newest reading counts, and an older one is no disagreement.</summary>
    public bool IsMomentary => FactDefinitions.Of(this).IsMomentary;

    /// <summary>Whether a write that touched so much makes readings from before it void.</summary>
    public bool ExpiresBy(WriteTouch touched) => (FactDefinitions.Of(this).TouchedBy & touched) != WriteTouch.None;

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Writes a fact's name as a plain JSON string.</summary>
internal sealed class FactNameJson : JsonConverter<FactName>
{
    public override FactName Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        new(reader.GetString() ?? throw new JsonException("A fact needs a name."));

    public override void Write(Utf8JsonWriter writer, FactName value, JsonSerializerOptions options) => writer.WriteStringValue(value.Value);
}

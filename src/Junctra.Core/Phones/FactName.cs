using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Core.Phones;

/// <summary>
/// Which fact about a phone. The names are the ones used in files, in the database and on the link table of the
/// catalogue: lower case with hyphens; sizes of partitions carry the partition's name after a colon.
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
    /// <summary>The phone's own number, by which one of two connected phones is told from the other.</summary>
    public static FactName Serial { get; } = new("serial");
    /// <summary>Chip family, as the catalogue writes it.</summary>
    public static FactName ChipFamily { get; } = new("chip-family");
    /// <summary>Sales region of the software now on the phone.</summary>
    public static FactName Region { get; } = new("region");
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
    /// <summary>What the system says of itself: <c>official</c> or <c>custom</c>.</summary>
    public static FactName DeviceStatus { get; } = new("device-status");
    /// <summary><c>present</c> or <c>none</c>.</summary>
    public static FactName Root { get; } = new("root");
    /// <summary>Charge in percent, 0 to 100.</summary>
    public static FactName BatteryPercent { get; } = new("battery-percent");
    /// <summary>Storage size in decimal gigabytes.</summary>
    public static FactName StorageSize { get; } = new("storage-gb");
    /// <summary>The mode the phone is in; values are those of <see cref="Modes.PhoneMode"/>.</summary>
    public static FactName Mode { get; } = new("mode");

    private const string PartitionSizePrefix = "partition-size:";

    /// <summary>Size in bytes of one partition of this phone.</summary>
    public static FactName PartitionSize(string partition) => new(PartitionSizePrefix + partition);

    /// <summary>Whether this names a partition's size.</summary>
    public bool IsPartitionSize => Value.StartsWith(PartitionSizePrefix, StringComparison.Ordinal);

    /// <summary>The name as a technician says it.</summary>
    public string Label => Value switch
    {
        "model-code" => "Model code",
        "serial" => "Serial",
        "chip-family" => "Chip family",
        "region" => "Region",
        "security-patch" => "Security patch",
        "build" => "Build",
        "os-version" => "OS version",
        "radio-build" => "Radio build",
        "bootloader-revision" => "Bootloader revision",
        "rollback-floor" => "Rollback floor",
        "lock-state" => "Lock state",
        "device-status" => "Device status",
        "root" => "Root",
        "battery-percent" => "Battery",
        "storage-gb" => "Storage size",
        "mode" => "Mode now",
        _ when IsPartitionSize => $"Size of {Value[PartitionSizePrefix.Length..]}",
        _ => Value,
    };

    /// <summary>The unit after the value, with its space, or nothing.</summary>
    public string Unit => Value switch { "battery-percent" => " %", "storage-gb" => " GB", _ => IsPartitionSize ? " bytes" : "" };

    /// <summary>Every fact that has a name of its own; sizes of partitions besides.</summary>
    public static IReadOnlyList<FactName> All { get; } =
    [
        ModelCode, Serial, ChipFamily, Region, Build, OsVersion, SecurityPatch, RadioBuild, BootloaderRevision, RollbackFloor,
        LockState, DeviceStatus, Root, BatteryPercent, StorageSize, Mode,
    ];

    /// <summary>The fact of that name as files write it, or null.</summary>
    public static FactName? Parse(string? text)
    {
        foreach (var name in All)
            if (name.Value == text) return name;
        return text is { Length: > 15 and <= 80 } && text.StartsWith(PartitionSizePrefix, StringComparison.Ordinal) ? new FactName(text) : null;
    }

    /// <summary>A momentary fact changes by itself: the newest reading counts, and an older one is no disagreement.</summary>
    public bool IsMomentary => this == BatteryPercent || this == Mode;

    /// <summary>Whether a full write makes readings from before it void.</summary>
    public bool ExpiresByWrite =>
        this == Build || this == OsVersion || this == SecurityPatch || this == Region || this == RadioBuild || this == BootloaderRevision || this == RollbackFloor
        || this == DeviceStatus || this == Root || this == LockState || this == Mode || this == BatteryPercent;

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

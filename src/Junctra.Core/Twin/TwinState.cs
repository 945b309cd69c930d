using System.Collections.Immutable;
using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Twin;

/// <summary>Whose software something is.</summary>
public enum SoftwareKind
{
    /// <summary>Its maker's, as sent out.</summary>
    Stock,

    /// <summary>Its maker's, changed by somebody.</summary>
    Patched,

    /// <summary>Somebody else's.</summary>
    Custom,
}

/// <summary>What lies in a partition.</summary>
/// <param name="Content">Identity of the content, for example its digest; two equal ones are the same bytes.</param>
/// <param name="Kind">Whose it is.</param>
public sealed record TwinPart(string Content, SoftwareKind Kind)
{
    /// <summary>Model for which it is made, or null where it does not say.</summary>
    public string? Model { get; init; }

    /// <summary>Its build, or null.</summary>
    public string? Build { get; init; }

    /// <summary>Major version of the operating system, or null.</summary>
    public int? Os { get; init; }

    /// <summary>Bootloader revision of a boot chain.</summary>
    public int? Revision { get; init; }

    /// <summary>Root manager's version of a patched boot image.</summary>
    public string? Root { get; init; }

    /// <summary>Whether all of it is there; a write that was cut leaves it false.</summary>
    public bool Whole { get; init; } = true;

    /// <summary>Whether it carries its maker's signature unbroken.</summary>
    [JsonIgnore]
    public bool IsSigned => Kind == SoftwareKind.Stock;
}

/// <summary>What the customer has on the phone.</summary>
/// <param name="Build">Build of the system that used it last.</param>
/// <param name="Os">Its major version.</param>
/// <param name="Kind">Whose system that was.</param>
/// <param name="Apps">How many apps are installed.</param>
/// <param name="Account">The account that is signed in, or null.</param>
public sealed record TwinData(string Build, int Os, SoftwareKind Kind, int Apps, string? Account);

/// <summary>A file on the storage card.</summary>
/// <param name="Name">Its name.</param>
/// <param name="InRoot">Whether it lies in the root of the card.</param>
/// <param name="Content">What it holds, or null where it is damaged or no update.</param>
public sealed record CardFile(string Name, bool InRoot, TwinPart? Content);

/// <summary>What is at the socket.</summary>
public enum CableTo
{
    /// <summary>Nothing.</summary>
    Nothing,

    /// <summary>A charger.</summary>
    Charger,

    /// <summary>A computer.</summary>
    Computer,
}

/// <summary>Something that takes its time while a stage stands: a wipe, a write.</summary>
/// <param name="What">What shows.</param>
/// <param name="UntilMs">When it is done.</param>
/// <param name="Does">What it does then.</param>
/// <param name="Partition">The partition that is whole then, or null.</param>
/// <param name="Then">The stage that follows, or null where the stage stays.</param>
public sealed record TwinTask(string What, long UntilMs, MenuEffect Does, string? Partition, PhoneStage? Then);

/// <summary>Faults of a twin that no software mends.</summary>
public sealed record TwinFaults
{
    /// <summary>Nothing answers at all, not even in emergency mode.</summary>
    public bool DeadBoard { get; init; }

    /// <summary>A slip of a needle shorted the board: nothing brings it back.</summary>
    public bool Shorted { get; init; }

    /// <summary>The cable seats badly: no computer is heard.</summary>
    public bool BadSocket { get; init; }
}

/// <summary>
/// A phone at one moment. Immutable; <see cref="PhoneTwin"/> makes the next one out of it. Times are milliseconds of the
/// phone's own clock, which begins at 0.
/// </summary>
public sealed record TwinState
{
    private static readonly JsonSerializerOptions Json = new()
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>Model code.</summary>
    public required string Model { get; init; }

    /// <summary>Serial; never changes.</summary>
    public required string Serial { get; init; }

    /// <summary>Identity number of the radio; never changes.</summary>
    public required string Identity { get; init; }

    /// <summary>Seeds what differs from phone to phone; part of the state, so that a replay is the same.</summary>
    public uint Seed { get; init; } = 1;

    /// <summary>Now, in milliseconds.</summary>
    public long NowMs { get; init; }

    /// <summary>What it does.</summary>
    public PhoneStage Stage { get; init; }

    /// <summary>Since when.</summary>
    public long StageSinceMs { get; init; }

    /// <summary>When it last began to start.</summary>
    public long StartedMs { get; init; }

    /// <summary>When hardware last forced a restart.</summary>
    public long ForcedMs { get; init; }

    /// <summary>Keys that are down, and since when.</summary>
    public ImmutableSortedDictionary<string, long> Keys { get; init; } = ImmutableSortedDictionary<string, long>.Empty;

    /// <summary>When a key last went down or up.</summary>
    public long KeysChangedMs { get; init; }

    /// <summary>What is at the socket.</summary>
    public CableTo Cable { get; init; }

    /// <summary>Since when.</summary>
    public long CableSinceMs { get; init; }

    /// <summary>The computer at the other end, or null.</summary>
    public string? Computer { get; init; }

    /// <summary>Whether the battery is in.</summary>
    public bool BatteryIn { get; init; } = true;

    /// <summary>Charge in millionths of a percent, 0 to 100,000,000.</summary>
    public long Charge { get; init; } = 70_000_000;

    /// <summary>Charge below which it shows no sign of life: a cell that is flat to the bottom needs long before it does.</summary>
    public long SignOfLifeAt { get; init; } = 1_000_000;

    /// <summary>What lies in the partitions.</summary>
    public ImmutableSortedDictionary<string, TwinPart> Parts { get; init; } = ImmutableSortedDictionary<string, TwinPart>.Empty;

    /// <summary>Sizes of the partitions in bytes where another layout than the model's was written; empty for the model's own.</summary>
    public ImmutableSortedDictionary<string, long> Layout { get; init; } = ImmutableSortedDictionary<string, long>.Empty;

    /// <summary>Lowest bootloader revision that it accepts; never falls.</summary>
    public int Floor { get; init; }

    /// <summary>Revision of the boot chain that it started with.</summary>
    public int RunningRevision { get; init; }

    /// <summary>Whether the bootloader accepts any software.</summary>
    public bool Unlocked { get; init; }

    /// <summary>Whether the switch that permits changing the lock is on.</summary>
    public bool PermissionOn { get; init; }

    /// <summary>Whether that switch is shown: after a reset only once the phone was online and asked for an update.</summary>
    public bool PermissionShown { get; init; } = true;

    /// <summary>Whether it asked for an update since the last reset.</summary>
    public bool AskedForUpdate { get; init; }

    /// <summary>Whether the tamper fuse is blown; never heals.</summary>
    public bool Tripped { get; init; }

    /// <summary>How often the build number was tapped.</summary>
    public int BuildTaps { get; init; }

    /// <summary>Whether USB debugging is on.</summary>
    public bool Debugging { get; init; }

    /// <summary>Computers that are allowed.</summary>
    public ImmutableSortedSet<string> Allowed { get; init; } = [];

    /// <summary>The customer's data; null where there are none.</summary>
    public TwinData? Data { get; init; }

    /// <summary>The account that the set-up asks for; null where it asks for none.</summary>
    public string? AsksForAccount { get; init; }

    /// <summary>The active slot of a model with two.</summary>
    public char Slot { get; init; } = 'a';

    /// <summary>Failed starts of the active slot.</summary>
    public int SlotFailures { get; init; }

    /// <summary>Files on the storage card; null where no card is in.</summary>
    public ImmutableList<CardFile>? Card { get; init; }

    /// <summary>Whether a loader runs, so that a chip that answers alone takes a boot chain.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingDefault)]
    public bool HasLoader { get; init; }

    /// <summary>What an update that runs puts in.</summary>
    public TwinPart? Update { get; init; }

    /// <summary>Faults that no software mends.</summary>
    public TwinFaults Faults { get; init; } = new();

    /// <summary>Starts in a row that did not reach the system.</summary>
    public int Loops { get; init; }

    /// <summary>Where the next start leads, where somebody chose that; null for the system.</summary>
    public PhoneStage? Pending { get; init; }

    /// <summary>The entry that is marked in the menu.</summary>
    public int MenuAt { get; init; }

    /// <summary>The entry that asks whether it is meant; null where none does.</summary>
    public string? Asks { get; init; }

    /// <summary>What takes its time.</summary>
    public TwinTask? Task { get; init; }

    /// <summary>A line that it shows besides.</summary>
    public string? Message { get; init; }

    /// <summary>The mode that a person sees.</summary>
    [JsonIgnore]
    public PhoneMode Mode =>
        Stage.Mode() is PhoneMode.Starting && Stage != PhoneStage.RecoveryStarting && Loops > 0 && Pending is null
            ? PhoneMode.BootLoop
            : Stage.Mode();

    /// <summary>Charge in percent, 0 to 100.</summary>
    [JsonIgnore]
    public int ChargePercent => (int)(Charge / 1_000_000);

    /// <summary>The state as JSON; reading it back gives an equal one.</summary>
    public string ToJson() => JsonSerializer.Serialize(this, Json);

    /// <summary>Reads what <see cref="ToJson"/> wrote.</summary>
    /// <exception cref="JsonException">It is no state.</exception>
    public static TwinState FromJson(string text) =>
        JsonSerializer.Deserialize<TwinState>(text, Json) ?? throw new JsonException("A twin's state is expected, not null.");
}

using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Core.Twin;

/// <summary>Something that happens to a phone.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "is")]
[JsonDerivedType(typeof(KeyDown), "key-down")]
[JsonDerivedType(typeof(KeyUp), "key-up")]
[JsonDerivedType(typeof(CableIn), "cable-in")]
[JsonDerivedType(typeof(CableOut), "cable-out")]
[JsonDerivedType(typeof(BatteryOut), "battery-out")]
[JsonDerivedType(typeof(BatteryIn), "battery-in")]
[JsonDerivedType(typeof(PowerGone), "power-gone")]
[JsonDerivedType(typeof(ForcedRestart), "forced-restart")]
[JsonDerivedType(typeof(TimePasses), "time")]
[JsonDerivedType(typeof(Choose), "choose")]
[JsonDerivedType(typeof(Command), "command")]
[JsonDerivedType(typeof(WritePart), "write")]
[JsonDerivedType(typeof(ErasePart), "erase")]
[JsonDerivedType(typeof(WriteLayout), "layout")]
[JsonDerivedType(typeof(RestoreData), "restore-data")]
[JsonDerivedType(typeof(HoldNeedle), "needle")]
[JsonDerivedType(typeof(SupplyLoader), "loader")]
[JsonDerivedType(typeof(CardPutIn), "card-in")]
[JsonDerivedType(typeof(CardTakenOut), "card-out")]
public abstract record TwinEvent
{
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        Converters = { new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower) },
        DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    };

    /// <summary>The events as JSON.</summary>
    public static string ToJson(IEnumerable<TwinEvent> events) => JsonSerializer.Serialize(events, Json);

    /// <summary>Reads what <see cref="ToJson"/> wrote.</summary>
    /// <exception cref="JsonException">They are no events.</exception>
    public static IReadOnlyList<TwinEvent> FromJson(string text) =>
        JsonSerializer.Deserialize<IReadOnlyList<TwinEvent>>(text, Json) ?? throw new JsonException("Events are expected, not null.");
}

/// <summary>A key goes down; nothing when it is down.</summary>
/// <param name="Key">Id of the key in its family.</param>
public sealed record KeyDown(string Key) : TwinEvent;

/// <summary>A key goes up; nothing when it is up.</summary>
/// <param name="Key">Id of the key in its family.</param>
public sealed record KeyUp(string Key) : TwinEvent;

/// <summary>A cable goes in.</summary>
/// <param name="Computer">Name of the computer at its other end; null for a charger.</param>
public sealed record CableIn(string? Computer) : TwinEvent;

/// <summary>The cable is pulled.</summary>
public sealed record CableOut : TwinEvent;

/// <summary>The battery is taken out; nothing where it cannot be.</summary>
public sealed record BatteryOut : TwinEvent;

/// <summary>The battery is put in.</summary>
public sealed record BatteryIn : TwinEvent;

/// <summary>The cell is flat from one moment to the next: the phone is off, and what went on stays half done.</summary>
public sealed record PowerGone : TwinEvent;

/// <summary>The phone restarts in the middle of whatever it did, as a watchdog or held keys make it.</summary>
public sealed record ForcedRestart : TwinEvent;

/// <summary>Time passes.</summary>
/// <param name="Milliseconds">How much, 0 to a day; more counts as a day, less as nothing.</param>
public sealed record TimePasses(long Milliseconds) : TwinEvent;

/// <summary>A menu entry is touched.</summary>
/// <param name="Entry">Its id; one that the screen does not show is no touch.</param>
public sealed record Choose(string Entry) : TwinEvent;

/// <summary>A command arrives on a link.</summary>
/// <param name="Id">Its id; one that the phone does not know here does nothing.</param>
public sealed record Command(string Id) : TwinEvent;

/// <summary>An image is written to a partition.</summary>
/// <param name="Partition">Its name.</param>
/// <param name="Part">What is written.</param>
/// <param name="Bytes">Size of the image, expanded.</param>
/// <param name="TakesMilliseconds">How long the phone takes to put it away; whatever cuts that leaves it half written.</param>
public sealed record WritePart(string Partition, TwinPart Part, long Bytes, long TakesMilliseconds = 0) : TwinEvent;

/// <summary>A partition is erased.</summary>
/// <param name="Partition">Its name.</param>
public sealed record ErasePart(string Partition) : TwinEvent;

/// <summary>Another layout is written: all but the boot chain is lost.</summary>
/// <param name="Sizes">Partitions and their sizes in bytes.</param>
public sealed record WriteLayout(IReadOnlyDictionary<string, long> Sizes) : TwinEvent;

/// <summary>User data that were saved earlier are put back, in place of what is there; custom recovery takes them.</summary>
/// <param name="Data">The data as of the day they were saved.</param>
public sealed record RestoreData(TwinData Data) : TwinEvent;

/// <summary>What a needle is held on.</summary>
public enum NeedleOn
{
    /// <summary>The pad by which the chip answers alone.</summary>
    Wanted,

    /// <summary>A pad that does nothing here.</summary>
    Elsewhere,

    /// <summary>A supply, by a slip: the board is shorted, and nobody brings it back.</summary>
    Supply,
}

/// <summary>A needle is held on a pad of the opened phone, its cable at a computer.</summary>
/// <param name="On">What it is held on.</param>
/// <param name="Computer">Name of the computer.</param>
public sealed record HoldNeedle(NeedleOn On, string? Computer = null) : TwinEvent;

/// <summary>A signed loader is given to the chip, which takes nothing else while it answers alone.</summary>
/// <param name="HighestRevision">The highest revision of a boot chain that it supports.</param>
public sealed record SupplyLoader(int HighestRevision) : TwinEvent;

/// <summary>A storage card is put in.</summary>
/// <param name="Files">What lies on it.</param>
public sealed record CardPutIn(IReadOnlyList<CardFile> Files) : TwinEvent;

/// <summary>The storage card is taken out.</summary>
public sealed record CardTakenOut : TwinEvent;

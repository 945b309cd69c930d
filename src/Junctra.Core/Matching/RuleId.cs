using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Core.Matching;

/// <summary>
/// Which rule of the match. Stored reports and answers of the interface for programs hold its text, for example <c>M04</c>.
/// </summary>
/// <param name="Value">The id as it is stored.</param>
[JsonConverter(typeof(RuleIdJson))]
public readonly record struct RuleId(string Value)
{
    /// <summary>The package is for this very model.</summary>
    public static RuleId Model { get; } = new("M01");

    /// <summary>It is for this chip.</summary>
    public static RuleId Chip { get; } = new("M02");

    /// <summary>It fits a phone that is sold open, or for one carrier only.</summary>
    public static RuleId Carrier { get; } = new("M03");

    /// <summary>Its bootloader revision against the rollback floor.</summary>
    public static RuleId Revision { get; } = new("M04");

    /// <summary>Newer or older than what the phone has.</summary>
    public static RuleId Direction { get; } = new("M05");

    /// <summary>Its sales region.</summary>
    public static RuleId Region { get; } = new("M06");

    /// <summary>It is whole.</summary>
    public static RuleId Intact { get; } = new("M07");

    /// <summary>Whose it is.</summary>
    public static RuleId Origin { get; } = new("M08");

    /// <summary>It brings what the goal needs.</summary>
    public static RuleId Complete { get; } = new("M09");

    /// <summary>Its images fit the partitions.</summary>
    public static RuleId Fits { get; } = new("M10");

    /// <summary>An incremental update and the build it was made from.</summary>
    public static RuleId Base { get; } = new("M11");

    /// <summary>What the lock lets through.</summary>
    public static RuleId Lock { get; } = new("M12");

    /// <summary>A patched part and what it was patched from.</summary>
    public static RuleId KeepRoot { get; } = new("M13");

    /// <summary>The mode in which it is written can be reached.</summary>
    public static RuleId Reachable { get; } = new("M14");

    /// <summary>Its radio.</summary>
    public static RuleId Radio { get; } = new("M15");

    /// <summary>The version that is wished for.</summary>
    public static RuleId Wish { get; } = new("M16");

    /// <summary>A backup and the phone it was taken from.</summary>
    public static RuleId Backup { get; } = new("M17");

    /// <summary>What lies on the card.</summary>
    public static RuleId Card { get; } = new("M18");

    /// <summary>The loader of chip emergency mode.</summary>
    public static RuleId Loader { get; } = new("M19");

    /// <summary>The id as it is stored.</summary>
    public static implicit operator string(RuleId id) => id.Value;

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Writes a rule's id as a plain JSON string.</summary>
internal sealed class RuleIdJson : JsonConverter<RuleId>
{
    public override RuleId Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        new(reader.GetString() ?? throw new JsonException("A rule needs an id."));

    public override void Write(Utf8JsonWriter writer, RuleId value, JsonSerializerOptions options) => writer.WriteStringValue(value.Value);
}

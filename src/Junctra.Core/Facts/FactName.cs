using System.Text.Json;
using System.Text.Json.Serialization;

namespace Junctra.Core.Facts;

/// <summary>
/// Which fact about a phone. The names are the ones used in files, in the database and on the link table of the
/// catalogue: lower case with hyphens; sizes of partitions carry the partition's name after a colon, modes that were
/// reached carry the mode's. What each is and how its values look is declared in <c>KnownFacts.cs</c>.
/// </summary>
[JsonConverter(typeof(FactNameJson))]
public readonly partial record struct FactName
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

    private const string PartitionSizePrefix = "partition-size:";
    private const string ReachedPrefix = "reached:";

    /// <summary>Size in bytes of one partition of this phone.</summary>
    public static FactOf<long> PartitionSize(string partition) => new(new FactName(PartitionSizePrefix + partition), FactForms.Bytes);

    /// <summary>Whether the phone was seen to reach a mode; no after a real try.</summary>
    public static FactOf<bool> Reached(PhoneMode mode) => new(new FactName(ReachedPrefix + mode.Id()), FactForms.YesNo);

    /// <summary>Whether this names a partition's size.</summary>
    public bool IsPartitionSize => Value.StartsWith(PartitionSizePrefix, StringComparison.Ordinal);

    /// <summary>Whether this names a mode that was or was not reached.</summary>
    public bool IsReached => Value.StartsWith(ReachedPrefix, StringComparison.Ordinal);

    /// <summary>The partition or mode after the colon, or nothing.</summary>
    public string Detail => Value.IndexOf(':') is > 0 and var colon ? Value[(colon + 1)..] : "";

    /// <summary>The mode this is about, where <see cref="IsReached"/>.</summary>
    public PhoneMode ReachedMode => IsReached ? PhoneModes.Parse(Detail) ?? PhoneMode.Unknown : PhoneMode.Unknown;

    /// <summary>
    /// How it is called, what its values look like, and when they become void; made for it where its name carries a partition or a mode.
    /// </summary>
    public FactDefinition Definition
    {
        get
        {
            if (ById.TryGetValue(Value, out var definition))
                return definition;
            if (IsPartitionSize)
                return new FactDefinition(Value, $"Size of {Detail}", FactForms.Bytes) { IsTypable = false };
            if (!IsReached)
                return new FactDefinition(Value, Value, FactForms.Text) { IsTypable = false };
            var touched = ReachedMode switch
            {
                PhoneMode.System or PhoneMode.SetupWizard => WriteTouch.System,
                PhoneMode.StockRecovery or PhoneMode.CustomRecovery => WriteTouch.Recovery,
                _ => WriteTouch.BootChain,
            };
            return new FactDefinition(Value, $"Reaches {ReachedMode.Label()}", FactForms.YesNo, touched) { IsTypable = false };
        }
    }

    /// <summary>The value in the form in which it is compared, or null when it is none of this fact.</summary>
    /// <param name="value">What was typed or read.</param>
    public string? Normalise(string? value)
    {
        var text = value?.Trim();
        return string.IsNullOrEmpty(text) || text.Length > 200 || !ShownText.IsFit(text) ? null : Definition.Form.Normalise(text);
    }

    /// <summary>The name as a technician says it.</summary>
    public string Label => Definition.Label;

    /// <summary>The name as it stands in the middle of a sentence: a beginning that is an abbreviation keeps its capitals.</summary>
    public string LabelInText => Label is [_, var second, ..] && char.IsUpper(second) ? Label : Label.ToLowerInvariant();

    /// <summary>The unit after the value, with its space, or nothing.</summary>
    public string Unit => Definition.Form.Unit;

    /// <summary>The fact of that name as files write it, or null.</summary>
    public static FactName? Parse(string? text)
    {
        if (text is not null && ById.ContainsKey(text))
            return new FactName(text);
        if (text is null or { Length: > 80 })
            return null;
        var name = text.Length > 0 ? new FactName(text) : default;
        return
            (name.Value is not null && name.IsPartitionSize && name.Detail.Length > 0)
            || (name.Value is not null && name.IsReached && name.ReachedMode != PhoneMode.Unknown)
            ? name
            : null;
    }

    /// <summary>A momentary fact changes by itself: the newest reading counts, and an older one is no disagreement.</summary>
    public bool IsMomentary => Definition.IsMomentary;

    /// <summary>Whether a write that touched so much makes readings from before it void.</summary>
    public bool ExpiresBy(WriteTouch touched) => (Definition.TouchedBy & touched) != WriteTouch.None;

    /// <inheritdoc/>
    public override string ToString() => Value;
}

/// <summary>Writes a fact's name as a plain JSON string.</summary>
internal sealed class FactNameJson : JsonConverter<FactName>
{
    public override FactName Read(ref Utf8JsonReader reader, Type typeToConvert, JsonSerializerOptions options) =>
        new(reader.GetString() ?? throw new JsonException("A fact needs a name."));

    public override void Write(Utf8JsonWriter writer, FactName value, JsonSerializerOptions options) =>
        writer.WriteStringValue(value.Value);
}

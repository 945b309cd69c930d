using System.Globalization;

namespace Junctra.Core.Facts;

/// <summary>What a field of a build string holds.</summary>
public enum FieldForm
{
    /// <summary>Letters and digits, compared as a text.</summary>
    Code,

    /// <summary>A whole number.</summary>
    Number,

    /// <summary>A version such as <c>2.6.118</c>.</summary>
    Version,

    /// <summary>A letter that comes after its forerunner in the alphabet.</summary>
    Letter,

    /// <summary>A day, <c>20260311</c>.</summary>
    Date,
}

/// <summary>One field of a maker's build strings.</summary>
/// <param name="Name">Name of the pattern's group.</param>
/// <param name="Form">What it holds.</param>
/// <param name="Tells">The fact that it tells, or null.</param>
/// <param name="Least">Lowest value of a number.</param>
/// <param name="Most">Highest value of a number.</param>
/// <param name="Reads">What its letters mean as a value of the fact; empty when they are the value.</param>
/// <param name="Within">A field that must be the same in two builds before this one orders them, or null.</param>
public sealed record GrammarField(
    string Name,
    FieldForm Form,
    FactName? Tells = null,
    long Least = 0,
    long Most = long.MaxValue,
    IReadOnlyDictionary<string, string>? Reads = null,
    string? Within = null
)
{
    /// <summary>Whether a text is a value of this field.</summary>
    public bool Accepts(string text) =>
        Form switch
        {
            FieldForm.Number => long.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                && number >= Least
                && number <= Most,
            FieldForm.Date => DateOnly.TryParseExact(text, "yyyyMMdd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _),
            FieldForm.Letter => text.Length == 1
                && char.IsAsciiLetter(text[0])
                && (Reads is null or { Count: 0 } || Reads.ContainsKey(text.ToUpperInvariant())),
            _ => Reads is null or { Count: 0 } || Reads.ContainsKey(text.ToUpperInvariant()),
        };

    /// <summary>Orders two values; null when they are not built alike.</summary>
    public int? Compare(string left, string right) =>
        Form switch
        {
            FieldForm.Number or FieldForm.Date => long.TryParse(left, out var a) && long.TryParse(right, out var b) ? a.CompareTo(b) : null,
            FieldForm.Version => VersionOrder.Compare(left, right),
            _ => string.Compare(left, right, StringComparison.OrdinalIgnoreCase),
        };
}

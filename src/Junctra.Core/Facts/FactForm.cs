namespace Junctra.Core.Facts;

/// <summary>The form of a fact's values: what is one, how it is written, what a person is told who typed another.</summary>
public abstract class FactForm
{
    /// <summary>The value in the one form in which values are compared and stored, or null when the text is none.</summary>
    /// <param name="text">What was typed or read, trimmed, not empty.</param>
    public abstract string? Normalise(string text);

    /// <summary>What to write instead, when a value was none.</summary>
    public abstract string Hint { get; }

    /// <summary>Unit after the value, with its space, or nothing.</summary>
    public virtual string Unit => "";

    /// <summary>The words that are its values, and what a technician says for each; empty where values are no words.</summary>
    public virtual IReadOnlyList<(string Value, string Label)> Words => [];

    /// <summary>A value as a technician says it, with its unit.</summary>
    public string Say(string value) => Words.FirstOrDefault(word => word.Value == value).Label ?? value + Unit;
}

/// <summary>A form whose values mean something to rules.</summary>
/// <typeparam name="T">What they mean.</typeparam>
public abstract class FactForm<T> : FactForm
{
    /// <summary>What a value means.</summary>
    /// <param name="text">A value, as <see cref="FactForm.Normalise"/> leaves it.</param>
    /// <param name="value">Its meaning.</param>
    /// <returns>Whether it is a value of this form.</returns>
    public abstract bool TryRead(string text, out T value);

    /// <summary>A meaning as it is stored.</summary>
    public abstract string Write(T value);
}

/// <summary>Any short text.</summary>
public class TextForm : FactForm<string>
{
    /// <inheritdoc/>
    public override string Hint => "Read it again.";

    /// <inheritdoc/>
    public override string? Normalise(string text) => text;

    /// <inheritdoc/>
    public override bool TryRead(string text, out string value)
    {
        value = text;
        return true;
    }

    /// <inheritdoc/>
    public override string Write(string value) => value;
}

/// <summary>A code in upper case, without blanks.</summary>
public sealed class CodeForm : TextForm
{
    /// <inheritdoc/>
    public override string Hint => "Write the code without blanks.";

    /// <inheritdoc/>
    public override string? Normalise(string text) => Codes.Normalise(text) is { Length: > 0 } code ? code : null;
}

/// <summary>A month, <c>2026-08</c>; a day after it is left out.</summary>
public sealed class MonthForm : TextForm
{
    /// <inheritdoc/>
    public override string Hint => "Write year and month, such as 2026-08.";

    /// <inheritdoc/>
    public override string? Normalise(string text)
    {
        var isMonth =
            text.Length is 7 or 10
            && text[4] == '-'
            && (text.Length == 7 || text[7] == '-')
            && int.TryParse(text.AsSpan(0, 4), System.Globalization.NumberStyles.None, null, out var year)
            && year is >= 2000 and < 2100
            && int.TryParse(text.AsSpan(5, 2), System.Globalization.NumberStyles.None, null, out var month)
            && month is >= 1 and <= 12;
        return isMonth ? text[..7] : null;
    }
}

/// <summary>A SHA-256, 64 hexadecimal digits.</summary>
public sealed class DigestForm : TextForm
{
    /// <inheritdoc/>
    public override string Hint => "Paste the 64 hexadecimal digits of its SHA-256.";

    /// <inheritdoc/>
    public override string? Normalise(string text) => text.Length == 64 && text.All(char.IsAsciiHexDigit) ? text.ToLowerInvariant() : null;
}

/// <summary>A version as people write them: <c>15</c>, <c>14c</c>, <c>2.6.118</c>.</summary>
public sealed class VersionForm : FactForm<OsVersion>
{
    /// <inheritdoc/>
    public override string Hint => "Write the number, such as 15, 14c or 2.6.118.";

    /// <inheritdoc/>
    public override string? Normalise(string text) => OsVersion.TryParse(text, out var version) ? version.Text : null;

    /// <inheritdoc/>
    public override bool TryRead(string text, out OsVersion value) => OsVersion.TryParse(text, out value);

    /// <inheritdoc/>
    public override string Write(OsVersion value) => value.Text;
}

/// <summary>Bytes, as bootloaders write sizes (<see cref="FactValues.Size"/>).</summary>
public sealed class SizeForm : FactForm<long>
{
    /// <inheritdoc/>
    public override string Hint => "Read it again.";

    /// <inheritdoc/>
    public override string Unit => " bytes";

    /// <inheritdoc/>
    public override string? Normalise(string text) => FactValues.Size(text)?.ToString();

    /// <inheritdoc/>
    public override bool TryRead(string text, out long value) =>
        long.TryParse(text, System.Globalization.NumberStyles.None, null, out value);

    /// <inheritdoc/>
    public override string Write(long value) => value.ToString();
}

/// <summary>A whole number within bounds.</summary>
/// <param name="min">Lowest number.</param>
/// <param name="max">Highest number.</param>
/// <param name="unit">Unit after it, with its space, or nothing.</param>
/// <param name="means">What a number means.</param>
/// <param name="number">The number of a meaning.</param>
public sealed class WholeForm<T>(int min, int max, string unit, Func<int, T> means, Func<T, int> number) : FactForm<T>
{
    /// <inheritdoc/>
    public override string Hint => $"Write a whole number from {min} to {max}.";

    /// <inheritdoc/>
    public override string Unit => unit;

    /// <inheritdoc/>
    public override string? Normalise(string text) =>
        Number(unit.Length > 0 ? text.Replace(unit.Trim(), "", StringComparison.OrdinalIgnoreCase).Trim() : text)?.ToString();

    /// <inheritdoc/>
    public override bool TryRead(string text, out T value)
    {
        value = Number(text) is { } read ? means(read) : default!;
        return Number(text) is not null;
    }

    /// <inheritdoc/>
    public override string Write(T value) => number(value).ToString();

    private int? Number(string text) =>
        int.TryParse(text, System.Globalization.NumberStyles.None, null, out var read) && read >= min && read <= max ? read : null;
}

/// <summary>One of a few words.</summary>
/// <param name="words">Each meaning, its word as files write it, and what a technician says.</param>
public sealed class WordForm<T>(params (T Means, string Word, string Label)[] words) : FactForm<T>
    where T : struct
{
    /// <inheritdoc/>
    public override string Hint => $"Write {string.Join(" or ", words.Select(word => word.Label))}.";

    /// <inheritdoc/>
    public override IReadOnlyList<(string Value, string Label)> Words { get; } = [.. words.Select(word => (word.Word, word.Label))];

    /// <inheritdoc/>
    public override string? Normalise(string text) =>
        Words
            .FirstOrDefault(word =>
                word.Value.Equals(text, StringComparison.OrdinalIgnoreCase) || word.Label.Equals(text, StringComparison.OrdinalIgnoreCase)
            )
            .Value;

    /// <inheritdoc/>
    public override bool TryRead(string text, out T value)
    {
        var found = Array.FindIndex(words, word => word.Word.Equals(text, StringComparison.OrdinalIgnoreCase));
        value = found < 0 ? default : words[found].Means;
        return found >= 0;
    }

    /// <inheritdoc/>
    public override string Write(T value) => words.First(word => EqualityComparer<T>.Default.Equals(word.Means, value)).Word;
}

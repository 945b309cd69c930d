using System.Globalization;

namespace Junctra.Core;

/// <summary>Text of strangers, as it may be kept and shown: names in archives, labels that people type, words of a phone.</summary>
public static class ShownText
{
    private const char Mark = '\uFFFD';

    /// <summary>
    /// The text with a mark in place of every control character, line break, direction mark and broken surrogate: a database cannot keep
    /// some of them, and with others a line of the audit could look like two, or run the other way.
    /// </summary>
    public static string Of(string text, int maxCharacters = int.MaxValue)
    {
        var isClean = text.Length <= maxCharacters;
        for (var i = 0; i < text.Length && isClean; i++)
            isClean = !IsUnfit(text, i);
        if (isClean)
            return text;
        var clean = text.Length > maxCharacters ? text.ToCharArray(0, maxCharacters) : text.ToCharArray();
        for (var i = 0; i < clean.Length; i++)
            if (IsUnfit(text, i) || i == clean.Length - 1 && char.IsHighSurrogate(clean[i]))
                clean[i] = Mark;
        return new string(clean);
    }

    /// <summary>Whether a text holds nothing of that.</summary>
    public static bool IsFit(string text) => ReferenceEquals(Of(text), text);

    private static bool IsUnfit(string text, int at)
    {
        var c = text[at];
        if (c < 0x7F)
            return c < ' ';
        if (char.IsHighSurrogate(c))
            return at + 1 >= text.Length || !char.IsLowSurrogate(text[at + 1]);
        if (char.IsLowSurrogate(c))
            return at == 0 || !char.IsHighSurrogate(text[at - 1]);
        return CharUnicodeInfo.GetUnicodeCategory(c)
            is UnicodeCategory.Control
                or UnicodeCategory.Format
                or UnicodeCategory.LineSeparator
                or UnicodeCategory.ParagraphSeparator;
    }
}

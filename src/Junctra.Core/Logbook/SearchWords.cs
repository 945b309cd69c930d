using System.Collections.Frozen;
using System.Globalization;
using System.Text;

namespace Junctra.Core.Logbook;

/// <summary>
/// How text is cut into what can be searched. A question finds a record where each of its words begins a word of it. Codes are words with
/// signs inside: <c>TN63E.5.2606.WHM1</c> is found by itself, by its beginning, and from every part on (<c>2606.whm</c>), so that nobody
/// has to know how much of a code somebody wrote down. Capitals and accents make no difference.
/// </summary>
public static class SearchWords
{
    /// <summary>Longest word that is kept, in characters; what lies behind that is no word that anybody types.</summary>
    public const int MaxCharacters = 120;

    /// <summary>Most words of one question.</summary>
    public const int MaxAsked = 12;

    /// <summary>Everything by the beginning of which a text is found, each once, in ordinal order.</summary>
    /// <param name="texts">Texts of one record; those that are null tell nothing.</param>
    public static IReadOnlyList<string> Of(IEnumerable<string?> texts)
    {
        var found = new SortedSet<string>(StringComparer.Ordinal);
        foreach (var word in texts.SelectMany(Split))
            for (var at = 0; at < word.Length; at++)
                if (char.IsLetterOrDigit(word[at]) && (at == 0 || !char.IsLetterOrDigit(word[at - 1])))
                    found.Add(word[at..]);
        return [.. found];
    }

    /// <summary>
    /// Of what stands in a record, the words that somebody may have meant who mistyped one: whole ones, and parts of codes.
    /// </summary>
    /// <param name="found">What <see cref="Of"/> gave.</param>
    public static IEnumerable<string> Vocabulary(IEnumerable<string> found) =>
        found.SelectMany(word => new[] { word, FirstPart(word) }).Where(word => word.Length is > 2 and <= MaxMeant).Distinct();

    // Longer words nobody mistypes: they are pasted.
    private const int MaxMeant = 40;

    private static string FirstPart(string word)
    {
        var length = 0;
        while (length < word.Length && char.IsLetterOrDigit(word[length]))
            length++;
        return word[..length];
    }

    /// <summary>The words of a question, each once; at most <see cref="MaxAsked"/>.</summary>
    public static IReadOnlyList<string> Asked(string? question) => [.. Split(question).Distinct().Take(MaxAsked)];

    /// <summary>Whether a question finds a record: the same by a plain look at every word, for tests and for small lists.</summary>
    /// <param name="asked">Words of the question.</param>
    /// <param name="found">What <see cref="Of"/> gave for the record.</param>
    public static bool Finds(IEnumerable<string> asked, IReadOnlyList<string> found) =>
        asked.All(word => found.Any(one => IsBeginning(word) ? one.StartsWith(word, StringComparison.Ordinal) : one == word));

    /// <summary>
    /// Whether a word of a question stands for all words that begin with it. A single letter does not: with it begins something in nearly
    /// every record, and who types one means a port, a slot, a path.
    /// </summary>
    public static bool IsBeginning(string asked) => asked.Length > 1;

    private static IEnumerable<string> Split(string? text)
    {
        foreach (var raw in (text ?? "").Split(default(char[]), StringSplitOptions.RemoveEmptyEntries))
        {
            var piece = Fold(raw);
            var (from, to) = (0, piece.Length);
            while (from < to && !char.IsLetterOrDigit(piece[from]))
                from++;
            while (to > from && !char.IsLetterOrDigit(piece[to - 1]))
                to--;
            if (to > from)
                yield return piece[from..Math.Min(to, from + MaxCharacters)];
        }
    }

    // The program runs without the system's tables of languages: the letters that people type with accents, behind the plain one.
    private static readonly FrozenDictionary<int, char> Plain = new[]
    {
        "aàáâãäåāăą",
        "cçćĉċč",
        "dďđ",
        "eèéêëēĕėęě",
        "gĝğġģ",
        "hĥħ",
        "iìíîïĩīĭįı",
        "jĵ",
        "kķ",
        "lĺļľł",
        "nñńņň",
        "oòóôõöøōŏő",
        "rŕŗř",
        "sśŝşšș",
        "tţťț",
        "uùúûüũūŭůűų",
        "wŵ",
        "yýÿŷ",
        "zźżž",
    }
        .SelectMany(letters => letters.Skip(1).Select(accented => ((int)accented, letters[0])))
        .ToFrozenDictionary(pair => pair.Item1, pair => pair.Item2);

    /// <summary>Small letters without accents; signs that a database cannot hold became others before.</summary>
    private static string Fold(string text)
    {
        var folded = new StringBuilder(text.Length);
        foreach (var rune in ShownText.Of(text).EnumerateRunes())
        {
            var small = Rune.ToLowerInvariant(rune);
            if (Plain.TryGetValue(small.Value, out var plain))
                folded.Append(plain);
            else if (Rune.GetUnicodeCategory(small) != UnicodeCategory.NonSpacingMark)
                folded.Append(small.ToString());
        }

        return folded.ToString();
    }
}

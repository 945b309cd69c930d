using System.Globalization;
using System.Text;

namespace Junctra.Core.Facts;

/// <summary>One character of a code beside the code it was compared with.</summary>
/// <param name="Text">The character of the code that was offered; empty where the typed one has one too many.</param>
/// <param name="Differs">Whether it is not what was typed.</param>
public sealed record CodeMark(string Text, bool Differs);

/// <summary>A code of the catalogue that is close to what was typed. Offered, never applied by itself.</summary>
/// <param name="Code">The code.</param>
/// <param name="What">What it is a code of.</param>
/// <param name="Distance">How far it is from what was typed; 0 is the same.</param>
/// <param name="Marks">Its characters, those that differ marked.</param>
public sealed record NearCode(string Code, string What, double Distance, IReadOnlyList<CodeMark> Marks);

/// <summary>
/// Codes as people type and read them. Characters that are easily taken for each other (<c>0 O</c>, <c>1 I L</c>, <c>5 S</c>,
/// <c>8 B</c>, <c>2 Z</c>) cost little, all others a whole step; the distance is a metric, so that near is near from both sides.
/// </summary>
public static class Codes
{
    /// <summary>What it costs to take one character of a confusable pair for the other.</summary>
    public const double Confused = 0.25;

    /// <summary>Longest code that is compared.</summary>
    public const int MaxCharacters = 60;

    private static readonly string[] Lookalikes = ["0O", "1IL", "5S", "8B", "2Z"];

    /// <summary>
    /// A code as it is compared: full-width forms resolved, upper case, without blanks, control characters and the quotes
    /// that come along with a pasted text.
    /// </summary>
    public static string Normalise(string? text)
    {
        if (string.IsNullOrEmpty(text))
            return "";
        var code = new StringBuilder(text.Length);
        foreach (var typed in text)
        {
            // Full-width forms, as some keyboards write them. Not by the system's own tables, which not every machine has.
            var c = typed is >= '！' and <= '～' ? (char)(typed - '！' + '!') : typed;
            if (
                char.IsWhiteSpace(c)
                || char.IsControl(c)
                || char.IsSurrogate(c)
                || CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.Format
                || c is '"' or '\'' or '“' or '”' or '‘' or '’' or '`'
            )
                continue;
            code.Append(c is '‐' or '‑' or '–' or '—' or '−' ? '-' : char.ToUpperInvariant(c));
        }

        return code.ToString();
    }

    /// <summary>Whether two characters are easily taken for each other.</summary>
    public static bool IsLookalike(char a, char b) => a != b && Lookalikes.Any(group => group.Contains(a) && group.Contains(b));

    /// <summary>What can be taken for this character, itself not among them.</summary>
    public static IEnumerable<char> LookalikesOf(char c) =>
        Lookalikes.FirstOrDefault(group => group.Contains(c))?.Where(other => other != c) ?? [];

    /// <summary>
    /// How far two codes are apart: the cheapest way of replacing, adding and dropping characters. Never below 0; 0 only for the same code.
    /// </summary>
    public static double Distance(string left, string right) => Table(left, right)[left.Length, right.Length];

    /// <summary>
    /// The candidates that are near enough to have been meant, the nearest first. An exact hit is no near one and is left out.
    /// </summary>
    /// <param name="typed">What was typed.</param>
    /// <param name="candidates">Codes and what each is a code of.</param>
    /// <param name="most">How many at most.</param>
    public static IReadOnlyList<NearCode> Near(string? typed, IEnumerable<(string Code, string What)> candidates, int most = 4)
    {
        var code = Normalise(typed);
        if (code.Length is < 2 or > MaxCharacters)
            return [];
        // A third of the characters may be wrong, two at most; short codes are near only by a lookalike.
        var limit = Math.Min(2, code.Length / 3.0);
        return
        [
            .. candidates
                .Where(candidate => Math.Abs(candidate.Code.Length - code.Length) <= 2)
                .Select(candidate => (candidate.Code, candidate.What, Plain: Normalise(candidate.Code)))
                .Select(candidate => (candidate.Code, candidate.What, candidate.Plain, Distance: Distance(code, candidate.Plain)))
                .Where(candidate => candidate.Distance > 0 && candidate.Distance <= limit)
                .OrderBy(candidate => candidate.Distance)
                .ThenBy(candidate => candidate.Code, StringComparer.Ordinal)
                .Take(most)
                .Select(candidate => new NearCode(candidate.Code, candidate.What, candidate.Distance, Marks(code, candidate.Plain))),
        ];
    }

    /// <summary>The characters of <paramref name="code"/>, those marked that are not what was typed.</summary>
    public static IReadOnlyList<CodeMark> Marks(string typed, string code)
    {
        var table = Table(typed, code);
        var marks = new List<CodeMark>();
        var (i, j) = (typed.Length, code.Length);
        while (i > 0 || j > 0)
        {
            if (i > 0 && j > 0 && Same(table[i, j], table[i - 1, j - 1] + Cost(typed[i - 1], code[j - 1])))
            {
                marks.Add(new CodeMark(code[j - 1].ToString(), typed[i - 1] != code[j - 1]));
                (i, j) = (i - 1, j - 1);
            }
            else if (j > 0 && Same(table[i, j], table[i, j - 1] + 1))
            {
                marks.Add(new CodeMark(code[--j].ToString(), true));
            }
            else
            {
                marks.Add(new CodeMark("", true));
                i--;
            }
        }

        marks.Reverse();
        return marks;
    }

    private static bool Same(double a, double b) => Math.Abs(a - b) < 1e-9;

    private static double Cost(char a, char b) =>
        a == b ? 0
        : IsLookalike(a, b) ? Confused
        : 1;

    private static double[,] Table(string left, string right)
    {
        var table = new double[left.Length + 1, right.Length + 1];
        for (var i = 0; i <= left.Length; i++)
            table[i, 0] = i;
        for (var j = 0; j <= right.Length; j++)
            table[0, j] = j;
        for (var i = 1; i <= left.Length; i++)
        {
            for (var j = 1; j <= right.Length; j++)
            {
                table[i, j] = Math.Min(
                    table[i - 1, j - 1] + Cost(left[i - 1], right[j - 1]),
                    Math.Min(table[i - 1, j], table[i, j - 1]) + 1
                );
            }
        }

        return table;
    }
}

using System.Globalization;

namespace Junctra.Core.Facts;

/// <summary>
/// Orders versions as people write them: <c>9</c> before <c>15</c>, <c>14c</c> after <c>14b</c>, <c>2026-03</c> before <c>2026-11</c>.
/// </summary>
public static class VersionOrder
{
    /// <summary>Below zero when <paramref name="left"/> is older; null when the two are not built alike.</summary>
    public static int? Compare(string left, string right)
    {
        var (a, b) = (Parts(left), Parts(right));
        if (a.Count == 0 || b.Count == 0)
            return null;
        for (var i = 0; i < Math.Max(a.Count, b.Count); i++)
        {
            // 15 is 15.0, and 14 comes before 14b.
            if (i >= a.Count || i >= b.Count)
            {
                var rest = i >= a.Count ? b[i] : a[i];
                if (long.TryParse(rest, NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number == 0)
                    continue;
                return i >= a.Count ? -1 : 1;
            }

            var isNumber = long.TryParse(a[i], NumberStyles.None, CultureInfo.InvariantCulture, out var x);
            if (isNumber != long.TryParse(b[i], NumberStyles.None, CultureInfo.InvariantCulture, out var y))
                return null;
            var order = isNumber ? x.CompareTo(y) : string.Compare(a[i], b[i], StringComparison.OrdinalIgnoreCase);
            if (order != 0)
                return order;
        }

        return 0;
    }

    private static List<string> Parts(string text)
    {
        var parts = new List<string>();
        for (var i = 0; i < text.Length; )
        {
            var start = i;
            if (char.IsAsciiDigit(text[i]))
                while (i < text.Length && char.IsAsciiDigit(text[i]))
                    i++;
            else if (char.IsAsciiLetter(text[i]))
                while (i < text.Length && char.IsAsciiLetter(text[i]))
                    i++;
            if (i > start)
                parts.Add(text[start..i]);
            else
                i++;
        }

        return parts;
    }
}

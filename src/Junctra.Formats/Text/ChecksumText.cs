using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>
/// Checksum lists as <c>sha256sum</c> and <c>md5sum</c> of the coreutils write them: digest, a blank, a blank or an asterisk, the name; a
/// leading backslash marks a name in which <c>\\</c>, <c>\n</c> and <c>\r</c> stand for those characters.
/// </summary>
public static class ChecksumText
{
    private const int Sha256Digits = 64;

    /// <summary>Reads a list, or returns null when any line is of another form or there is none.</summary>
    public static IReadOnlyList<ChecksumLine>? Read(string text)
    {
        var lines = new List<ChecksumLine>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.TrimEnd('\r');
            if (line.Length == 0) continue;
            var isEscaped = line[0] == '\\';
            if (isEscaped) line = line[1..];
            var digits = line.IndexOf(' ', StringComparison.Ordinal);
            if (digits is not (Sha256Digits or ChecksumLine.Md5Digits) || line.Length < digits + 3 || line[digits + 1] is not (' ' or '*')) return null;
            var digest = line[..digits];
            if (!digest.All(char.IsAsciiHexDigit)) return null;
            var name = line[(digits + 2)..];
            if (isEscaped) name = Unescape(name);
            lines.Add(new ChecksumLine(digest.ToLowerInvariant(), name));
        }

        return lines.Count > 0 ? lines : null;
    }

    /// <summary>Writes a list in the form that the coreutils' <c>--check</c> reads.</summary>
    public static string Write(IEnumerable<ChecksumLine> lines) => string.Concat(lines.Select(line =>
    {
        var name = line.FileName.Replace("\\", "\\\\").Replace("\n", "\\n").Replace("\r", "\\r");
        return $"{(name != line.FileName ? "\\" : "")}{line.Digest}  {name}\n";
    }));

    private static string Unescape(string name)
    {
        var text = new System.Text.StringBuilder(name.Length);
        for (var i = 0; i < name.Length; i++)
        {
            if (name[i] != '\\' || i + 1 == name.Length)
            {
                text.Append(name[i]);
                continue;
            }

            i++;
            text.Append(name[i] switch { 'n' => '\n', 'r' => '\r', var other => other });
        }

        return text.ToString();
    }
}

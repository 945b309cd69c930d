using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>Lines by which a package or a part of it says what it is, and how many lines of the text were none.</summary>
/// <param name="Lines">The lines.</param>
/// <param name="Unread">Lines that are neither empty nor comments and cannot be read, shortened.</param>
public sealed record SaidLines(IReadOnlyList<RequirementLine> Lines, IReadOnlyList<string> Unread);

/// <summary>
/// Requirement lines of a factory set: <c>require name=value|value</c>, and plain <c>name=value</c> beside them. Blank lines
/// and lines after <c>#</c> are passed over; the case of <c>require</c> and the blanks after it do not matter.
/// </summary>
public static class RequirementText
{
    private const string Require = "require";
    private const int ShownCharacters = 60;

    /// <summary>Most values of one line: no package is for more models than this.</summary>
    internal const int MaxValues = 100;

    /// <summary>
    /// Reads a text, or returns null when it holds no line of the form <c>require name=value</c>. A line that begins so and has no such
    /// form is kept as a requirement that nobody knows.
    /// </summary>
    public static SaidLines? Read(string text)
    {
        var lines = new List<RequirementLine>();
        var unread = new List<string>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.Trim();
            if (line.Length == 0 || line[0] == '#')
                continue;
            var isRequired =
                line.StartsWith(Require, StringComparison.OrdinalIgnoreCase)
                && line.Length > Require.Length
                && char.IsWhiteSpace(line[Require.Length]);
            var read = ReadLine(isRequired ? line[Require.Length..].Trim() : line, isRequired);
            if (read is not null)
                lines.Add(read);
            else if (isRequired)
                lines.Add(new RequirementLine(Short(line), ["?"], true));
            else
                unread.Add(Short(line));
        }

        return lines.Any(line => line.IsRequired && IsName(line.Name)) ? new SaidLines(lines, unread) : null;
    }

    /// <summary>A line of the form <c>name=value|value</c>, or null.</summary>
    internal static RequirementLine? ReadLine(string line, bool isRequired, bool areChoices = true)
    {
        var equals = line.IndexOf('=', StringComparison.Ordinal);
        var name = equals > 0 ? line[..equals].Trim() : "";
        if (!IsName(name))
            return null;
        var rest = line[(equals + 1)..].Trim();
        string[] values =
            areChoices ? rest.Split('|', MaxValues + 1, StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries)
            : rest.Length > 0 ? [rest]
            : [];
        return values.Length is 0 or > MaxValues ? null : new RequirementLine(name, values, isRequired);
    }

    internal static string Short(string line) => line.Length > ShownCharacters ? line[..ShownCharacters] + " …" : line;

    internal static bool IsName(string name) =>
        name.Length is > 0 and <= 80 && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.');

    /// <summary>Writes lines in the form that <see cref="Read"/> reads.</summary>
    public static string Write(IEnumerable<RequirementLine> lines) =>
        string.Concat(lines.Select(line => $"{(line.IsRequired ? "require " : "")}{line.Name}={string.Join('|', line.Values)}\n"));
}

using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>
/// Requirement lines of a factory set: <c>require name=value|value</c>, and plain <c>name=value</c> beside them. Blank lines
/// and lines after <c>#</c> are passed over.
/// </summary>
public static class RequirementText
{
    /// <summary>Reads a text, or returns null when it holds no line that begins with <c>require</c> or is no such text.</summary>
    public static IReadOnlyList<RequirementLine>? Read(string text)
    {
        var lines = new List<RequirementLine>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.Trim();
            if (line.Length == 0 || line[0] == '#') continue;
            var isRequired = line.StartsWith("require ", StringComparison.Ordinal);
            var rest = isRequired ? line["require ".Length..].Trim() : line;
            var equals = rest.IndexOf('=', StringComparison.Ordinal);
            var name = equals > 0 ? rest[..equals].Trim() : "";
            string[] values = equals > 0 ? rest[(equals + 1)..].Split('|', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries) : [];
            if (!IsName(name) || values.Length == 0) return null;
            lines.Add(new RequirementLine(name, values, isRequired));
        }

        return lines.Any(line => line.IsRequired) ? lines : null;
    }

    internal static bool IsName(string name) => name.Length > 0 && name.All(c => char.IsAsciiLetterOrDigit(c) || c is '-' or '_' or '.');

    /// <summary>Writes lines in the form that <see cref="Read"/> reads.</summary>
    public static string Write(IEnumerable<RequirementLine> lines) =>
        string.Concat(lines.Select(line => $"{(line.IsRequired ? "require " : "")}{line.Name}={string.Join('|', line.Values)}\n"));
}

using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>
/// Plain <c>key=value</c> lines by which an update, a part of a bundle or a backup says what it is. A text of that form is taken for one only when
/// it has a key by which these are known; any other is a stray file.
/// </summary>
public static class MetadataText
{
    // One of these must be there.
    private static readonly string[] KnownBy = ["post-build", "pre-build", "backup-serial", "part", "build"];

    /// <summary>Reads a text, or returns null when it is none.</summary>
    public static IReadOnlyList<RequirementLine>? Read(string text)
    {
        var lines = new List<RequirementLine>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.Trim();
            if (line.Length == 0 || line[0] == '#') continue;
            var equals = line.IndexOf('=', StringComparison.Ordinal);
            var name = equals > 0 ? line[..equals].Trim() : "";
            if (!RequirementText.IsName(name)) return null;
            if (line[(equals + 1)..].Trim() is { Length: > 0 } value) lines.Add(new RequirementLine(name, [value], false));
        }

        return lines.Any(line => KnownBy.Contains(line.Name)) ? lines : null;
    }
}

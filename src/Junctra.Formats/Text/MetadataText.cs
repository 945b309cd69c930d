using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>
/// Plain <c>key=value</c> lines by which an update, a part of a bundle or a backup says what it is. A text of that form is taken for one
/// only when it has a key by which these are known, and most of its lines have that form; any other is a stray file.
/// </summary>
public static class MetadataText
{
    // One of these must be there.
    private static readonly string[] KnownBy =
    [
        "post-build",
        "pre-build",
        "backup-serial",
        "part",
        "build",
        "board",
        "model",
        "region",
        "chip",
        "channel",
        "patched-by",
        "version-bootloader",
        "version-baseband",
        "device",
        "pre-device",
        "post-device",
        "backup-model",
        "storage-gb",
        "os-version",
        "security-patch",
        "post-security-patch-level",
        "patched",
        "rooted",
        "release-type",
        "pre-release",
    ];

    /// <summary>Reads a text, or returns null when it is none.</summary>
    public static SaidLines? Read(string text)
    {
        var lines = new List<RequirementLine>();
        var unread = new List<string>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.Trim();
            if (line.Length == 0 || line[0] == '#')
                continue;
            // A key with nothing after it says nothing.
            if (line[^1] == '=' && RequirementText.IsName(line[..^1].Trim()))
                continue;
            if (RequirementText.ReadLine(line, false, areChoices: false) is { } read)
                lines.Add(read);
            else
                unread.Add(RequirementText.Short(line));
        }

        return lines.Count > unread.Count && lines.Any(line => KnownBy.Contains(line.Name.ToLowerInvariant().Replace('_', '-')))
            ? new SaidLines(lines, unread)
            : null;
    }
}

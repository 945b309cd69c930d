using System.Text.RegularExpressions;
using Junctra.Core.Packages;

namespace Junctra.Formats.Text;

/// <summary>A checksum list.</summary>
/// <param name="Lines">What it says; a name is empty where the list holds one digest alone and is named after its file.</param>
/// <param name="Unread">Lines that are none of the known forms, shortened.</param>
public sealed record ChecksumList(IReadOnlyList<ChecksumLine> Lines, IReadOnlyList<string> Unread);

/// <summary>
/// Checksum lists as <c>md5sum</c>, <c>sha1sum</c>, <c>sha256sum</c> and <c>sha512sum</c> of the coreutils write them: digest, a blank, a
/// blank or an asterisk, the name, or with <c>--tag</c> <c>SHA256 (name) = digest</c>; a leading backslash marks a name in which <c>\\</c>,
/// <c>\n</c> and <c>\r</c> stand for those characters. Digits of either case, one blank or two, line ends of either kind, and comments
/// after <c>#</c> or <c>;</c> are taken too, and one digest alone.
/// </summary>
public static partial class ChecksumText
{
    private const int ShownCharacters = 60;
    private static readonly string[] ListNames =
    [
        "sha256sum",
        "sha256sums",
        "sha512sum",
        "sha512sums",
        "sha1sum",
        "sha1sums",
        "md5sum",
        "md5sums",
        "checksum",
        "checksums",
        "digests",
    ];
    private static readonly string[] ListEndings =
    [
        "sha256",
        "sha256sum",
        "sha256sums",
        "sha512",
        "sha512sum",
        "sha512sums",
        "sha1",
        "sha1sum",
        "sha1sums",
        "md5",
        "md5sum",
        "md5sums",
    ];

    /// <summary>Whether a file's name says that it is a list.</summary>
    public static bool IsListName(string path)
    {
        var name = path[(path.LastIndexOf('/') + 1)..].ToLowerInvariant();
        var dot = name.LastIndexOf('.');
        return ListNames.Contains(name)
            || dot > 0
                && (
                    ListEndings.Contains(name[(dot + 1)..])
                    || name[(dot + 1)..] is "txt" or "sum" or "lst" && ListNames.Contains(name[..dot])
                );
    }

    /// <summary>
    /// The name of the file after which a list is named: <c>set.tar</c> for <c>set.tar.sha256</c>; null where it is named after none.
    /// </summary>
    public static string? NamedAfter(string path)
    {
        var name = path[(path.LastIndexOf('/') + 1)..];
        var dot = name.LastIndexOf('.');
        return dot > 0 && ListEndings.Contains(name[(dot + 1)..].ToLowerInvariant()) ? name[..dot] : null;
    }

    /// <summary>Reads a list, or returns null when the text is none.</summary>
    /// <param name="text">The text.</param>
    /// <param name="isNamedAsList">Whether its name says so: then whatever cannot be read is told, and else it is a list where most of its
    /// lines are.</param>
    public static ChecksumList? Read(string text, bool isNamedAsList = false)
    {
        var lines = new List<ChecksumLine>();
        var unread = new List<string>();
        foreach (var raw in text.Split('\n'))
        {
            var line = raw.Trim('\r', ' ', '\t');
            if (line.Length == 0 || line[0] is '#' or ';')
                continue;
            if (ReadLine(raw.TrimEnd('\r')) is { } read)
                lines.Add(read);
            else
                unread.Add(line.Length > ShownCharacters ? line[..ShownCharacters] + " …" : line);
        }

        // A digest alone is that of the file after which its list is named: there can be only one of them.
        if (lines.Count(line => line.FileName.Length == 0) is var bare && bare > 0 && (bare > 1 || lines.Count > 1 || !isNamedAsList))
        {
            unread.AddRange(lines.Where(line => line.FileName.Length == 0).Select(line => line.Digest));
            lines.RemoveAll(line => line.FileName.Length == 0);
        }

        return isNamedAsList || lines.Count > 0 && lines.Count >= unread.Count ? new ChecksumList(lines, unread) : null;
    }

    private static ChecksumLine? ReadLine(string raw)
    {
        var line = raw.TrimStart();
        var isEscaped = line.StartsWith('\\');
        if (isEscaped)
            line = line[1..];
        string digest,
            name;
        if (Tagged().Match(line) is { Success: true } tagged)
        {
            (digest, name) = (tagged.Groups["digest"].Value, tagged.Groups["name"].Value);
            var digits = tagged.Groups["kind"].Value.ToUpperInvariant().Replace("-", "") switch
            {
                "MD5" => ChecksumLine.Md5Digits,
                "SHA1" => ChecksumLine.Sha1Digits,
                "SHA256" => ChecksumLine.Sha256Digits,
                "SHA512" => ChecksumLine.Sha512Digits,
                _ => 0,
            };
            if (digest.Length != digits)
                return null;
        }
        else
        {
            var digits = line.AsSpan().IndexOfAnyExcept(HexDigits);
            digest = digits < 0 ? line : line[..digits];
            if (!ChecksumLine.IsLength(digest.Length))
                return null;
            var rest = line[digest.Length..];
            if (rest.Trim().Length == 0)
                name = "";
            else if (rest[0] is ' ' or '\t')
                name = rest.Length > 1 && rest[1] is ' ' or '*' or '\t' ? rest[2..] : rest[1..];
            else
                return null;
        }

        return new ChecksumLine(digest.ToLowerInvariant(), isEscaped ? Unescape(name) : name);
    }

    /// <summary>Writes a list in the form that the coreutils' <c>--check</c> reads.</summary>
    public static string Write(IEnumerable<ChecksumLine> lines) =>
        string.Concat(
            lines.Select(line =>
            {
                var name = line.FileName.Replace("\\", "\\\\").Replace("\n", "\\n").Replace("\r", "\\r");
                return $"{(name != line.FileName ? "\\" : "")}{line.Digest}  {name}\n";
            })
        );

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
            text.Append(
                name[i] switch
                {
                    'n' => '\n',
                    'r' => '\r',
                    var other => other,
                }
            );
        }

        return text.ToString();
    }

    private static readonly System.Buffers.SearchValues<char> HexDigits = System.Buffers.SearchValues.Create("0123456789abcdefABCDEF");

    [GeneratedRegex(@"^(?<kind>[A-Za-z0-9-]{3,7}) ?\((?<name>.+)\) ?= ?(?<digest>[0-9A-Fa-f]+)\s*$", RegexOptions.NonBacktracking)]
    private static partial Regex Tagged();
}

using System.Text.RegularExpressions;

namespace Junctra.Core.Packages;

/// <summary>
/// What in a package says that it is no release of its maker's: in any spelling, in any line, of any part of it, or in a name.
/// </summary>
/// <param name="Patched">Who or what changed it, as written; null where nothing says so.</param>
/// <param name="PreRelease">What calls it a pre-release, as written; null where nothing does.</param>
public sealed partial record PackageMarks(string? Patched, string? PreRelease)
{
    private static readonly string[] PatchedLines =
    [
        "patched-by",
        "patched",
        "patched-with",
        "patcher",
        "modified-by",
        "rooted",
        "root-manager",
    ];
    private static readonly string[] ChannelLines = ["channel", "release-channel", "release-type", "build-type"];
    private static readonly string[] PreReleaseLines =
    [
        "pre-release",
        "prerelease",
        "beta",
        "preview",
        "is-beta",
        "is-prerelease",
        "test-build",
        "testing",
    ];
    private static readonly string[] Released =
    [
        "stable",
        "release",
        "released",
        "official",
        "final",
        "user",
        "production",
        "public",
        "retail",
    ];
    private static readonly string[] Denied = ["no", "none", "false", "0", "off", "not"];

    /// <summary>None.</summary>
    public static PackageMarks None { get; } = new(null, null);

    /// <summary>Reads the marks of a package.</summary>
    /// <param name="fileName">Name of its file.</param>
    /// <param name="contents">What is in it.</param>
    public static PackageMarks Of(string fileName, PackageContents contents)
    {
        var names = contents
            .Members.Where(member => member.Kind != MemberKind.Stray)
            .Select(member => member.Name)
            .Append(fileName)
            .ToList();
        return new PackageMarks(
            Line(contents, PatchedLines, _ => true) ?? names.FirstOrDefault(name => PatchedName().IsMatch(name)),
            Line(contents, ChannelLines, value => !Released.Contains(value))
                ?? Line(contents, PreReleaseLines, _ => true)
                ?? contents
                    .Requirements.SelectMany(line => line.Values)
                    .Concat(names)
                    .FirstOrDefault(text => PreReleaseName().IsMatch(text))
        );
    }

    private static string? Line(PackageContents contents, string[] names, Func<string, bool> isMark) =>
        contents
            .Requirements.Where(line => names.Contains(PackageStatements.Plain(line.Name)))
            .SelectMany(line => line.Values)
            .FirstOrDefault(value => value.ToLowerInvariant() is var plain && !Denied.Contains(plain) && isMark(plain));

    // A name that carries it as a word of its own: "system-patched.img", and not "dispatched.img".
    [GeneratedRegex("(^|[^a-z])(patched|rooted|modded)([^a-z]|$)", RegexOptions.IgnoreCase)]
    private static partial Regex PatchedName();

    [GeneratedRegex(
        "(^|[^a-z])(pre[-_. ]?release|beta|alpha|preview|nightly|canary|engineering|userdebug)([^a-z]|$)",
        RegexOptions.IgnoreCase
    )]
    private static partial Regex PreReleaseName();
}

using System.Text;
using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>A folder of package files: which of its files are packages, which still arrive, and what was published for them.</summary>
/// <param name="Packages">Package files, by name.</param>
/// <param name="Arriving">Files that are still being downloaded or copied, by name.</param>
/// <param name="Published">Digests that checksum lists in the folder give, by file name.</param>
/// <param name="Findings">What is wrong with the lists, by the name of the package that it concerns; under the empty name, what concerns
/// all.</param>
public sealed record LibraryFolder(
    IReadOnlyList<FileInfo> Packages,
    IReadOnlyList<FileInfo> Arriving,
    IReadOnlyDictionary<string, string> Published,
    ILookup<string, PackageFinding> Findings
)
{
    /// <summary>
    /// Names of what lies there and is no file that can be read: pipes, devices, links that lead nowhere, names that cannot be written
    /// down.
    /// </summary>
    public IReadOnlyList<string> PassedOver { get; init; } = [];

    /// <summary>Longest list that is read.</summary>
    public const long MaxListBytes = 1 << 20;

    // What programs that fetch or copy files call them until they are whole.
    private static readonly string[] ArrivingEndings = [".partial", ".part", ".download", ".tmp"];

    /// <summary>
    /// Looks at a folder; not at folders below it. Pipes, devices and links that lead nowhere are passed over, and never opened.
    /// </summary>
    /// <exception cref="IOException">The folder cannot be read.</exception>
    public static LibraryFolder Read(string folder)
    {
        var all = new DirectoryInfo(folder)
            .EnumerateFiles()
            .Where(file => !file.Name.StartsWith('.'))
            .OrderBy(file => file.Name, StringComparer.Ordinal)
            .ToLookup(IsPlain);
        var files = all[true].ToList();
        var lists = files.Where(file => ChecksumText.IsListName(file.Name)).ToList();
        var arriving = files.Where(file => ArrivingEndings.Contains(file.Extension, StringComparer.OrdinalIgnoreCase)).ToList();
        var findings = new List<(string Name, PackageFinding Finding)>();
        var published = ReadLists(lists, findings);
        return new LibraryFolder(
            [.. files.Except(lists).Except(arriving)],
            arriving,
            published,
            findings.ToLookup(pair => pair.Name, pair => pair.Finding, StringComparer.Ordinal)
        )
        {
            PassedOver = [.. all[false].Select(file => file.Name)],
        };
    }

    /// <summary>
    /// Whether it is a file with bytes that can be read without waiting for anybody, under a name that can be written down.
    /// </summary>
    private static bool IsPlain(FileInfo file)
    {
        // A name that is no UTF-8 comes with a mark in place of what could not be read: it could not be opened by it.
        if (file.Name.Contains('\uFFFD') || file.Name.Any(char.IsControl))
            return false;
        try
        {
            return FileKind.IsRegular(file.FullName);
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException or ArgumentException)
        {
            return false;
        }
    }

    private static Dictionary<string, string> ReadLists(IEnumerable<FileInfo> lists, List<(string Name, PackageFinding Finding)> findings)
    {
        var published = new Dictionary<string, string>(StringComparer.Ordinal);
        var said = new Dictionary<(string Name, int Digits), string>();
        foreach (var file in lists)
        {
            void Doubt(string name, string text) => findings.Add((name, new PackageFinding(FindingWeight.Doubt, text)));
            var after = ChecksumText.NamedAfter(file.Name);
            if (ReadList(file) is not { } list)
            {
                Doubt(after ?? "", $"The list {file.Name} beside it cannot be read as one.");
                continue;
            }

            foreach (var line in list.Unread.Take(3))
                Doubt(after ?? "", $"The list {file.Name} beside it has a line that cannot be read: {line}");
            foreach (var line in list.Lines)
            {
                var path = line.FileName.Length == 0 ? after ?? "" : line.FileName.Replace('\\', '/');
                if (path.StartsWith("./", StringComparison.Ordinal))
                    path = path[2..];
                var name = path[(path.LastIndexOf('/') + 1)..];
                if (name.Length == 0)
                    Doubt("", $"The list {file.Name} holds a digest and does not say of what.");
                // Another folder's file of this name is another file.
                else if (name != path)
                    Doubt(
                        name,
                        $"The list {file.Name} names a file of this name in another folder ({path}): whether it means this one is not known."
                    );
                else if (!said.TryAdd((name, line.Digest.Length), line.Digest) && said[(name, line.Digest.Length)] != line.Digest)
                    findings.Add(
                        (
                            name,
                            new PackageFinding(
                                FindingWeight.Fatal,
                                $"Lists beside it give two digests for {name}: which of them is right cannot be known."
                            )
                        )
                    );
                // Of two digests for a file the stronger counts.
                else if (!published.TryGetValue(name, out var other) || other.Length < line.Digest.Length)
                    published[name] = line.Digest;
            }
        }

        return published;
    }

    private static ChecksumList? ReadList(FileInfo file)
    {
        try
        {
            if (file.Length > MaxListBytes)
                return null;
            var bytes = File.ReadAllBytes(file.FullName);
            // As some systems write texts; anything else must be UTF-8.
            var text = bytes is [0xFF, 0xFE, ..]
                ? Encoding.Unicode.GetString(bytes, 2, bytes.Length - 2)
                : new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(bytes).TrimStart('\uFEFF');
            return text.Contains('\0') ? null : ChecksumText.Read(text, isNamedAsList: true);
        }
        catch (Exception error) when (error is DecoderFallbackException or ArgumentException or IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }
}

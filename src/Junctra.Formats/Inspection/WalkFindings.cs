using Junctra.Core;
using Junctra.Core.Packages;
using Junctra.Formats.Archives;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>What a walk has found so far, and how much of what is allowed it has used up.</summary>
/// <param name="limits">What the file may ask of this computer.</param>
/// <param name="fileBytes">Size of the file.</param>
internal sealed class WalkFindings(InspectionLimits limits, long fileBytes)
{
    private const int MaxLines = 20_000;
    private const int MaxFindings = 200;
    private const int MaxUnread = 3;
    private long expandedBytes;
    private long unpackedBytes;
    private int entries;
    private long nameCharacters;

    public List<PackageMember> Members { get; } = [];
    public List<RequirementLine> Requirements { get; } = [];
    public List<ChecksumLine> Checksums { get; } = [];
    public List<PackageFinding> Findings { get; } = [];

    /// <summary>Form of the file itself.</summary>
    public FileForm Form { get; set; }

    /// <summary>Whether members are locked with a password that was not given, or not the right one.</summary>
    public bool IsLocked { get; set; }

    /// <summary>Whether the file is one image, and no archive.</summary>
    public bool IsSingle { get; set; }

    /// <summary>Members that were numbered.</summary>
    public int Numbered { get; private set; }

    /// <summary>What the next image may expand to.</summary>
    public long ExpandedAllowed => Math.Min(limits.MaxExpandedImageBytes, limits.MaxExpandedBytes - expandedBytes);

    public int NextNumber() => Numbered++;

    public void Fatal(string text) => Add(FindingWeight.Fatal, text);

    public void Doubt(string text) => Add(FindingWeight.Doubt, text);

    public void Note(string text) => Add(FindingWeight.Note, text);

    // A file with a thousand faults needs no thousand sentences; that one is graver than all before it must not be lost.
    private void Add(FindingWeight weight, string text)
    {
        if (Findings.Count < MaxFindings || Findings.TrueForAll(finding => finding.Weight < weight))
            Findings.Add(new PackageFinding(weight, text));
    }

    /// <summary>
    /// How much of what an image of so many bytes expands to is digested; a few bytes that claim to be a disk are not worth minutes.
    /// </summary>
    public static long DigestedAllowed(long bytes) => InspectionLimits.ExpandedFreely + bytes * InspectionLimits.MaxExpandedTimes;

    public void Expanded(long bytes) => expandedBytes += bytes;

    /// <summary>Counts an entry of an archive.</summary>
    /// <returns>Whether it may still be looked at.</returns>
    public bool MayEnter(string name, string shownName)
    {
        if (++entries > limits.MaxMembers)
        {
            Fatal($"The archive has more than {limits.MaxMembers} members.");
            return false;
        }

        if (name.Length > limits.MaxNameCharacters)
            throw new TrapException($"The file is a trap: a name in it has {name.Length} characters.");
        nameCharacters += shownName.Length;
        if (nameCharacters > limits.MaxNamesCharacters)
            throw new TrapException("The file is a trap: the names in it are longer than any list of files.");
        if (!ShownText.IsFit(name))
            Fatal($"{shownName} is a name that no publisher gives: it holds characters that are not shown.");
        if (name.StartsWith('/') || name.StartsWith('\\') || name.Split('/', '\\').Contains(".."))
            Fatal($"{shownName} tries to leave the archive's folder: no publisher does that. Nothing is unpacked by its name.");
        return true;
    }

    /// <summary>Counts what comes out of a compressed stream.</summary>
    /// <exception cref="TrapException">It is more than this computer allows.</exception>
    public void Unpacked(int bytes)
    {
        unpackedBytes += bytes;
        if (
            unpackedBytes > limits.MaxUnpackedBytes
            || unpackedBytes > InspectionLimits.UnpackedFreely + (double)fileBytes * limits.MaxUnpackedTimes
        )
            throw new TrapException("The file is a trap: it unpacks to more than this computer allows.");
    }

    /// <summary>
    /// Takes a text in: requirement lines, metadata, a checksum list, or none of them. Whatever of it cannot be read is told.
    /// </summary>
    /// <param name="text">The text.</param>
    /// <param name="path">Its path in its archive.</param>
    /// <param name="within">Name of the archive in which it lies, or null.</param>
    public MemberKind TakeText(string text, string path, string? within)
    {
        if (!ChecksumText.IsListName(path) && (RequirementText.Read(text) is { } said || (said = MetadataText.Read(text)) is not null))
        {
            if (Requirements.Count + said.Lines.Count > MaxLines)
                Fatal($"The archive holds more than {MaxLines} lines that say what it is.");
            Requirements.AddRange(said.Lines.Take(MaxLines - Requirements.Count).Select(line => line with { Within = within }));
            foreach (var line in said.Unread.Take(MaxUnread))
                Doubt($"{path} says something that cannot be read: {line}");
            return said.Lines.Any(line => line.IsRequired) ? MemberKind.Requirements : MemberKind.Metadata;
        }

        if (ChecksumText.Read(text, ChecksumText.IsListName(path)) is not { } list)
            return MemberKind.Stray;
        if (Checksums.Count + list.Lines.Count > MaxLines)
            Fatal($"The archive holds more than {MaxLines} lines of digests.");
        var folder = path.LastIndexOf('/') is > 0 and var slash ? path[..slash] : "";
        foreach (var line in list.Lines.Take(MaxLines - Checksums.Count))
        {
            // A digest alone is that of the file after which the list is named.
            if (line.FileName.Length > 0)
                Checksums.Add(line with { Within = within, Folder = folder });
            else if (ChecksumText.NamedAfter(path) is { } name)
                Checksums.Add(line with { FileName = name, Within = within, Folder = folder });
            else
                Doubt($"{path} holds a digest and does not say of what.");
        }

        foreach (var line in list.Unread.Take(MaxUnread))
            Doubt($"{path} is a list of digests with a line that cannot be read: {line}");
        if (list.Lines.Count == 0 && list.Unread.Count == 0)
            Doubt($"{path} is named as a list of digests and holds none.");
        return MemberKind.ChecksumList;
    }
}

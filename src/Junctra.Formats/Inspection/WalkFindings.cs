using Junctra.Core.Packages;
using Junctra.Formats.Archives;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>What a walk has found so far, and how much of what is allowed it has used up.</summary>
/// <param name="limits">What the file may ask of this computer.</param>
/// <param name="fileBytes">Size of the file.</param>
internal sealed class WalkFindings(InspectionLimits limits, long fileBytes)
{
    private const int MostLines = 20_000;
    private long expandedBytes;
    private long unpackedBytes;
    private int entries;

    public List<PackageMember> Members { get; } = [];
    public List<RequirementLine> Requirements { get; } = [];
    public List<ChecksumLine> Checksums { get; } = [];
    public List<PackageFinding> Findings { get; } = [];

    /// <summary>Form of the file itself.</summary>
    public FileForm Form { get; set; }

    /// <summary>Whether members are locked with a password that was not given, or not the right one.</summary>
    public bool IsLocked { get; set; }

    /// <summary>Members that were numbered.</summary>
    public int Numbered { get; private set; }

    /// <summary>What the next image may expand to.</summary>
    public long ExpandedAllowed => Math.Min(limits.MostExpandedImageBytes, limits.MostExpandedBytes - expandedBytes);

    public int NextNumber() => Numbered++;

    public void Fatal(string text) => Findings.Add(new PackageFinding(FindingWeight.Fatal, text));

    public void Note(string text) => Findings.Add(new PackageFinding(FindingWeight.Note, text));

    public void Expanded(long bytes) => expandedBytes += bytes;

    /// <summary>Counts an entry of an archive.</summary>
    /// <returns>Whether it may still be looked at.</returns>
    public bool MayEnter(string name, string shownName)
    {
        if (++entries > limits.MostMembers)
        {
            Fatal($"The archive has more than {limits.MostMembers} members.");
            return false;
        }

        if (name.StartsWith('/') || name.StartsWith('\\') || name.Split('/', '\\').Contains(".."))
            Fatal($"{shownName} tries to leave the archive's folder: no publisher does that. Nothing is unpacked by its name.");
        return true;
    }

    /// <summary>Counts what comes out of a compressed stream.</summary>
    /// <exception cref="TrapException">It is more than this computer allows.</exception>
    public void Unpacked(int bytes)
    {
        unpackedBytes += bytes;
        if (unpackedBytes > limits.MostUnpackedBytes || unpackedBytes > InspectionLimits.UnpackedFreely + (double)fileBytes * limits.MostUnpackedTimes)
            throw new TrapException("The file is a trap: it unpacks to more than this computer allows.");
    }

    private void AddLines(IEnumerable<RequirementLine> lines, string? within) =>
        Requirements.AddRange(lines.Take(MostLines - Requirements.Count).Select(line => line with { Within = within }));

    /// <summary>Takes a text in: requirement lines, metadata, a checksum list, or none of them.</summary>
    public MemberKind TakeText(string text, string? within)
    {
        var kind = MemberKind.Stray;
        if (RequirementText.Read(text) is { } requirements)
        {
            AddLines(requirements, within);
            kind = MemberKind.Requirements;
        }
        else if (MetadataText.Read(text) is { } metadata)
        {
            AddLines(metadata, within);
            kind = MemberKind.Metadata;
        }
        else if (ChecksumText.Read(text) is { } checksums)
        {
            Checksums.AddRange(checksums.Take(MostLines - Checksums.Count).Select(line => line with { Within = within }));
            kind = MemberKind.ChecksumList;
        }

        if (Requirements.Count == MostLines || Checksums.Count == MostLines) Fatal($"The archive holds more than {MostLines} requirement or checksum lines.");
        return kind;
    }
}

using System.Buffers;
using System.Formats.Tar;
using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>
/// Looks into a package file in one streaming pass: members, sizes, digests of the file, of every member and of every
/// expanded image, requirement lines and checksum lists. What a member is, its content says; names decide nothing. Nothing
/// is unpacked to disk. Whatever is wrong with the file ends in a finding, never in an exception.
/// </summary>
public static class PackageInspector
{
    /// <summary>Inspects a file.</summary>
    /// <param name="file">The file from its first byte.</param>
    /// <param name="publishedSha256">The digest published for the file, or null.</param>
    /// <param name="limits">What the file may ask of this computer.</param>
    /// <param name="progress">Told how many bytes of the file were read.</param>
    /// <param name="cancel">Cancels.</param>
    public static async Task<PackageContents> InspectAsync(
        Stream file, string? publishedSha256 = null, InspectionLimits? limits = null, IProgress<long>? progress = null, CancellationToken cancel = default)
    {
        limits ??= InspectionLimits.Default;
        using var input = new DigestingStream(file, progress);
        var found = new Found();
        try
        {
            await ReadTarAsync(input, found, limits, cancel).ConfigureAwait(false);
        }
        catch (Exception error) when (error is EndOfStreamException or InvalidDataException or FormatException or NotSupportedException or ArgumentException)
        {
            // The archive reader's own words are for programmers; what matters at the bench is where it broke.
            found.Fatal(found.Members.Count == 0
                ? "This is no TAR archive that can be read."
                : $"The archive is cut off or damaged {Where(found)}.");
        }

        await DrainAsync(input, cancel).ConfigureAwait(false);
        return new PackageContents(input.Position, input.Digest(), publishedSha256, found.Members, found.Requirements, found.Checksums, found.Findings);
    }

    private static async Task ReadTarAsync(DigestingStream input, Found found, InspectionLimits limits, CancellationToken cancel)
    {
        await using var tar = new TarReader(input, leaveOpen: true);
        while (await tar.GetNextEntryAsync(copyData: false, cancel).ConfigureAwait(false) is { } entry)
        {
            if (found.Members.Count + found.Passed >= limits.MostMembers)
            {
                found.Fatal($"The archive has more than {limits.MostMembers} members.");
                return;
            }

            switch (entry.EntryType)
            {
                case TarEntryType.RegularFile or TarEntryType.V7RegularFile or TarEntryType.ContiguousFile:
                    await ReadMemberAsync(entry, input.Position, found, limits, cancel).ConfigureAwait(false);
                    break;
                case TarEntryType.Directory or TarEntryType.GlobalExtendedAttributes:
                    found.Passed++;
                    break;
                default:
                    found.Passed++;
                    found.Note($"{entry.Name} is a {Word(entry.EntryType)}; it is ignored.");
                    break;
            }
        }

        if (found.Members.Count == 0) found.Fatal("The archive holds no file.");
    }

    private static async Task ReadMemberAsync(TarEntry entry, long offset, Found found, InspectionLimits limits, CancellationToken cancel)
    {
        if (entry.Name.StartsWith('/') || entry.Name.Split('/').Contains(".."))
            found.Note($"{entry.Name} tries to leave the archive's folder. Nothing is unpacked by its name.");
        if (entry.DataStream is null || entry.Length == 0)
        {
            found.Passed++;
            found.Note($"{entry.Name} is empty; it is ignored.");
            return;
        }

        var member = await MemberReader.ReadAsync(entry.Name, entry.DataStream, offset, entry.Length,
            limits.MostExpandedBytes - found.ExpandedBytes, limits, cancel).ConfigureAwait(false);
        found.Add(member);
    }

    private static async Task DrainAsync(DigestingStream input, CancellationToken cancel)
    {
        var buffer = ArrayPool<byte>.Shared.Rent(1 << 18);
        try
        {
            while (await input.ReadAsync(buffer, cancel).ConfigureAwait(false) > 0) { }
        }
        finally
        {
            ArrayPool<byte>.Shared.Return(buffer);
        }
    }

    private static string Where(Found found) => $"after {found.Members[^1].Name}";

    private static string Word(TarEntryType type) => type switch
    {
        TarEntryType.SymbolicLink or TarEntryType.HardLink => "link",
        TarEntryType.BlockDevice or TarEntryType.CharacterDevice => "device",
        TarEntryType.Fifo => "pipe",
        _ => $"entry of the kind {type}",
    };

    /// <summary>What has been found so far.</summary>
    private sealed class Found
    {
        public List<PackageMember> Members { get; } = [];
        public List<RequirementLine> Requirements { get; } = [];
        public List<ChecksumLine> Checksums { get; } = [];
        public List<PackageFinding> Findings { get; } = [];
        public long ExpandedBytes { get; private set; }
        public int Passed { get; set; }

        public void Fatal(string text) => Findings.Add(new PackageFinding(FindingWeight.Fatal, text));

        public void Note(string text) => Findings.Add(new PackageFinding(FindingWeight.Note, text));

        public void Add(MemberFound found)
        {
            var member = found.Member;
            if (found.Fault is not null) Fatal(found.Fault);
            if (found.Text is { } text)
            {
                if (RequirementText.Read(text) is { } requirements)
                {
                    Requirements.AddRange(requirements);
                    member = member with { Kind = MemberKind.Requirements };
                }
                else if (ChecksumText.Read(text) is { } checksums)
                {
                    Checksums.AddRange(checksums);
                    member = member with { Kind = MemberKind.ChecksumList };
                }
            }

            ExpandedBytes += member.ExpandedBytes;
            Members.Add(member);
        }
    }
}

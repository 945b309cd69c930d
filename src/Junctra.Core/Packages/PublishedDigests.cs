namespace Junctra.Core.Packages;

/// <summary>
/// Holds members against the digests that were published for them: in a checksum list of their own archive and folder; in the list for the
/// archive they lie in; or for the package file as a whole. A line means the file that it names from where its list lies, and never another
/// folder's of the same name.
/// </summary>
internal sealed class PublishedDigests
{
    private readonly PackageContents contents;
    private readonly Dictionary<int, DigestState> own = [];
    private readonly Dictionary<string, PackageMember> archives;

    public PublishedDigests(PackageContents contents)
    {
        this.contents = contents;
        archives = contents
            .Members.Where(member => member.Kind == MemberKind.Archive)
            .DistinctBy(member => member.Name)
            .ToDictionary(member => member.Name, StringComparer.Ordinal);
        // Each member under its own name, and a wrapped image also under the name it had before: system.img for system.img.lz4.
        var named = contents
            .Members.Select(member => new Named(member.PathWithin, member, member.Sha256, member.Others))
            .Concat(
                contents
                    .Members.Where(member => member.Image is { Wrapping: not Wrapping.None })
                    .Select(member => new Named(
                        member.PathWithin[..Math.Max(0, member.PathWithin.LastIndexOf('.'))],
                        member,
                        member.Image!.Sha256,
                        member.Image.Others
                    ))
            )
            .ToLookup(name => LastPart(name.Path), StringComparer.Ordinal);
        var lost = new List<ChecksumLine>();
        var twice = new HashSet<string>(StringComparer.Ordinal);
        var said = new Dictionary<(string?, string, string, int), string>();
        foreach (var line in contents.Checksums)
        {
            var listed = Plain(line.FileName);
            if (
                !said.TryAdd((line.Within, line.Folder, listed, line.Digest.Length), line.Digest)
                && said[(line.Within, line.Folder, listed, line.Digest.Length)] != line.Digest
            )
                twice.Add(listed);
            var meant = Meant(named[LastPart(listed)], line, listed);
            if (meant.Count == 0)
                lost.Add(line);
            foreach (var name in meant)
            {
                if (OtherDigests.Like(line.Digest, name.Sha256, name.Others) != line.Digest)
                    own[name.Member.Number] = DigestState.Differs;
                else
                    own.TryAdd(name.Member.Number, DigestState.Matches);
            }
        }

        (WithoutMember, Twice) = (lost, [.. twice]);
    }

    /// <summary>Lines that name no member.</summary>
    public IReadOnlyList<ChecksumLine> WithoutMember { get; }

    /// <summary>Files for which lists give two digests of one kind.</summary>
    public IReadOnlyList<string> Twice { get; }

    /// <summary>How a member compares with the digests published for it alone.</summary>
    public DigestState OfItself(PackageMember member) => own.GetValueOrDefault(member.Number, DigestState.NothingToCompare);

    /// <summary>How a member compares with every digest that covers it.</summary>
    public DigestState Of(PackageMember member)
    {
        if (OfItself(member) is var state and not DigestState.NothingToCompare)
            return state;
        if (member.Within is not null && archives.TryGetValue(member.Within, out var archive))
            return Of(archive);
        return contents.IsAsPublished == true ? DigestState.Matches : DigestState.NothingToCompare;
    }

    private static List<Named> Meant(IEnumerable<Named> candidates, ChecksumLine line, string listed)
    {
        var all = candidates.ToList();
        var here = all.Where(name => name.Member.Within == line.Within).ToList();
        var exact = here.Where(name => name.Path == (line.Folder.Length == 0 ? listed : $"{line.Folder}/{listed}")).ToList();
        if (exact.Count > 0)
            return exact;
        var fromTop = here.Where(name => name.Path == listed).ToList();
        if (fromTop.Count > 0)
            return fromTop;
        // A list at the top of what it describes may leave the folders below it out, where that leaves no doubt.
        var below = here.Where(name =>
                (line.Folder.Length == 0 || name.Path.StartsWith(line.Folder + "/", StringComparison.Ordinal))
                && name.Path.EndsWith("/" + listed, StringComparison.Ordinal)
            )
            .ToList();
        if (below.Count > 0)
            return below.Select(name => name.Member.Number).Distinct().Count() == 1 ? below : [];
        var inside = all.Where(name =>
                name.Member.Within is { } within
                && (line.Within is null || within.StartsWith(line.Within + "/", StringComparison.Ordinal))
                && ("/" + name.Member.Name).EndsWith("/" + listed, StringComparison.Ordinal)
            )
            .ToList();
        return inside.Select(name => name.Member.Number).Distinct().Count() == 1 ? inside : [];
    }

    private readonly record struct Named(string Path, PackageMember Member, string Sha256, OtherDigests? Others);

    private static string Plain(string path)
    {
        var plain = path.Replace('\\', '/');
        return plain.StartsWith("./", StringComparison.Ordinal) ? plain[2..] : plain;
    }

    private static string LastPart(string path) => path[(path.LastIndexOf('/') + 1)..];
}

namespace Junctra.Core.Packages;

/// <summary>
/// Holds members against the digests that were published for them: in a checksum list of their own archive, or of another in the
/// same file; in the list for the archive they lie in; or for the package file as a whole.
/// </summary>
internal sealed class PublishedDigests
{
    private readonly PackageContents contents;
    private readonly Dictionary<int, DigestState> own = [];
    private readonly Dictionary<string, PackageMember> archives;

    public PublishedDigests(PackageContents contents)
    {
        this.contents = contents;
        archives = contents.Members.Where(member => member.Kind == MemberKind.Archive)
            .DistinctBy(member => member.Name).ToDictionary(member => member.Name, StringComparer.Ordinal);
        // Each member under its own name, and a wrapped image also under the name it had before: system.img for system.img.lz4.
        var named = contents.Members.Select(member => new Named(member.Name, member, member.Sha256, member.Md5))
            .Concat(contents.Members.Where(member => member.Image is { Wrapping: not Wrapping.None })
                .Select(member => new Named(member.Name[..Math.Max(0, member.Name.LastIndexOf('.'))], member, member.Image!.Sha256, member.Image.Md5)))
            .ToLookup(name => LastPart(name.Name), StringComparer.Ordinal);
        var lost = new List<ChecksumLine>();
        foreach (var line in contents.Checksums)
        {
            var listed = Plain(line.FileName);
            var meant = named[LastPart(listed)].Where(name => Ends(Plain(name.Name), listed)).ToList();
            // A list means its own archive's files first, and those of others only where its own has none of that name.
            if (meant.Any(name => name.Member.Within == line.Within)) meant.RemoveAll(name => name.Member.Within != line.Within);
            if (meant.Count == 0) lost.Add(line);
            foreach (var name in meant)
            {
                if ((line.IsMd5 ? name.Md5 : name.Sha256) != line.Digest) own[name.Member.Number] = DigestState.Differs;
                else own.TryAdd(name.Member.Number, DigestState.Matches);
            }
        }

        WithoutMember = lost;
    }

    /// <summary>Lines that name no member.</summary>
    public IReadOnlyList<ChecksumLine> WithoutMember { get; }

    /// <summary>How a member compares with the digests published for it alone.</summary>
    public DigestState OfItself(PackageMember member) => own.GetValueOrDefault(member.Number, DigestState.NothingToCompare);

    /// <summary>How a member compares with every digest that covers it.</summary>
    public DigestState Of(PackageMember member)
    {
        if (OfItself(member) is var state and not DigestState.NothingToCompare) return state;
        if (member.Within is not null && archives.TryGetValue(member.Within, out var archive)) return Of(archive);
        return contents.IsAsPublished == true ? DigestState.Matches : DigestState.NothingToCompare;
    }

    private readonly record struct Named(string Name, PackageMember Member, string Sha256, string? Md5);

    /// <summary>A list usually lies in the folder of the files it names, so its paths may lack that folder.</summary>
    private static bool Ends(string path, string listed) => path == listed || path.EndsWith("/" + listed, StringComparison.Ordinal);

    private static string Plain(string path) => path.StartsWith("./", StringComparison.Ordinal) ? path[2..] : path;

    private static string LastPart(string path) => path[(path.LastIndexOf('/') + 1)..];
}

using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Packages;

/// <summary>
/// Gives meaning to what was found in a file. Pure, so that a corrected catalogue re-reads the whole library without
/// touching a file.
/// </summary>
public static class PackageReader
{
    /// <summary>Roles whose images publishers often name after model and version besides the partition.</summary>
    private static readonly PartitionRole[] LongNamedRoles = [PartitionRole.BootChain, PartitionRole.Radio];

    /// <summary>Reads a package out of an archive's contents.</summary>
    /// <param name="fileName">The file's name, for people.</param>
    /// <param name="contents">What is in the file.</param>
    /// <param name="catalogue">Grammars and models.</param>
    public static Package Read(string fileName, PackageContents contents, ModelCatalogue catalogue)
    {
        var findings = new List<PackageFinding>(contents.Findings);
        var statements = PackageStatements.Read(contents, catalogue, findings, out var build);
        var digests = new PublishedDigests(contents);
        var boards = statements.Where(s => s.Fact == FactName.ModelCode).Select(s => s.Value).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var images = new List<PackageImage>();
        foreach (var member in contents.Members.Where(member => member.Kind == MemberKind.Image))
        {
            var partition = PartitionOf(member.Name, boards, catalogue);
            if (IsKnown(partition, catalogue) || IsNamedAsImage(member)) images.Add(new PackageImage(partition, member, digests.Of(member)));
            else findings.Add(Note($"{member.Name} is for no partition that the catalogue knows; it is ignored."));
        }

        foreach (var twice in images.GroupBy(image => image.Partition).Where(group => group.Count() > 1))
            findings.Add(Fatal($"Two images claim the partition {twice.Key}: {string.Join(" and ", twice.Select(image => image.Member.Name))}. Which one is meant cannot be known."));
        foreach (var member in contents.Members.Where(member => digests.OfItself(member) == DigestState.Differs))
        {
            var what = images.FirstOrDefault(image => image.Member == member) is { } image ? $"The {image.Partition} image" : member.Name;
            var text = $"{what} is not what its publisher sent out: its digest differs from the one in the checksum list.";
            findings.Add(member.Kind == MemberKind.Stray ? Note(text) : Fatal(text));
        }

        if (contents.PublishedSha256 is { } published && published != contents.Sha256)
            findings.Add(Fatal("The file is not what its publisher sent out: its digest differs from the one in the checksum list beside it."));
        foreach (var line in digests.WithoutMember)
            findings.Add(Fatal($"The checksum list names {line.FileName}, which is not in the archive."));

        var kind = images.Count > 0 && contents.Requirements.Any(line => line is { IsRequired: true, Name: "board" })
            ? PackageKind.FactorySet
            : PackageKind.Unknown;
        if (kind == PackageKind.Unknown)
            findings.Add(Note("No requirement lines and images together: this is no package of a kind Junctra can write."));

        return new Package(fileName, contents, kind, build, images, statements,
            [.. findings.OrderByDescending(finding => finding.Weight)]);
    }

    /// <summary>
    /// The partition an image's name stands for: its last path part up to the first dot. Boot chain and radio may carry model and
    /// version after their partition's name (<c>radio-hx204-26w10.img</c>); of any other image a longer name is another partition.
    /// </summary>
    /// <param name="memberName">Name of the member.</param>
    /// <param name="boards">Model codes that the package claims.</param>
    /// <param name="catalogue">Models and their layouts.</param>
    public static string PartitionOf(string memberName, IReadOnlyList<string> boards, ModelCatalogue catalogue)
    {
        var file = memberName[(memberName.LastIndexOfAny(['/', '\\']) + 1)..];
        var dot = file.IndexOf('.', StringComparison.Ordinal);
        var name = (dot > 0 ? file[..dot] : file).ToLowerInvariant();
        if (IsKnown(name, catalogue)) return name;
        var longNamed = catalogue.Models.SelectMany(model => model.Partitions).Where(partition => LongNamedRoles.Contains(partition.Role))
            .Select(partition => partition.Name).Distinct(StringComparer.Ordinal)
            .FirstOrDefault(partition => boards.Any(board => name.Equals($"{partition}-{board}", StringComparison.OrdinalIgnoreCase)
                || name.StartsWith($"{partition}-{board}-", StringComparison.OrdinalIgnoreCase)));
        return longNamed ?? name;
    }

    private static bool IsKnown(string partition, ModelCatalogue catalogue) => catalogue.Models.Any(model => model.Partition(partition) is not null);

    /// <summary>Stray files must be ignored; what calls itself an image, or is one by its form, must not be: some partition would go without it.</summary>
    private static bool IsNamedAsImage(PackageMember member) =>
        member.Image!.Format == ImageFormat.Sparse || member.Name.Split('/')[^1].Split('.').Skip(1).Contains("img", StringComparer.OrdinalIgnoreCase);

    private static PackageFinding Fatal(string text) => new(FindingWeight.Fatal, text);

    private static PackageFinding Note(string text) => new(FindingWeight.Note, text);
}

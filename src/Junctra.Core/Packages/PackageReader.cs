using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Core.Packages;

/// <summary>
/// Gives meaning to what was found in a file. Pure, so that a corrected catalogue re-reads the whole library without
/// touching a file.
/// </summary>
public static class PackageReader
{
    /// <summary>Reads a package out of an archive's contents.</summary>
    /// <param name="fileName">The file's name, for people.</param>
    /// <param name="contents">What is in the file.</param>
    /// <param name="catalogue">Grammars and models.</param>
    public static Package Read(string fileName, PackageContents contents, ModelCatalogue catalogue)
    {
        var findings = new List<PackageFinding>(contents.Findings);
        var statements = Statements(contents, catalogue, findings, out var build);
        var images = contents.Members
            .Where(member => member.Kind == MemberKind.Image)
            .Select(member => new PackageImage(PartitionOf(member.Name), member, DigestOf(member, contents)))
            .ToList();

        foreach (var twice in images.GroupBy(image => image.Partition).Where(group => group.Count() > 1))
            findings.Add(Fatal($"Two images claim the partition {twice.Key}. Which one is meant cannot be known."));
        foreach (var image in images.Where(image => image.Digest == DigestState.Differs))
            findings.Add(Fatal($"The {image.Partition} image is not what its publisher sent out: its digest differs from the one in the checksum list."));
        if (contents.PublishedSha256 is { } published && published != contents.Sha256)
            findings.Add(Fatal("The file is not what its publisher sent out: its digest differs from the one in the checksum list beside it."));
        foreach (var line in contents.Checksums.Where(line => !contents.Members.Any(member => IsSameFile(line.FileName, member.Name))))
            findings.Add(Fatal($"The checksum list names {line.FileName}, which is not in the archive."));
        AddContradictions(statements, findings);

        var kind = images.Count > 0 && contents.Requirements.Any(line => line is { IsRequired: true, Name: "board" })
            ? PackageKind.FactorySet
            : PackageKind.Unknown;
        if (kind == PackageKind.Unknown)
            findings.Add(new PackageFinding(FindingWeight.Note, "No requirement lines and images together: this is no package of a kind Junctra can write."));

        return new Package(fileName, contents, kind, build, images, statements,
            [.. findings.OrderByDescending(finding => finding.Weight)]);
    }

    private static List<PackageStatement> Statements(
        PackageContents contents, ModelCatalogue catalogue, List<PackageFinding> findings, out BuildReading? build)
    {
        var statements = new List<PackageStatement>();
        build = null;
        foreach (var line in contents.Requirements)
        {
            foreach (var value in line.Values)
            {
                switch (line.Name)
                {
                    case "board":
                        Add(FactName.ModelCode, value, "requirement line board");
                        break;
                    case "version-bootloader":
                        Add(FactName.BootloaderRevision, value, "requirement line version-bootloader");
                        break;
                    case "version-baseband":
                        Add(FactName.RadioBuild, value, "requirement line version-baseband");
                        break;
                    case "storage-gb":
                        Add(FactName.StorageSize, value, "requirement line storage-gb");
                        break;
                    case "build" when catalogue.ReadBuild(value) is { } reading:
                        build ??= reading;
                        Add(FactName.Build, reading.Build, "build line");
                        if (reading.Model is { } model) Add(FactName.ModelCode, model, "build string");
                        if (reading.Revision is { } revision) Add(FactName.BootloaderRevision, revision.ToString(), "build string");
                        if (reading.Os is { } os) Add(FactName.OsVersion, os, "build string");
                        break;
                    case "build":
                        findings.Add(new PackageFinding(FindingWeight.Note, $"No maker's grammar reads the build string {value}."));
                        break;
                }
            }
        }

        return statements;

        void Add(FactName name, string value, string where)
        {
            if (FactValues.Normalise(name, value) is { } normal) statements.Add(new PackageStatement(name, normal, where));
            else findings.Add(new PackageFinding(FindingWeight.Note, $"The {where} says {value}, which is no {name.Label.ToLowerInvariant()}."));
        }
    }

    // Several boards in one requirement line are normal (one package for several variants); several builds or revisions are not.
    private static void AddContradictions(List<PackageStatement> statements, List<PackageFinding> findings)
    {
        foreach (var name in new[] { FactName.Build, FactName.BootloaderRevision, FactName.RadioBuild })
        {
            var values = statements.Where(s => s.Fact == name).DistinctBy(s => s.Value, StringComparer.OrdinalIgnoreCase).ToList();
            if (values.Count > 1)
            {
                findings.Add(new PackageFinding(FindingWeight.Note,
                    $"The package contradicts itself on its {name.Label.ToLowerInvariant()}: {string.Join(", ", values.Select(v => $"{v.Value} ({v.Where})"))}."));
            }
        }

        var boards = statements.Where(s => s.Fact == FactName.ModelCode && s.Where.StartsWith("requirement", StringComparison.Ordinal)).Select(s => s.Value).ToHashSet();
        var built = statements.FirstOrDefault(s => s.Fact == FactName.ModelCode && s.Where.StartsWith("build", StringComparison.Ordinal));
        if (built is not null && boards.Count > 0 && !boards.Contains(built.Value))
            findings.Add(Fatal($"The requirement lines are for {string.Join(", ", boards)}, the build string is of {built.Value}."));
    }

    private static DigestState DigestOf(PackageMember member, PackageContents contents)
    {
        var lines = contents.Checksums.Where(line => IsSameFile(line.FileName, member.Name)).ToList();
        if (lines.Any(line => line.Sha256 != member.Sha256)) return DigestState.Differs;
        return lines.Count > 0 || contents.PublishedSha256 == contents.Sha256 ? DigestState.Matches : DigestState.NothingToCompare;
    }

    /// <summary>The partition an image's name stands for: its last path part up to the first dot.</summary>
    public static string PartitionOf(string memberName)
    {
        var file = memberName[(memberName.LastIndexOf('/') + 1)..];
        var dot = file.IndexOf('.', StringComparison.Ordinal);
        return (dot > 0 ? file[..dot] : file).ToLowerInvariant();
    }

    private static bool IsSameFile(string listed, string member)
    {
        var a = listed.StartsWith("./", StringComparison.Ordinal) ? listed[2..] : listed;
        var b = member.StartsWith("./", StringComparison.Ordinal) ? member[2..] : member;
        // A list usually lies in the folder of the files it names, so its paths may lack that folder.
        return a == b || b.EndsWith("/" + a, StringComparison.Ordinal);
    }

    private static PackageFinding Fatal(string text) => new(FindingWeight.Fatal, text);
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>
/// Gives meaning to what was found in a file. Pure, so that a corrected catalogue re-reads the whole library without
/// touching a file.
/// </summary>
public static class PackageReader
{
    private const int MaxLost = 20;

    /// <summary>Roles whose images publishers often name after model and version besides the partition.</summary>
    private static readonly PartitionRole[] LongNamedRoles = [PartitionRole.BootChain, PartitionRole.Radio];

    /// <summary>Reads a package out of an archive's contents.</summary>
    /// <param name="fileName">The file's name, for people.</param>
    /// <param name="contents">What is in the file.</param>
    /// <param name="catalogue">Grammars and models.</param>
    public static Package Read(string fileName, PackageContents contents, ModelCatalogue catalogue)
    {
        var findings = new List<PackageFinding>(contents.Findings);
        var said = PackageStatements.Read(contents, catalogue, findings);
        var statements = said.All;
        var digests = new PublishedDigests(contents);
        var boards = statements
            .Where(s => s.Fact == FactName.ModelCode)
            .Select(s => s.Value)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        var images = new List<PackageImage>();
        var models = boards.Select(catalogue.Model).OfType<PhoneModel>().ToList();
        foreach (var member in contents.Members.Where(member => member.Kind == MemberKind.Image && member.Image!.Inside?.Table is null))
        {
            var partition = PartitionOf(contents.IsSingle ? fileName : member.Name, boards, catalogue);
            if (IsKnown(partition, catalogue) || IsNamedAsImage(member))
                images.Add(new PackageImage(partition, member, digests.Of(member), RoleOf(partition, models, catalogue)));
            else
                findings.Add(Note($"{member.Name} is for no partition that the catalogue knows; it is ignored."));
        }

        var parts = PartsOf(contents, images, findings);
        foreach (var twice in images.GroupBy(image => image.Partition).Where(group => group.Count() > 1 && !AreTwoPacks(parts, group)))
            findings.Add(
                Fatal(
                    $"Two images claim the partition {twice.Key}: {string.Join(" and ", twice.Select(image => image.Member.Name))}. Which one is meant cannot be known."
                )
            );
        foreach (var member in contents.Members.Where(member => digests.OfItself(member) == DigestState.Differs))
        {
            var what = images.FirstOrDefault(image => image.Member == member) is { } image ? $"The {image.Partition} image" : member.Name;
            var text = $"{what} is not what its publisher sent out: its digest differs from the one in the checksum list.";
            findings.Add(member.Kind == MemberKind.Stray ? Note(text) : Fatal(text));
        }

        if (contents.IsAsPublished == false)
            findings.Add(
                Fatal("The file is not what its publisher sent out: its digest differs from the one in the checksum list beside it.")
            );
        foreach (var name in digests.Twice)
            findings.Add(Fatal($"Its lists give two digests for {name}: which of them is right cannot be known."));
        foreach (
            var member in contents.Members.Where(member =>
                member.Kind is MemberKind.Stray or MemberKind.Requirements or MemberKind.Metadata && !member.Name.EndsWith('/')
            )
        )
        {
            // A partition would go without what is meant for it.
            var file = member.Name[(member.Name.LastIndexOf('/') + 1)..];
            if (!file.Contains('.') && IsKnown(file.ToLowerInvariant(), catalogue))
                findings.Add(
                    Fatal(
                        $"{member.Name} is named after a partition, and by its content is no image. Whether it belongs there cannot be known."
                    )
                );
        }

        foreach (var line in digests.WithoutMember.Take(MaxLost))
            findings.Add(Fatal($"The checksum list names {line.FileName}, which is not in the archive."));

        var kind = KindDetection.Of(contents, images, parts, models);
        if (kind == PackageKind.Unknown)
            findings.Add(Note("No requirement lines and images together: this is no package of a kind that is known."));
        if (kind == PackageKind.SingleImage && boards.Count == 0)
            findings.Add(Note("The file is a single image: nothing in it says which phone it is for."));
        if (contents.Form == FileForm.Image)
            findings.Add(
                Note($"Only the name of the file says that it is for the partition {images.FirstOrDefault()?.Partition ?? "table"}.")
            );
        findings.AddRange(LayoutFit.Findings(images, contents, models));
        findings.AddRange(
            Names(
                fileName,
                contents.Form,
                parts,
                models,
                [.. statements.Where(s => s.Fact == FactName.Region).Select(s => s.Value).Distinct(StringComparer.OrdinalIgnoreCase)],
                catalogue
            )
        );
        return new Package(
            fileName,
            contents,
            kind,
            said.Build,
            images,
            new StatementList(statements),
            parts,
            [.. findings.OrderByDescending(finding => finding.Weight)]
        )
        {
            Unmet = said.Unmet,
            Marks = PackageMarks.Of(fileName, contents),
            IsListed =
                contents
                    .Members.Where(member => member.Kind != MemberKind.ChecksumList)
                    .All(member => digests.Of(member) == DigestState.Matches)
                && contents.Members.Count > 0,
        };
    }

    private static List<PackagePart> PartsOf(PackageContents contents, List<PackageImage> images, List<PackageFinding> findings)
    {
        var parts = new List<PackagePart>();
        var twoPacks = images
            .Where(image => image.Role == PartitionRole.RegionPack)
            .GroupBy(image => image.Member.Within)
            .Where(group => group.Count() > 1)
            .Select(group => group.Key ?? "")
            .ToHashSet(StringComparer.Ordinal);
        // A part is what lies in one archive; only two region packs side by side in one archive are told apart by their folders.
        foreach (var (within, folder) in contents.Members.Where(member => member.Kind == MemberKind.Image).Select(PlaceOf).Distinct())
        {
            var own = images.Where(image => PlaceOf(image.Member) == (within, folder)).ToList();
            var layout = contents.Members.FirstOrDefault(member =>
                PlaceOf(member) == (within, folder) && member.Image?.Inside?.Table is not null
            );
            if (own.Count == 0 && layout is null)
                continue;
            var says = contents
                .Requirements.FirstOrDefault(line => PackageStatements.Plain(line.Name) == "data" && line.Within == within)
                ?.Values[0]
                .ToLowerInvariant();
            var kind = PackagePart.KindOf(own, layout is not null, says);
            if (kind == PartKind.CleanPack && says == "keep")
                findings.Add(
                    Fatal(
                        $"{within ?? folder ?? "The region pack"} says that it keeps the data and brings an image for user data. What it would do cannot be known."
                    )
                );
            parts.Add(new PackagePart(within ?? folder, kind, own, layout));
        }

        return parts;

        (string? Within, string? Folder) PlaceOf(PackageMember member) =>
            (member.Within, twoPacks.Contains(member.Within ?? "") ? member.Name[..Math.Max(0, member.Name.LastIndexOf('/'))] : null);
    }

    /// <summary>The two region packs of a bundle hold images for the same partitions; only one of the packs is ever written.</summary>
    private static bool AreTwoPacks(List<PackagePart> parts, IEnumerable<PackageImage> images)
    {
        var kinds = images.Select(image => parts.First(part => part.Images.Contains(image)).Kind).ToList();
        return kinds
            is [PartKind.KeepDataPack, PartKind.CleanPack]
                or [PartKind.CleanPack, PartKind.KeepDataPack]
                // The rare fifth part replaces what the clean pack empties: it is written in its place, or not at all.
                or [PartKind.CleanPack, PartKind.UserData]
                or [PartKind.UserData, PartKind.CleanPack];
    }

    /// <summary>Names that say something else than the content.</summary>
    private static IEnumerable<PackageFinding> Names(
        string fileName,
        FileForm form,
        List<PackagePart> parts,
        List<PhoneModel> models,
        IReadOnlyList<string> regions,
        ModelCatalogue catalogue
    )
    {
        if (
            models.Count > 0
            && fileName
                .Split('-', '_', '.', ' ')
                .Select(catalogue.Model)
                .FirstOrDefault(model => model is not null && !models.Contains(model))
                is { } other
        )
            yield return Note(
                $"Its file is named after {other.Code}, and what is inside is for {string.Join(", ", models.Select(model => model.Code))}: what is inside counts."
            );
        var ours = regions.Where(code => catalogue.Region(code) is not null).ToList();
        if (
            ours.Count > 0
            && fileName
                .Split('-', '_', '.', ' ')
                .Select(catalogue.Region)
                .FirstOrDefault(region => region is not null && !ours.Contains(region.Code, StringComparer.OrdinalIgnoreCase))
                is { } elsewhere
        )
            yield return Note(
                $"Its file is named after the region {elsewhere.Code}, and what is inside is for {string.Join(", ", ours)}: what is inside counts."
            );
        var ending = fileName.Split('.')[^1].ToLowerInvariant();
        if (Endings.TryGetValue(ending, out var told) && form != FileForm.Unknown && told != form)
            yield return Note($"It is called .{ending} and is {Word(form)}: what is inside counts.");
        if (fileName.Split('.') is [.., var last, var again] && last.Equals(again, StringComparison.OrdinalIgnoreCase))
            yield return Note(
                $"Its name ends in .{last}.{again}: an ending was doubled by a rename. A recovery that looks for a name does not find it."
            );
        foreach (var part in parts.Where(part => part.Name is not null))
        {
            var name = part.Name!.Split('/')[^1].ToLowerInvariant();
            var (keeps, erases) = (
                name.Contains("keep", StringComparison.Ordinal),
                name.Contains("clean", StringComparison.Ordinal) || name.Contains("wipe", StringComparison.Ordinal)
            );
            if (part.Kind == PartKind.CleanPack && keeps && !erases)
                yield return Fatal($"{part.Name} is named as if it kept the data, and by its content it erases them.");
            if (part.Kind == PartKind.KeepDataPack && erases && !keeps)
                yield return Note($"{part.Name} is named as if it erased the data, and nothing in it does.");
        }
    }

    private static readonly Dictionary<string, FileForm> Endings = new(StringComparer.Ordinal)
    {
        ["tar"] = FileForm.Tar,
        ["zip"] = FileForm.Zip,
        ["gz"] = FileForm.Gzip,
        ["tgz"] = FileForm.Gzip,
        ["lz4"] = FileForm.Lz4,
        ["zst"] = FileForm.Zstandard,
        ["xz"] = FileForm.Xz,
        ["bz2"] = FileForm.Bzip2,
        ["img"] = FileForm.Image,
    };

    private static string Word(FileForm form) =>
        form switch
        {
            FileForm.Image => "an image",
            FileForm.Lz4 => "an LZ4 frame",
            FileForm.Gzip => "a gzip stream",
            FileForm.Zstandard => "a Zstandard frame",
            FileForm.Xz => "an xz stream",
            FileForm.Bzip2 => "a bzip2 stream",
            _ => $"a {form.ToString().ToUpperInvariant()}",
        };

    private static PartitionRole? RoleOf(string partition, List<PhoneModel> models, ModelCatalogue catalogue) =>
        models.Select(model => model.Place(partition)).FirstOrDefault(found => found is not null)?.Role ?? catalogue.RoleOf(partition);

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
        if (IsKnown(name, catalogue))
            return name;
        var longNamed = catalogue
            .Partitions.Where(partition => LongNamedRoles.Contains(partition.Value))
            .Select(partition => partition.Key)
            .FirstOrDefault(partition =>
                boards.Any(board =>
                    name.Equals($"{partition}-{board}", StringComparison.OrdinalIgnoreCase)
                    || name.StartsWith($"{partition}-{board}-", StringComparison.OrdinalIgnoreCase)
                )
            );
        return longNamed ?? name;
    }

    private static bool IsKnown(string partition, ModelCatalogue catalogue) => catalogue.RoleOf(partition) is not null;

    /// <summary>
    /// Stray files must be ignored; what calls itself an image, or is one by its form, must not be: some partition would go without it.
    /// </summary>
    private static bool IsNamedAsImage(PackageMember member) =>
        member.Image!.Format == ImageFormat.Sparse
        || member.Name.Split('/')[^1].Split('.').Skip(1).Contains("img", StringComparer.OrdinalIgnoreCase);

    private static PackageFinding Fatal(string text) => new(FindingWeight.Fatal, text);

    private static PackageFinding Note(string text) => new(FindingWeight.Note, text);
}

using System.Security.Cryptography;
using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using YamlDotNet.Core;
using YamlDotNet.RepresentationModel;

namespace Junctra.Formats.CatalogueFiles;

/// <summary>One mistake in a catalogue file.</summary>
/// <param name="File">Path of the file, below the catalogue's folder.</param>
/// <param name="Line">Line, from 1.</param>
/// <param name="Text">What is wrong, in one sentence.</param>
public sealed record CatalogueProblem(string File, int Line, string Text)
{
    /// <inheritdoc/>
    public override string ToString() => $"{File}:{Line}: {Text}";
}

/// <summary>A file that people edit, of the catalogue or of a phone, cannot be used; <see cref="Problems"/> says where and why.</summary>
public sealed class CatalogueException(IReadOnlyList<CatalogueProblem> problems)
    : Exception(
        $"{problems.Count} problem{(problems.Count == 1 ? "" : "s")} in the files:{Environment.NewLine}{string.Join(Environment.NewLine, problems)}"
    )
{
    /// <summary>Every mistake that was found.</summary>
    public IReadOnlyList<CatalogueProblem> Problems { get; } = problems;
}

/// <summary>
/// Reads the YAML files of a catalogue folder: <c>regions.yaml</c>, <c>figures.yaml</c>, <c>schools.yaml</c>, <c>reading-places.yaml</c>,
/// <c>triage.yaml</c>, <c>key-families/*.yaml</c>, <c>makers/*.yaml</c>, <c>boards/*.yaml</c> with their netlists. All files are read and
/// checked against each other before anything is used.
/// </summary>
public static class CatalogueReader
{
    /// <summary>Digest of all its files. Another program reads them otherwise, so its version counts too.</summary>
    private static string StampOf(string folder)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        hash.AppendData(typeof(ModelCatalogue).Module.ModuleVersionId.ToByteArray());
        foreach (
            var file in Directory.EnumerateFiles(folder, "*.*", SearchOption.AllDirectories).Where(IsRead).Order(StringComparer.Ordinal)
        )
            hash.AppendData(File.ReadAllBytes(file));
        return Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    // What people practise decides nothing about any phone.
    private static bool IsRead(string file) =>
        Path.GetExtension(file) is ".yaml" or ".ipc" && Path.GetFileName(Path.GetDirectoryName(file)) != "practice";

    /// <summary>Reads a catalogue.</summary>
    /// <exception cref="CatalogueException">A file is missing or wrong.</exception>
    public static ModelCatalogue Read(string folder)
    {
        var problems = new List<CatalogueProblem>();
        var regions = Open(folder, "regions.yaml", problems) is { } regionFile ? ReadRegions(regionFile) : [];
        var figures = Open(folder, "figures.yaml", problems) is { } figureFile ? ReadFigures(figureFile) : null;
        // A shop that has not decided anything has the careful schools.
        var answers = Optional(folder, "schools.yaml", problems) is { } schoolFile ? ReadAnswers(schoolFile) : [];
        var families = Files(folder, "key-families", problems).Select(KeyFamilyReader.Read).ToList();
        var common = Optional(folder, "common-ways.yaml", problems) is { } commonFile
            ? KeyFamilyReader.ReadCommon(commonFile)
            : CommonWays.None;
        var links = Optional(folder, "link-doctor.yaml", problems) is { } linkFile ? LinkDoctorReader.Read(linkFile) : LinkTables.Empty;
        var makers = new List<Maker>();
        var modelPlaces = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        var makerNames = new HashSet<string>(StringComparer.Ordinal);
        foreach (var file in Files(folder, "makers", problems))
        {
            // A maker whose file has a mistake is still one that other files may name.
            makerNames.Add(file.Text("maker"));
            if (MakerReader.Read(file, families, modelPlaces) is { } maker)
                makers.Add(maker);
        }

        foreach (
            var (maker, other) in makers.SelectMany(maker =>
                makers
                    .Where(other => other != maker && maker.Example.Length > 0 && other.Grammar.Read(maker.Example) is not null)
                    .Select(other => (maker, other))
            )
        )
            problems.Add(
                new CatalogueProblem(
                    "makers",
                    1,
                    $"The grammar of {other.Name} also reads {maker.Example}, a build of {maker.Name}: no string could be told."
                )
            );
        var guides = Optional(folder, "reading-places.yaml", problems) is { } guideFile ? GuideReader.Read(guideFile) : [];
        var triage = Optional(folder, "triage.yaml", problems) is { } triageFile
            ? TriageReader.Read(triageFile, makerNames, families)
            : TriageTables.Empty;
        var codes = makers.SelectMany(maker => maker.Models).Select(model => model.Code).ToList();
        // Most shops open no phones; what is inside one stands there where somebody does.
        var boards = Directory.Exists(Path.Combine(folder, "boards"))
            ? Files(folder, "boards", problems).Select(file => BoardReader.Read(file, folder, codes)).OfType<BoardGuide>().ToList()
            : [];
        foreach (var twice in boards.SelectMany(guide => guide.Models).GroupBy(code => code).Where(group => group.Count() > 1))
            problems.Add(new CatalogueProblem("boards", 1, $"The inside of {twice.Key} is described {twice.Count()} times."));
        foreach (var twice in families.GroupBy(family => family.Id).Where(group => group.Count() > 1))
            problems.Add(new CatalogueProblem("key-families", 1, $"The key family {twice.Key} is described {twice.Count()} times."));
        if (problems.Count > 0)
            throw new CatalogueException(problems);
        return new ModelCatalogue(makers, families, regions, figures!, guides, triage)
        {
            Stamp = StampOf(folder),
            CommonWays = common,
            Links = links,
            SchoolAnswers = answers,
            Boards = boards,
        };
    }

    private static List<Region> ReadRegions(CatalogueNode root)
    {
        var regions = root.Children("regions")
            .Select(node =>
            {
                var region = new Region(node.Text("code").ToUpperInvariant(), node.Text("territory"), node.Text("group"));
                node.RejectUnknownKeys();
                return region;
            })
            .ToList();
        root.RejectUnknownKeys();
        foreach (var twice in regions.GroupBy(region => region.Code).Where(group => group.Count() > 1))
            root.Problem($"The region {twice.Key} stands here {twice.Count()} times.");
        return regions;
    }

    /// <summary>
    /// The answers that a node gives to the questions of <see cref="Schools"/>; one that is no choice is a mistake of the file.
    /// </summary>
    internal static IEnumerable<(SchoolQuestion Question, SchoolChoice Choice)> ReadSchools(CatalogueNode node)
    {
        foreach (var question in Schools.Everywhere.Where(question => node.Has(question.Id)))
        {
            if (question.Parse(node.Text(question.Id)) is { } choice)
                yield return (question, choice);
            else
                node.Problem($"{question.Id} must be one of {string.Join(", ", question.Choices.Select(known => known.Id))}.", question.Id);
        }
    }

    private static Dictionary<string, string> ReadAnswers(CatalogueNode root)
    {
        var answers = ReadSchools(root).ToDictionary(answer => answer.Question.Id, answer => answer.Choice.Id);
        root.RejectUnknownKeys();
        return answers;
    }

    private static Figures ReadFigures(CatalogueNode root)
    {
        var boot = root.Child("first-boot-minutes");
        var stall = root.Child("transfer-stall-seconds");
        var figures = new Figures(
            (int)root.Number("battery-floor-percent", 1, 100),
            (int)root.Number("charge-instead-minutes", 1, 240),
            ReadBand(root.Child("digest-seconds-per-gigabyte")),
            ReadBand(root.Child("write-megabytes-per-second")),
            ReadBand(root.Child("restart-seconds")),
            ReadBand(root.Child("erase-seconds")),
            ReadBand(boot, close: false),
            boot.Number("stuck", 1, 240),
            stall.Number("warn", 1, 3600),
            stall.Number("fault", 1, 3600),
            root.Number("commit-seconds-per-100-megabytes", 0.01, 600),
            root.Number("commit-warn-times", 1, 1000),
            root.Number("commit-fault-times", 1, 1000),
            root.Number("commit-fault-floor-seconds", 1, 3600)
        );
        boot.RejectUnknownKeys();
        stall.RejectUnknownKeys();
        root.RejectUnknownKeys();
        return figures;
    }

    private static Band ReadBand(CatalogueNode node, bool close = true)
    {
        var band = new Band(node.Number("typical", 0.001, 1e6), node.Number("slow", 0.001, 1e6));
        if (close)
            node.RejectUnknownKeys();
        return band;
    }

    internal static List<CatalogueNode> Files(string folder, string below, List<CatalogueProblem> problems)
    {
        var path = Path.Combine(folder, below);
        if (!Directory.Exists(path))
        {
            problems.Add(new CatalogueProblem(below, 1, $"The folder {path} is missing."));
            return [];
        }

        return Directory
            .EnumerateFiles(path, "*.yaml")
            .Order(StringComparer.Ordinal)
            .Select(file => Open(folder, Path.GetRelativePath(folder, file), problems))
            .OfType<CatalogueNode>()
            .ToList();
    }

    private static CatalogueNode? Optional(string folder, string file, List<CatalogueProblem> problems) =>
        File.Exists(Path.Combine(folder, file)) ? Open(folder, file, problems) : null;

    internal static CatalogueNode? Open(string folder, string file, List<CatalogueProblem> problems)
    {
        try
        {
            var path = Path.Combine(folder, file);
            if (new FileInfo(path) is { Exists: true, Length: > YamlGuard.MaxCharacters })
                throw new YamlException($"It has more than {YamlGuard.MaxCharacters} characters.");
            var text = File.ReadAllText(path);
            YamlGuard.Check(text);
            var stream = new YamlStream();
            stream.Load(new StringReader(text));
            if (stream.Documents.Count == 1)
                return new CatalogueNode(file, stream.Documents[0].RootNode, problems);
            problems.Add(new CatalogueProblem(file, 1, "The file must hold one document."));
        }
        catch (YamlException error)
        {
            problems.Add(new CatalogueProblem(file, (int)error.Start.Line, $"This is no YAML: {error.Message}"));
        }
        catch (Exception error)
            when (error is ArgumentException or InvalidOperationException or KeyNotFoundException or FormatException or OverflowException)
        {
            // What the library itself stumbles over, such as one key twice.
            problems.Add(new CatalogueProblem(file, 1, $"This is no YAML: {error.Message}"));
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            problems.Add(new CatalogueProblem(file, 1, $"The file cannot be read: {error.Message}"));
        }

        return null;
    }
}

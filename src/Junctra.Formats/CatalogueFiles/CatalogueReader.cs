using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Core.Modes;
using Junctra.Core.Phones;
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
    : Exception($"{problems.Count} problem{(problems.Count == 1 ? "" : "s")} in the files:{Environment.NewLine}{string.Join(Environment.NewLine, problems)}")
{
    /// <summary>Every mistake that was found.</summary>
    public IReadOnlyList<CatalogueProblem> Problems { get; } = problems;
}

/// <summary>
/// Reads the YAML files of a catalogue folder: <c>regions.yaml</c>, <c>figures.yaml</c>, <c>schools.yaml</c>, <c>key-families/*.yaml</c>,
/// <c>makers/*.yaml</c>. All files are read and checked against each other before anything is used.
/// </summary>
public static class CatalogueReader
{
    /// <summary>Reads a catalogue.</summary>
    /// <exception cref="CatalogueException">A file is missing or wrong.</exception>
    public static ModelCatalogue Read(string folder)
    {
        var problems = new List<CatalogueProblem>();
        var regions = Open(folder, "regions.yaml", problems) is { } regionFile ? ReadRegions(regionFile) : [];
        var figures = Open(folder, "figures.yaml", problems) is { } figureFile ? ReadFigures(figureFile) : null;
        // A shop that has not decided anything has the careful schools.
        var school = File.Exists(Path.Combine(folder, "schools.yaml")) && Open(folder, "schools.yaml", problems) is { } schoolFile ? ReadSchools(schoolFile) : RegionSchool.Own;
        var families = Files(folder, "key-families", problems).Select(KeyFamilyReader.Read).ToList();
        var makers = new List<Maker>();
        var modelPlaces = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var file in Files(folder, "makers", problems))
        {
            if (ReadMaker(file, families, modelPlaces) is { } maker) makers.Add(maker);
        }

        foreach (var twice in families.GroupBy(family => family.Id).Where(group => group.Count() > 1))
            problems.Add(new CatalogueProblem("key-families", 1, $"The key family {twice.Key} is described {twice.Count()} times."));
        if (problems.Count > 0) throw new CatalogueException(problems);
        return new ModelCatalogue(makers, families, regions, figures!, school);
    }

    private static List<Region> ReadRegions(CatalogueNode root)
    {
        var regions = root.Children("regions").Select(node =>
        {
            var region = new Region(node.Text("code").ToUpperInvariant(), node.Text("territory"), node.Text("group"));
            node.RejectUnknownKeys();
            return region;
        }).ToList();
        root.RejectUnknownKeys();
        foreach (var twice in regions.GroupBy(region => region.Code).Where(group => group.Count() > 1))
            root.Problem($"The region {twice.Key} stands here {twice.Count()} times.");
        return regions;
    }

    private static RegionSchool ReadSchools(CatalogueNode root)
    {
        var school = root.Word("region", RegionSchools.Parse, "own, group, any");
        root.RejectUnknownKeys();
        return school;
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
            root.Number("commit-fault-floor-seconds", 1, 3600));
        boot.RejectUnknownKeys();
        stall.RejectUnknownKeys();
        root.RejectUnknownKeys();
        return figures;
    }

    private static Band ReadBand(CatalogueNode node, bool close = true)
    {
        var band = new Band(node.Number("typical", 0.001, 1e6), node.Number("slow", 0.001, 1e6));
        if (close) node.RejectUnknownKeys();
        return band;
    }

    private static Maker? ReadMaker(CatalogueNode root, List<KeyFamily> families, Dictionary<string, string> modelPlaces)
    {
        var name = root.Text("maker");
        var grammar = ReadGrammar(root.Child("grammar"), name);
        var variables = root.Child("link-variables").Entries().Select(entry => ReadVariable(entry.Key, entry.Value)).ToList();
        var models = root.Children("models").Select(node => ReadModel(node, families, modelPlaces)).ToList();
        var fuses = root.Flag("rollback-fuses");
        var forbidsOlder = root.Flag("forbids-older");
        var allRegions = root.Flag("one-build-for-all-regions");
        root.RejectUnknownKeys();
        return grammar is null ? null : new Maker(name, fuses, forbidsOlder, allRegions, grammar, variables, models);
    }

    private static BuildGrammar? ReadGrammar(CatalogueNode node, string maker)
    {
        var pattern = node.Text("pattern");
        var order = node.Texts("order");
        var example = node.Text("example");
        node.RejectUnknownKeys();
        if (pattern.Length == 0) return null;
        try
        {
            var grammar = new BuildGrammar(maker, pattern, order);
            if (grammar.Read(example) is null) node.Problem($"The grammar does not read its own example {example}.");
            return grammar;
        }
        catch (ArgumentException error)
        {
            node.Problem($"The grammar cannot be used: {error.Message}");
            return null;
        }
    }

    private static LinkVariable ReadVariable(string fact, CatalogueNode node)
    {
        var reads = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        var variable = node.Text("variable");
        if (node.Has("reads"))
        {
            foreach (var (word, meaning) in node.Child("reads").Entries()) reads[word] = meaning.Scalar ?? "";
        }

        node.RejectUnknownKeys();
        if (fact.Length > 0) return new LinkVariable(new FactName(fact), variable, reads);
        node.Problem("A link variable needs the name of its fact.");
        return new LinkVariable(FactName.Mode, variable, reads);
    }

    private static PhoneModel ReadModel(CatalogueNode node, List<KeyFamily> families, Dictionary<string, string> modelPlaces)
    {
        var place = node.Child("find-model-code");
        var partitions = node.Children("partitions").Select(part =>
        {
            var spec = new PartitionSpec(part.Text("name"),
                part.Word("role", CatalogueWords.Role, CatalogueWords.Roles), part.Size("size"), part.Flag("stock"));
            part.RejectUnknownKeys();
            return spec;
        }).ToList();
        var model = new PhoneModel(
            node.Text("code").ToUpperInvariant(), node.Text("name"), node.Text("chip"), node.Text("key-family"),
            node.Word("write-mode", PhoneModes.Parse, CatalogueWords.Modes),
            node.Word("package-kind", CatalogueWords.Kind, "factory-set"),
            node.Flag("battery-out"), node.Flag("relock-erases", true),
            [.. node.Texts("storage-gb").Select(text => int.TryParse(text, out var size) ? size : 0)],
            new ReadingPlace(place.Text("where"), place.Number("minutes", 0.1, 120)), partitions);
        place.RejectUnknownKeys();
        node.RejectUnknownKeys();

        if (model.StorageSizesGb.Any(size => size <= 0)) node.Problem("storage-gb must list whole numbers of gigabytes.");
        if (!families.Any(family => family.Id == model.KeyFamily)) node.Problem($"The key family {model.KeyFamily} is not described in key-families.");
        foreach (var twice in partitions.GroupBy(p => p.Name).Where(group => group.Count() > 1)) node.Problem($"The partition {twice.Key} stands in {model.Code} {twice.Count()} times.");
        if (!partitions.Any(p => p.Role == PartitionRole.BootChain)) node.Problem($"The layout of {model.Code} has no boot chain.");
        if (!modelPlaces.TryAdd(model.Code, $"{node.File}:{node.Line}")) node.Problem($"The model {model.Code} is described already at {modelPlaces[model.Code]}.");
        return model;
    }

    private static List<CatalogueNode> Files(string folder, string below, List<CatalogueProblem> problems)
    {
        var path = Path.Combine(folder, below);
        if (!Directory.Exists(path))
        {
            problems.Add(new CatalogueProblem(below, 1, $"The folder {path} is missing."));
            return [];
        }

        return Directory.EnumerateFiles(path, "*.yaml").Order(StringComparer.Ordinal)
            .Select(file => Open(folder, Path.GetRelativePath(folder, file), problems)).OfType<CatalogueNode>().ToList();
    }

    internal static CatalogueNode? Open(string folder, string file, List<CatalogueProblem> problems)
    {
        try
        {
            using var text = File.OpenText(Path.Combine(folder, file));
            var stream = new YamlStream();
            stream.Load(text);
            if (stream.Documents.Count == 1) return new CatalogueNode(file, stream.Documents[0].RootNode, problems);
            problems.Add(new CatalogueProblem(file, 1, "The file must hold one document."));
        }
        catch (YamlException error)
        {
            problems.Add(new CatalogueProblem(file, (int)error.Start.Line, $"This is no YAML: {error.Message}"));
        }
        catch (IOException error)
        {
            problems.Add(new CatalogueProblem(file, 1, $"The file cannot be read: {error.Message}"));
        }

        return null;
    }
}

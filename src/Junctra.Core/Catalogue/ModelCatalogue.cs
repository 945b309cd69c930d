using System.Collections.Concurrent;
using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>A sales region.</summary>
/// <param name="Code">Region code, upper case.</param>
/// <param name="Territory">Name of the territory or carrier.</param>
/// <param name="Group">Regions of one group share hardware bands and a software branch.</param>
public sealed record Region(string Code, string Territory, string Group);

/// <summary>
/// Everything the shop knows about makers and models. Read once from the files a shop edits, then never changed;
/// <c>CatalogueReader</c> in Junctra.Formats builds it and has checked every reference by then.
/// </summary>
public sealed class ModelCatalogue
{
    private readonly Dictionary<string, (Maker Maker, PhoneModel Model)> byCode;
    private readonly Dictionary<string, KeyFamily> keyFamilies;
    private readonly Dictionary<string, PartitionRole> partitions = new(StringComparer.Ordinal);
    private readonly ILookup<string, PhoneModel> byName;

    // The same strings are read again and again, and every maker's grammar must be asked: another one that reads a string too makes it
    // nobody's.
    private readonly ConcurrentDictionary<string, IReadOnlyList<BuildReading>> readings = new(StringComparer.Ordinal);
    private readonly ConcurrentDictionary<string, NameReading> names = new(StringComparer.Ordinal);
    private readonly Dictionary<string, Region> regionsByCode = new(StringComparer.OrdinalIgnoreCase);
    private const int MaxReadings = 20_000,
        MaxNameCharacters = 400;

    /// <summary>Takes parts that were checked against each other: model codes are unique, key families exist.</summary>
    /// <exception cref="ArgumentException">A model code or a key family appears twice.</exception>
    public ModelCatalogue(
        IReadOnlyList<Maker> makers,
        IReadOnlyList<KeyFamily> families,
        IReadOnlyList<Region> regions,
        Figures figures,
        IReadOnlyList<FactGuide>? guides = null,
        TriageTables? triage = null
    )
    {
        Guides = guides ?? [];
        Triage = triage ?? TriageTables.Empty;
        Makers = makers;
        Regions = regions;
        Figures = figures;
        byCode = makers
            .SelectMany(maker => maker.Models.Select(model => (maker, model)))
            .ToDictionary(pair => pair.model.Code, pair => (pair.maker, pair.model), StringComparer.OrdinalIgnoreCase);
        keyFamilies = families.ToDictionary(family => family.Id, StringComparer.Ordinal);
        byName = Models.ToLookup(model => model.ProductName, StringComparer.OrdinalIgnoreCase);
        foreach (var region in regions)
            regionsByCode.TryAdd(region.Code, region);
        foreach (var partition in Models.SelectMany(model => model.Partitions))
            partitions.TryAdd(partition.Name, partition.Role);
    }

    /// <summary>What a partition of that name is for, with the first model that has one; null where none has.</summary>
    public PartitionRole? RoleOf(string partition) => partitions.TryGetValue(partition, out var role) ? role : null;

    /// <summary>Every name that a partition of some model has, with what it is for.</summary>
    public IReadOnlyDictionary<string, PartitionRole> Partitions => partitions;

    /// <summary>Tells one state of the catalogue's files from another; empty where it was not read from files.</summary>
    public string Stamp { get; init; } = "";

    /// <summary>Menus, commands and recipes that are the same for all phones.</summary>
    public CommonWays CommonWays { get; init; } = CommonWays.None;

    /// <summary>What to do when the computer does not see the phone.</summary>
    public LinkTables Links { get; init; } = LinkTables.Empty;

    /// <summary>What is known of the inside of models, where anything is.</summary>
    public IReadOnlyList<BoardGuide> Boards { get; init; } = [];

    /// <summary>What is known of the inside of a model; null where nothing is.</summary>
    public BoardGuide? BoardOf(string? code) =>
        code is null ? null : Boards.FirstOrDefault(guide => guide.Models.Contains(code.Trim(), StringComparer.OrdinalIgnoreCase));

    /// <summary>All makers, in file order.</summary>
    public IReadOnlyList<Maker> Makers { get; }

    /// <summary>All sales regions.</summary>
    public IReadOnlyList<Region> Regions { get; }

    /// <summary>The shop's figures.</summary>
    public Figures Figures { get; }

    /// <summary>
    /// What the files answer to questions on which practitioners disagree, by the question's id; <c>MatchPolicy.OfFiles</c> makes a policy
    /// of it.
    /// </summary>
    public IReadOnlyDictionary<string, string> SchoolAnswers { get; init; } = new Dictionary<string, string>();

    /// <summary>Where facts can be found, in the order in which they are asked for.</summary>
    public IReadOnlyList<FactGuide> Guides { get; }

    /// <summary>Fault classes, and the checks that tell them apart.</summary>
    public TriageTables Triage { get; }

    /// <summary>All models of all makers.</summary>
    public IEnumerable<PhoneModel> Models => Makers.SelectMany(maker => maker.Models);

    /// <summary>The model with exactly this code (letter case aside), or null. Never fuzzy.</summary>
    public PhoneModel? Model(string? code) => code is not null && byCode.TryGetValue(code.Trim(), out var pair) ? pair.Model : null;

    /// <summary>The maker of the model with this code, or null.</summary>
    public Maker? MakerOf(string? code) => code is not null && byCode.TryGetValue(code.Trim(), out var pair) ? pair.Maker : null;

    /// <summary>The loader that a model's chip takes in emergency mode; null where none is known.</summary>
    public EmergencyLoader? LoaderOf(PhoneModel model) =>
        MakerOf(model.Code)?.Loaders.FirstOrDefault(one => one.Chip.Equals(model.ChipFamily, StringComparison.OrdinalIgnoreCase));

    /// <summary>The sales region of that code, or null.</summary>
    public Region? Region(string code) => regionsByCode.GetValueOrDefault(code);

    /// <summary>
    /// What a name of a file or folder says, a path's one part; the same ones come in package after package and are read once.
    /// </summary>
    public NameReading ReadName(string name)
    {
        if (names.TryGetValue(name, out var known))
            return known;
        var read = NameReading.Of(name, this);
        if (names.Count >= MaxReadings)
            names.Clear();
        if (name.Length <= MaxNameCharacters)
            names[name] = read;
        return read;
    }

    /// <summary>The key family of a model.</summary>
    public KeyFamily KeyFamilyOf(PhoneModel model) => keyFamilies[model.KeyFamily];

    /// <summary>The models that are sold by a name, letter case aside.</summary>
    public IReadOnlyList<PhoneModel> Variants(string productName) => [.. byName[productName]];

    /// <summary>How a build string reads by the maker's grammar that accepts it whole, or null: by none, or by more than one.</summary>
    public BuildReading? ReadBuild(string text) => ReadBuilds(text) is [var reading] ? reading : null;

    /// <summary>How a build string reads by every grammar that accepts it whole.</summary>
    public IReadOnlyList<BuildReading> ReadBuilds(string text)
    {
        if (readings.TryGetValue(text, out var known))
            return known;
        IReadOnlyList<BuildReading> read = [.. Makers.Select(maker => maker.Grammar.Read(text)).OfType<BuildReading>()];
        if (readings.Count >= MaxReadings)
            readings.Clear();
        if (text.Length <= BuildGrammar.MaxCharacters)
            readings[text] = read;
        return read;
    }
}

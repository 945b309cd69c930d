using Junctra.Core.Matching;
using Junctra.Core.Modes;
using Junctra.Core.Phones;

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

    /// <summary>Takes parts that were checked against each other: model codes are unique, key families exist.</summary>
    /// <exception cref="ArgumentException">A model code or a key family appears twice.</exception>
    public ModelCatalogue(IReadOnlyList<Maker> makers, IReadOnlyList<KeyFamily> families, IReadOnlyList<Region> regions, Figures figures,
        RegionSchool regionSchool = RegionSchool.Own)
    {
        RegionSchool = regionSchool;
        Makers = makers;
        Regions = regions;
        Figures = figures;
        byCode = makers.SelectMany(maker => maker.Models.Select(model => (maker, model)))
            .ToDictionary(pair => pair.model.Code, pair => (pair.maker, pair.model), StringComparer.OrdinalIgnoreCase);
        keyFamilies = families.ToDictionary(family => family.Id, StringComparer.Ordinal);
    }

    /// <summary>All makers, in file order.</summary>
    public IReadOnlyList<Maker> Makers { get; }

    /// <summary>All sales regions.</summary>
    public IReadOnlyList<Region> Regions { get; }

    /// <summary>The shop's figures.</summary>
    public Figures Figures { get; }

    /// <summary>The shop's own region school; a job may have another.</summary>
    public RegionSchool RegionSchool { get; }

    /// <summary>All models of all makers.</summary>
    public IEnumerable<PhoneModel> Models => Makers.SelectMany(maker => maker.Models);

    /// <summary>The model with exactly this code (letter case aside), or null. Never fuzzy.</summary>
    public PhoneModel? Model(string? code) => code is not null && byCode.TryGetValue(code.Trim(), out var pair) ? pair.Model : null;

    /// <summary>The maker of the model with this code, or null.</summary>
    public Maker? MakerOf(string? code) => code is not null && byCode.TryGetValue(code.Trim(), out var pair) ? pair.Maker : null;

    /// <summary>The sales region of that code, or null.</summary>
    public Region? Region(string code) => Regions.FirstOrDefault(region => region.Code.Equals(code, StringComparison.OrdinalIgnoreCase));

    /// <summary>The key family of a model.</summary>
    public KeyFamily KeyFamilyOf(PhoneModel model) => keyFamilies[model.KeyFamily];

    /// <summary>How a build string reads by the first maker's grammar that accepts it whole, or null.</summary>
    public BuildReading? ReadBuild(string text) =>
        Makers.Select(maker => maker.Grammar.Read(text)).FirstOrDefault(reading => reading is not null);
}

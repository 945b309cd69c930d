using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Practice;

/// <summary>A drawn shelf, and what is known of the phone for which it lies there.</summary>
/// <param name="Known">Revision, floor, build, region and radio of the phone.</param>
/// <param name="Shelf">
/// One package that fits, mostly, and some that only seem to: of a sister model, of a revision that is refused, not whole, of unknown
/// origin.
/// </param>
internal sealed record DrawnPackages(IReadOnlyDictionary<FactName, string> Known, IReadOnlyList<ShelfPackage> Shelf)
{
    private static readonly IReadOnlyDictionary<FieldForm, string> RadioFields = new Dictionary<FieldForm, string>
    {
        [FieldForm.Number] = "26",
        [FieldForm.Date] = "20260311",
    };

    /// <summary>Draws one; null where the maker's builds cannot be written from their fields.</summary>
    /// <param name="draws">The draws.</param>
    /// <param name="catalogue">Makers and models.</param>
    /// <param name="model">The phone's model.</param>
    /// <param name="hasOneThatFits">Whether one of them must fit.</param>
    public static DrawnPackages? Make(Draws draws, ModelCatalogue catalogue, PhoneModel model, bool hasOneThatFits = false)
    {
        if (catalogue.MakerOf(model.Code) is not { Grammar.Template: not null } maker)
            return null;
        var floor = 2 + draws.Below(3);
        if (BuildOf(maker, model, floor) is not { } build)
            return null;
        var known = new Dictionary<FactName, string> { [FactName.Build] = build };
        known[FactName.BootloaderRevision] = known[FactName.RollbackFloor] = floor.ToString(CultureInfo.InvariantCulture);
        var region = maker.Grammar.Read(build)?.Region ?? catalogue.Regions[0].Code;
        known[FactName.Region] = region;
        if (RadioOf(maker, model) is { } own)
            known[FactName.RadioBuild] = own;
        var shelf = new List<ShelfPackage>();
        if (hasOneThatFits || draws.Below(5) > 0)
            Add(model, floor);
        Add(model, floor - 1);
        foreach (var sister in maker.Models.Where(other => other != model && other.PackageKind == model.PackageKind).Take(1))
            Add(sister, floor);
        var stock = model.Partitions.Where(spec => spec is { IsStock: true, Role: PartitionRole.System or PartitionRole.Boot }).ToList();
        if (stock.Count > 0)
            Add(model, floor, one => one with { Without = [draws.Pick(stock).Name], IsProven = false });
        return new DrawnPackages(known, shelf);

        void Add(PhoneModel of, int revision, Func<ShelfPackage, ShelfPackage>? but = null)
        {
            if (BuildOf(maker, of, revision) is not { } its)
                return;
            var says = new Dictionary<string, string> { ["region"] = region };
            if (RadioOf(maker, of) is { } radio)
                says["version-baseband"] = radio;
            shelf.Add((but ?? (one => one))(new ShelfPackage(of.Code, its) { Says = says }));
        }
    }

    // Like the maker's example, for another model and revision; null where that is no build of it.
    private static string? BuildOf(Maker maker, PhoneModel model, int revision) =>
        maker.Grammar.Read(maker.Example) is { } example ? Written(maker.Grammar, field => field.Tells == FactName.ModelCode ? model.Code
                : !example.Fields.TryGetValue(field.Name, out var value) ? null
                : field.Tells == FactName.BootloaderRevision ? revision.ToString(CultureInfo.InvariantCulture).PadLeft(value.Length, '0')
                : value) : null;

    private static string? RadioOf(Maker maker, PhoneModel model) => maker.Radio is { } radio ? Written(radio.Grammar, field => field.Form
                == FieldForm.Code
                    ? model.Code
                : field.Reads is { Count: > 0 } reads ? reads.Keys.First()
                : RadioFields.GetValueOrDefault(field.Form)) : null;

    private static string? Written(BuildGrammar grammar, Func<GrammarField, string?> valueOf)
    {
        var fields = new Dictionary<string, string>(StringComparer.Ordinal);
        foreach (var field in grammar.Fields)
            if (valueOf(field) is { } value)
                fields[field.Name] = value;
        try
        {
            return grammar.Format(fields);
        }
        catch (ArgumentException)
        {
            return null;
        }
    }
}

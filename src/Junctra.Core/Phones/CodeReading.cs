using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>What a typed code turned out to be.</summary>
/// <param name="Model">The model it names, or null when it is unknown.</param>
/// <param name="Build">The build string it is, or null.</param>
/// <param name="Region">The sales region it names, or null.</param>
/// <param name="ProductName">The product name it is, or null; it covers more than one variant, or is not enough by itself.</param>
/// <param name="Near">Codes that are close to it; offered, never applied.</param>
/// <param name="Problem">What is wrong with it, in one sentence, or null.</param>
public sealed record CodeReading(
    PhoneModel? Model,
    BuildReading? Build,
    Region? Region,
    string? ProductName,
    IReadOnlyList<NearCode> Near,
    string? Problem
)
{
    /// <summary>Longest text that is looked at: a whole label may be pasted.</summary>
    public const int MaxCharacters = 400;

    // Three characters of one code taken for their lookalikes; with more it is another code.
    private const int MaxLookalikes = 3;

    private static CodeReading Nothing { get; } = new(null, null, null, null, [], null);

    /// <summary>Whether anything was found in it.</summary>
    public bool IsAnything => Model is not null || Build is not null || Region is not null || ProductName is not null;

    /// <summary>
    /// Reads what somebody typed or pasted: a model code, a build string, a region code, a product name, or the text of a label that
    /// holds some of them. Letter case and blanks do not matter; everything else does: a near hit is never taken for the code.
    /// </summary>
    public static CodeReading Read(string? typed, ModelCatalogue catalogue)
    {
        var text = typed?.Trim() ?? "";
        if (text.Length == 0)
            return Nothing;
        if (text.Length > MaxCharacters)
            return Nothing with { Problem = $"No label is longer than {MaxCharacters} characters. Paste the part with the codes." };
        var whole = ReadOne(text, catalogue);
        if (whole.IsAnything || whole.Problem is not null)
            return whole;
        var label = ReadLabel(text, catalogue);
        if (label.IsAnything || label.Problem is not null)
            return label;

        var near = NearTo(text, catalogue);
        return Nothing with
        {
            Near = near,
            Problem =
                $"{Shorten(text)} is neither a model code, a region code or a product name of the catalogue nor a build string of any maker in it."
                + (
                    near.Count > 0
                        ? $" Close to it: {string.Join(", ", near.Select(code => code.Code))}. Look again at the phone; only you can say which it is."
                        : ""
                ),
        };
    }

    /// <summary>The facts that follow, all with the source of the typed string.</summary>
    public IEnumerable<Fact> Facts(FactSource source, DateTimeOffset at, string recordedBy)
    {
        var from = Build?.Build;
        if (Model is not null)
            yield return new Fact(FactName.ModelCode, Model.Code, source, at, recordedBy, Build?.Model == Model.Code ? from : null);
        if (ProductName is not null)
            yield return new Fact(FactName.ProductName, ProductName, source, at, recordedBy);
        if (Region is not null)
            yield return new Fact(FactName.Region, Region.Code, source, at, recordedBy);
        if (Build is null)
            yield break;
        yield return new Fact(FactName.Build, Build.Build, source, at, recordedBy);
        // What stands beside the build in other words is not said twice; what differs from it stands as a claim of its own.
        foreach (
            var (name, value) in Build.Facts.Where(told =>
                told != (FactName.ModelCode, Model?.Code ?? "") && told != (FactName.Region, Region?.Code ?? "")
            )
        )
            yield return new Fact(name, value, source, at, recordedBy, from);
    }

    private static CodeReading ReadOne(string text, ModelCatalogue catalogue)
    {
        var code = Codes.Normalise(text);
        if (catalogue.Model(code) is { } model)
            return Nothing with { Model = model };
        if (catalogue.Region(code) is { } region)
            return Nothing with { Region = region };
        if (ReadBuild(text, catalogue) is { } build)
            return build;
        var product = catalogue
            .Models.FirstOrDefault(m =>
                m.ProductName.Equals(text, StringComparison.OrdinalIgnoreCase) || Codes.Normalise(m.ProductName) == code
            )
            ?.ProductName;
        return product is null ? Nothing : Nothing with { ProductName = product };
    }

    private static CodeReading? ReadBuild(string text, ModelCatalogue catalogue)
    {
        var builds = catalogue.ReadBuilds(text);
        if (builds.Count == 0)
            return null;
        if (builds.Count > 1)
            return Nothing with
            {
                Problem =
                    $"The build strings of {string.Join(" and ", builds.Select(build => build.Maker))} both read like this. Type the model code.",
            };
        return catalogue.Model(builds[0].Model) is { } known
            ? Nothing with
            {
                Model = known,
                Build = builds[0],
            }
            : Nothing with
            {
                Build = builds[0],
                Problem =
                    $"The build reads as a {builds[0].Maker} {builds[0].Model}, which is not in the catalogue. Add the model, or read the code again.",
            };
    }

    /// <summary>
    /// Looks at each word of a longer text; words that mean nothing are passed over, words that contradict each other are not.
    /// </summary>
    private static CodeReading ReadLabel(string text, ModelCatalogue catalogue)
    {
        var words = text.Split(
            [' ', '\t', '\r', '\n', ',', ';', '|', '(', ')', '"'],
            StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries
        );
        if (words.Length < 2)
            return Nothing;
        var read = words
            .SelectMany(word => new[] { word, word.Split(':', '=')[^1] })
            .Distinct()
            .Where(word => word.Length > 1)
            .Select(word => ReadOne(word, catalogue))
            .Where(one => one.IsAnything)
            .ToList();
        // Three letters of an ordinary word can look like a region; only with a model beside it are they taken for one.
        var models = read.Select(one => one.Model).OfType<PhoneModel>().Distinct().ToList();
        if (models.Count > 1)
            return Nothing with
            {
                Problem =
                    $"The text names {string.Join(" and ", models.Select(model => model.Code))}. Type the one code that this phone has.",
            };
        if (models.Count == 0)
            return Nothing;
        var regions = read.Select(one => one.Region).OfType<Region>().Distinct().ToList();
        if (regions.Count > 1)
            return Nothing with
            {
                Problem =
                    $"The text names the regions {string.Join(" and ", regions.Select(region => region.Code))}. Type the one that this phone has.",
            };
        return Nothing with
        {
            Model = models[0],
            Build = read.FirstOrDefault(one => one.Build is not null)?.Build,
            Region = regions.Count == 1 ? regions[0] : null,
        };
    }

    private static IReadOnlyList<NearCode> NearTo(string text, ModelCatalogue catalogue)
    {
        var candidates = catalogue
            .Models.Select(model => (model.Code, $"{model.ProductName}, {catalogue.MakerOf(model.Code)!.Name}"))
            .Concat(catalogue.Regions.Select(region => (region.Code, $"region of {region.Territory}")))
            .Concat(catalogue.Models.Select(model => model.ProductName).Distinct().Select(name => (name, "product name")));
        return [.. Codes.Near(text, candidates), .. NearBuilds(text, catalogue).Take(2)];
    }

    /// <summary>Build strings that become readable when lookalikes are put in place of each other.</summary>
    private static IEnumerable<NearCode> NearBuilds(string text, ModelCatalogue catalogue)
    {
        if (text.Length > Codes.MaxCharacters)
            yield break;
        var places = Enumerable
            .Range(0, text.Length)
            .Where(i => Codes.LookalikesOf(char.ToUpperInvariant(text[i])).Any())
            .Take(16)
            .ToArray();
        var seen = new HashSet<string>(StringComparer.OrdinalIgnoreCase);
        for (var changes = 1; changes <= MaxLookalikes; changes++)
        {
            foreach (var other in Replaced(text, places, 0, changes))
            {
                if (catalogue.ReadBuilds(other) is not [var build] || catalogue.Model(build.Model) is null || !seen.Add(other))
                    continue;
                yield return new NearCode(
                    other,
                    $"build of {build.Model}",
                    changes * Codes.Confused,
                    Codes.Marks(text.ToUpperInvariant(), other.ToUpperInvariant())
                );
            }

            if (seen.Count > 0)
                yield break;
        }
    }

    private static IEnumerable<string> Replaced(string text, int[] places, int from, int changes)
    {
        if (changes == 0)
        {
            yield return text;
            yield break;
        }

        for (var i = from; i < places.Length; i++)
        {
            foreach (var c in Codes.LookalikesOf(char.ToUpperInvariant(text[places[i]])))
            {
                foreach (var other in Replaced(text[..places[i]] + c + text[(places[i] + 1)..], places, i + 1, changes - 1))
                    yield return other;
            }
        }
    }

    private static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + " …";
}

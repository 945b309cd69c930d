using Junctra.Core.Catalogue;

namespace Junctra.Core.Phones;

/// <summary>What a typed code turned out to be.</summary>
/// <param name="Model">The model it names, or null when it is unknown.</param>
/// <param name="Build">The build string it is, or null.</param>
/// <param name="Problem">What is wrong with it, in one sentence, or null.</param>
public sealed record CodeReading(PhoneModel? Model, BuildReading? Build, string? Problem)
{
    /// <summary>
    /// Reads what somebody typed as a model code or as a build string. Letter case and outer blanks do not matter;
    /// everything else does: a near hit is never taken for the code.
    /// </summary>
    public static CodeReading Read(string? typed, ModelCatalogue catalogue)
    {
        var text = typed?.Trim() ?? "";
        if (text.Length == 0) return new CodeReading(null, null, null);
        if (catalogue.Model(text) is { } model) return new CodeReading(model, null, null);
        if (catalogue.ReadBuild(text) is { } build)
        {
            return catalogue.Model(build.Model) is { } known
                ? new CodeReading(known, build, null)
                : new CodeReading(null, build, $"The build reads as a {build.Maker} {build.Model}, which is not in the catalogue. Add the model, or read the code again.");
        }

        var variants = catalogue.Models.Where(m => m.ProductName.Equals(text, StringComparison.OrdinalIgnoreCase)).Select(m => m.Code).ToList();
        return new CodeReading(null, null, variants.Count > 0
            ? $"{text} is a product name, not a model code: it may be {string.Join(" or ", variants)}. Read the code in the settings or on the label."
            : $"{Shorten(text)} is neither a model code of the catalogue nor a build string of any maker in it.");
    }

    /// <summary>The facts that follow, all with the source of the typed string.</summary>
    public IEnumerable<Fact> Facts(FactSource source, DateTimeOffset at, string recordedBy)
    {
        var from = Build?.Build;
        if (Model is not null) yield return new Fact(FactName.ModelCode, Model.Code, source, at, recordedBy, from);
        if (Build is null) yield break;
        yield return new Fact(FactName.Build, Build.Build, source, at, recordedBy);
        foreach (var (name, value) in Build.Facts.Where(fact => fact.Name != FactName.ModelCode)) yield return new Fact(name, value, source, at, recordedBy, from);
    }

    private static string Shorten(string text) => text.Length <= 40 ? text : text[..40] + " …";
}

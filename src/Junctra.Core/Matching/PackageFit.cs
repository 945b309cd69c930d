using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>A model that a package is for, or seems to be.</summary>
/// <param name="Model">The model.</param>
/// <param name="Verdict">What the rules say that need nothing but the model.</param>
/// <param name="Sentence">Why.</param>
public sealed record ModelFit(PhoneModel Model, Verdict Verdict, string Sentence);

/// <summary>The match from the other side: which models a package fits.</summary>
public static class PackageFit
{
    // What a model alone decides; all else is asked of the phone.
    private static readonly RuleId[] ByModel = [RuleId.Model, RuleId.Chip, RuleId.Carrier, RuleId.Complete, RuleId.Fits];

    /// <summary>
    /// The models that a package names, and those that are easily taken for them: of the same name, or one character away. The best first.
    /// </summary>
    /// <param name="package">The package.</param>
    /// <param name="catalogue">Models.</param>
    /// <param name="around">What else lies in the library.</param>
    public static IReadOnlyList<ModelFit> Models(Package package, ModelCatalogue catalogue, Surroundings? around = null)
    {
        var codes = package.Says(FactName.ModelCode);
        var names = codes.Select(code => catalogue.Model(code)?.ProductName).OfType<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        var models = catalogue.Models.Where(model =>
            codes.Contains(model.Code, StringComparer.OrdinalIgnoreCase)
            || names.Contains(model.ProductName)
            || codes.Any(code => Math.Abs(code.Length - model.Code.Length) <= 1 && Codes.Distance(code.ToUpperInvariant(), model.Code) <= 1)
        );
        // A patched part is looked at as what it is for.
        var policy = MatchPolicy.Careful with
        {
            Goal =
                package.Provenance == Provenance.Patched ? JobGoal.KeepRoot
                : package.BaseBuild is not null ? JobGoal.Update
                : JobGoal.Stock,
        };
        return
        [
            .. models
                .Select(model => Of(package, model, catalogue, policy, around))
                .OrderBy(fit => fit.Verdict)
                .ThenBy(fit => fit.Model.Code, StringComparer.Ordinal),
        ];
    }

    private static ModelFit Of(Package package, PhoneModel model, ModelCatalogue catalogue, MatchPolicy policy, Surroundings? around)
    {
        var phone = new Phone([new Fact(FactName.ModelCode, model.Code, FactSource.Link, DateTimeOffset.UnixEpoch, "")]);
        var c = new MatchCase(phone, package, catalogue, policy, around);
        var judgements = Matcher.Rules.Where(rule => ByModel.Contains(rule.Id)).Select(rule => rule.Judge(c)).ToList();
        var worst = judgements.MaxBy(judgement => judgement.Verdict);
        return new ModelFit(
            model,
            worst.Verdict,
            worst.Verdict == Verdict.Go ? "Made for it, complete, and every image fits." : worst.Sentence
        );
    }
}

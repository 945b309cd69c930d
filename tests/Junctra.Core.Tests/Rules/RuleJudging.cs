using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rules;

/// <summary>What the decision tables of the rules share: a phone of some facts, a package of some lines, one rule's word on both.</summary>
internal static class RuleJudging
{
    /// <summary>The catalogue with a maker that is not in it: for what must hold of other shops' catalogues too.</summary>
    public static ModelCatalogue Wide => OtherCatalogue.WithVelloq;

    /// <summary>A phone of which so much is known; what is null is not.</summary>
    public static Phone Of(params (FactName Name, string? Value)[] facts) =>
        Sample.Phone([.. facts.Where(fact => fact.Value is not null).Select(fact => Sample.Fact(fact.Name, fact.Value!))]);

    /// <summary>A package of a model and a build, with further lines.</summary>
    public static Package PackageOf(string model, string build, string lines = "", bool published = true) =>
        Sample.Set(model, build, lines, published);

    /// <summary>A package of a board that says one thing more.</summary>
    public static Package Saying(string board, string name, params string[] values) =>
        Sample.Package(board: board, build: "none", more: values.Length == 0 ? [] : [new RequirementLine(name, values, true)]);

    /// <summary>What one rule says of a phone and a package.</summary>
    /// <param name="rule">The rule.</param>
    /// <param name="phone">The phone.</param>
    /// <param name="package">The package.</param>
    /// <param name="policy">The shop's; the careful one where it is left out.</param>
    /// <param name="catalogue">The catalogue; the demo's where it is left out.</param>
    /// <param name="library">Other packages that lie beside it.</param>
    public static Judgement Judge(
        IMatchRule rule,
        Phone phone,
        Package package,
        MatchPolicy? policy = null,
        ModelCatalogue? catalogue = null,
        params Package[] library
    ) =>
        rule.Judge(
            new MatchCase(
                phone,
                package,
                catalogue ?? Repo.Catalogue,
                policy ?? MatchPolicy.Careful,
                new Surroundings([package, .. library], catalogue ?? Repo.Catalogue)
            )
        );
}

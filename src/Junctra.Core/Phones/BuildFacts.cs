using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>
/// What a build string says besides itself, as claims of their own with the string's source. They count like any claim: one that differs
/// from what the same place says in other words is a conflict, and is never left out.
/// </summary>
public static class BuildFacts
{
    /// <summary>
    /// A fact, and what follows from it. Out of the build that ran last come only facts that no write can have changed since, such as the
    /// model.
    /// </summary>
    /// <param name="fact">The fact as it was read.</param>
    /// <param name="catalogue">Grammars of the makers.</param>
    public static IEnumerable<Fact> With(Fact fact, ModelCatalogue catalogue) => Following(fact, catalogue).Prepend(fact);

    /// <summary>Facts that were read in one place, and what follows from each; what was read there of its own is not said twice.</summary>
    /// <param name="facts">The facts as they were read.</param>
    /// <param name="catalogue">Grammars of the makers.</param>
    public static IReadOnlyList<Fact> With(IReadOnlyList<Fact> facts, ModelCatalogue catalogue) =>
        [
            .. facts,
            .. facts
                .SelectMany(fact => Following(fact, catalogue))
                .Where(told =>
                    !facts.Any(fact => fact.Name == told.Name && fact.Value.Equals(told.Value, StringComparison.OrdinalIgnoreCase))
                ),
        ];

    private static IEnumerable<Fact> Following(Fact fact, ModelCatalogue catalogue)
    {
        if ((fact.Name != FactName.Build && fact.Name != FactName.LastGoodBuild) || catalogue.ReadBuild(fact.Value) is not { } reading)
            return [];
        return reading
            .Facts.Where(told => fact.Name == FactName.Build || told.Name.Definition.TouchedBy == WriteTouch.None)
            .Select(told => new Fact(told.Name, told.Value, fact.Source, fact.At, fact.RecordedBy, fact.Value));
    }
}

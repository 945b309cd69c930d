using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Triage;

/// <summary>An answer to a check.</summary>
/// <param name="CheckId">The check.</param>
/// <param name="OutcomeId">What came out.</param>
/// <param name="Fact">The fact that answered it, or null where a person did.</param>
public sealed record Observation(string CheckId, string OutcomeId, FactName? Fact = null);

/// <summary>Brings together what people answered and what facts answer by themselves.</summary>
public static class Observations
{
    /// <summary>
    /// All observations of a job: a person's answers, in order, and an answer for every check that facts settle. A fact on which
    /// sources disagree answers nothing. A person's answer goes before a fact's; ids that the tables do not know are left out.
    /// </summary>
    public static IReadOnlyList<Observation> Of(Phone phone, IEnumerable<Observation> answers, TriageTables tables)
    {
        var given = answers
            .Where(answer => tables.Check(answer.CheckId)?.Outcome(answer.OutcomeId) is not null)
            .GroupBy(answer => answer.CheckId)
            .Select(group => group.Last())
            .ToList();
        var told = tables
            .Checks.Where(check => !given.Any(answer => answer.CheckId == check.Id))
            .Select(check => FromFacts(check, phone))
            .OfType<Observation>();
        return [.. told, .. given];
    }

    private static Observation? FromFacts(TriageCheck check, Phone phone)
    {
        var fitting = check
            .Outcomes.SelectMany(outcome =>
                outcome
                    .Facts.Where(fact => phone[fact.Name] is { State: FactState.Known } known && known.Value == fact.Value)
                    .Select(fact => new Observation(check.Id, outcome.Id, fact.Name))
            )
            .ToList();
        // Two facts that answer one check differently settle nothing.
        return fitting.Select(observation => observation.OutcomeId).Distinct().Count() == 1 ? fitting[0] : null;
    }
}

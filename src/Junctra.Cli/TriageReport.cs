using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Triage;

namespace Junctra.Cli;

/// <summary>What observations say is wrong.</summary>
internal sealed record TriageFile(
    string Format,
    int Version,
    IReadOnlyList<ObservedReport> Observed,
    IReadOnlyList<ClassReport> Classes,
    bool IsSettled,
    string Why,
    NextReport? Next,
    WayOutReport? WayOut,
    IReadOnlyList<string> Rules,
    IReadOnlyList<string> Contradictions
)
{
    public static TriageFile Of(Diagnosis found, IReadOnlyList<Observation> observed, TriageTables tables) =>
        new(
            "junctra-triage",
            1,
            [
                .. observed.Select(one => new ObservedReport(
                    one.CheckId,
                    one.OutcomeId,
                    tables.Check(one.CheckId)?.Outcome(one.OutcomeId)?.Label ?? "",
                    one.Fact?.Value
                )),
            ],
            [
                .. found.Candidates.Select(candidate => new ClassReport(
                    candidate.Class.Id,
                    candidate.Class.Label,
                    candidate.Chance,
                    candidate.Class.WayOut.Id
                )),
            ],
            found.IsSettled,
            found.Why,
            found.Next is { } next
                ? new NextReport(
                    next.Check.Id,
                    next.Check.Ask,
                    next.Check.How,
                    next.Check.Minutes,
                    EnumNames.Of(next.Check.Risk),
                    next.Bits,
                    [.. next.Check.Outcomes.Select(outcome => new OutcomeReport(outcome.Id, outcome.Label))]
                )
                : null,
            found.WayOut is { } way ? new WayOutReport(way.Id, way.Title, way.Words, way.Paths, EnumNames.Of(way.Toll)) : null,
            [.. found.Rules.Select(rule => $"{rule.Title}: {rule.Sentence}")],
            [.. found.Contradictions.Select(pair => $"{pair.First.Outcome.Label}, and {pair.Second.Outcome.Label}")]
        );
}

internal sealed record ObservedReport(string Check, string Outcome, string Label, string? FromFact);

internal sealed record ClassReport(string Id, string Label, double Chance, string WayOut);

internal sealed record NextReport(
    string Check,
    string Ask,
    string How,
    double Minutes,
    string Risk,
    double Bits,
    IReadOnlyList<OutcomeReport> Outcomes
);

internal sealed record OutcomeReport(string Id, string Label);

internal sealed record WayOutReport(string Id, string Title, string Words, IReadOnlyList<string> Paths, string Toll);

using Junctra.Core;
using Junctra.Core.Plans;

namespace Junctra.Formats.PlanFiles;

/// <summary>What the rehearsal of a plan found.</summary>
/// <param name="Format"><c>junctra-rehearsal</c>.</param>
/// <param name="Version">1; members may be added, none is taken away.</param>
/// <param name="Title">Name of the plan, or null without one.</param>
/// <param name="Key">Key of the plan.</param>
/// <param name="Twins">How many twins were played.</param>
/// <param name="Steps">What a break in each step would leave.</param>
/// <param name="Fates">What becomes of what is on the phone.</param>
/// <param name="Expectations">What is to be read afterwards.</param>
/// <param name="Refusals">Why there is no plan; empty with one.</param>
public sealed record RehearsalFile(
    string Format,
    int Version,
    string? Title,
    string? Key,
    int Twins,
    IReadOnlyList<RiskReport> Steps,
    IReadOnlyList<FateReport> Fates,
    IReadOnlyList<ExpectationReport> Expectations,
    IReadOnlyList<string> Refusals
)
{
    /// <summary>Makes it.</summary>
    public static RehearsalFile Of(PlanOutcome outcome)
    {
        var plan = outcome.Plan;
        var found = plan?.Rehearsal ?? Rehearsal.None;
        return new RehearsalFile(
            "junctra-rehearsal",
            1,
            plan?.Title,
            plan?.Key,
            found.Branches,
            [
                .. (plan?.Steps ?? [])
                    .Where(step => !step.Act.FollowsTheRun)
                    .SelectMany(step => found.Risks.Where(risk => risk.Step == step.Number).Select(risk => RiskReport.Of(step, risk))),
            ],
            [.. found.Fates.Select(fate => new FateReport(fate.Thing, EnumNames.Of(fate.Kind), fate.Word, fate.Reason))],
            [
                .. found.Expectations.Select(expected => new ExpectationReport(
                    expected.Fact.Value,
                    expected.Value,
                    expected.Why,
                    expected.IsNeeded
                )),
            ],
            outcome.Refusals
        );
    }
}

/// <summary>What a break in a step would leave.</summary>
/// <param name="Number">Number of the step.</param>
/// <param name="Title">What it does.</param>
/// <param name="Partition">Of a step that sends several images, the one whose turn it is.</param>
/// <param name="Risk"><c>safe-to-stop</c>, <c>keys-bring-it-back</c>, <c>only-emergency</c> or <c>not-recoverable</c>.</param>
/// <param name="DataGone">Whether data that were to be kept would be gone.</param>
/// <param name="By">The mistake that does it, or null.</param>
/// <param name="Words">The same in words.</param>
public sealed record RiskReport(int Number, string Title, string? Partition, string Risk, bool DataGone, string? By, string Words)
{
    /// <summary>Makes it.</summary>
    public static RiskReport Of(PlanStep step, StepRisk risk) =>
        new(
            step.Number,
            step.Title,
            risk.Partition,
            EnumNames.Of(risk.Risk),
            risk.DataGone,
            risk.By.Length > 0 ? risk.By : null,
            risk.Words
        );
}

/// <summary>What becomes of a thing.</summary>
/// <param name="Thing">The thing.</param>
/// <param name="Kind"><c>kept</c>, <c>lost</c>, <c>replaced</c>, <c>one-way</c> or <c>unknown</c>.</param>
/// <param name="Word">The same in a word or two.</param>
/// <param name="Reason">Why.</param>
public sealed record FateReport(string Thing, string Kind, string Word, string Reason);

/// <summary>What is to be read afterwards.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Value">The value that it should have.</param>
/// <param name="Why">Where that comes from.</param>
/// <param name="IsNeeded">Whether the phone may go back only once it was read.</param>
public sealed record ExpectationReport(string Fact, string Value, string Why, bool IsNeeded);

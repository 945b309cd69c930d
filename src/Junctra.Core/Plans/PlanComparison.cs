using Junctra.Core.Facts;

namespace Junctra.Core.Plans;

/// <summary>One thing of two plans, side by side.</summary>
/// <param name="Thing">What it is.</param>
/// <param name="Left">How it is by the one.</param>
/// <param name="Right">How it is by the other.</param>
public sealed record ComparedThing(string Thing, string Left, string Right)
{
    /// <summary>Whether the two are not alike.</summary>
    public bool Differs => Left != Right;
}

/// <summary>Two plans for one phone side by side: by two paths, with two packages, or both.</summary>
/// <param name="Costs">What each costs, risks and takes.</param>
/// <param name="Fates">What becomes of everything that a customer cares about.</param>
public sealed record PlanComparison(IReadOnlyList<ComparedThing> Costs, IReadOnlyList<ComparedThing> Fates)
{
    private const string NotTouched = "not touched";

    /// <summary>Compares two plans.</summary>
    public static PlanComparison Of(Plan left, Plan right)
    {
        ComparedThing Thing(string thing, Func<Plan, PlanCost, string> of) =>
            new(thing, of(left, PlanCost.Of(left)), of(right, PlanCost.Of(right)));
        return new(
            [
                Thing("Package", (plan, _) => plan.Package?.Title ?? "none"),
                Thing("Data", (_, cost) => cost.DataWords),
                Thing("Root and custom system", (_, cost) => cost.LosesRoot ? "replaced" : "as they are"),
                Thing("Floor", (plan, cost) => cost.RaisesFloor ? $"rises to {plan.WrittenRevision} for ever" : "stays"),
                Thing("Lock", (_, cost) => cost.ChangesLock ? "is closed" : "stays"),
                Thing("If it breaks", (_, cost) => cost.WorstWords),
                Thing("Must be finished once begun", (plan, _) => Finals(plan)),
                Thing("If it loops", (plan, _) => plan.IfItLoops.Count > 0 ? "the agreed wipe" : "another plan"),
                Thing("Steps", (plan, _) => $"{plan.Steps.Count}"),
                Thing("For hands", (_, cost) =>
                    $"{cost.StepsForHands} {(cost.StepsForHands == 1 ? "step" : "steps")}, {Math.Ceiling(cost.HandsMinutes):0} min"
                ),
                Thing("Sent", (_, cost) => ByteSize.Text(cost.BytesToSend)),
                Thing("Usual time", (_, cost) => $"{Math.Ceiling(cost.Minutes.Typical):0} min"),
                Thing("Slow time", (_, cost) => $"{Math.Ceiling(cost.Minutes.Slow):0} min"),
            ],
            [
                .. left
                    .Rehearsal.Fates.Concat(right.Rehearsal.Fates)
                    .Select(fate => fate.Thing)
                    .Distinct()
                    .Select(thing => new ComparedThing(thing, Fate(left, thing), Fate(right, thing))),
            ]
        );
    }

    private static string Fate(Plan plan, string thing) =>
        plan.Rehearsal.Fates.FirstOrDefault(fate => fate.Thing == thing) is { } fate ? $"{fate.Word}. {fate.Reason}" : NotTouched;

    private static string Finals(Plan plan) =>
        plan.Steps.Where(step => plan.RiskOf(step).IsNoReturn).Select(step => step.Title).ToList() is { Count: > 0 } titles
            ? string.Join("; ", titles)
            : "nothing";
}

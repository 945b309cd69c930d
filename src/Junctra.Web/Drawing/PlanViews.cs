using Junctra.Core.Plans;

namespace Junctra.Web.Drawing;

/// <summary>The steps of a plan as a table.</summary>
/// <param name="Plan">The plan.</param>
/// <param name="Open">Number of the step that is opened into its interruptions; null for none.</param>
/// <param name="Interruptions">What each mistake would do in that step.</param>
/// <param name="Opens">Whether steps can be opened.</param>
public sealed record PlanStepsView(Plan Plan, int? Open, IReadOnlyList<Interruption> Interruptions, bool Opens = true);

/// <summary>A plan drawn: what a break in each step would leave, and what becomes of each partition.</summary>
/// <param name="Risks">Its steps.</param>
/// <param name="Strip">Its partitions.</param>
public sealed record PlanStripsView(RiskStrip Risks, PartitionStrip Strip);

/// <summary>Signals and words of what a plan risks, and of what it leaves.</summary>
public static class PlanWords
{
    /// <summary>Signal of a step's risk.</summary>
    public static string ChipOf(StepRisk risk) => ChipOf(risk.Risk);

    /// <summary>Signal of a risk.</summary>
    public static string ChipOf(RiskKind risk) =>
        risk switch
        {
            RiskKind.SafeToStop => "go",
            RiskKind.KeysBringItBack => "care",
            _ => "stop",
        };

    /// <summary>A step's risk in a word or two.</summary>
    public static string WordOf(StepRisk risk) => WordOf(risk.Risk);

    /// <summary>A risk in a word or two.</summary>
    public static string WordOf(RiskKind risk) =>
        risk switch
        {
            RiskKind.SafeToStop => "safe to stop",
            RiskKind.KeysBringItBack => "keys bring it back",
            RiskKind.OnlyEmergency => "only emergency mode",
            _ => "not recoverable",
        };

    /// <summary>Signal of what becomes of a thing.</summary>
    public static string ChipOf(FateKind kind) =>
        kind switch
        {
            FateKind.Kept => "go",
            FateKind.Replaced => "care",
            FateKind.Unknown => "ask",
            _ => "stop",
        };
}

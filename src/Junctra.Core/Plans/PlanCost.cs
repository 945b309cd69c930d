using Junctra.Core.Catalogue;

namespace Junctra.Core.Plans;

/// <summary>What a plan costs, risks and takes, so that two can be held side by side.</summary>
/// <param name="Data">What becomes of the data.</param>
/// <param name="LosesRoot">Whether root or a custom system goes.</param>
/// <param name="RaisesFloor">Whether the rollback floor rises for ever.</param>
/// <param name="ChangesLock">Whether the lock is changed.</param>
/// <param name="Worst">The worst that a break in any of its steps would leave.</param>
/// <param name="StepsForHands">Steps at which somebody must be there.</param>
/// <param name="HandsMinutes">Minutes of those, typical.</param>
/// <param name="Minutes">Minutes of everything, typical and slow.</param>
/// <param name="BytesToSend">Bytes over the link.</param>
public sealed record PlanCost(
    FateKind Data,
    bool LosesRoot,
    bool RaisesFloor,
    bool ChangesLock,
    RiskKind Worst,
    int StepsForHands,
    double HandsMinutes,
    Band Minutes,
    long BytesToSend
)
{
    private const double SameMinutes = 1;

    /// <summary>The cost of a plan that was rehearsed.</summary>
    public static PlanCost Of(Plan plan)
    {
        var hands = plan.Steps.Where(step => step.Act.WantsHands).ToList();
        return new PlanCost(
            plan.Rehearsal.Fates is [var data, ..] ? data.Kind : FateKind.Unknown,
            plan.WritesSystem && !plan.KeepsRoot,
            plan.RaisesFloor,
            plan.Steps.Any(step => step.Act.ChangesLock),
            plan.Rehearsal.Risks.Select(risk => risk.Risk).DefaultIfEmpty().Max(),
            hands.Count,
            hands.Sum(step => step.Seconds.Typical) / 60,
            new Band(plan.TotalSeconds.Typical / 60, plan.TotalSeconds.Slow / 60),
            plan.BytesToSend
        );
    }

    /// <summary>What becomes of the data, in a word or two.</summary>
    public string DataWords =>
        Data switch
        {
            FateKind.Lost => "erased",
            FateKind.Kept => "kept",
            FateKind.Replaced => "as of the backup",
            _ => "kept if it starts",
        };

    /// <summary>The worst break, in words.</summary>
    public string WorstWords =>
        Worst switch
        {
            RiskKind.SafeToStop => "safe to stop anywhere",
            RiskKind.KeysBringItBack => "keys bring it back from anywhere",
            RiskKind.OnlyEmergency => "in places only emergency mode is left",
            _ => "in places nothing brings it back",
        };

    /// <summary>What this one costs more than another, or less, a few words each; empty where they are alike.</summary>
    public IReadOnlyList<string> Beside(PlanCost other)
    {
        List<string> words = [];
        if (Data != other.Data)
            words.Add($"data {DataWords}");
        if (LosesRoot != other.LosesRoot)
            words.Add(LosesRoot ? "root and custom system are lost" : "root stays as it is");
        if (RaisesFloor != other.RaisesFloor)
            words.Add(RaisesFloor ? "the floor rises for ever" : "the floor stays");
        if (ChangesLock != other.ChangesLock)
            words.Add(ChangesLock ? "the lock is changed" : "the lock stays");
        if (Worst != other.Worst)
            words.Add(WorstWords);
        if (StepsForHands != other.StepsForHands)
            words.Add(
                $"{Math.Abs(StepsForHands - other.StepsForHands)} {(StepsForHands > other.StepsForHands ? "more" : "fewer")} steps for hands"
            );
        var minutes = Minutes.Typical - other.Minutes.Typical;
        if (Math.Abs(minutes) >= SameMinutes)
            words.Add($"about {Math.Abs(minutes):0} min {(minutes > 0 ? "longer" : "shorter")}");
        return words;
    }
}

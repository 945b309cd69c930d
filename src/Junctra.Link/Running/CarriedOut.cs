using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;

namespace Junctra.Link.Running;

/// <summary>Which acts this computer carries out: by itself, over the links that it has, or by hands that it leads.</summary>
public static class CarriedOut
{
    /// <summary>Whether an act of a plan is carried out. What is not is planned and rehearsed, and never begun.</summary>
    public static bool Is(Act act) =>
        act.By switch
        {
            ActBy.Computer => ComputerRunner.Does(act),
            ActBy.Link => DownloadRunner.Does(act)
                || FastbootRunner.Does(act)
                || RecoveryRunner.Does(act)
                || DebuggingRunner.Does(act)
                || EmergencyRunner.Does(act),
            ActBy.Hands => HandsOrder.Leads(act),
            _ => true,
        };
}

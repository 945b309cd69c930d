using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>
/// Carries out the acts of one link, or of this computer. It lives as long as a writer works on a run, and keeps no state of the run.
/// </summary>
internal interface IRunner : IAsyncDisposable
{
    /// <summary>Whether an act is one of its own.</summary>
    bool Carries(Act act);

    /// <summary>Carries out a step, and writes down what the phone accepts as it does.</summary>
    /// <exception cref="LinkException">The phone does not do what it was told.</exception>
    /// <exception cref="WriteRefusedException">Junctra itself refuses to go on.</exception>
    Task CarryOutAsync(PlanStep step, CancellationToken cancel);
}

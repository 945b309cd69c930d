using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>What this computer does alone.</summary>
internal sealed class ComputerRunner(WriteSource? source) : IRunner
{
    public bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act that it does alone.</summary>
    public static bool Does(Act act) => act is VerifyFiles;

    public Task CarryOutAsync(PlanStep step, CancellationToken cancel) =>
        step.Act switch
        {
            VerifyFiles => source!.ReadyAsync(cancel),
            var act => throw new InvalidOperationException($"This computer does not carry out {act.GetType().Name}."),
        };

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;
}

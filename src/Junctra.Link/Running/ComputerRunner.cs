using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>What this computer does alone.</summary>
internal sealed class ComputerRunner(WriteOrder order, WriteSource? source, RunLog log) : IRunner
{
    public bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act that it does alone.</summary>
    public static bool Does(Act act) => act is VerifyFiles or UnpackPart { Archive: not null } or TakeInPatched;

    public Task CarryOutAsync(PlanStep step, CancellationToken cancel) =>
        step.Act switch
        {
            VerifyFiles => source!.ReadyAsync(cancel),
            UnpackPart => source!.PartAsync(cancel),
            TakeInPatched => TakeInAsync(cancel),
            var act => throw new InvalidOperationException($"This computer does not carry out {act.GetType().Name}."),
        };

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task TakeInAsync(CancellationToken cancel)
    {
        if (log.State.Copied.LastOrDefault(copy => copy.FromPhone) is not { } part || order.TakeIn is null || order.KeepFolder is null)
            throw new WriteRefusedException("Nothing was brought back from the phone.", "Begin again: nothing was written.");
        var path = Path.Combine(order.KeepFolder, part.Sha256);
        if (!File.Exists(path))
            throw new WriteRefusedException(
                $"{part.Name}, which was brought back, is no longer here.",
                "Begin again: nothing was written."
            );
        await order.TakeIn(path, Path.GetFileName(part.Name), cancel).ConfigureAwait(false);
    }
}

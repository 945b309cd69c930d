using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;

namespace Junctra.Link.Running;

/// <summary>Carries out acts over the download link: a layout, and whole bundles in one session, the boot chain first.</summary>
internal sealed class DownloadRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : BenchRunner(order, source, catalogue, clocks, log, time)
{
    public override bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act of this link.</summary>
    public static bool Does(Act act) => act is ConfirmTarget { Mode: PhoneMode.Download } or SendBundle or RewriteLayout;

    public override Task CarryOutAsync(PlanStep step, CancellationToken cancel) =>
        step.Act switch
        {
            ConfirmTarget => ConfirmAsync(PhoneMode.Download, cancel),
            SendBundle bundle => SendAsync(step, BySerial, !bundle.HoldsRestart, cancel),
            RewriteLayout layout => LayOutAsync(step, layout, cancel),
            var act => throw NotHere(act),
        };

    private async Task LayOutAsync(PlanStep step, RewriteLayout layout, CancellationToken cancel)
    {
        await using var link = await ConnectAsync(cancel).ConfigureAwait(false);
        await link.BeginAsync(BySerial, [], cancel).ConfigureAwait(false);
        await link.LayOutAsync(layout.Partitions, cancel).ConfigureAwait(false);
        await Log.WriteSaidAsync().ConfigureAwait(false);
        foreach (var touch in layout.Touches)
            await Log.WriteAsync(new PartitionErased(step.Number, touch.Partition)).ConfigureAwait(false);
        await link.EndAsync(false, cancel).ConfigureAwait(false);
    }
}

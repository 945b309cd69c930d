using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>Carries out acts over the link of a custom recovery: a backup goes back, data are saved and brought back.</summary>
internal sealed class RecoveryRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : BenchRunner(order, source, catalogue, clocks, log, time)
{
    private readonly FileCopies copies = new(order, log);

    public override bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act of this link.</summary>
    public static bool Does(Act act) =>
        act
            is ConfirmTarget { Mode: PhoneMode.CustomRecovery }
                or RestoreBackup
                or SaveData { Means: SavingMeans.RecoveryLink }
                or BringBack { Means: SavingMeans.RecoveryLink };

    public override async Task CarryOutAsync(PlanStep step, CancellationToken cancel)
    {
        switch (step.Act)
        {
            case ConfirmTarget:
                await ConfirmAsync(PhoneMode.CustomRecovery, cancel).ConfigureAwait(false);
                break;
            case RestoreBackup:
                await SendAsync(step, BySerial, false, cancel).ConfigureAwait(false);
                break;
            case SaveData:
                await using (var link = await ConnectAsync(cancel).ConfigureAwait(false))
                    await copies.SaveAllAsync(link, step, cancel).ConfigureAwait(false);
                break;
            case BringBack back:
                await using (var link = await ConnectAsync(cancel).ConfigureAwait(false))
                    await copies.BringBackAsync(link, step, back.Saved, cancel).ConfigureAwait(false);
                break;
            default:
                throw NotHere(step.Act);
        }
    }
}

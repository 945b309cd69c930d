using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Link.Running;

/// <summary>
/// Carries out acts over the debugging link of a running system that allows this computer: files are put there and fetched.
/// </summary>
internal sealed class DebuggingRunner(
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
            is ConfirmTarget { Mode: PhoneMode.System }
                or CopyOverDebugging { FileName: not null }
                or CopyToCard { OverLink: true }
                or SaveData { Means: SavingMeans.DebuggingLink }
                or BringBack { Means: SavingMeans.DebuggingLink };

    public override async Task CarryOutAsync(PlanStep step, CancellationToken cancel)
    {
        if (step.Act is ConfirmTarget)
        {
            await ConfirmAsync(PhoneMode.System, cancel).ConfigureAwait(false);
            return;
        }

        await using var link = await ConnectAsync(cancel).ConfigureAwait(false);
        switch (step.Act)
        {
            case CopyOverDebugging { FromPhone: false } put:
                await copies.PutPartAsync(link, step, Source!, put.FileName!, cancel).ConfigureAwait(false);
                break;
            case CopyOverDebugging fetch:
                await copies.FetchMadeOfAsync(link, step, fetch.FileName!, cancel).ConfigureAwait(false);
                break;
            case CopyToCard copy:
                await copies.PutPackageAsync(link, step, Source!, copy, cancel).ConfigureAwait(false);
                break;
            case SaveData:
                await copies.SaveAllAsync(link, step, cancel).ConfigureAwait(false);
                break;
            case BringBack back:
                await copies.BringBackAsync(link, step, back.Saved, cancel).ConfigureAwait(false);
                break;
            default:
                throw NotHere(step.Act);
        }
    }
}

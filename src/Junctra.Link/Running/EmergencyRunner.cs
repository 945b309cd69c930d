using System.Security.Cryptography;
using Junctra.Core.Catalogue;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Link.Bench;

namespace Junctra.Link.Running;

/// <summary>
/// Carries out acts over the link of a chip that answers alone: its loader, then the boot chain and nothing else. It knows no serial: a
/// person has compared the label before.
/// </summary>
internal sealed class EmergencyRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : BenchRunner(order, source, catalogue, clocks, log, time)
{
    private readonly WriteOrder order = order;

    public override bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act of this link.</summary>
    public static bool Does(Act act) => act is SupplyEmergencyLoader { File: not null } or WriteThroughLoader;

    public override Task CarryOutAsync(PlanStep step, CancellationToken cancel) =>
        step.Act switch
        {
            SupplyEmergencyLoader loader => SupplyAsync(step, loader, cancel),
            WriteThroughLoader => SendAsync(step, new BenchTarget(null, null, ChipOf(order.Plan)), true, cancel),
            var act => throw NotHere(act),
        };

    private static string ChipOf(Plan plan) => plan.Steps.Select(step => step.Act).OfType<SupplyEmergencyLoader>().First().Chip;

    private async Task SupplyAsync(PlanStep step, SupplyEmergencyLoader loader, CancellationToken cancel)
    {
        var path = Path.Combine(order.LoaderFolder ?? "", loader.File!);
        if (order.LoaderFolder is null || !File.Exists(path))
            throw new WriteRefusedException(
                $"The loader for {loader.Chip} is not here: {loader.File} does not lie in the shop's folder of loaders.",
                "Nothing was written. Put it there, and begin again."
            );
        await using var file = File.OpenRead(path);
        var digest = Convert.ToHexStringLower(await SHA256.HashDataAsync(file, cancel).ConfigureAwait(false));
        file.Position = 0;
        await using var link = await ConnectAsync(cancel).ConfigureAwait(false);
        await link.SupplyLoaderAsync(file.Length, (stream, token) => new ValueTask(file.CopyToAsync(stream, token)), cancel)
            .ConfigureAwait(false);
        await Log.WriteAsync(new FileCopied(step.Number, loader.File!, file.Length, digest, false)).ConfigureAwait(false);
    }
}

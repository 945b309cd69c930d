using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Formats.Sparse;
using Junctra.Link.Bench;

namespace Junctra.Link.Running;

/// <summary>Carries out acts over the download link: whole bundles, one session, the boot chain first.</summary>
internal sealed class DownloadRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : IRunner
{
    public bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act of this link.</summary>
    public static bool Does(Act act) => act is ConfirmTarget { Mode: PhoneMode.Download } or SendBundle;

    public async Task CarryOutAsync(PlanStep step, CancellationToken cancel)
    {
        switch (step.Act)
        {
            case ConfirmTarget:
                var reading = await BenchClient
                    .ReadAsync(order.Address!.Value, clocks, catalogue, time.GetUtcNow(), "writer", cancel)
                    .ConfigureAwait(false);
                TargetCheck.Hold(reading, order.Plan.Target);
                await log.WriteAsync(new TargetConfirmed(order.Plan.Target)).ConfigureAwait(false);
                break;
            case SendBundle bundle:
                await SendAsync(step, bundle, cancel).ConfigureAwait(false);
                break;
            default:
                throw new InvalidOperationException($"The download link does not carry out {step.Act.GetType().Name}.");
        }
    }

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    private async Task SendAsync(PlanStep step, SendBundle bundle, CancellationToken cancel)
    {
        await using var link = await DownloadClient.ConnectAsync(order.Address!.Value, clocks, cancel).ConfigureAwait(false);
        link.Said += log.Hear;
        await link.BeginAsync(
                order.Plan.Target.Serial!,
                order.Plan.Target.ModelCode,
                bundle.Images.Select(image => new AnnouncedImage(image.Partition, image.Sha256)),
                cancel
            )
            .ConfigureAwait(false);
        foreach (var image in bundle.Images)
            await SendAsync(link, step, image, cancel).ConfigureAwait(false);
        await link.EndAsync(!bundle.HoldsRestart, cancel).ConfigureAwait(false);
        if (!bundle.HoldsRestart)
            await log.WriteAsync(new RestartAsked(step.Number, false)).ConfigureAwait(false);
    }

    private async Task SendAsync(DownloadClient link, PlanStep step, PlannedImage planned, CancellationToken cancel)
    {
        var image = WriteSource.Find(order.Package!, planned);
        await using var from = source!.Open(image);
        var pieces = await SparsePieces
            .PlanAsync(from, image.Body.Format, image.Body.Bytes, link.MaxPieceBytes, cancel)
            .ConfigureAwait(false);
        long before = 0;
        for (var i = 0; i < pieces.Count; i++)
        {
            var piece = pieces[i];
            var start = before;
            await link.SendPieceAsync(
                    planned.Partition,
                    piece.Bytes,
                    async (stream, token) =>
                    {
                        var counted = new CountingStream(stream, sent =>
                            log.TellAsync(
                                step.Number,
                                planned.Partition,
                                Math.Min(planned.Bytes, start + (long)((double)sent / piece.Bytes * (piece.SourceEnd - start)))
                            )
                        );
                        await SparsePieces.WriteAsync(piece, from, counted, token).ConfigureAwait(false);
                    },
                    cancel
                )
                .ConfigureAwait(false);
            await log.WriteAsync(new WriteAsked(step.Number, i + 1, pieces.Count, planned.Partition)).ConfigureAwait(false);
            await link.WriteAsync(planned.Partition, piece.Bytes, cancel).ConfigureAwait(false);
            before = Math.Max(before, piece.SourceEnd);
            await log.WriteSaidAsync().ConfigureAwait(false);
            await log.WriteAsync(new PieceAccepted(step.Number, i + 1, pieces.Count, piece.Bytes, planned.Partition)).ConfigureAwait(false);
        }

        await log.WriteAsync(new ImageAccepted(step.Number, planned.Partition, image.Body.Sha256)).ConfigureAwait(false);
    }
}

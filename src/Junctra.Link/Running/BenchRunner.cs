using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Formats.Sparse;
using Junctra.Link.Bench;

namespace Junctra.Link.Running;

/// <summary>
/// What the runners of the links in Junctra's own protocol share: the target is confirmed by what the mode can tell, and images go in one
/// session, in pieces.
/// </summary>
internal abstract class BenchRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : IRunner
{
    public abstract bool Carries(Act act);

    public abstract Task CarryOutAsync(PlanStep step, CancellationToken cancel);

    public ValueTask DisposeAsync() => ValueTask.CompletedTask;

    protected RunLog Log => log;

    protected WriteSource? Source => source;

    protected PlanTarget Target => order.Plan.Target;

    /// <summary>The phone as a mode names it that knows serial and model.</summary>
    protected BenchTarget BySerial => new(Target.Serial ?? log.State.ToldSerial, Target.ModelCode);

    protected async Task<BenchSession> ConnectAsync(CancellationToken cancel)
    {
        var link = await BenchSession.ConnectAsync(order.Address!.Value, clocks, cancel).ConfigureAwait(false);
        link.Said += log.Hear;
        return link;
    }

    /// <summary>Reads the phone again and holds what it says against what was judged.</summary>
    /// <param name="mode">The mode in which it must be.</param>
    /// <param name="cancel">Cancels.</param>
    protected async Task ConfirmAsync(PhoneMode mode, CancellationToken cancel)
    {
        var reading = await BenchClient
            .ReadAsync(order.Address!.Value, clocks, catalogue, time.GetUtcNow(), "writer", cancel)
            .ConfigureAwait(false);
        var told = reading[FactName.Serial];
        // Of a phone that told nothing before, what its label says was typed, and is held against what it tells now.
        var serial = Target.Serial ?? (log.State.TypedSerial is { } typed && !IsSame(typed, told) ? typed : told);
        TargetCheck.Hold(reading, Target with { Serial = serial }, mode);
        TargetCheck.HoldFloor(reading, order.Plan);
        // What the mode does not tell was not confirmed.
        await log.WriteAsync(
                new TargetConfirmed(
                    Target with
                    {
                        Serial = serial,
                        LockState = reading[FactName.LockState] is null ? null : Target.LockState,
                        RollbackFloor = reading[FactName.RollbackFloor] is null ? null : Target.RollbackFloor,
                    }
                )
            )
            .ConfigureAwait(false);
    }

    private static bool IsSame(string typed, string? told) => told is not null && TypedSerial.Plain(typed) == TypedSerial.Plain(told);

    /// <summary>Sends images in one session, and writes down what the phone accepts.</summary>
    protected async Task SendAsync(PlanStep step, BenchTarget target, bool restarts, CancellationToken cancel)
    {
        await using var link = await ConnectAsync(cancel).ConfigureAwait(false);
        var images = step.Act.Sends;
        await link.BeginAsync(target, images.Select(image => new AnnouncedImage(image.Partition, image.Sha256)), cancel)
            .ConfigureAwait(false);
        foreach (var image in images)
            await SendAsync(link, step, image, cancel).ConfigureAwait(false);
        await link.EndAsync(restarts, cancel).ConfigureAwait(false);
        if (restarts)
            await log.WriteAsync(new RestartAsked(step.Number, false)).ConfigureAwait(false);
    }

    private async Task SendAsync(BenchSession link, PlanStep step, PlannedImage planned, CancellationToken cancel)
    {
        var (image, from) = source!.Open(planned);
        await using var opened = from;
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

    protected static InvalidOperationException NotHere(Act act) => new($"This link does not carry out {act.GetType().Name}.");
}

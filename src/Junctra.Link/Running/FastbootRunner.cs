using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Formats.Sparse;
using Junctra.Link.Fastboot;

namespace Junctra.Link.Running;

/// <summary>Carries out acts over the open fastboot protocol.</summary>
internal sealed class FastbootRunner(
    WriteOrder order,
    WriteSource? source,
    ModelCatalogue catalogue,
    LinkClocks clocks,
    RunLog log,
    TimeProvider time
) : IRunner
{
    // Soon at first, then less often: a phone is back within a blink or within half a minute.
    private static readonly TimeSpan FirstKnock = TimeSpan.FromMilliseconds(20);
    private static readonly TimeSpan KnockEvery = TimeSpan.FromMilliseconds(200);
    private FastbootClient? link;

    public bool Carries(Act act) => Does(act);

    /// <summary>Whether it is an act of this link.</summary>
    public static bool Does(Act act) =>
        act
            is ConfirmTarget { Mode: PhoneMode.Fastboot }
                or WriteImage { Mode: null or PhoneMode.RecoveryCommands }
                or ErasePartition
                or RestartInto;

    public async Task CarryOutAsync(PlanStep step, CancellationToken cancel)
    {
        link ??= await ConnectAsync(cancel).ConfigureAwait(false);
        switch (step.Act)
        {
            case ConfirmTarget:
                var reading = await PhoneReader.ReadAsync(link, catalogue, time.GetUtcNow(), "writer", cancel).ConfigureAwait(false);
                TargetCheck.Hold(reading, order.Plan.Target, PhoneMode.Fastboot);
                await log.WriteAsync(new TargetConfirmed(order.Plan.Target)).ConfigureAwait(false);
                break;
            case WriteImage write:
                await WriteAsync(step, write.Image, cancel).ConfigureAwait(false);
                break;
            case ErasePartition erase:
                var size = catalogue.Model(order.Plan.Target.ModelCode)?.Partition(erase.Partition)?.SizeBytes ?? 0;
                await link.EraseAsync(erase.Partition, size, cancel).ConfigureAwait(false);
                await log.WriteAsync(new PartitionErased(step.Number, erase.Partition)).ConfigureAwait(false);
                break;
            case RestartInto restart:
                await link.RestartAsync(restart.CommandId, cancel).ConfigureAwait(false);
                await log.WriteAsync(new RestartAsked(step.Number, restart.ToBootloader)).ConfigureAwait(false);
                if (restart.Answers)
                    await AwaitPhoneAsync(step, restart, cancel).ConfigureAwait(false);
                break;
            default:
                throw new InvalidOperationException($"The fastboot link does not carry out {step.Act.GetType().Name}.");
        }
    }

    public async ValueTask DisposeAsync()
    {
        if (link is not null)
            await link.DisposeAsync().ConfigureAwait(false);
        link = null;
    }

    private async Task WriteAsync(PlanStep step, PlannedImage planned, CancellationToken cancel)
    {
        var told = await link!.GetVariableAsync("max-download-size", cancel).ConfigureAwait(false);
        // A bootloader that names no limit takes what its 32-bit length can say; none can take more.
        var most =
            told is null ? uint.MaxValue
            : FactValues.Size(told) is { } size ? Math.Min(size, uint.MaxValue)
            : throw new LinkException(LinkFault.NotUnderstood, $"The phone says it takes “{told}” bytes at once, which is no size.");
        var (image, from) = source!.Open(planned);
        await using var opened = from;
        var pieces = await SparsePieces.PlanAsync(from, image.Body.Format, image.Body.Bytes, most, cancel).ConfigureAwait(false);
        long before = 0;
        for (var i = 0; i < pieces.Count; i++)
        {
            var piece = pieces[i];
            var start = before;
            await link.DownloadAsync(
                    piece.Bytes,
                    async (stream, token) =>
                    {
                        var counted = new CountingStream(stream, sent =>
                            log.TellAsync(
                                step.Number,
                                null,
                                Math.Min(step.Bytes, start + (long)((double)sent / piece.Bytes * (piece.SourceEnd - start)))
                            )
                        );
                        await SparsePieces.WriteAsync(piece, from, counted, token).ConfigureAwait(false);
                    },
                    cancel
                )
                .ConfigureAwait(false);
            await log.WriteAsync(new WriteAsked(step.Number, i + 1, pieces.Count)).ConfigureAwait(false);
            await link.FlashAsync(planned.Partition, piece.Bytes, cancel).ConfigureAwait(false);
            before = Math.Max(before, piece.SourceEnd);
            await log.WriteSaidAsync().ConfigureAwait(false);
            await log.WriteAsync(new PieceAccepted(step.Number, i + 1, pieces.Count, piece.Bytes)).ConfigureAwait(false);
        }

        await log.WriteAsync(new ImageAccepted(step.Number, planned.Partition, image.Body.Sha256)).ConfigureAwait(false);
    }

    private async Task AwaitPhoneAsync(PlanStep step, RestartInto restart, CancellationToken cancel)
    {
        await DisposeAsync().ConfigureAwait(false);
        var began = time.GetTimestamp();
        var pause = FirstKnock;
        var serialVariable = catalogue
            .MakerOf(order.Plan.Target.ModelCode)
            ?.LinkVariables.FirstOrDefault(v => v.Fact == FactName.Serial)
            ?.Variable
            ?? "serialno";
        while (true)
        {
            try
            {
                link = await ConnectAsync(cancel).ConfigureAwait(false);
                var serial = await link.GetVariableAsync(serialVariable, cancel).ConfigureAwait(false);
                if (serial != order.Plan.Target.Serial)
                    throw new WriteRefusedException(
                        $"After the restart another phone answers: serial {serial ?? "not told"} instead of {order.Plan.Target.Serial}.",
                        "Connect the right phone again, and write again from the start."
                    );
                var isInRecovery = await link.GetVariableAsync("is-userspace", cancel).ConfigureAwait(false) is "yes";
                if (isInRecovery != restart.ToCommandMode)
                    throw new WriteRefusedException(
                        $"After the restart the phone is in {(isInRecovery ? PhoneMode.RecoveryCommands : PhoneMode.Fastboot).Label()}, not in {(restart.ToCommandMode ? PhoneMode.RecoveryCommands : PhoneMode.Fastboot).Label()}.",
                        RunAdvice.Again(log.State)
                    );
                await log.WriteAsync(new PhoneBack(step.Number, serial!)).ConfigureAwait(false);
                return;
            }
            catch (LinkException) when (time.GetElapsedTime(began) < clocks.Restart)
            {
                await DisposeAsync().ConfigureAwait(false);
                await Task.Delay(pause, time, cancel).ConfigureAwait(false);
                pause = pause * 2 < KnockEvery ? pause * 2 : KnockEvery;
            }
        }
    }

    private async Task<FastbootClient> ConnectAsync(CancellationToken cancel)
    {
        var client = await FastbootClient.ConnectAsync(order.Address!.Value, clocks, cancel).ConfigureAwait(false);
        client.Said += log.Hear;
        return client;
    }
}

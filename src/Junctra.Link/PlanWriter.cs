using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Planning;
using Junctra.Core.Runs;
using Junctra.Formats.Sparse;
using Junctra.Link.Fastboot;

namespace Junctra.Link;

/// <summary>What a writer works with.</summary>
/// <param name="Plan">The frozen plan.</param>
/// <param name="Package">The package it was made for.</param>
/// <param name="PackagePath">Its file on this computer.</param>
/// <param name="Address">Where the phone answers.</param>
/// <param name="Unpack">Gives unpacked images that are shared with others; without it they are unpacked for this write alone.</param>
/// <param name="WorkFolder">Where they are unpacked to in that case; the system's own place for such files when null.</param>
public sealed record WriteOrder(Plan Plan, Package Package, string PackagePath, LinkAddress Address, UnpackImages? Unpack = null, string? WorkFolder = null);

/// <summary>Gives files with images that do not lie plainly in a package file.</summary>
/// <param name="package">The package.</param>
/// <param name="packagePath">Its file.</param>
/// <param name="images">The images.</param>
/// <param name="cancel">Cancels.</param>
/// <returns>Path of each by the digest of the image; the writer holds each against that digest itself.</returns>
public delegate Task<IReadOnlyDictionary<string, string>> UnpackImages(Package package, string packagePath, IEnumerable<PackageImage> images, CancellationToken cancel);

/// <summary>
/// Carries out a plan over the link, and writes down everything before it goes on. A run is carried out once: whatever
/// breaks ends it, and a person decides what follows.
/// </summary>
/// <param name="catalogue">Models and figures.</param>
/// <param name="clocks">When silence becomes a fault.</param>
/// <param name="journal">Writes an event down; returns once it is safe.</param>
/// <param name="time">Clock for waits and for thinning out progress.</param>
/// <param name="stopAsked">Who has asked to stop after the image at hand, or null when nobody has; asked between steps.</param>
public sealed class PlanWriter(
    ModelCatalogue catalogue, LinkClocks clocks, Func<RunEvent, ValueTask> journal, TimeProvider time, Func<ValueTask<string?>>? stopAsked = null)
{
    private static readonly TimeSpan ProgressEvery = TimeSpan.FromMilliseconds(250);
    private static readonly TimeSpan KnockEvery = TimeSpan.FromMilliseconds(200);

    /// <summary>Words of the phone that are kept for one step; a chatty peer must not fill the journal.</summary>
    private const int MostSaid = 20;

    private readonly List<string> said = [];
    private FastbootClient? link;
    private Task telling = Task.CompletedTask;
    private bool touched;
    private bool inDoubt;
    private long lastTold;
    private long sentInStep;

    /// <summary>Carries out a plan up to its last restart. Ends with <see cref="RunFinished"/>, <see cref="RunStopped"/> or
    /// <see cref="RunFailed"/> in the journal.</summary>
    /// <param name="order">Plan, package and phone.</param>
    /// <param name="cancel">Cancels: this computer stops. That too is written down as a failure.</param>
    public async Task RunAsync(WriteOrder order, CancellationToken cancel = default)
    {
        PlanStep? at = null;
        (touched, inDoubt) = (false, false);
        try
        {
            await using var source = new WriteSource(order.PackagePath, order.Unpack, order.WorkFolder ?? Path.GetTempPath());
            foreach (var step in order.Plan.Steps.Where(step => step.Kind is not (StepKind.FirstBoot or StepKind.Check)))
            {
                // Whatever belongs to a boot chain is finished, its restart too.
                if (step.MayStopBefore && at is not { NoReturn: true } && stopAsked is not null && await stopAsked().ConfigureAwait(false) is { } by)
                {
                    await WriteDownAsync(new RunStopped(by, touched
                        ? "Leave the phone in its bootloader. Read it again, and write again from the start: a phone that is written in part may not start."
                        : "Nothing was written. Begin again when you are ready.")).ConfigureAwait(false);
                    return;
                }

                at = step;
                sentInStep = 0;
                await WriteDownAsync(new StepStarted(step.Number, step.Title)).ConfigureAwait(false);
                await CarryOutAsync(order, step, source, cancel).ConfigureAwait(false);
                await WriteDownSaidAsync().ConfigureAwait(false);
                await WriteDownAsync(new StepDone(step.Number)).ConfigureAwait(false);
            }

            await WriteDownAsync(new RunFinished()).ConfigureAwait(false);
        }
        catch (Exception error) when (error is LinkException or WriteRefusedException or IOException or InvalidDataException or FormatException or OperationCanceledException or UnauthorizedAccessException)
        {
            await WriteDownSaidAsync().ConfigureAwait(false);
            // Progress is thinned out; how far the last image came is worth its line now.
            if (sentInStep > 0) await WriteDownAsync(new BytesSent(at!.Number, sentInStep)).ConfigureAwait(false);
            await WriteDownAsync(WriteFailure.Describe(error, at, touched, inDoubt, sentInStep)).ConfigureAwait(false);
        }
        finally
        {
            if (link is not null) await link.DisposeAsync().ConfigureAwait(false);
        }
    }

    private async Task CarryOutAsync(WriteOrder order, PlanStep step, WriteSource source, CancellationToken cancel)
    {
        switch (step.Kind)
        {
            case StepKind.Verify:
                await source.PrepareAsync(order.Package, order.Plan.Steps.Where(s => s.Kind == StepKind.Write).Select(s => order.Package.Image(s.Partition!)!), cancel).ConfigureAwait(false);
                break;
            case StepKind.Reread:
                link = await ConnectAsync(order.Address, cancel).ConfigureAwait(false);
                await ConfirmTargetAsync(order.Plan.Target, cancel).ConfigureAwait(false);
                break;
            case StepKind.Write:
                await WriteImageAsync(step, order.Package.Image(step.Partition!)!, source, cancel).ConfigureAwait(false);
                break;
            case StepKind.Erase:
                var size = catalogue.Model(order.Plan.Target.ModelCode)?.Partition(step.Partition!)?.SizeBytes ?? 0;
                (touched, inDoubt) = (true, true);
                await link!.EraseAsync(step.Partition!, size, cancel).ConfigureAwait(false);
                inDoubt = false;
                await WriteDownAsync(new PartitionErased(step.Number, step.Partition!)).ConfigureAwait(false);
                break;
            case StepKind.RestartBootloader:
                await link!.RestartAsync(toBootloader: true, cancel).ConfigureAwait(false);
                await WriteDownAsync(new RestartAsked(step.Number, true)).ConfigureAwait(false);
                await AwaitPhoneAsync(order, step, cancel).ConfigureAwait(false);
                break;
            case StepKind.RestartSystem:
                await link!.RestartAsync(toBootloader: false, cancel).ConfigureAwait(false);
                await WriteDownAsync(new RestartAsked(step.Number, false)).ConfigureAwait(false);
                break;
            default:
                throw new InvalidOperationException($"A writer does not carry out {step.Kind}.");
        }
    }

    private async Task ConfirmTargetAsync(PlanTarget judged, CancellationToken cancel)
    {
        var reading = await PhoneReader.ReadAsync(link!, catalogue, time.GetUtcNow(), "writer", cancel).ConfigureAwait(false);
        var differences = new List<string>();
        Compare(FactName.Serial, judged.Serial);
        Compare(FactName.ModelCode, judged.ModelCode);
        Compare(FactName.LockState, judged.LockState);
        if (judged.RollbackFloor is { } floor) Compare(FactName.RollbackFloor, floor.ToString());
        if (differences.Count > 0)
            throw new WriteRefusedException($"This is not the phone that was judged: {string.Join("; ", differences)}.", "Nothing was written. Connect the right phone, or read this one and match again.");
        await WriteDownAsync(new TargetConfirmed(judged)).ConfigureAwait(false);

        void Compare(FactName name, string expected)
        {
            if (!string.Equals(reading[name], expected, StringComparison.OrdinalIgnoreCase))
                differences.Add($"{name.Label.ToLowerInvariant()} is {reading[name] ?? "not told"}, judged was {expected}");
        }
    }

    private async Task WriteImageAsync(PlanStep step, PackageImage image, WriteSource from, CancellationToken cancel)
    {
        var said = await link!.GetVariableAsync("max-download-size", cancel).ConfigureAwait(false);
        // A bootloader that names no limit takes what its 32-bit length can say; none can take more.
        var most = said is null ? uint.MaxValue : FactValues.Size(said) is { } size ? Math.Min(size, uint.MaxValue)
            : throw new LinkException(LinkFault.NotUnderstood, $"The phone says it takes “{said}” bytes at once, which is no size.");
        await using var source = from.Open(image);
        var pieces = await SparsePieces.PlanAsync(source, image.Body.Format, image.Body.Bytes, most, cancel).ConfigureAwait(false);
        long before = 0;
        for (var i = 0; i < pieces.Count; i++)
        {
            var piece = pieces[i];
            var start = before;
            await link.DownloadAsync(piece.Bytes, async (stream, token) =>
            {
                var counted = new CountingStream(stream, sent => TellAsync(step, start + (long)((double)sent / piece.Bytes * (piece.SourceEnd - start))));
                await SparsePieces.WriteAsync(piece, source, counted, token).ConfigureAwait(false);
            }, cancel).ConfigureAwait(false);
            await WriteDownAsync(new WriteAsked(step.Number, i + 1, pieces.Count)).ConfigureAwait(false);
            (touched, inDoubt) = (true, true);
            await link.FlashAsync(step.Partition!, piece.Bytes, cancel).ConfigureAwait(false);
            inDoubt = false;
            before = Math.Max(before, piece.SourceEnd);
            await WriteDownSaidAsync().ConfigureAwait(false);
            await WriteDownAsync(new PieceAccepted(step.Number, i + 1, pieces.Count, piece.Bytes)).ConfigureAwait(false);
        }

        await WriteDownAsync(new ImageAccepted(step.Number, step.Partition!, image.Body.Sha256)).ConfigureAwait(false);
    }

    private async ValueTask TellAsync(PlanStep step, long sent)
    {
        sentInStep = Math.Min(sent, step.Bytes);
        var now = time.GetTimestamp();
        if (lastTold != 0 && time.GetElapsedTime(lastTold, now) < ProgressEvery) return;
        lastTold = now;
        // Bytes under way are worth a line, not a wait: what the phone accepted is written down in its place all the same.
        if (telling.IsCompletedSuccessfully) telling = journal(new BytesSent(step.Number, sentInStep)).AsTask();
        else if (telling.IsCompleted) await telling.ConfigureAwait(false);
    }

    /// <summary>Writes an event down after all that was told before it.</summary>
    private async ValueTask WriteDownAsync(RunEvent what)
    {
        await telling.ConfigureAwait(false);
        await journal(what).ConfigureAwait(false);
    }

    private async Task AwaitPhoneAsync(WriteOrder order, PlanStep step, CancellationToken cancel)
    {
        await link!.DisposeAsync().ConfigureAwait(false);
        link = null;
        var began = time.GetTimestamp();
        var serialVariable = catalogue.MakerOf(order.Plan.Target.ModelCode)?.LinkVariables.FirstOrDefault(v => v.Fact == FactName.Serial)?.Variable ?? "serialno";
        while (true)
        {
            try
            {
                link = await ConnectAsync(order.Address, cancel).ConfigureAwait(false);
                var serial = await link.GetVariableAsync(serialVariable, cancel).ConfigureAwait(false);
                if (serial != order.Plan.Target.Serial)
                    throw new WriteRefusedException($"After the restart another phone answers: serial {serial ?? "not told"} instead of {order.Plan.Target.Serial}.", "Connect the right phone again, and write again from the start.");
                await WriteDownAsync(new PhoneBack(step.Number, serial)).ConfigureAwait(false);
                return;
            }
            catch (LinkException) when (time.GetElapsedTime(began) < clocks.Restart)
            {
                if (link is not null) await link.DisposeAsync().ConfigureAwait(false);
                link = null;
                await Task.Delay(KnockEvery, time, cancel).ConfigureAwait(false);
            }
        }
    }

    private async Task WriteDownSaidAsync()
    {
        foreach (var text in said) await WriteDownAsync(new PhoneSaid(text)).ConfigureAwait(false);
        said.Clear();
    }

    private async Task<FastbootClient> ConnectAsync(LinkAddress address, CancellationToken cancel)
    {
        var client = await FastbootClient.ConnectAsync(address, clocks, cancel).ConfigureAwait(false);
        client.Said += text =>
        {
            if (said.Count < MostSaid) said.Add(text);
        };
        return client;
    }
}

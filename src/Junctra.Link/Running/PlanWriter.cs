using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;

namespace Junctra.Link.Running;

/// <summary>A package of a plan, and its file on this computer.</summary>
/// <param name="Package">The package.</param>
/// <param name="Path">Its file.</param>
public sealed record PackageFile(Package Package, string Path);

/// <summary>What a writer works with.</summary>
/// <param name="Plan">The frozen plan.</param>
/// <param name="Files">The packages it was made for, in its order; none for a plan that takes none.</param>
/// <param name="Address">Where the phone answers; null for a plan that needs no link.</param>
/// <param name="Unpack">Gives unpacked images that are shared with others; without it they are unpacked for this write alone.</param>
/// <param name="WorkFolder">Where they are unpacked to in that case; the system's own place for such files when null.</param>
public sealed record WriteOrder(
    Plan Plan,
    IReadOnlyList<PackageFile> Files,
    LinkAddress? Address,
    UnpackImages? Unpack = null,
    string? WorkFolder = null
)
{
    /// <summary>What the journal already holds, of a run that hands have gone on with.</summary>
    public IReadOnlyList<JournalEntry> Before { get; init; } = [];

    /// <summary>Where files that are fetched from the phone are kept, each under its digest; null where none may be.</summary>
    public string? KeepFolder { get; init; }

    /// <summary>
    /// Where files lie that an earlier run has saved, by the name that the plan gives their folder; null where none are kept.
    /// </summary>
    public Func<string, string>? SavedFolder { get; init; }

    /// <summary>The shop's folder of loaders; null where it has none.</summary>
    public string? LoaderFolder { get; init; }

    /// <summary>Takes a file that was fetched into the library, under a name; null where there is none.</summary>
    public Func<string, string, CancellationToken, Task>? TakeIn { get; init; }
}

/// <summary>Gives files with images that do not lie plainly in a package file.</summary>
/// <param name="package">The package.</param>
/// <param name="packagePath">Its file.</param>
/// <param name="images">The images.</param>
/// <param name="cancel">Cancels.</param>
/// <returns>Path of each by the digest of the image; the writer holds each against that digest itself.</returns>
public delegate Task<IReadOnlyDictionary<string, string>> UnpackImages(
    Package package,
    string packagePath,
    IEnumerable<PackageImage> images,
    CancellationToken cancel
);

/// <summary>
/// Carries out a plan, and writes down everything before it goes on. It knows acts and runners, and no protocol. A run is carried out once:
/// whatever breaks ends it, and a person decides what follows. A step for hands lets go of the run; a person's word queues it again.
/// </summary>
/// <param name="catalogue">Models and figures.</param>
/// <param name="clocks">When silence becomes a fault.</param>
/// <param name="journal">Writes an event down; returns once it is safe.</param>
/// <param name="time">Clock for waits and for thinning out progress.</param>
/// <param name="stopAsked">Who has asked to stop after the image at hand, or null when nobody has; asked between steps.</param>
public sealed class PlanWriter(
    ModelCatalogue catalogue,
    LinkClocks clocks,
    Func<RunEvent, ValueTask> journal,
    TimeProvider time,
    Func<ValueTask<string?>>? stopAsked = null
)
{
    /// <summary>Carries out a plan up to its last restart, or to the next step for hands. Ends with <see cref="RunFinished"/>, <see cref="HandsWanted"/>,
    /// <see cref="RunStopped"/> or <see cref="RunFailed"/> in the journal.</summary>
    /// <param name="order">Plan, package and phone.</param>
    /// <param name="cancel">Cancels: this computer stops. That too is written down as a failure.</param>
    public async Task RunAsync(WriteOrder order, CancellationToken cancel = default)
    {
        var log = new RunLog(order.Plan, order.Before, journal, time);
        List<IRunner> runners = [];
        try
        {
            await using var source = order.Files.Count == 0 ? null : new WriteSource(order);
            runners =
            [
                new ComputerRunner(order, source, log),
                new FastbootRunner(order, source, catalogue, clocks, log, time),
                new DownloadRunner(order, source, catalogue, clocks, log, time),
                new RecoveryRunner(order, source, catalogue, clocks, log, time),
                new DebuggingRunner(order, source, catalogue, clocks, log, time),
                new EmergencyRunner(order, source, catalogue, clocks, log, time),
            ];
            foreach (var step in order.Plan.Steps.Where(step => !step.Act.FollowsTheRun && !log.State.Done.Contains(step.Number)))
            {
                // Whatever belongs to a boot chain is finished, its restart too.
                if (step.MayStopBefore && stopAsked is not null && await stopAsked().ConfigureAwait(false) is { } by)
                {
                    await log.WriteAsync(
                            new RunStopped(
                                by,
                                log.State.HasTouchedPhone
                                    ? $"Leave the phone in {log.State.Mode}. Read it again, and write again from the start: a phone that is written in part may not start."
                                    : "Nothing was written. Begin again when you are ready."
                            )
                        )
                        .ConfigureAwait(false);
                    return;
                }

                if (step.Act.By == ActBy.Hands)
                {
                    if (!await HandsAreDoneAsync(log, step).ConfigureAwait(false))
                        return;
                    continue;
                }

                await log.WriteAsync(new StepStarted(step.Number, step.Title)).ConfigureAwait(false);
                var runner = runners.FirstOrDefault(one => one.Carries(step.Act))
                    ?? throw new InvalidOperationException($"No runner carries out {step.Act.GetType().Name}.");
                // What was verified before hands were waited for is verified again.
                if (source is not null && step.Act.ReadsPackage)
                    await source.ReadyAsync(cancel).ConfigureAwait(false);
                await runner.CarryOutAsync(step, cancel).ConfigureAwait(false);
                await log.WriteSaidAsync().ConfigureAwait(false);
                await log.WriteAsync(new StepDone(step.Number)).ConfigureAwait(false);
            }

            await log.WriteAsync(new RunFinished()).ConfigureAwait(false);
        }
        catch (Exception error)
            when (error
                    is LinkException
                        or WriteRefusedException
                        or IOException
                        or InvalidDataException
                        or FormatException
                        or OperationCanceledException
                        or UnauthorizedAccessException
            )
        {
            await log.WriteHowFarAsync().ConfigureAwait(false);
            await log.WriteAsync(WriteFailure.Describe(error, log.State, log.SentInImage)).ConfigureAwait(false);
        }
        finally
        {
            foreach (var runner in runners)
                await runner.DisposeAsync().ConfigureAwait(false);
        }
    }

    /// <summary>Whether hands have brought what the step wants; else it is written down that they are wanted.</summary>
    private static async Task<bool> HandsAreDoneAsync(RunLog log, PlanStep step)
    {
        if (log.State.HandsDone == step.Number)
        {
            await log.WriteAsync(new StepDone(step.Number)).ConfigureAwait(false);
            return true;
        }

        // Who compared a label has said nothing of a screen; then it is where the plan found it.
        var seen = log.State.ShownByHands is { } shown and not PhoneMode.Unknown ? shown : (PhoneMode?)null;
        var from = seen ?? (step.Act as BringInto)?.From ?? step.Act.In ?? PhoneMode.Unknown;
        await log.WriteAsync(new StepStarted(step.Number, step.Title)).ConfigureAwait(false);
        await log.WriteAsync(new HandsWanted(step.Number, step.Title, from.Id())).ConfigureAwait(false);
        return false;
    }
}

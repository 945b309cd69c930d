using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Junctra.Web.Writing;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The watched write: both ends, live from the journal.</summary>
public sealed class WriteModel(
    JobLoader jobs,
    JobStore store,
    JunctraDb db,
    RunJournal journal,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    private const double StripWidth = 720,
        FullWidth = 960;

    public override Station Station => Station.Write;

    public RunState? State { get; private set; }

    public RunDisplay? Display { get; private set; }

    public PartitionStrip? Strip { get; private set; }

    public IReadOnlyList<JournalLine> Lines { get; private set; } = [];

    public bool IsOpen => State is { } state && state.Status.IsOpen();

    /// <summary>Who asked to stop after the image at hand, or null.</summary>
    public string? StopAskedBy => Job.LastRun?.StopAskedBy;

    public double WarnSeconds => catalogue.Figures.TransferStallWarnSeconds;

    public double FaultSeconds => catalogue.Figures.TransferStallFaultSeconds;

    /// <summary>Asks the writer to end the run after the image at hand.</summary>
    public async Task<IActionResult> OnPostStopAsync(CancellationToken cancel)
    {
        if (!IsOpen)
            return Refused("No write is going on: there is nothing to stop.");
        if (Display!.NoReturn)
            return Refused("The boot chain is being written. It must be finished: a half-written one leaves only chip emergency mode.");
        if (!await journal.AskToStopAsync(Job.LastRun!.Id, Who, cancel))
            return Refused("The write has ended meanwhile.");
        store.Note(Job.Row.Id, Who, "Asked to stop after the image at hand.");
        await db.SaveChangesAsync(cancel);
        return To(Station.Write);
    }

    public KeyFamily? Family => Job.Model is { } model ? catalogue.KeyFamilyOf(model) : null;

    /// <summary>What hands do now; null where none are wanted.</summary>
    public HandsOrder? Hands { get; private set; }

    /// <summary>Somebody says what the phone shows after a step for hands.</summary>
    public async Task<IActionResult> OnPostSaidAsync(int step, string? shows, bool done, CancellationToken cancel)
    {
        if (Hands is not { } hands || State!.Step?.Number != step)
            return Refused("The run does not wait for that step any more. Look at it again.");
        if (PhoneModes.Parse(shows) is not { } mode || !hands.Allows(mode, done))
            return Refused("Say what the phone shows.");
        if (!await journal.SayAsync(Job.LastRun!.Id, new HandsSaid(step, Who, mode.Id(), done), cancel))
            return Refused("Somebody else was first. Look at it again.");
        return To(Station.Write);
    }

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        if (Job.LastRun is not { } run)
            return;
        var entries = await journal.ReadAsync(run.Id, cancel: cancel);
        State = RunState.Of(run.Plan, entries);
        Display = RunDisplay.Of(State, catalogue.Figures, time.GetUtcNow());
        Lines = [.. entries.Select(RunDisplay.Line).OfType<JournalLine>()];
        if (catalogue.Model(run.Plan.Target.ModelCode) is not { } model)
            return;
        Hands = HandsOrder.Of(State, Job.Phone, model, catalogue);
        Strip = PartitionStrip.Of(
            model,
            partition =>
            {
                var use = State.UseOf(partition.Name);
                var fill = Display.Partitions.FirstOrDefault(p => p.Name == partition.Name)?.Fill ?? 0;
                return (use, fill, $"{partition.Name}: {PartitionStripWords.Of(use)}");
            },
            State.Status.EndedEarly() ? FullWidth : StripWidth
        );
    }
}

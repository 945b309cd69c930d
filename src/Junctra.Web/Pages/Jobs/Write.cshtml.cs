using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Planning;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Drawing;
using Junctra.Web.Writing;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The watched write: both ends, live from the journal.</summary>
public sealed class WriteModel(JobLoader jobs, RunJournal journal, ModelCatalogue catalogue, TimeProvider time) : JobPage(jobs)
{
    private const double StripWidth = 720, FullWidth = 960;

    public override Station Station => Station.Write;

    public RunState? State { get; private set; }

    public RunDisplay? Display { get; private set; }

    public PartitionStrip? Strip { get; private set; }

    public IReadOnlyList<JournalLine> Lines { get; private set; } = [];

    public bool IsOpen => State?.Status is RunStatus.Queued or RunStatus.Writing;

    public double WarnSeconds => catalogue.Figures.TransferStallWarnSeconds;

    public double FaultSeconds => catalogue.Figures.TransferStallFaultSeconds;

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        if (Job.LastRun is not { } run) return;
        var entries = await journal.ReadAsync(run.Id, cancel: cancel);
        State = RunState.Of(run.Plan, entries);
        Display = RunDisplay.Of(State, time.GetUtcNow());
        Lines = [.. entries.Select(RunDisplay.Line).OfType<JournalLine>()];
        if (catalogue.Model(run.Plan.Target.ModelCode) is not { } model) return;
        Strip = PartitionStrip.Of(model, partition =>
        {
            var use = State.UseOf(partition.Name);
            var fill = Display.Partitions.FirstOrDefault(p => p.Name == partition.Name)?.Fill ?? 0;
            return (use, fill, $"{partition.Name}: {PartitionStripWords.Of(use)}");
        }, State.Status == RunStatus.Failed ? FullWidth : StripWidth);
    }
}

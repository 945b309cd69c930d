using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
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
    RunActs runs,
    RunJournal journal,
    Planner planner,
    PortHearing port,
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

    /// <summary>Now, so that the page can count from the last entry by the server's clock.</summary>
    public long NowMilliseconds => time.GetUtcNow().ToUnixTimeMilliseconds();

    /// <summary>Asks the writer to end the run after the image at hand.</summary>
    public async Task<IActionResult> OnPostStopAsync(CancellationToken cancel) =>
        After(await runs.StopAsync(Job, State, Display?.NoReturn == true, Who, cancel), Station.Write);

    /// <summary>By what this run is watched: as its plan was made.</summary>
    public ShopPolicyLine Watched =>
        new(
            Job.Row.Ticket,
            [Schools.Find("hang")!, Schools.Find("unplug")!],
            MatchPolicy.Careful with
            {
                Plans = PlanPolicy.Usual with
                {
                    UnplugsAtRestart = State?.Plan.Watch?.UnplugsAtRestart ?? false,
                    Hang = State?.Plan.Watch?.Hang ?? HangSchool.NoProgress,
                },
            }
        );

    /// <summary>Whether the phone starts anew in the end of the run.</summary>
    public bool Starts => State?.Plan.StartsThePhone == true;

    /// <summary>How the phone comes up after it; null before its end, and where no start follows.</summary>
    public WayUp? Up { get; private set; }

    /// <summary>The signs on the way to a phone that is done.</summary>
    public IReadOnlyList<Milestone> Milestones => State is { } state ? Milestone.Of(state) : [];

    /// <summary>What it was last seen to show.</summary>
    public PhoneMode? ModeNow => PhoneModes.Parse(Job.Phone[FactName.Mode].Value);

    public KeyFamily? Family => Job.Model is { } model ? catalogue.KeyFamilyOf(model) : null;

    /// <summary>What hands do now; null where none are wanted.</summary>
    public HandsOrder? Hands { get; private set; }

    /// <summary>Somebody says what the phone shows after a step for hands.</summary>
    public async Task<IActionResult> OnPostSaidAsync(int step, string? shows, bool done, string? typed, CancellationToken cancel) =>
        After(
            await runs.SayAsync(Job, State, Hands, new HandsSaid(step, Who, shows ?? "", done) { Typed = typed?.Trim() }, cancel),
            Station.Write
        );

    /// <summary>The command by which the way at hand leads on; null where hands do it.</summary>
    public string? Command => PortHearing.CommandOf(Hands);

    /// <summary>What the port hears meanwhile, for the page's own script.</summary>
    public async Task<IActionResult> OnGetHeardAsync(CancellationToken cancel) =>
        new JsonResult(await port.ListenAsync(Job, State, cancel));

    /// <summary>Gives the phone the command of the way at hand.</summary>
    public async Task<IActionResult> OnPostCommandAsync(CancellationToken cancel) =>
        After(await port.CommandAsync(Job, State, Hands, Who, cancel), Station.Write);

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        if (Job.LastRun is not { } run)
            return;
        var entries = await journal.ReadAsync(run.Id, cancel: cancel);
        State = RunState.Of(run.Plan, entries);
        Up = await planner.WayUpAsync(Job, null, cancel);
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

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Store;
using Junctra.Web.Practising;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Writing;

/// <summary>
/// A run as it was seen, once more: what the write station showed after each entry of its journal, with the time between.
/// </summary>
internal static class RunReplay
{
    // Of thousands of reports of progress as many as an eye can follow; everything else is shown.
    private const int MaxProgress = 240;

    public static void MapRunReplay(this IEndpointRouteBuilder routes) => routes.MapGet("/runs/{runId:int}/replay", FramesAsync);

    private static async Task<IResult> FramesAsync(
        int runId,
        JunctraDb db,
        RunJournal journal,
        ModelCatalogue catalogue,
        CancellationToken cancel
    ) =>
        await db.Runs.AsNoTracking().SingleOrDefaultAsync(run => run.Id == runId, cancel) is { } run
            ? TypedResults.Ok(Frames(run, await journal.ReadAsync(runId, cancel: cancel), catalogue))
            : TypedResults.NotFound();

    /// <summary>What was shown, in order.</summary>
    public static IReadOnlyList<ReplayFrame> Frames(RunRow run, IReadOnlyList<JournalEntry> entries, ModelCatalogue catalogue)
    {
        if (entries.Count == 0)
            return [];
        var every = Math.Max(1, entries.Count(entry => entry.Event is BytesSent) / MaxProgress);
        var frames = new List<ReplayFrame>();
        var drawn = catalogue.Model(run.Plan.Target.ModelCode) is { } model ? Drawn(run.Plan, model, catalogue) : null;
        var (state, progress) = (RunState.Of(run.Plan, []), 0);
        foreach (var entry in entries)
        {
            state = state.After(entry);
            if (entry.Event is BytesSent && ++progress % every != 0)
                continue;
            var line = RunDisplay.Line(entry);
            frames.Add(
                new ReplayFrame(
                    (long)(entry.At - entries[0].At).TotalMilliseconds,
                    RunDisplay.Of(state, catalogue.Figures, entry.At),
                    line is null ? [] : [line],
                    drawn?.Invoke(state)
                )
            );
        }

        return frames;
    }

    // The phone of a run as its twin shows it in the mode in which it was by then.
    private static Func<RunState, object> Drawn(Plan plan, PhoneModel model, ModelCatalogue catalogue)
    {
        var twin = new PhoneTwin(model, catalogue);
        var known = new Phone([
            .. new (FactName Name, string? Value)[]
            {
                (FactName.ModelCode, model.Code),
                (FactName.Serial, plan.Target.Serial),
                (FactName.RollbackFloor, plan.Target.RollbackFloor?.ToString()),
                (FactName.BootloaderRevision, plan.Target.RollbackFloor?.ToString()),
                (FactName.LockState, plan.Target.LockState is { } state ? FactName.LockState.Write(state) : null),
            }
                .Where(fact => fact.Value is not null)
                .Select(fact => new Fact(fact.Name, fact.Value!, FactSource.Logbook, default, "")),
        ]);
        return run =>
        {
            var mode = run.ModeNow;
            // What stands for a moment only is drawn as what one sees then.
            if (mode.Standing() is null && mode != PhoneMode.BootLoop)
                mode = mode == PhoneMode.Unknown ? PhoneMode.Off : PhoneMode.StuckAtLogo;
            return TwinHands.Shown(twin, TwinFactory.Of(run.KnownBy(known, model), model, mode, TwinScene.Computer));
        };
    }
}

/// <summary>What the write station showed at a moment.</summary>
/// <param name="At">Milliseconds since the run began.</param>
/// <param name="Run">How it stood.</param>
/// <param name="Lines">What was written down then.</param>
/// <param name="Phone">What the phone showed; null where its model is not in the catalogue any more.</param>
internal sealed record ReplayFrame(long At, RunDisplay Run, IReadOnlyList<JournalLine> Lines, object? Phone);

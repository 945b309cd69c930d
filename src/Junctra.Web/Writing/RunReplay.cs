using Junctra.Core.Catalogue;
using Junctra.Core.Runs;
using Junctra.Store;
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
            ? TypedResults.Ok(Frames(run, await journal.ReadAsync(runId, cancel: cancel), catalogue.Figures))
            : TypedResults.NotFound();

    /// <summary>What was shown, in order.</summary>
    public static IReadOnlyList<ReplayFrame> Frames(RunRow run, IReadOnlyList<JournalEntry> entries, Figures figures)
    {
        if (entries.Count == 0)
            return [];
        var every = Math.Max(1, entries.Count(entry => entry.Event is BytesSent) / MaxProgress);
        var frames = new List<ReplayFrame>();
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
                    RunDisplay.Of(state, figures, entry.At),
                    line is null ? [] : [line]
                )
            );
        }

        return frames;
    }
}

/// <summary>What the write station showed at a moment.</summary>
/// <param name="At">Milliseconds since the run began.</param>
/// <param name="Run">How it stood.</param>
/// <param name="Lines">What was written down then.</param>
internal sealed record ReplayFrame(long At, RunDisplay Run, IReadOnlyList<JournalLine> Lines);

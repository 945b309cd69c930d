using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using Junctra.Core.Catalogue;
using Junctra.Core.Runs;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Writing;

/// <summary>
/// A run's journal as server-sent events, resumable by <c>Last-Event-ID</c>: the id of each message is the sequence number of
/// the last journal entry it tells of. A reader that reconnects is told everything after that, and nothing twice.
/// </summary>
internal static class RunEvents
{
    private static readonly TimeSpan LookAnyway = TimeSpan.FromSeconds(3);

    public static void MapRunEvents(this IEndpointRouteBuilder routes) => routes.MapGet("/runs/{runId:int}/events", StreamAsync);

    private static async Task<IResult> StreamAsync(
        int runId,
        HttpContext http,
        IDbContextFactory<JunctraDb> databases,
        RunJournal journal,
        JournalWatch watch,
        ModelCatalogue catalogue,
        IHostApplicationLifetime life,
        TimeProvider time
    )
    {
        await using var db = await databases.CreateDbContextAsync(http.RequestAborted);
        if (await db.Runs.AsNoTracking().SingleOrDefaultAsync(r => r.Id == runId, http.RequestAborted) is not { } run)
            return TypedResults.NotFound();
        return TypedResults.ServerSentEvents(
            EventsAsync(run, After(http.Request), journal, watch, catalogue.Figures, time, life.ApplicationStopping)
        );
    }

    private static async IAsyncEnumerable<SseItem<RunNews>> EventsAsync(
        RunRow run,
        long after,
        RunJournal journal,
        JournalWatch watch,
        Figures figures,
        TimeProvider time,
        CancellationToken stopping,
        [EnumeratorCancellation] CancellationToken gone = default
    )
    {
        // A viewer must not hold up the end of this program; it comes back by itself.
        using var end = CancellationTokenSource.CreateLinkedTokenSource(gone, stopping);
        var state = RunState.Of(run.Plan, []);
        while (!end.IsCancellationRequested)
        {
            var next = watch.NextAsync(run.Id);
            if (await ReadAsync(journal, run.Id, state.LastSeq, end.Token) is not { } entries)
                yield break;
            state = entries.Aggregate(state, (s, entry) => s.After(entry));
            if (state.LastSeq > after)
            {
                var lines = entries.Where(entry => entry.Seq > after).Select(RunDisplay.Line).OfType<JournalLine>();
                yield return new SseItem<RunNews>(new RunNews(RunDisplay.Of(state, figures, time.GetUtcNow()), [.. lines]), "run")
                {
                    EventId = state.LastSeq.ToString(),
                };
                after = state.LastSeq;
            }

            if (!state.Status.IsOpen())
                yield break;
            await Task.WhenAny(next, Task.Delay(LookAnyway, time, end.Token));
        }
    }

    /// <summary>The entries after one; null when the reader went away, or this program ends.</summary>
    private static async Task<IReadOnlyList<JournalEntry>?> ReadAsync(RunJournal journal, int runId, long after, CancellationToken cancel)
    {
        try
        {
            return await journal.ReadAsync(runId, after, cancel);
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            return null;
        }
    }

    private static long After(HttpRequest request)
    {
        string? text = request.Headers["Last-Event-ID"];
        text ??= request.Query["after"];
        return long.TryParse(text, out var after) && after >= 0 ? after : 0;
    }
}

/// <summary>What a viewer of a run is told: how it stands, and what was written down since it was told last.</summary>
/// <param name="Run">How it stands.</param>
/// <param name="Lines">New lines of its journal.</param>
internal sealed record RunNews(RunDisplay Run, IReadOnlyList<JournalLine> Lines);

using System.Text.Json;
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

    private static async Task StreamAsync(
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
        // A viewer must not hold up the end of this program; it comes back by itself.
        using var end = CancellationTokenSource.CreateLinkedTokenSource(http.RequestAborted, life.ApplicationStopping);
        var cancel = end.Token;
        RunRow? run;
        await using (var db = await databases.CreateDbContextAsync(cancel))
            run = await db.Runs.AsNoTracking().SingleOrDefaultAsync(r => r.Id == runId, cancel);
        if (run is null)
        {
            http.Response.StatusCode = StatusCodes.Status404NotFound;
            return;
        }

        var after = After(http.Request);
        http.Response.ContentType = "text/event-stream";
        http.Response.Headers.CacheControl = "no-store";
        var state = RunState.Of(run.Plan, []);
        try
        {
            while (true)
            {
                var next = watch.NextAsync(runId);
                var entries = await journal.ReadAsync(runId, state.LastSeq, cancel);
                state = entries.Aggregate(state, (s, entry) => s.After(entry));
                if (state.LastSeq > after)
                {
                    await SendAsync(http, state, [.. entries.Where(entry => entry.Seq > after)], catalogue.Figures, time.GetUtcNow());
                    after = state.LastSeq;
                }

                if (!state.Status.IsOpen())
                    return;
                await Task.WhenAny(next, Task.Delay(LookAnyway, time, cancel));
                cancel.ThrowIfCancellationRequested();
            }
        }
        catch (OperationCanceledException) when (cancel.IsCancellationRequested)
        {
            // The reader went away, or this program ends.
        }
    }

    private static long After(HttpRequest request)
    {
        string? text = request.Headers["Last-Event-ID"];
        text ??= request.Query["after"];
        return long.TryParse(text, out var after) && after >= 0 ? after : 0;
    }

    private static async Task SendAsync(
        HttpContext http,
        RunState state,
        IReadOnlyList<JournalEntry> entries,
        Figures figures,
        DateTimeOffset now
    )
    {
        var message = JsonSerializer.Serialize(
            new { run = RunDisplay.Of(state, figures, now), lines = entries.Select(RunDisplay.Line).OfType<JournalLine>() },
            JsonSerializerOptions.Web
        );
        await http.Response.WriteAsync($"id: {state.LastSeq}\nevent: run\ndata: {message}\n\n", http.RequestAborted);
        await http.Response.Body.FlushAsync(http.RequestAborted);
    }
}

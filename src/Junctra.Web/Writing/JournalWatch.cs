using System.Collections.Concurrent;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Web.Writing;

/// <summary>
/// Hears from the database that a run has new entries, whichever process wrote them, and wakes whoever follows that run.
/// </summary>
public sealed class JournalWatch(IDbContextFactory<JunctraDb> databases, ILogger<JournalWatch> log) : BackgroundService
{
    private readonly ConcurrentDictionary<int, TaskCompletionSource> waiting = new();

    /// <summary>Completes at the next entry of a run. Ask before reading the journal, so that no entry falls in between.</summary>
    public Task NextAsync(int runId) =>
        waiting.GetOrAdd(runId, _ => new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously)).Task;

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                await ListenAsync(stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (Exception error)
            {
                // Followers read anew every few seconds; they lag while the database is away, and lose nothing.
                log.LogWarning(error, "The database stopped telling of new entries; trying again");
                await Task.Delay(TimeSpan.FromSeconds(1), stoppingToken);
            }
        }
    }

    private async Task ListenAsync(CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var connection = (NpgsqlConnection)db.Database.GetDbConnection();
        await connection.OpenAsync(cancel);
        connection.Notification += (_, told) =>
        {
            if (int.TryParse(told.Payload, out var runId) && waiting.TryRemove(runId, out var waiter))
                waiter.SetResult();
        };
        await using (var listen = new NpgsqlCommand($"listen {RunJournal.Channel}", connection))
            await listen.ExecuteNonQueryAsync(cancel);
        while (true)
            await connection.WaitAsync(cancel);
    }
}

using System.Net.Sockets;
using Junctra.Core.Runs;
using Npgsql;

namespace Junctra.Store;

/// <summary>
/// Writes the journal of one run for the writer that holds it. A database that is away, restarting or cut off does not
/// end a write: the pen waits until the event stands, and nothing goes on before. An event whose fate a broken connection left
/// open is not written twice.
/// </summary>
public sealed class JournalWriter(RunJournal journal, int runId, string writer, long lastSeq, TimeProvider time)
{
    /// <summary>Writes an event down; returns once it is safe.</summary>
    /// <exception cref="RunLostException">This writer does not hold the run any more.</exception>
    /// <exception cref="OperationCanceledException">The wait for the database was given up; whether the event stands is not
    /// known.</exception>
    public Task WriteAsync(RunEvent what, CancellationToken giveUp = default) =>
        DatabaseAbsence.OutlastAsync(
            async () =>
            {
                await journal.AppendAsync(runId, writer, what, lastSeq + 1).ConfigureAwait(false);
                return ++lastSeq;
            },
            time,
            giveUp
        );
}

/// <summary>The connection to the database broke in the middle of something.</summary>
public sealed class DatabaseAwayException(Exception inner) : Exception("The connection to the database broke.", inner);

/// <summary>Tells a database that is away from one that says no.</summary>
public static class DatabaseAbsence
{
    private static readonly TimeSpan AskEvery = TimeSpan.FromMilliseconds(500);
    private const string AdminShutdown = "57P";
    private const string ConnectionException = "08";

    /// <summary>Does something again and again until the database is there for it.</summary>
    /// <param name="work">What may be done twice: whether it was done before the connection broke is not known.</param>
    /// <param name="time">Clock for the pauses.</param>
    /// <param name="giveUp">Gives up.</param>
    public static async Task<T> OutlastAsync<T>(Func<Task<T>> work, TimeProvider time, CancellationToken giveUp)
    {
        while (true)
        {
            try
            {
                return await work().ConfigureAwait(false);
            }
            catch (Exception error) when (Is(error))
            {
                await Task.Delay(AskEvery, time, giveUp).ConfigureAwait(false);
            }
        }
    }

    /// <summary>Whether an error, or one behind it, means that the database could not be reached or went away.</summary>
    public static bool Is(Exception? error)
    {
        for (; error is not null; error = error.InnerException)
        {
            if (error is PostgresException refused)
            {
                return refused.IsTransient
                    || refused.SqlState.StartsWith(AdminShutdown, StringComparison.Ordinal)
                    || refused.SqlState.StartsWith(ConnectionException, StringComparison.Ordinal);
            }

            if (error is DatabaseAwayException or NpgsqlException or SocketException or TimeoutException)
                return true;
        }

        return false;
    }
}

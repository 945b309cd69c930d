using System.Collections.Concurrent;
using System.Data.Common;
using Microsoft.EntityFrameworkCore.Diagnostics;

namespace Junctra.Web.Operation;

/// <summary>A statement that took long since this process began.</summary>
/// <param name="Text">The statement, without what was asked for.</param>
/// <param name="Times">How often it took long.</param>
/// <param name="Worst">How long it took at the worst.</param>
/// <param name="At">When it took long last.</param>
public sealed record SlowQuery(string Text, int Times, TimeSpan Worst, DateTimeOffset At);

/// <summary>
/// Statements that took long. Only their text is kept: values are parameters, and are not.
/// </summary>
public sealed class SlowQueries(TimeProvider time) : DbCommandInterceptor
{
    /// <summary>What counts as long.</summary>
    public static readonly TimeSpan Slow = TimeSpan.FromMilliseconds(250);

    private const int MaxKept = 200,
        MaxShown = 20,
        MaxText = 2000;
    private readonly ConcurrentDictionary<string, SlowQuery> found = new(StringComparer.Ordinal);
    private long count;

    /// <summary>How many took long since this process began.</summary>
    public long Count => Interlocked.Read(ref count);

    /// <summary>The worst, the slowest first.</summary>
    public IReadOnlyList<SlowQuery> Worst => [.. found.Values.OrderByDescending(one => one.Worst).Take(MaxShown)];

    public override DbDataReader ReaderExecuted(DbCommand command, CommandExecutedEventData eventData, DbDataReader result)
    {
        Note(command, eventData);
        return base.ReaderExecuted(command, eventData, result);
    }

    public override ValueTask<DbDataReader> ReaderExecutedAsync(
        DbCommand command,
        CommandExecutedEventData eventData,
        DbDataReader result,
        CancellationToken cancellationToken = default
    )
    {
        Note(command, eventData);
        return base.ReaderExecutedAsync(command, eventData, result, cancellationToken);
    }

    public override ValueTask<int> NonQueryExecutedAsync(
        DbCommand command,
        CommandExecutedEventData eventData,
        int result,
        CancellationToken cancellationToken = default
    )
    {
        Note(command, eventData);
        return base.NonQueryExecutedAsync(command, eventData, result, cancellationToken);
    }

    private void Note(DbCommand command, CommandExecutedEventData eventData)
    {
        if (eventData.Duration < Slow)
            return;
        Interlocked.Increment(ref count);
        var text = command.CommandText.Length > MaxText ? command.CommandText[..MaxText] : command.CommandText;
        if (found.Count >= MaxKept && !found.ContainsKey(text))
            return;
        var (duration, now) = (eventData.Duration, time.GetUtcNow());
        found.AddOrUpdate(
            text,
            _ => new SlowQuery(text, 1, duration, now),
            (_, before) => new SlowQuery(text, before.Times + 1, duration > before.Worst ? duration : before.Worst, now)
        );
    }
}

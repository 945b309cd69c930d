using System.Text.Json;
using Junctra.Core.Runs;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Store.Operation;
using Junctra.Web.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Days;

/// <summary>
/// Makes the timetable anew whenever the day has changed, and now and then without, for time passes too, and judges by it what is promised.
/// One web process does.
/// </summary>
public sealed class TimetableKeeper(IServiceScopeFactory scopes, Ownership owners, TimeProvider time, ILogger<TimetableKeeper> log)
    : BackgroundService
{
    private const long OwnerLock = 0x4A756E64;
    private const string Turn = "timetable";
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(4),
        Anew = TimeSpan.FromMinutes(3),
        AnewWhileWriting = TimeSpan.FromMinutes(1);

    // While people work the day changes all the time: making it has a tenth of the machine, and a phone that is written the rest. On a
    // machine that is slow because of other work, people do not wait for that.
    private readonly WorkPace pace = new(time, rests: 9, maxRest: TimeSpan.FromSeconds(15));

    // A day that is looked at all the time is made in a second or two, so that a machine with a writer on it is not kept from that.
    private static readonly SolverLimit Limit = new(1.2, 5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                // It stays this process's while it rests.
                var begun = time.GetTimestamp();
                if (await owners.TakeAsync(Turn, stoppingToken) && pace.IsRested && await KeepAsync(stoppingToken))
                    pace.Done(begun);
            }
            catch (Exception error) when (!stoppingToken.IsCancellationRequested)
            {
                // The last one stands, and says when it was made.
                log.LogWarning(error, "The timetable could not be made; it is tried again.");
            }

            await Task.Delay(Rest, time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    /// <summary>Makes the timetable if it is no longer that of the day.</summary>
    /// <returns>Whether it was made.</returns>
    public async Task<bool> KeepAsync(CancellationToken cancel)
    {
        await using var scope = scopes.CreateAsyncScope();
        var db = scope.ServiceProvider.GetRequiredService<JunctraDb>();
        var days = scope.ServiceProvider.GetRequiredService<DayService>();
        var state = await days.StateAsync(cancel);
        var known = await days.KnownAsync(cancel);
        if (known is not null && await IsCurrentAsync(db, state, cancel))
            return false;
        using var marked = HouseMeter.Work.StartActivity("make the timetable");
        var day = await days.DayAsync(cancel);
        var whyNot = day.WhyNot;
        if (whyNot is not null)
            day = day with { Jobs = [] };

        var before = known is { } last ? last.Made.Timetable.Later((int)Math.Round((day.Now - last.Made.Day.Now).TotalMinutes)) : null;
        var bias = await days.BiasAsync(cancel);
        var made = SurestTimetable.Of(day, before, Limit, cancel);
        var chances = PromiseChances.Of(day, made, bias);
        var kept = new MadeDay(
            day,
            made,
            chances,
            PromiseAdvice.Of(day, made, chances, bias, cancel: cancel),
            [.. Timetable.Changes(made.Slots, before).Select(change => Told(day, change.Was, change.Is))]
        )
        {
            WhyNot = whyNot,
        };
        var text = JsonSerializer.Serialize(kept, StoreJson.Options);
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({OwnerLock})", cancel);
        // Another process may have been quicker.
        if (known is not null && await IsCurrentAsync(db, state, cancel))
            return false;
        var now = time.GetUtcNow();
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into timetables (id, made_at, of, made) values ({BenchHoursRow.One}, {now}, {state}, {text}::jsonb)
            on conflict (id) do update set made_at = excluded.made_at, of = excluded.of, made = excluded.made
            """,
            cancel
        );
        await days.SayAsync(kept, cancel);
        await transaction.CommitAsync(cancel);
        return true;
    }

    private async Task<bool> IsCurrentAsync(JunctraDb db, string state, CancellationToken cancel)
    {
        var isWriting = await db.Runs.AnyAsync(run => run.Status == RunStatus.Writing, cancel);
        var since = time.GetUtcNow() - (isWriting ? AnewWhileWriting : Anew);
        return await db.Timetables.AnyAsync(row => row.Of == state && row.MadeAt > since, cancel);
    }

    private static string Told(Day day, Slot was, Slot now) =>
        $"{now.Ticket}, {now.Task.Title.ToLowerInvariant()}: {At(day, now.Start)}{(was.Hands == now.Hands ? "" : $" by {now.Hands}")}, was {At(day, was.Start)}{(was.Hands == now.Hands ? "" : $" by {was.Hands}")}.";

    private static string At(Day day, int minute) =>
        day.Now.AddMinutes(minute).ToLocalTime().ToString("HH:mm", System.Globalization.CultureInfo.InvariantCulture);
}

using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Triage;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Days;

/// <summary>A bench day as it was last made.</summary>
/// <param name="Day">The day.</param>
/// <param name="Timetable">Its timetable.</param>
/// <param name="Chances">How its promises stand.</param>
/// <param name="Advice">The promise that breaks first, and what would save it; null where all hold.</param>
/// <param name="Changed">What people were told otherwise, a sentence each.</param>
public sealed record MadeDay(
    Day Day,
    Timetable Timetable,
    IReadOnlyList<PromiseChance> Chances,
    Advice? Advice,
    IReadOnlyList<string> Changed
)
{
    /// <summary>Why no timetable could be made; null where one was.</summary>
    public string? WhyNot { get; init; }
}

/// <summary>The bench day: when the shop works, what is left of its jobs, and the timetable that people know.</summary>
public sealed class DayService(
    JunctraDb db,
    JobLoader jobs,
    JobWork work,
    MadeDayCache madeDays,
    ModelCatalogue catalogue,
    DigestRate digests,
    TimeProvider time
)
{
    /// <summary>When the shop works.</summary>
    public async Task<BenchHours> HoursAsync(CancellationToken cancel) =>
        await db.BenchHours.AsNoTracking().SingleOrDefaultAsync(cancel) is { } row
            ? JsonSerializer.Deserialize<BenchHours>(row.Hours, StoreJson.Options)!
            : BenchHours.Usual;

    /// <summary>Changes when the shop works.</summary>
    /// <returns>Null, or why nothing was changed.</returns>
    public async Task<string?> ChangeHoursAsync(BenchHours hours, string who, CancellationToken cancel)
    {
        if (hours.WhyNot is { } why)
            return why;
        var row = await db.BenchHours.SingleOrDefaultAsync(cancel);
        var text = JsonSerializer.Serialize(hours, StoreJson.Options);
        if (row is null)
            db.BenchHours.Add(
                new BenchHoursRow
                {
                    Hours = text,
                    By = who,
                    At = time.GetUtcNow(),
                }
            );
        else
            (row.Hours, row.By, row.At) = (text, who, time.GetUtcNow());
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = who,
                Act = "Changed the hours of the bench.",
            }
        );
        await db.SaveChangesAsync(cancel);
        return null;
    }

    /// <summary>The timetable that people know, with when it was made; null before the first.</summary>
    public Task<(MadeDay Made, DateTimeOffset At)?> KnownAsync(CancellationToken cancel) => madeDays.AsOfAsync(db, cancel);

    /// <summary>Of what a timetable would be made now: the state of every open job, and the shop's hours and ports.</summary>
    public async Task<string> StateAsync(CancellationToken cancel)
    {
        var heads = await JobLists.HeadsAsync(db, MaxJobs, cancel);
        var text = new StringBuilder(JsonSerializer.Serialize(await HoursAsync(cancel), StoreJson.Options));
        foreach (var head in heads)
            text.Append(CultureInfo.InvariantCulture, $"|{head.Job.Id} {head.State} {head.Job.PromisedAt?.UtcTicks}");
        text.Append(CultureInfo.InvariantCulture, $"|{await db.Ports.CountAsync(cancel)}");
        return Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text.ToString())));
    }

    private const int MaxJobs = 60,
        QuarterHour = 15,
        MaxLearned = 500;

    /// <summary>
    /// When a phone that comes in now is ready in nine of ten, whatever is wrong with it, to the quarter of an hour; null before the first
    /// timetable, or where the day has no room for it.
    /// </summary>
    public async Task<DateTimeOffset?> ReadyByAsync(CancellationToken cancel)
    {
        if (await KnownAsync(cancel) is not { Made: { WhyNot: null } made })
            return null;
        var tasks = RemainingWork.Of(
            new WorkCase(Core.Jobs.Station.FindOut, digests.Of(catalogue.Figures), made.Day.Now)
            {
                Ways = Diagnoser.Of(catalogue.Triage, new TriageCase(), []).WaysOut,
            }
        );
        if (IntakePromise.Of(made.Day, tasks, await BiasAsync(cancel)) is not { } minute)
            return null;
        var at = made.Day.Now.AddMinutes(minute);
        return at.AddMinutes((QuarterHour - at.Minute % QuarterHour) % QuarterHour);
    }

    /// <summary>The day as it stands now.</summary>
    public async Task<Day> DayAsync(CancellationToken cancel)
    {
        var now = time.GetUtcNow();
        now = now.AddTicks(-(now.Ticks % TimeSpan.TicksPerMinute));
        var hours = await HoursAsync(cancel);
        var open = await jobs.OpenAsync(cancel);
        var left = new List<DayJob>();
        foreach (var job in open.Take(MaxJobs))
            if (await work.OfAsync(job.Row.Ticket, now, cancel) is { Tasks.Count: > 0 } one)
                left.Add(one);
        // Whoever began something and has left since: those who are here go on with it.
        left = left.ConvertAll(job => job with { Tasks = [.. job.Tasks.Select(task => task with { By = NameOf(task.By) })] });
        return new Day(
            now,
            [.. hours.People.Select(person => hours.Hands(person, now, TimeZoneInfo.Local))],
            hours.Open(now, TimeZoneInfo.Local),
            Math.Max(Math.Max(1, await db.Ports.CountAsync(cancel)), left.Count(job => job.IsInPort)),
            hours.Chargers,
            left
        );

        string? NameOf(string? who) =>
            hours.People.Select(person => person.Name).FirstOrDefault(name => name.Equals(who, StringComparison.OrdinalIgnoreCase));
    }

    /// <summary>How this shop's days went beside what was said of them.</summary>
    public async Task<PromiseBias> BiasAsync(CancellationToken cancel)
    {
        var said = await db
            .Promises.AsNoTracking()
            .Where(promise => promise.SaidAt != null && promise.Usual != null && promise.Slow != null)
            .Join(
                db.Logbook,
                promise => promise.JobId,
                row => row.JobId,
                (promise, row) =>
                    new
                    {
                        promise,
                        row.CheckedAt,
                        row.HandedBackAt,
                    }
            )
            .Where(one => one.HandedBackAt != null)
            .OrderByDescending(one => one.promise.Id)
            .Take(MaxLearned)
            .ToListAsync(cancel);
        var hours = await HoursAsync(cancel);
        return PromiseBias.Of(
            said.Select(one =>
            {
                var from = one.promise.SaidAt!.Value;
                return new SaidReady(
                    Open(hours, from, one.promise.Usual!.Value),
                    Open(hours, from, one.promise.Slow!.Value),
                    Open(hours, from, one.CheckedAt ?? one.HandedBackAt!.Value)
                );
            })
        );

        static double Open(BenchHours hours, DateTimeOffset from, DateTimeOffset to) =>
            hours.Open(from, TimeZoneInfo.Local).Sum(open => Math.Max(0, Math.Min(open.To, (to - from).TotalMinutes) - open.From));
    }

    /// <summary>Keeps what a timetable says of promises of which nothing was said yet.</summary>
    public async Task SayAsync(MadeDay made, CancellationToken cancel)
    {
        var tickets = made.Chances.Select(chance => chance.Ticket).ToList();
        var unsaid = await db
            .Promises.Join(db.Jobs, promise => promise.JobId, job => job.Id, (promise, job) => new { promise, job.Ticket })
            .Where(one => one.promise.SaidAt == null && one.promise.PromisedFor != null && tickets.Contains(one.Ticket))
            .ToListAsync(cancel);
        foreach (var one in unsaid)
        {
            var chance = made.Chances.First(chance => chance.Ticket == one.Ticket);
            var said = chance.Reckoned;
            // The chance is held against what happened as it was shown; times are learned from as they were reckoned.
            (one.promise.SaidAt, one.promise.Chance) = (made.Day.Now, chance.Chance);
            (one.promise.Usual, one.promise.Slow) = (made.Day.Now.AddMinutes(said.Usual), made.Day.Now.AddMinutes(said.Slow));
        }

        await db.SaveChangesAsync(cancel);
    }
}

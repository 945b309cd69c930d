using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
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
    Planner planner,
    RunJournal journal,
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
    public async Task<(MadeDay Made, DateTimeOffset At)?> KnownAsync(CancellationToken cancel) =>
        await db.Timetables.AsNoTracking().SingleOrDefaultAsync(cancel) is { } row
        && JsonSerializer.Deserialize<MadeDay>(row.Made, StoreJson.Options) is { } made
            ? (made, row.MadeAt)
            : null;

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
        QuarterHour = 15;

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
        if (IntakePromise.Of(made.Day, tasks) is not { } minute)
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
        var work = new List<DayJob>();
        foreach (var job in open.Take(MaxJobs))
            if (await WorkAsync(job.Row.Ticket, now, cancel) is { Tasks.Count: > 0 } one)
                work.Add(one);
        return new Day(
            now,
            [.. hours.People.Select(person => hours.Hands(person, now, TimeZoneInfo.Local))],
            hours.Open(now, TimeZoneInfo.Local),
            Math.Max(1, await db.Ports.CountAsync(cancel)),
            hours.Chargers,
            work
        );
    }

    private async Task<DayJob?> WorkAsync(string ticket, DateTimeOffset now, CancellationToken cancel)
    {
        // What was set apart, and what left meanwhile, takes no hands.
        if (await jobs.FindAnewAsync(ticket, cancel) is not { Row.HandedBackAt: null } job || job.Row.Cell != CellState.Sound)
            return null;
        var (plan, run) = await PlanAsync(job, cancel);
        var way = job.Finding(catalogue)?.WayOut;
        var tasks = RemainingWork.Of(
            new WorkCase(job.Standing.At, digests.Of(catalogue.Figures), now)
            {
                Plan = plan,
                Run = run,
                Ways = way is not null ? [(way, 1)] : job.Diagnose(catalogue).WaysOut,
                IsFound = way is not null,
                HasPassed = job.Checks.Count > 0 && Checker.IsPassed(job.Checks),
            }
        );
        return new DayJob(
            ticket,
            job.Row.Id,
            tasks,
            job.Row.PromisedAt is { } promised ? (int)Math.Floor((promised - now).TotalMinutes) : null
        );
    }

    private async Task<(Plan? Plan, RunState? Run)> PlanAsync(JobView job, CancellationToken cancel)
    {
        if (job.LastRun is { Plan: { } begun } run && !run.Status.EndedEarly())
            return (begun, RunState.Of(begun, await journal.ReadAsync(run.Id, cancel: cancel)));
        return job.Row.PackageId is null && job.Row.Path is null ? (null, null) : ((await planner.PlanAsync(job, cancel)).Plan, null);
    }
}

using Junctra.Core.Insight;
using Junctra.Schedule;

namespace Junctra.StandIns.Days;

/// <summary>How a week went.</summary>
/// <param name="Phones">Phones that were promised: all.</param>
/// <param name="Kept">Promises that were kept.</param>
/// <param name="LateMinutes">Minutes late, together.</param>
/// <param name="IdleMinutes">Minutes in which hands were free while a phone waited for hands.</param>
/// <param name="Named">Broken promises that were named an hour before, or as soon as they were given.</param>
/// <param name="SaidHeld">Phones that were ready by when the counter would have said “in nine of ten”.</param>
/// <param name="Said">What was said first of each, and what it took.</param>
public sealed record WeekResult(
    int Phones,
    int Kept,
    int LateMinutes,
    int IdleMinutes,
    int Named,
    int SaidHeld,
    IReadOnlyList<SaidReady> Said
);

/// <summary>
/// A bench at work for a week: at every moment it begins what its timetable says, and whenever something was over, came in or takes longer
/// than it should, the timetable is made anew from what is known then.
/// </summary>
internal sealed class BenchWeek
{
    private const int Night = 24 * 60,
        Opens = 0,
        Lunch = 4 * 60,
        AfterLunch = 4 * 60 + 30,
        Ahead = 14,
        Warned = 60,
        Again = 5;

    /// <summary>Minutes in which the shop is open each day.</summary>
    public const int OpenMinutes = 9 * 60;

    private readonly IReadOnlyList<WeekJob> jobs;
    private readonly string[] people;
    private readonly int ports;
    private readonly Func<Day, Timetable?, Timetable> policy;
    private readonly int[] piece,
        begun,
        until,
        ready;
    private readonly string?[] by;
    private readonly bool[] inPort,
        named;
    private readonly int?[] said;
    private readonly SaidReady?[] first;
    private Timetable? timetable;
    private int plannedAt,
        again,
        idle;

    /// <summary>Makes a bench.</summary>
    /// <param name="jobs">The phones, in the order in which they come.</param>
    /// <param name="people">How many pairs of hands.</param>
    /// <param name="ports">How many ports.</param>
    /// <param name="policy">What makes a timetable of a day, with the one that people know.</param>
    public BenchWeek(IReadOnlyList<WeekJob> jobs, int people, int ports, Func<Day, Timetable?, Timetable> policy)
    {
        (this.jobs, this.ports, this.policy) = (jobs, ports, policy);
        this.people = [.. Enumerable.Range(1, people).Select(i => $"bench {i}")];
        piece = new int[jobs.Count];
        begun = [.. jobs.Select(_ => -1)];
        until = new int[jobs.Count];
        ready = [.. jobs.Select(_ => -1)];
        by = new string?[jobs.Count];
        inPort = new bool[jobs.Count];
        named = new bool[jobs.Count];
        said = new int?[jobs.Count];
        first = new SaidReady?[jobs.Count];
    }

    /// <summary>Plays it until the last phone is ready.</summary>
    public WeekResult Play()
    {
        var isChanged = false;
        for (var now = 0; ; )
        {
            isChanged |= Finish(now) | Enumerable.Range(0, jobs.Count).Any(j => jobs[j].Came == now) | again == now;
            if (isChanged)
                Plan(now);
            isChanged = false;
            Begin(now);
            if (Next(now) is not { } next)
                break;
            Wait(now, next);
            now = next;
        }

        var late = jobs.Select((job, j) => Math.Max(0, ready[j] - job.Promised)).ToList();
        return new WeekResult(
            jobs.Count,
            late.Count(minutes => minutes == 0),
            late.Sum(),
            idle,
            late.Where((minutes, j) => minutes > 0 && named[j]).Count(),
            said.Where((minute, j) => ready[j] <= minute).Count(),
            [.. first.Select((one, j) => one! with { Took = OpenBetween(jobs[j].Came, ready[j]) })]
        );
    }

    private WeekPiece Front(int job) => jobs[job].Pieces[piece[job]];

    private bool IsHere(int job, int now) => jobs[job].Came <= now && ready[job] < 0;

    private bool IsRunning(int job) => begun[job] >= 0;

    private bool Finish(int now)
    {
        var any = false;
        for (var j = 0; j < jobs.Count; j++)
            if (IsRunning(j) && until[j] <= now)
            {
                any = true;
                (begun[j], by[j]) = (-1, null);
                if (++piece[j] == jobs[j].Pieces.Count)
                    ready[j] = now;
                inPort[j] &= ready[j] < 0 && Front(j).Needs.HasFlag(Needs.Port);
            }

        return any;
    }

    private static List<Stretch> At(int now, params (int From, int To)[] hours) =>
        [
            .. Enumerable
                .Range(now / Night, Ahead)
                .SelectMany(day => hours.Select(one => new Stretch(Math.Max(0, day * Night + one.From - now), day * Night + one.To - now)))
                .Where(one => one.Minutes > 0),
        ];

    private static int OpenBetween(int from, int to) =>
        At(from, (Opens, OpenMinutes)).Sum(open => Math.Max(0, Math.Min(open.To, to - from) - open.From));

    private Day DayAt(int now) =>
        new(
            new DateTimeOffset(2026, 11, 30, 9, 0, 0, TimeSpan.Zero).AddMinutes(now),
            [.. people.Select(name => new BenchHands(name, At(now, (Opens, Lunch), (AfterLunch, OpenMinutes))))],
            At(now, (Opens, OpenMinutes)),
            ports,
            2,
            [.. Enumerable.Range(0, jobs.Count).Where(j => IsHere(j, now)).Select(j => JobAt(j, now))]
        );

    private DayJob JobAt(int j, int now)
    {
        var tasks = Front(j).Left.ToList();
        if (IsRunning(j))
        {
            // What takes longer than it should is over any moment.
            var minutes = Math.Max(tasks[0].Minutes, now - begun[j] + 2);
            tasks[0] = tasks[0] with { BegunAt = begun[j] - now, By = by[j], Minutes = minutes, Slow = Math.Max(minutes, tasks[0].Slow) };
        }

        return new DayJob(jobs[j].Ticket, j, tasks, jobs[j].Promised - now)
        {
            Weight = jobs[j].Waits ? DayJob.WeightOfWaiting : 1,
            IsInPort = inPort[j] && Front(j).Needs.HasFlag(Needs.Port),
        };
    }

    private void Plan(int now)
    {
        var day = DayAt(now);
        // What phones took that are ready is what the shop has learned until now.
        var bias = PromiseBias.Of(
            Enumerable
                .Range(0, jobs.Count)
                .Where(j => ready[j] >= 0)
                .Select(j => first[j]! with { Took = OpenBetween(jobs[j].Came, ready[j]) })
        );
        foreach (var j in Enumerable.Range(0, jobs.Count).Where(j => jobs[j].Came == now && said[j] is null))
            said[j] =
                now + IntakePromise.Of(day with { Jobs = [.. day.Jobs.Where(job => job.Came < j)] }, jobs[j].Pieces[0].Left, bias)
                ?? throw new InvalidOperationException("The week has no room for it.");
        timetable = policy(day, timetable?.Later(now - plannedAt));
        plannedAt = now;
        foreach (var chance in PromiseChances.Of(day, timetable, bias, 100))
        {
            var j = day.Jobs.First(job => job.Ticket == chance.Ticket).Came;
            var reckoned = chance.Reckoned;
            first[j] ??= new SaidReady(OpenBetween(now, now + reckoned.Usual), OpenBetween(now, now + reckoned.Slow), 0);
            named[j] |= chance.Chance < PromiseAdvice.Good && (now <= jobs[j].Promised - Warned || now == jobs[j].Came);
        }
    }

    private void Begin(int now)
    {
        var at = DayAt(now);
        // What goes by itself once its phone is where it should be waits for nobody's word.
        for (var j = 0; j < jobs.Count; j++)
            if (
                IsHere(j, now)
                && !IsRunning(j)
                && (Front(j).Needs & (Needs.Hands | Needs.Line | Needs.Charger)) == 0
                && at.Open.Any(open => open.From == 0)
            )
                TryBegin(j, now, null);
        foreach (var slot in timetable?.Slots.Where(slot => slot.Start + plannedAt <= now) ?? [])
        {
            var j = jobs.ToList().FindIndex(job => job.Ticket == slot.Ticket);
            if (!IsHere(j, now) || IsRunning(j) || Front(j).Left[0].Id != slot.Task.Id)
                continue;
            // Whoever is still at something else is waited for, and the timetable made anew.
            if (
                slot.Hands is not null
                    && (by.Contains(slot.Hands) || !at.Hands.First(one => one.Name == slot.Hands).At.Any(there => there.From == 0))
                || !TryBegin(j, now, slot.Hands)
            )
                again = now + 1;
        }

        for (var j = 0; j < jobs.Count; j++)
            if (IsRunning(j) && begun[j] + Front(j).Left[0].Minutes is var expected && expected <= now && again <= now)
                again = now + Again;
    }

    private bool TryBegin(int j, int now, string? hands)
    {
        var needs = Front(j).Needs;
        if (
            needs.HasFlag(Needs.Port) && !inPort[j] && inPort.Count(taken => taken) >= ports
            || needs.HasFlag(Needs.Line) && IsTaken(Needs.Line)
        )
            return false;
        (begun[j], until[j], by[j]) = (now, now + Front(j).Minutes, hands);
        inPort[j] |= needs.HasFlag(Needs.Port);
        return true;
    }

    private bool IsTaken(Needs what) => Enumerable.Range(0, jobs.Count).Any(j => IsRunning(j) && Front(j).Needs.HasFlag(what));

    private int? Next(int now)
    {
        var next = jobs.Where(job => job.Came > now)
            .Select(job => job.Came)
            .Concat(Enumerable.Range(0, jobs.Count).Where(IsRunning).Select(j => until[j]))
            .Concat(Enumerable.Range(0, jobs.Count).Where(IsRunning).Select(j => begun[j] + Front(j).Left[0].Minutes).Where(at => at > now))
            .Concat(timetable!.Slots.Select(slot => slot.Start + plannedAt).Where(at => at > now))
            .ToList();
        if (again > now)
            next.Add(again);
        // In the morning and after lunch what stood still goes on.
        if (Enumerable.Range(0, jobs.Count).Any(j => IsHere(j, now)))
            next.AddRange(At(now, (Opens, Lunch), (AfterLunch, OpenMinutes)).Select(at => now + at.From).Where(at => at > now).Take(1));
        return next.Count == 0 || ready.All(minute => minute >= 0) ? null : next.Min();
    }

    // Who stands there while something waits for hands.
    private void Wait(int now, int next)
    {
        var there = DayAt(now).Hands.Count(hands => hands.At.Any(at => at.From == 0) && !by.Contains(hands.Name));
        var left = DayAt(now).Hands[0].At.Where(at => at.From == 0).Select(at => at.To).FirstOrDefault();
        // What would not be over before the break does not wait for hands, but for its end.
        var waiting = Enumerable
            .Range(0, jobs.Count)
            .Count(j => IsHere(j, now) && !IsRunning(j) && Front(j).Needs.HasFlag(Needs.Hands) && Front(j).Left[0].Minutes <= left);
        idle += Math.Min(there, waiting) * Math.Min(left, next - now);
    }
}

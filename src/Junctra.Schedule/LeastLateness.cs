namespace Junctra.Schedule;

/// <summary>
/// What lateness a day has at the least, however its work is put in order: what a search need not look below, and what the gap of a
/// timetable is told by.
/// </summary>
internal static class LeastLateness
{
    /// <summary>Minutes late, each counted as its job's weight says, that no timetable falls below.</summary>
    /// <param name="day">The day.</param>
    /// <param name="margin">Minutes by which a job is to be ready before its promise.</param>
    /// <remarks>
    /// <para>
    /// Two bounds, and the greater of them. Each job by itself: it takes its own time, whatever else there is. All together: the k-th job
    /// of those that are promised cannot be done before all hands have had the minutes that the k smallest need; paired with the promises
    /// in their order, no other pairing is less late, for being late is convex.
    /// </para>
    /// </remarks>
    public static long Of(Day day, Func<DayJob, int> margin)
    {
        var jobs = day.Jobs.Where(job => job is { Promised: not null, Tasks.Count: > 0 }).ToList();
        var alone = jobs.ConvertAll(job => Alone(day, job));
        var byThemselves = jobs.Select((job, i) => (long)Math.Max(0, alone[i] - Due(job)) * job.Weight).Sum();
        var (work, together, minute, had) = (0, 0L, 0, 0);
        var earliest = alone.Order().ToList();
        var due = jobs.Select(Due).Order().ToList();
        var works = jobs.Select(HandsOf).Order().ToList();
        for (var k = 0; k < jobs.Count; k++)
        {
            work += works[k];
            while (had < work && minute < day.Horizon)
            {
                had += day.Hands.Count(hands => hands.At.Hold(minute, minute + 1));
                minute++;
            }

            together += Math.Max(0, Math.Max(earliest[k], minute) - due[k]);
        }

        return Math.Max(byThemselves, together);

        int Due(DayJob job) => job.Promised!.Value - margin(job);
    }

    /// <summary>Promises that break however the work is put in order, for they break by themselves; weighted.</summary>
    public static int Broken(Day day) =>
        day.Jobs.Where(job => job.Tasks.Count > 0 && Alone(day, job) > job.Promised).Sum(job => job.Weight);

    private static int HandsOf(DayJob job) =>
        job.Tasks.Where(task => task.Needs.HasFlag(Needs.Hands)).Sum(task => Math.Max(0, task.Minutes + (task.BegunAt ?? 0)));

    // When a job is ready if it is the only one.
    private static int Alone(Day day, DayJob job)
    {
        var at = 0;
        foreach (var task in job.Tasks)
            at = task.BegunAt is { } begun ? Math.Max(begun + task.Minutes, 1) : Earliest(day, task, at) + task.Minutes;
        return at;
    }

    private static int Earliest(Day day, WorkTask task, int at)
    {
        for (var before = -1; before != at; )
        {
            before = at;
            if (task.Needs.HasFlag(Needs.Shop))
                at = day.Open.FirstRoom(at, task.Minutes) ?? at;
            if (task.Needs.HasFlag(Needs.Hands))
                at = day.Hands.Min(hands => hands.At.FirstRoom(at, task.Minutes)) ?? at;
        }

        return at;
    }
}

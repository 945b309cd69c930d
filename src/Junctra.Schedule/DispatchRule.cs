namespace Junctra.Schedule;

/// <summary>
/// The simple rules by which a bench works without a timetable: whoever's hands are free takes, of the jobs that wait for hands, the one
/// that comes first in some order, and what needs no hands begins as soon as it can.
/// </summary>
public static class DispatchRule
{
    /// <summary>The most pressed job first: the least time left until its promise after all its work.</summary>
    public static Timetable MostPressed(Day day, Timetable? known = null)
    {
        var left = day.Jobs.ToDictionary(job => job.Ticket, job => job.Tasks.Sum(task => task.Minutes));
        return Run(
            day,
            job => job.Promised is { } promised ? (promised - left[job.Ticket]) / (double)job.Weight : int.MaxValue - 1000.0 + job.Came,
            known
        );
    }

    /// <summary>The job first that came first.</summary>
    public static Timetable FirstCome(Day day) => Run(day, job => job.Came, null);

    private static Timetable Run(Day day, Func<DayJob, double> order, Timetable? known)
    {
        if (day.WhyNot is { } why)
            throw new ArgumentException(why, nameof(day));
        return InOrder(day, [.. day.Jobs.OrderBy(order).ThenBy(job => job.Came).ThenBy(job => job.Ticket, StringComparer.Ordinal)], known);
    }

    /// <summary>Whoever is free takes the first of the jobs, in this order, that waits for hands.</summary>
    internal static Timetable InOrder(Day day, List<DayJob> jobs, Timetable? known)
    {
        var bench = new BenchState(day);
        var blocks = jobs.ConvertAll(Block.Of);
        var next = new int[jobs.Count];
        for (var now = 0; next.Zip(blocks).Any(one => one.First < one.Second.Count); )
        {
            for (var j = 0; j < jobs.Count; j++)
                while (next[j] < blocks[j].Count && bench.TryBegin(blocks[j][next[j]], now))
                    next[j]++;
            now = bench.NextChange(now);
        }

        return new Timetable(bench.Slots, TimetableMaker.Rule, Timetable.CostOf(day, bench.Slots, known));
    }
}

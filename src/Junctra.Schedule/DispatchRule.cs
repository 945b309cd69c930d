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
        var bench = new BenchState(day, known);
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

    /// <summary>
    /// Whoever is free takes what they would have taken next by the timetable that people know; what is new, when it is pressed.
    /// </summary>
    internal static Timetable AsKnown(Day day, Timetable known)
    {
        var told = known.Slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id), slot => (int?)slot.Start);
        var bench = new BenchState(day, known);
        var left = day
            .Jobs.SelectMany(job => Block.Of(job).Zip(Turns(job)))
            .OrderBy(one => one.Second)
            .ThenBy(one => one.First.Job.Came)
            .ThenBy(one => one.First.First)
            .Select(one => one.First)
            .ToList();
        for (var now = 0; ; now = bench.NextChange(now))
        {
            // What stands first of a job and cannot begin keeps all else of it waiting.
            var waits = new HashSet<string>(StringComparer.Ordinal);
            for (var i = 0; i < left.Count; )
                if (!waits.Contains(left[i].Job.Ticket) && bench.TryBegin(left[i], now))
                    left.RemoveAt(i);
                else
                    waits.Add(left[i++].Job.Ticket);
            if (left.Count == 0)
                return new Timetable(bench.Slots, TimetableMaker.Known, Timetable.CostOf(day, bench.Slots, known));
        }

        // When each block has its turn: never before one of its own job that comes first, and what is new before what follows it.
        List<int> Turns(DayJob job)
        {
            var latest = (job.Promised ?? day.Horizon) - job.Tasks.Sum(task => task.Minutes);
            var turns = Block.Of(job).ConvertAll(block => told.GetValueOrDefault((job.Ticket, block.Tasks[0].Id)));
            var last = int.MinValue;
            return [.. turns.Select((_, i) => last = Math.Max(last, turns.Skip(i).FirstOrDefault(turn => turn is not null) ?? latest))];
        }
    }
}

namespace Junctra.Schedule;

/// <summary>
/// How exposed the promises of a day are: what is late by the usual times is bad, and what has little room is, too, for times stray and
/// more phones come in before the day is over.
/// </summary>
internal static class Exposure
{
    /// <summary>
    /// Minutes by which jobs are ready later than leaves their promise a good chance, once for each of <see cref="DayJob.Margins"/>; those
    /// beyond the promise count as often again, and a promise that breaks as <see cref="Cost.Broke"/> of them. Each counted as its job's
    /// weight says.
    /// </summary>
    /// <param name="day">The day.</param>
    /// <param name="ready">The minute in which each job is ready, in the day's order.</param>
    public static long Of(Day day, IReadOnlyList<int> ready)
    {
        var sum = 0L;
        for (var i = 0; i < ready.Count; i++)
        {
            var job = day.Jobs[i];
            if (job is not { Promised: { } promised, Tasks.Count: > 0 })
                continue;
            var late = Math.Max(0, ready[i] - promised);
            long minutes = DayJob.CountOfMargins * (late + (late > 0 ? Cost.Broke : 0));
            foreach (var margin in job.Margins)
                minutes += Math.Max(0, ready[i] - (promised - margin));
            sum += minutes * job.Weight;
        }

        return sum;
    }

    /// <summary>The minute in which each job is ready by a timetable; 0 where no work is left of it.</summary>
    public static int[] Ready(Day day, IReadOnlyList<Slot> slots)
    {
        var ready = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var slot in slots)
            ready[slot.Ticket] = Math.Max(slot.End, ready.GetValueOrDefault(slot.Ticket));
        return [.. day.Jobs.Select(job => ready.GetValueOrDefault(job.Ticket))];
    }
}

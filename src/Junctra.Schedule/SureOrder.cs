namespace Junctra.Schedule;

/// <summary>
/// Looks for an order of jobs by which promises hold although times stray: each order is worked through on several days, the same for all
/// orders, whose times are drawn. Whoever is free takes the first job that waits, so nobody waits for what comes late.
/// </summary>
internal static class SureOrder
{
    private const int Drawn = 12,
        TriesOfEffort = 40,
        LeastTries = 20,
        FewPhones = 2,
        Seed = 1009;
    private const double Share = 0.15;

    /// <summary>The timetable of the surest order that was found.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know.</param>
    /// <param name="from">Timetables from whose order it begins: the surest of them.</param>
    /// <param name="limit">How much may be taken; of its time a part is taken here at most.</param>
    /// <param name="cancel">Ends it early, with what it has.</param>
    public static Timetable Of(Day day, Timetable? known, IReadOnlyList<Timetable> from, SolverLimit limit, CancellationToken cancel)
    {
        var days = Enumerable.Range(0, Drawn).Select(i => Stray(day, i)).Where(one => one.WhyNot is null).ToList();
        var order = from.Select(made => OrderOf(day, made)).MinBy(Cost)!;
        var cost = Cost(order);
        var random = new Random(day.Jobs.Count);
        var until = DateTime.UtcNow.AddSeconds(limit.MaxSeconds * Share);
        var tries = day.Jobs.Count < FewPhones ? 0 : Math.Max(LeastTries, (int)(limit.Effort * TriesOfEffort));
        for (var tried = 0; tried < tries && cost > 0 && DateTime.UtcNow < until && !cancel.IsCancellationRequested; tried++)
        {
            var other = order.ToList();
            var place = random.Next(other.Count);
            var job = other[place];
            other.RemoveAt(place);
            other.Insert(random.Next(other.Count + 1), job);
            if (Cost(other) is var costs && costs < cost)
                (order, cost) = (other, costs);
        }

        return In(day, order) with
        {
            Maker = TimetableMaker.SureOrder,
        };

        long Cost(List<int> tried) => days.Sum(one => Exposure.Of(one, Exposure.Ready(one, In(one, tried).Slots)));

        Timetable In(Day one, List<int> tried) => DispatchRule.InOrder(one, tried.ConvertAll(job => one.Jobs[job]), known);
    }

    // The places of the jobs, by where their first work is begun.
    private static List<int> OrderOf(Day day, Timetable made)
    {
        var first = made.Slots.GroupBy(slot => slot.Ticket).ToDictionary(job => job.Key, job => job.Min(slot => slot.Start));
        return
        [
            .. Enumerable
                .Range(0, day.Jobs.Count)
                .OrderBy(job => first.GetValueOrDefault(day.Jobs[job].Ticket))
                .ThenBy(job => day.Jobs[job].Came),
        ];
    }

    // The same day, with times as they may come.
    private static Day Stray(Day day, int i)
    {
        var random = new Random(Seed + i);
        return day with { Jobs = [.. day.Jobs.Select(job => job with { Tasks = [.. job.Tasks.Select(Strays)] })] };

        WorkTask Strays(WorkTask task)
        {
            var minutes = PromiseChances.Drawn(task, random);
            return task with { Minutes = minutes, Slow = Math.Max(minutes, task.Slow) };
        }
    }
}

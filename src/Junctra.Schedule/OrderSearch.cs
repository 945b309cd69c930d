namespace Junctra.Schedule;

/// <summary>
/// Looks for an order of jobs in which the simple rule is less late: jobs are taken out of the order and put in elsewhere, and what is no
/// worse is kept. Where a solver has too many phones for the time that it is given, this is where it begins.
/// </summary>
internal static class OrderSearch
{
    // So many orders are tried for each unit of a solver's effort, and of so many phones and fewer none: the solver is through with those.
    private const int TriesOfEffort = 300,
        FewPhones = 4;
    private const double Share = 0.3;

    /// <summary>A timetable that is no worse than one of before.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know.</param>
    /// <param name="best">The best that is known so far.</param>
    /// <param name="limit">How much the solver may take; of its time a third is taken here at most.</param>
    /// <param name="cancel">Ends it.</param>
    public static Timetable Better(Day day, Timetable? known, Timetable best, SolverLimit limit, CancellationToken cancel)
    {
        if (day.Jobs.Count <= FewPhones)
            return best;
        var random = new Random(day.Jobs.Count);
        var until = DateTime.UtcNow.AddSeconds(limit.MaxSeconds * Share);
        // A job's place is where its first work is begun: the rule's own order, or a solver's.
        var order = day
            .Jobs.OrderBy(job => best.Slots.Where(slot => slot.Ticket == job.Ticket).Select(slot => slot.Start).DefaultIfEmpty().Min())
            .ToList();
        var kept = DispatchRule.InOrder(day, order, known);
        for (var tried = 0; tried < limit.Effort * TriesOfEffort && DateTime.UtcNow < until && !cancel.IsCancellationRequested; tried++)
        {
            var other = order.ToList();
            var from = random.Next(other.Count);
            var job = other[from];
            other.RemoveAt(from);
            other.Insert(random.Next(other.Count + 1), job);
            var made = DispatchRule.InOrder(day, other, known);
            if (made.Cost <= kept.Cost)
                (order, kept) = (other, made);
        }

        return kept.Cost < best.Cost && kept.Cost.Late <= best.Cost.Late ? kept with { Maker = TimetableMaker.Solver } : best;
    }
}

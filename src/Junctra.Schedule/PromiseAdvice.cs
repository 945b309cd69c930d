namespace Junctra.Schedule;

/// <summary>Something that would help a promise.</summary>
/// <param name="Words">What is done.</param>
/// <param name="Chance">The chance that the promise then has.</param>
public sealed record Measure(string Words, double Chance);

/// <summary>A promise that is likely to break, and what would save it.</summary>
/// <param name="Ticket">Ticket of the job.</param>
/// <param name="Chance">The chance that it holds as things stand.</param>
/// <param name="Measures">What would help, the most helpful first; empty where nothing does.</param>
/// <param name="Instead">The minute that holds in nine of ten.</param>
public sealed record Advice(string Ticket, double Chance, IReadOnlyList<Measure> Measures, int Instead)
{
    /// <summary>Whether something would save it.</summary>
    public bool IsSaved => Measures.Count > 0 && Measures[0].Chance >= PromiseAdvice.Good;
}

/// <summary>
/// What saves a promise that is about to break: each measure is tried by making the day anew with it, and what does not help is not said
/// (specification: section 13 of the job).
/// </summary>
public static class PromiseAdvice
{
    /// <summary>A promise holds well enough from this chance on.</summary>
    public const double Good = 0.9;

    private const int Urgent = 100;

    /// <summary>The promise that breaks first of those that are likelier to break than is good; null where all hold.</summary>
    /// <param name="day">The day.</param>
    /// <param name="timetable">Its timetable.</param>
    /// <param name="chances">How its promises stand.</param>
    /// <param name="limit">How much each try may take.</param>
    /// <param name="cancel">Ends it.</param>
    public static Advice? Of(
        Day day,
        Timetable timetable,
        IReadOnlyList<PromiseChance> chances,
        SolverLimit? limit = null,
        CancellationToken cancel = default
    )
    {
        var first = chances
            .Where(one => one.Promised is not null && one.Chance < Good)
            .OrderBy(one => one.Promised)
            .ThenBy(one => one.Chance)
            .FirstOrDefault();
        if (first is null || day.Jobs.FirstOrDefault(job => job.Ticket == first.Ticket) is not { } job)
            return null;
        var measures = new List<Measure>();
        void Try(string words, Day other)
        {
            if (cancel.IsCancellationRequested || other.WhyNot is not null)
                return;
            var made = TimetableSolver.Solve(other, timetable, limit ?? new SolverLimit(0.2, 1), cancel);
            var chance = PromiseChances.Of(other, made).First(one => one.Ticket == first.Ticket).Chance;
            if (chance > first.Chance + 0.05)
                measures.Add(new Measure(words, chance));
        }

        Day With(DayJob changed) => day with { Jobs = [.. day.Jobs.Select(one => one.Ticket == changed.Ticket ? changed : one)] };
        Try($"Take {job.Ticket} before everything else.", With(job with { Weight = Urgent }));
        if (job.Tasks.Any(task => task is { BegunAt: null } && task.Needs.HasFlag(Needs.Line)))
            Try(
                "Fetch its file from a mirror that is twice as fast.",
                With(
                    job with
                    {
                        Tasks =
                        [
                            .. job.Tasks.Select(task =>
                                task.BegunAt is null && task.Needs.HasFlag(Needs.Line)
                                    ? task with
                                    {
                                        Minutes = (task.Minutes + 1) / 2,
                                        Slow = (task.Slow + 1) / 2,
                                    }
                                    : task
                            ),
                        ],
                    }
                )
            );
        if (job.Tasks.Any(task => task.Needs.HasFlag(Needs.Port)))
            Try("Set up another port.", day with { Ports = day.Ports + 1 });
        Try("Have another pair of hands help.", day with { Hands = [.. day.Hands, new BenchHands("another", day.Open)] });
        return new Advice(first.Ticket, first.Chance, [.. measures.OrderByDescending(one => one.Chance)], first.Slow);
    }
}

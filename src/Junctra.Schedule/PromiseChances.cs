using Junctra.Core.Insight;

namespace Junctra.Schedule;

/// <summary>How a promise stands.</summary>
/// <param name="Ticket">Ticket of the job.</param>
/// <param name="Promised">The minute for which it is promised; null where none is.</param>
/// <param name="Chance">Chance that it holds; 1 where nothing is promised.</param>
/// <param name="Usual">The minute in which it is usually ready.</param>
/// <param name="Slow">The minute by which it is ready in nine of ten.</param>
public sealed record PromiseChance(string Ticket, int? Promised, double Chance, int Usual, int Slow)
{
    /// <summary>The same before anything that was learned of how the shop's days go.</summary>
    public required Reckoned Reckoned { get; init; }
}

/// <summary>How a promise stands as reckoned.</summary>
/// <param name="Chance">Chance that it holds.</param>
/// <param name="Usual">The minute in which it is usually ready.</param>
/// <param name="Slow">The minute by which it is ready in nine of ten.</param>
public sealed record Reckoned(double Chance, int Usual, int Slow);

/// <summary>
/// What chance each promise has: the bench works by the timetable again and again, with times drawn anew. A time is drawn so that half
/// of all draws
/// lie below the usual one and nine of ten below the slow one, and it never falls far below: lognormal, as times of work are.
/// </summary>
public static class PromiseChances
{
    // Where nine of ten of a normal distribution lie below.
    private const double NineOfTen = 1.2815515655446004;

    /// <summary>How often a timetable is played.</summary>
    public const int Draws = 400;

    /// <summary>The chance of each promise.</summary>
    /// <param name="day">The day.</param>
    /// <param name="timetable">Its timetable.</param>
    /// <param name="bias">How the shop's days go beside what is said of them; null where nothing was learned.</param>
    /// <param name="draws">How often it is played.</param>
    /// <param name="seed">Seed of the draws.</param>
    public static IReadOnlyList<PromiseChance> Of(Day day, Timetable timetable, PromiseBias? bias = null, int draws = Draws, int seed = 1)
    {
        var played = Played(day, timetable, draws, seed).ToList();
        return [.. day.Jobs.Select((job, i) => Stand(job, [.. played.Select(ready => ready[i]).Order()]))];

        PromiseChance Stand(DayJob job, int[] sorted)
        {
            var reckoned = new Reckoned(Holds(sorted), sorted[draws / 2], sorted[Math.Min(draws - 1, draws * 9 / 10)]);
            if (bias is not { Jobs: > 0 })
                return new PromiseChance(job.Ticket, job.Promised, reckoned.Chance, reckoned.Usual, reckoned.Slow) { Reckoned = reckoned };
            // What was learned is in minutes in which the shop is open.
            var (usual, slow) = (OpenUntil(day, reckoned.Usual), OpenUntil(day, reckoned.Slow));
            var learned = sorted.Select(end => AtOpen(day, bias.Of(OpenUntil(day, end), usual, slow))).Order().ToArray();
            return new PromiseChance(
                job.Ticket,
                job.Promised,
                Holds(learned),
                learned[draws / 2],
                learned[Math.Min(draws - 1, draws * 9 / 10)]
            )
            {
                Reckoned = reckoned,
            };

            double Holds(int[] ready) => job.Promised is { } promised ? ready.Count(end => end <= promised) / (double)draws : 1;
        }
    }

    /// <summary>When each job is ready, in the day's order, each time that the bench works by a timetable with times drawn anew.</summary>
    /// <param name="day">The day.</param>
    /// <param name="timetable">Its timetable.</param>
    /// <param name="draws">How often it is played.</param>
    /// <param name="seed">Seed of the draws; the same times for every timetable of the day.</param>
    internal static IEnumerable<int[]> Played(Day day, Timetable timetable, int draws, int seed = 1)
    {
        var bench = new BenchPlay(day, timetable.Slots);
        for (var draw = 0; draw < draws; draw++)
        {
            var random = new Random(seed * 7919 + draw);
            var drawn = day.Jobs.Select(job => job.Tasks.Select(task => Drawn(task, random)).ToArray()).ToArray();
            yield return bench.Play((job, task) => drawn[job][task]);
        }
    }

    /// <summary>Minutes until a minute of the day in which the shop is open.</summary>
    public static int OpenUntil(Day day, int minute) => day.Open.MinutesUntil(minute);

    // The minute of the day by which the shop was open for so many.
    private static int AtOpen(Day day, double minutes)
    {
        var left = (int)Math.Round(minutes);
        foreach (var open in day.Open)
        {
            if (left <= open.Minutes)
                return open.From + left;
            left -= open.Minutes;
        }

        return day.Horizon + left;
    }

    /// <summary>A time that a task may take; of one that has begun, one that is longer than it has lasted.</summary>
    public static int Drawn(WorkTask task, Random random)
    {
        var spread = Math.Log(task.Slow / (double)task.Minutes) / NineOfTen;
        var lasted = -(task.BegunAt ?? 0);
        for (var again = 0; ; again++)
        {
            // Two uniform draws make a normal one.
            var normal = Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
            var minutes = Math.Max(1, (int)Math.Round(task.Minutes * Math.Exp(spread * normal)));
            if (minutes > lasted || again == MostAgain)
                return Math.Max(minutes, lasted + 1);
        }
    }

    // A time that hardly any task of its kind takes is over in the next minute.
    private const int MostAgain = 20;
}

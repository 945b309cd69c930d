namespace Junctra.Schedule;

/// <summary>How a promise stands.</summary>
/// <param name="Ticket">Ticket of the job.</param>
/// <param name="Promised">The minute for which it is promised; null where none is.</param>
/// <param name="Chance">Chance that it holds; 1 where nothing is promised.</param>
/// <param name="Usual">The minute in which it is usually ready.</param>
/// <param name="Slow">The minute by which it is ready in nine of ten.</param>
public sealed record PromiseChance(string Ticket, int? Promised, double Chance, int Usual, int Slow);

/// <summary>
/// What chance each promise has: the timetable is played again and again with times drawn anew. A time is drawn so that half of all draws
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
    /// <param name="draws">How often it is played.</param>
    /// <param name="seed">Seed of the draws.</param>
    public static IReadOnlyList<PromiseChance> Of(Day day, Timetable timetable, int draws = Draws, int seed = 1)
    {
        var replay = new Replay(day, timetable.Slots);
        var ends = day.Jobs.Select(_ => new int[draws]).ToArray();
        for (var draw = 0; draw < draws; draw++)
        {
            var random = new Random(seed * 7919 + draw);
            var d = draw;
            replay.Play(task => Drawn(task, random), (job, _, _, to) => ends[job][d] = Math.Max(ends[job][d], to));
        }

        return
        [
            .. day.Jobs.Select(
                (job, i) =>
                {
                    var sorted = ends[i].Order().ToArray();
                    return new PromiseChance(
                        job.Ticket,
                        job.Promised,
                        job.Promised is { } promised ? sorted.Count(end => end <= promised) / (double)draws : 1,
                        sorted[draws / 2],
                        sorted[Math.Min(draws - 1, draws * 9 / 10)]
                    );
                }
            ),
        ];
    }

    /// <summary>A time that a task may take.</summary>
    public static int Drawn(WorkTask task, Random random)
    {
        var spread = Math.Log(task.Slow / (double)task.Minutes) / NineOfTen;
        // Two uniform draws make a normal one.
        var normal = Math.Sqrt(-2 * Math.Log(1 - random.NextDouble())) * Math.Cos(2 * Math.PI * random.NextDouble());
        return Math.Max(1, (int)Math.Round(task.Minutes * Math.Exp(spread * normal)));
    }
}

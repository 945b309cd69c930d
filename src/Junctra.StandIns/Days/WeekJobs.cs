using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Schedule;
using Junctra.StandIns.History;

namespace Junctra.StandIns.Days;

/// <summary>A stretch of a job's work as it goes, and all that is left when it begins, as the bench reckons.</summary>
/// <param name="Needs">What it takes up.</param>
/// <param name="Minutes">How long it takes, which nobody knows before.</param>
/// <param name="Left">What is left by what is known, this stretch first.</param>
internal sealed record WeekPiece(Needs Needs, int Minutes, IReadOnlyList<WorkTask> Left);

/// <summary>A phone of a simulated week.</summary>
/// <param name="Ticket">Its ticket.</param>
/// <param name="Came">The minute of the week in which it comes.</param>
/// <param name="Promised">The minute for which it is promised.</param>
/// <param name="Waits">Whether its customer stands there.</param>
/// <param name="Pieces">Its work.</param>
internal sealed record WeekJob(string Ticket, int Came, int Promised, bool Waits, IReadOnlyList<WeekPiece> Pieces);

/// <summary>
/// The phones of a week: jobs of the simulated shop, with every run through a twin, by hands that miss a moment and over cables that let
/// go, brought within one week. Some wait for a file first.
/// </summary>
internal static class WeekJobs
{
    private const int Night = 24 * 60;
    private const double Fetches = 0.2,
        Stands = 0.15,
        SameDay = 0.55;
    private static readonly Band Download = new(45, 75);

    /// <summary>The phones.</summary>
    /// <param name="catalogue">Models, tables and figures.</param>
    /// <param name="library">Packages of the shop.</param>
    /// <param name="seed">What is chance is drawn from it.</param>
    /// <param name="days">How many days.</param>
    /// <param name="perDay">How many phones come in a day.</param>
    /// <param name="openMinutes">For how many minutes the shop is open in a day, from its first minute on.</param>
    public static IReadOnlyList<WeekJob> Of(
        ModelCatalogue catalogue,
        IReadOnlyList<Package> library,
        int seed,
        int days,
        int perDay,
        int openMinutes
    )
    {
        var dice = new Dice(seed);
        var played = new SimulatedShop(catalogue, library, seed).PlayJobs().Where(one => one.Work.Count > 0).Take(days * perDay).ToList();
        var came = Enumerable
            .Range(0, days)
            // More come in the morning, nobody in the last hour.
            .SelectMany(day => Enumerable.Range(0, perDay).Select(_ => day * Night + (int)(dice.Next() * dice.Next() * (openMinutes - 60))))
            .Order()
            .ToList();
        return [.. played.Zip(came).Select((one, i) => Job($"{1000 + i}", one.Second, one.First.Work))];

        WeekJob Job(string ticket, int at, IReadOnlyList<DoneWork> work)
        {
            var pieces = Pieces(dice.Chance(Fetches) ? WithFile(work, dice) : work);
            var day = at / Night * Night;
            var kind = dice.Next();
            // Customers ask for an hour; whoever stands there is told when it can be.
            var promised =
                kind < Stands ? at + pieces[0].Left.Sum(task => task.Slow) / 5 * 5 + 15
                : kind < Stands + SameDay ? Math.Min(day + openMinutes - 15, (at + 150 + dice.Below(180)) / 30 * 30)
                : day + Night + 60 + dice.Below(6) * 60;
            return new WeekJob(ticket, at, promised, kind < Stands, pieces);
        }
    }

    // What waits for a file waits before its first plan.
    private static List<DoneWork> WithFile(IReadOnlyList<DoneWork> work, Dice dice)
    {
        var first = work.ToList().FindIndex(one => one.Known.Plan is not null);
        if (first < 0)
            return [.. work];
        var file = new Fetch("a stock package", Download, false, []);
        var before = work.Take(first).Select(one => one with { Known = one.Known with { Fetch = file } }).ToList();
        var known = work[first].Known with { Plan = null, Fetch = file };
        return [.. before, new DoneWork(Needs.Line, Download.Typical * dice.Strays(0.35), known), .. work.Skip(first)];
    }

    // What the same hands do without a pause is one stretch.
    private static List<WeekPiece> Pieces(IReadOnlyList<DoneWork> work)
    {
        var pieces = new List<WeekPiece>();
        for (var i = 0; i < work.Count; )
        {
            var to = i + 1;
            while (to < work.Count && work[to].Needs == work[i].Needs)
                to++;
            pieces.Add(
                new WeekPiece(
                    work[i].Needs,
                    Math.Max(1, (int)Math.Round(work.Skip(i).Take(to - i).Sum(one => one.Minutes))),
                    Left(work[i].Known, work[i].Needs)
                )
            );
            i = to;
        }

        return pieces;
    }

    private static List<WorkTask> Left(WorkCase known, Needs needs)
    {
        var left = RemainingWork.Of(known).ToList();
        // What is done next is seen when it is: a check that is not in the figures, a cable that is changed.
        if (left.Count == 0 || left[0].Needs != needs)
            left.Insert(0, new WorkTask("Next", "what comes next", needs, 4, 8));
        left[0] = left[0] with { AtOnce = false };
        return left.ConvertAll(task => task with { BegunAt = null, By = null });
    }
}

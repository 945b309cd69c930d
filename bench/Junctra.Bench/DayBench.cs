using System.Diagnostics;
using Junctra.Formats.CatalogueFiles;
using Junctra.Schedule;
using Junctra.StandIns.Days;
using Junctra.StandIns.History;

namespace Junctra.Bench;

/// <summary>
/// Bench days from seeds: the solver's timetable against the simple rules, and how long it and a promise at the counter take.
/// </summary>
internal static class DayBench
{
    private const int Days = 200,
        Timed = 20,
        Weeks = 3;
    private const double MaxShare = 0.5,
        MaxSeconds12 = 2,
        MaxSeconds40 = 5,
        MaxPromise = 200;

    /// <summary>Seeded days.</summary>
    public static IReadOnlyList<BenchRow> Run()
    {
        // The first brings the solver to where it is in a program that has run for a while.
        TimetableSolver.Solve(InventedDay.Of(1, 8));
        return [.. Against(), .. Twelve(), .. Forty(), Promise()];
    }

    private sealed record Sum(double Late, double Idle)
    {
        public static Sum operator +(Sum one, Sum other) => new(one.Late + other.Late, one.Idle + other.Idle);

        public static Sum Of(Day day, Timetable made) => new(made.Cost.Late, made.Idle(day));
    }

    private static IEnumerable<BenchRow> Against()
    {
        var (solved, pressed, first) = (new Sum(0, 0), new Sum(0, 0), new Sum(0, 0));
        for (var seed = 1; seed <= Days; seed++)
        {
            var day = InventedDay.Of(seed, 8 + seed % 9, 1 + seed % 2, 3 + seed % 3);
            solved += Sum.Of(day, TimetableSolver.Solve(day, limit: new SolverLimit(1.2, 5)));
            pressed += Sum.Of(day, DispatchRule.MostPressed(day));
            first += Sum.Of(day, DispatchRule.FirstCome(day));
        }

        yield return Row("minutes late", "the rule", solved.Late, pressed.Late);
        yield return Row("minutes late", "first come", solved.Late, first.Late);
        yield return Row("minutes that hands wait", "the rule", solved.Idle, pressed.Idle);
        yield return Row("minutes that hands wait", "first come", solved.Idle, first.Idle);

        static BenchRow Row(string what, string against, double ours, double theirs) =>
            new(
                $"{what} on {Days} seeded days of 8 to 16 phones, against {against}",
                against,
                $"{ours / Days:0.0} a day",
                $"{theirs / Days:0.0} a day",
                BenchRow.Ratio(ours / theirs),
                $"at most {MaxShare:0.0}",
                ours <= MaxShare * theirs
            );
    }

    private static IEnumerable<BenchRow> Twelve()
    {
        for (var people = 1; people <= 2; people++)
        {
            var seconds = new List<double>();
            var proved = 0;
            for (var seed = 1; seed <= Timed; seed++)
            {
                var (made, took) = Solved(InventedDay.Of(1000 + seed, 12, people), SolverLimit.Usual);
                seconds.Add(took);
                proved += made.IsProved ? 1 : 0;
            }

            yield return new BenchRow(
                $"the best timetable of 12 phones, {people} {(people == 1 ? "pair" : "pairs")} of hands, of {Timed} days",
                "proved to be",
                BenchRow.Seconds(BenchRow.Median(seconds)),
                $"{proved} of {Timed}",
                $"slowest {BenchRow.Seconds(seconds.Max())}",
                $"all, under {MaxSeconds12:0} s",
                proved == Timed && seconds.Max() < MaxSeconds12
            );
        }
    }

    private static IEnumerable<BenchRow> Forty()
    {
        var seconds = new List<double>();
        double late = 0,
            least = 0,
            rule = 0;
        for (var seed = 1; seed <= Timed / 2; seed++)
        {
            var day = InventedDay.Of(2000 + seed, 40, 2, 6);
            var (made, took) = Solved(day, SolverLimit.Usual);
            seconds.Add(took);
            late += made.Cost.Late;
            least += made.AtLeast?.Late ?? 0;
            rule += DispatchRule.MostPressed(day).Cost.Late;
        }

        yield return new BenchRow(
            $"a timetable of 40 phones, 2 pairs of hands, of {Timed / 2} days, with what is proved to be the least",
            "the rule",
            $"{late / seconds.Count:0} min late, proved {least / seconds.Count:0} at least",
            $"{rule / seconds.Count:0} min late",
            $"slowest {BenchRow.Seconds(seconds.Max())}",
            $"within {MaxSeconds40:0} s, never later",
            seconds.Max() <= MaxSeconds40 + 0.5 && late <= rule
        );
    }

    /// <summary>The phones of the simulated shop, with every run through a twin, on a bench with enough to do.</summary>
    public static async Task<IEnumerable<BenchRow>> WeeksAsync(string root, string work)
    {
        var catalogue = CatalogueReader.Read(Path.Combine(root, "catalogue"));
        var folder = Path.Combine(work, "week");
        using (
            var made = Programs.Start(
                "dotnet",
                [],
                Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll"),
                "packages",
                folder
            )
        )
            await made.WaitForExitAsync();
        var packages = await HistoryFile.ReadAsync(catalogue, folder);
        var weeks = new List<SimulatedWeek>();
        for (var seed = 1; seed <= Weeks; seed++)
            weeks.Add(SimulatedWeek.Play(catalogue, packages, seed, new SolverLimit(0.1, 0.5)));
        return [Row("the rule", week => week.MostPressed), Row("first come", week => week.FirstCome), Said()];

        BenchRow Row(string against, Func<SimulatedWeek, WeekResult> other)
        {
            var (ours, theirs) = (weeks.ConvertAll(week => week.Solved), weeks.ConvertAll(week => other(week)));
            return new BenchRow(
                $"promises kept in {Weeks} simulated weeks, against {against}",
                against,
                $"{ours.Sum(one => one.Kept)} of {ours.Sum(one => one.Phones)}, {ours.Sum(one => one.LateMinutes)} min late, hands idle {ours.Sum(one => one.IdleMinutes)} min",
                $"{theirs.Sum(one => one.Kept)}, {theirs.Sum(one => one.LateMinutes)} min late, idle {theirs.Sum(one => one.IdleMinutes)} min",
                $"{BenchRow.Ratio(ours.Sum(one => one.LateMinutes) / (double)Math.Max(1, theirs.Sum(one => one.LateMinutes)))} of the lateness",
                "no promise more broken",
                ours.Sum(one => one.Kept) >= theirs.Sum(one => one.Kept)
            );
        }

        BenchRow Said()
        {
            var solved = weeks.ConvertAll(week => week.Solved);
            var (held, all) = (solved.Sum(one => one.SaidHeld), solved.Sum(one => one.Phones));
            var broken = all - solved.Sum(one => one.Kept);
            return new BenchRow(
                $"what the counter says holds in nine of ten, in {Weeks} simulated weeks",
                "what is said",
                $"{held} of {all} hold",
                $"{solved.Sum(one => one.Named)} of {broken} broken were named an hour before",
                BenchRow.Ratio(held / (double)all),
                "0.85 to 0.95",
                held >= 0.85 * all && held <= 0.95 * all
            );
        }
    }

    private static BenchRow Promise()
    {
        var day = InventedDay.Of(3001, 40, 2, 6);
        var comes = InventedDay.Of(3002, 1).Jobs[0].Tasks;
        var milliseconds = new List<double>();
        for (var round = 0; round < Timed; round++)
        {
            var watch = Stopwatch.StartNew();
            IntakePromise.Of(day, comes);
            milliseconds.Add(watch.Elapsed.TotalMilliseconds);
        }

        return new BenchRow(
            "when a phone that comes in can be ready, beside 40 that are there",
            "nothing",
            $"{BenchRow.Median(milliseconds):0} ms",
            "",
            $"slowest of {Timed} {milliseconds.Max():0} ms",
            $"at most {MaxPromise:0} ms",
            BenchRow.Median(milliseconds) <= MaxPromise
        );
    }

    private static (Timetable Made, double Seconds) Solved(Day day, SolverLimit limit)
    {
        var watch = Stopwatch.StartNew();
        var made = TimetableSolver.Solve(day, limit: limit);
        return (made, watch.Elapsed.TotalSeconds);
    }
}

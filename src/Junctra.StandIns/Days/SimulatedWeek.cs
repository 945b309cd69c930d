using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Schedule;

namespace Junctra.StandIns.Days;

/// <summary>A week of the simulated shop, the same phones and the same chances by each way of working.</summary>
/// <param name="Solved">By timetables that are solved.</param>
/// <param name="MostPressed">By the rule that takes what is most pressed.</param>
/// <param name="FirstCome">By the order in which phones came.</param>
public sealed record SimulatedWeek(WeekResult Solved, WeekResult MostPressed, WeekResult FirstCome)
{
    /// <summary>Plays it.</summary>
    /// <param name="catalogue">Models, tables and figures.</param>
    /// <param name="packages">What the demo library holds.</param>
    /// <param name="seed">What is chance is drawn from it.</param>
    /// <param name="limit">How much each timetable may take.</param>
    /// <param name="days">How many days.</param>
    /// <param name="perDay">How many phones come in a day.</param>
    /// <param name="people">How many pairs of hands.</param>
    /// <param name="ports">How many ports.</param>
    public static SimulatedWeek Play(
        ModelCatalogue catalogue,
        IReadOnlyList<Package> packages,
        int seed,
        SolverLimit limit,
        int days = 6,
        int perDay = 22,
        int people = 2,
        int ports = 3
    )
    {
        var jobs = WeekJobs.Of(catalogue, packages, seed, days, perDay, BenchWeek.OpenMinutes);
        WeekResult By(Func<Day, Timetable?, Timetable> policy) => new BenchWeek(jobs, people, ports, policy).Play();
        return new SimulatedWeek(
            By((day, known) => SurestTimetable.Of(day, known, limit)),
            By((day, known) => DispatchRule.MostPressed(day, known)),
            By((day, _) => DispatchRule.FirstCome(day))
        );
    }
}

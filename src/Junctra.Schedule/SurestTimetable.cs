using Junctra.Core.Insight;

namespace Junctra.Schedule;

/// <summary>
/// The timetable by which a bench works. The solver's is the best where everything takes as long as it usually does; it leaves hands
/// waiting least, and finds room for what a rule leaves for tomorrow. Where times stray so far that more promises hold by the simple
/// rule, that one is taken, and said to be it.
/// </summary>
public static class SurestTimetable
{
    private const int Draws = 200;

    // So many promises more must hold by the rule: less is chance of the draws.
    private const double Clearly = 0.1;

    /// <summary>Makes it.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know, as it stands now; null where they know none.</param>
    /// <param name="limit">How much the solver may take.</param>
    /// <param name="bias">How the shop's days go beside what is said of them; null where nothing was learned.</param>
    /// <param name="cancel">Ends it early, with what it has.</param>
    /// <exception cref="ArgumentException">No timetable can be made of the day (<see cref="Day.WhyNot"/>).</exception>
    public static Timetable Of(
        Day day,
        Timetable? known = null,
        SolverLimit? limit = null,
        PromiseBias? bias = null,
        CancellationToken cancel = default
    )
    {
        var solved = TimetableSolver.Solve(day, known, limit, cancel);
        if (solved.Maker == TimetableMaker.Rule)
            return solved;
        var rule = DispatchRule.MostPressed(day, known);
        return Hold(rule) > Hold(solved) + Clearly ? rule with { AtLeast = solved.AtLeast } : solved;

        // How many promises hold, each counted as its job's weight says.
        double Hold(Timetable made) =>
            PromiseChances
                .Of(day, made, bias, Draws)
                .Zip(day.Jobs, (chance, job) => job.Promised is null ? 0 : chance.Chance * job.Weight)
                .Sum();
    }
}

namespace Junctra.Schedule;

/// <summary>
/// The timetable by which a bench works. The solver's is the best where everything takes as long as it usually does and nothing more
/// comes in; where times stray, and phones come in as they do, another leaves promises more room. So the bench works through several,
/// on days whose times are drawn: the solver's, one whose order was looked for on such days, and the simple rule's. Another than the
/// solver's is taken where promises are clearly less exposed by it and, by the usual times, no later than by the rule; and what people
/// know already stays, as long as it is nearly as good as that. The timetable says by what it was made.
/// </summary>
public static class SurestTimetable
{
    private const int Draws = 60;

    // By so many hundredths must promises be less exposed: less is chance of the draws. Telling people otherwise must be worth it.
    private const int Clearly = 3,
        ClearlyToldOtherwise = 8;

    /// <summary>Makes it.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know, as it stands now; null where they know none.</param>
    /// <param name="limit">How much may be taken.</param>
    /// <param name="cancel">Ends it early, with what it has.</param>
    /// <exception cref="ArgumentException">No timetable can be made of the day (<see cref="Day.WhyNot"/>).</exception>
    public static Timetable Of(Day day, Timetable? known = null, SolverLimit? limit = null, CancellationToken cancel = default)
    {
        var solved = TimetableSolver.Solve(day, known, limit, cancel);
        if (solved.Maker == TimetableMaker.Rule)
            return solved;
        var rule = DispatchRule.MostPressed(day, known);
        var kept = known is null ? null : DispatchRule.AsKnown(day, known);
        var sure = SureOrder.Of(day, known, kept is null ? [solved, rule] : [kept, solved, rule], limit ?? SolverLimit.Usual, cancel);
        var (best, exposed) = (solved, Exposed(solved));
        foreach (var other in new[] { sure, rule })
            if (other.Cost.Late <= rule.Cost.Late && Exposed(other) is var otherwise && otherwise * 100 < exposed * (100 - Clearly))
                (best, exposed) = (other, otherwise);
        if (kept is not null && IsAsGood(kept.Cost, best.Cost) && Exposed(kept) * (100 - ClearlyToldOtherwise) <= exposed * 100)
            best = kept;
        best = best with { AtLeast = solved.AtLeast };
        return Handovers.Fewer(day, best, known);

        static bool IsAsGood(Cost kept, Cost other) =>
            kept.Lateness <= other.Lateness && kept.Late <= other.Late && kept.HandsEnd <= other.HandsEnd + Timetable.SmallMove;

        long Exposed(Timetable made) => PromiseChances.Played(day, made, Draws).Sum(ready => Exposure.Of(day, ready));
    }
}

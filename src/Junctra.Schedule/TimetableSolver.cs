using Google.OrTools.Sat;

namespace Junctra.Schedule;

/// <summary>How much a solver may take.</summary>
/// <param name="Effort">Its work in all, in the solver's own units, which are the same on every machine; about a second each.</param>
/// <param name="MaxSeconds">Seconds after which it stops whatever it has; then two runs need not be the same.</param>
/// <param name="Workers">Searches beside each other; with more than one, whichever is quicker decides among what is equally good.</param>
public sealed record SolverLimit(double Effort = 4, double MaxSeconds = 5, int Workers = 2)
{
    /// <summary>What a timetable is given that somebody waits for.</summary>
    public static SolverLimit Usual { get; } = new();

    /// <summary>For one input the same timetable, however slow the machine is.</summary>
    public static SolverLimit Replayed { get; } = new(4, 600, 1);
}

/// <summary>
/// <para>
/// Makes the timetable of a bench day by a constraint solver, in one pure function (specification: section 13 of the job). What is to be
/// least comes one after the other: minutes late and promises that break, then the five minutes in which hands are through, then
/// what people were told otherwise, then the five minutes in which the last job is ready. Each is made as small as can be found
/// without making larger what came before, and proved where that is possible. Of all that is as good, the one counts in which promises
/// are furthest from breaking, as far as it is found; that is not proved.
/// </para>
/// <para>
/// With one worker it is the same for one input, unless its time runs out: it searches from one seed. It begins from the simple rule's
/// timetable, which it never falls behind, and is never later together.
/// </para>
/// </summary>
public static class TimetableSolver
{
    private const int Seed = 18;
    private const double Polish = 0.1;

    /// <summary>Makes a timetable.</summary>
    /// <param name="day">The day.</param>
    /// <param name="known">The timetable that people know, as it stands now; null where they know none.</param>
    /// <param name="limit">How much it may take.</param>
    /// <param name="cancel">Ends it early, with what it has.</param>
    /// <exception cref="ArgumentException">No timetable can be made of the day (<see cref="Day.WhyNot"/>).</exception>
    public static Timetable Solve(Day day, Timetable? known = null, SolverLimit? limit = null, CancellationToken cancel = default)
    {
        var best = DispatchRule.MostPressed(day, known);
        if (best.Slots.Count == 0)
            return best with { AtLeast = best.Cost };
        limit ??= SolverLimit.Usual;
        var rule = best.Cost;
        var until = DateTime.UtcNow.AddSeconds(limit.MaxSeconds);
        var bounds = new long?[TimetableModel.Aims.Count];
        bounds[0] = LeastLateness.Of(day, _ => 0) + (long)Cost.Broke * LeastLateness.Broken(day);
        best = OrderSearch.Better(day, known, best, limit, cancel);
        // What is known then, put together as tight as its order allows, is where it begins.
        best = Better(best, new TightTimetable(day, best.Slots).Early());
        for (var aim = 0; aim < TimetableModel.Aims.Count && !cancel.IsCancellationRequested; aim++)
        {
            // What one of them leaves of its share is the others'.
            var left = (until - DateTime.UtcNow).TotalSeconds / (TimetableModel.Aims.Count - aim);
            var effort = limit.Effort / TimetableModel.Aims.Count;
            // What cannot be proved is given a moment, not all that is left.
            if (aim == TimetableModel.Aims.Count - 1)
                (left, effort) = (Math.Min(left, limit.MaxSeconds * Polish), limit.Effort * Polish);
            if (left <= 0.02)
                break;
            // Nothing is less than nothing, or than what is known to be the least.
            if (TimetableModel.Aims[aim](best.Cost) is var cost && (cost == 0 || cost == bounds[aim]))
            {
                bounds[aim] = cost;
                continue;
            }

            var model = new TimetableModel(day, known, best, bounds, rule.Late, aim);
            var solver = new CpSolver
            {
                StringParameters = FormattableString.Invariant(
                    $"num_workers:{limit.Workers} random_seed:{Seed} max_deterministic_time:{effort:0.####} max_time_in_seconds:{left:0.###}"
                ),
            };
            using var stop = cancel.Register(solver.StopSearch);
            var status = solver.Solve(model.Model);
            if (status is CpSolverStatus.Optimal or CpSolverStatus.Feasible)
            {
                best = Better(best, model.Slots(solver));
                bounds[aim] = Math.Max(bounds[aim] ?? 0, (long)Math.Ceiling(solver.BestObjectiveBound - 1e-6));
            }
        }

        return best with
        {
            AtLeast = Least(bounds, best.Cost),
        };

        static Cost Least(long?[] bounds, Cost cost)
        {
            var lateness = Math.Min(bounds[0] ?? 0, cost.Lateness);
            var broken = (int)Math.Min(cost.Broken, lateness / Cost.Broke);
            return new Cost(
                lateness - (long)Cost.Broke * broken,
                broken,
                0,
                FirstMinute(bounds[1]),
                (int)(bounds[2] ?? 0),
                FirstMinute(bounds[3])
            );

            static int FirstMinute(long? step) => step is > 0 ? ((int)step.Value - 1) * Cost.Step + 1 : 0;
        }

        Timetable Better(Timetable than, List<Slot> slots)
        {
            var cost = Timetable.CostOf(day, slots, known);
            if (cost < than.Cost && cost.Late <= rule.Late)
                than = new Timetable(slots, TimetableMaker.Solver, cost);
            var early = new TightTimetable(day, slots).Early();
            var earlyCost = Timetable.CostOf(day, early, known);
            // What costs the same is better begun than left lying.
            return earlyCost <= than.Cost && earlyCost.Late <= rule.Late ? new Timetable(early, TimetableMaker.Solver, earlyCost) : than;
        }
    }
}

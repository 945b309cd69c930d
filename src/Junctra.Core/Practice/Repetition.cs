namespace Junctra.Core.Practice;

/// <summary>How an exercise of a class went once.</summary>
/// <param name="At">When.</param>
/// <param name="Points">Points, 0 to 100.</param>
/// <param name="Passed">Whether it was passed.</param>
public sealed record Practised(DateTimeOffset At, int Points, bool Passed);

/// <summary>How somebody stands in a class of exercises.</summary>
/// <param name="Box">0 to <see cref="Repetition.LastBox"/>: in the first lies what is new or was failed.</param>
/// <param name="DueAt">When it is due again; the earliest time where it was never practised.</param>
/// <param name="Times">How often it was practised.</param>
/// <param name="BestPoints">The best of its points; null where it was never practised.</param>
public sealed record SkillState(int Box, DateTimeOffset DueAt, int Times, int? BestPoints);

/// <summary>
/// When what was learned comes back: by five boxes, as with cards. What is passed moves into the next box and comes again after that box's
/// days; what is failed goes back to the first, and comes again today. Passed before it is due, it stays where it is: cramming is no
/// remembering (specification: section 14 of the job asks for what is weak sooner; the rule is Leitner's, 1972).
/// </summary>
public static class Repetition
{
    private static readonly int[] Days = [0, 1, 3, 7, 14, 30];

    /// <summary>The last box.</summary>
    public static int LastBox => Days.Length - 1;

    /// <summary>How somebody stands in a class, after all that they practised of it.</summary>
    /// <param name="practised">What they practised of it, in any order.</param>
    public static SkillState Of(IEnumerable<Practised> practised)
    {
        var state = new SkillState(0, DateTimeOffset.MinValue, 0, null);
        foreach (var one in practised.OrderBy(one => one.At))
        {
            var box =
                !one.Passed ? 0
                : one.At >= state.DueAt ? Math.Min(LastBox, state.Box + 1)
                : state.Box;
            state = new SkillState(
                box,
                one.Passed && one.At < state.DueAt ? state.DueAt : one.At.AddDays(Days[box]),
                state.Times + 1,
                Math.Max(state.BestPoints ?? 0, one.Points)
            );
        }

        return state;
    }
}

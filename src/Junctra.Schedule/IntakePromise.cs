using Junctra.Core.Insight;

namespace Junctra.Schedule;

/// <summary>What can be promised for a phone that comes in now (specification: section 13 of the job).</summary>
public static class IntakePromise
{
    private const string Newcomer = "";

    // Enough for nine of ten, and said before the customer leaves.
    private const int Draws = 150;

    /// <summary>
    /// The minute by which it is ready in nine of ten, if nobody who was promised something before waits for it. It is reckoned by the
    /// simple rule, to be said before the customer leaves; a timetable that is solved is never behind that.
    /// </summary>
    /// <param name="day">The day as it stands.</param>
    /// <param name="tasks">What the phone may need.</param>
    /// <param name="bias">How the shop's days go beside what is said of them; null where nothing was learned.</param>
    /// <returns>The minute, or null where the day has no room for it.</returns>
    public static int? Of(Day day, IReadOnlyList<WorkTask> tasks, PromiseBias? bias = null)
    {
        var with = day with
        {
            Jobs = [.. day.Jobs, new DayJob(Newcomer, day.Jobs.Select(job => job.Came).Append(0).Max() + 1, tasks, null)],
        };
        return tasks.Count == 0 || with.WhyNot is not null
            ? null
            : PromiseChances.Of(with, DispatchRule.MostPressed(with), bias, Draws).First(one => one.Ticket == Newcomer).Slow;
    }
}

using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Schedule;

namespace Junctra.StandIns.History;

/// <summary>A stretch of work of a simulated job: what it took up, how long it took, and what was known of the job when it began.</summary>
/// <param name="Needs">What it took up.</param>
/// <param name="Minutes">How long it took.</param>
/// <param name="Known">What was known.</param>
internal sealed record DoneWork(Needs Needs, double Minutes, WorkCase Known)
{
    /// <summary>The work of a run as its journal tells it: what hands did, and what went by itself, each in one stretch.</summary>
    public static IEnumerable<DoneWork> Of(Plan plan, IReadOnlyList<JournalEntry> journal, WorkCase known)
    {
        var steps = plan.Steps.ToDictionary(step => step.Number);
        (Needs Needs, DateTimeOffset From, int At)? open = null;
        var at = journal[0].At;
        for (var i = 0; i < journal.Count; i++)
        {
            var needs = journal[i].Event switch
            {
                HandsWanted wanted => RemainingWork.NeedsOf(plan, steps[wanted.Step]),
                StepStarted started => RemainingWork.NeedsOf(plan, steps[started.Step]),
                RunFinished => Needs.Shop,
                _ => open?.Needs,
            };
            if (needs is { } other && other != open?.Needs)
            {
                if (open is { } before)
                    yield return Done(before, journal[i].At);
                open = (other, journal[i].At, i);
            }

            at = journal[i].At;
        }

        if (open is { } last && at > last.From)
            yield return Done(last, at);

        DoneWork Done((Needs Needs, DateTimeOffset From, int At) stretch, DateTimeOffset to) =>
            new(
                stretch.Needs,
                (to - stretch.From).TotalMinutes,
                // As it was the moment before: that it begins is known when it has begun.
                known with
                {
                    Plan = plan,
                    Run = RunState.Of(plan, journal.Take(stretch.At)),
                    Now = stretch.From,
                }
            );
    }
}

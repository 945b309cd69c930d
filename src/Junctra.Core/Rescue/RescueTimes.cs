using Junctra.Core.Catalogue;

namespace Junctra.Core.Rescue;

/// <summary>How long steps of a rescue took.</summary>
public static class RescueTimes
{
    // Whoever went to lunch between two steps did not take that long for the second.
    private const double LongerIsABreak = 4;

    /// <summary>
    /// Of each step that was ticked, the minutes since what came before it; its screws are part of it. The first entry has nothing before
    /// it, and a break tells nothing.
    /// </summary>
    public static IEnumerable<(RescueStep Step, double Minutes, string By)> Of(BoardGuide guide, IEnumerable<RescueEntry> entries)
    {
        DateTimeOffset? since = null;
        foreach (var entry in entries)
        {
            if (entry.Event is ScrewOut or ScrewIn)
            {
                since ??= entry.At;
                continue;
            }

            if (entry.Event is StepTicked ticked && guide.Step(ticked.Step) is { } step && since is { } from)
            {
                var minutes = (entry.At - from).TotalMinutes;
                if (minutes > 0 && minutes <= step.Minutes.Slow * LongerIsABreak)
                    yield return (step, minutes, entry.By);
            }

            since = entry.At;
        }
    }
}

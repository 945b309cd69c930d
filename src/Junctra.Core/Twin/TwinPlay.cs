namespace Junctra.Core.Twin;

/// <summary>Acts with their times, played on a twin: the same acts give the same phone.</summary>
public static class TwinPlay
{
    /// <summary>The phone at a moment.</summary>
    /// <param name="twin">The phone's model.</param>
    /// <param name="start">The phone before.</param>
    /// <param name="acts">What was done, in any order of time; each at 0 or later.</param>
    /// <param name="nowMs">How long it has lasted, in milliseconds; acts after that are played nonetheless.</param>
    /// <param name="look">Sees the phone before the first act, and after everything that happens to it or that it does by itself.</param>
    public static TwinState Through(PhoneTwin twin, TwinState start, IEnumerable<TrialAct> acts, long nowMs, Action<TwinState> look)
    {
        var state = start;
        look(state);
        foreach (var act in acts.OrderBy(act => act.AtMs))
        {
            PassTo(act.AtMs);
            state = twin.Next(state, act.Happening);
            look(state);
        }

        PassTo(nowMs);
        return state;

        void PassTo(long at)
        {
            while (start.NowMs + at - state.NowMs is > 0 and var left)
            {
                state = twin.Next(state, new TimePasses(Math.Min(left, Math.Max(1, twin.NextDueMs(state) ?? left))));
                look(state);
            }
        }
    }

    /// <summary>Events as acts with their times: what passes between them is time.</summary>
    public static IReadOnlyList<TrialAct> Timed(IEnumerable<TwinEvent> events, long fromMs = 0)
    {
        var acts = new List<TrialAct>();
        foreach (var happening in events)
            if (happening is TimePasses time)
                fromMs += time.Milliseconds;
            else
                acts.Add(new TrialAct(fromMs, happening));
        return acts;
    }
}

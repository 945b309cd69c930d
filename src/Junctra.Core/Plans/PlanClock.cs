namespace Junctra.Core.Plans;

/// <summary>How a plan stands to what was promised.</summary>
public enum PromiseState
{
    /// <summary>Nothing was promised.</summary>
    None,

    /// <summary>It is done in time even if it is slow.</summary>
    Holds,

    /// <summary>It is done in time as it usually goes, and not if it is slow.</summary>
    Tight,

    /// <summary>It is not done in time.</summary>
    Breaks,
}

/// <summary>A stretch of a plan in which somebody must be there.</summary>
/// <param name="From">Its begin, as it usually goes.</param>
/// <param name="To">Its end.</param>
public sealed record HandsWindow(DateTimeOffset From, DateTimeOffset To);

/// <summary>A plan on the clock: when it is done, when hands are wanted meanwhile, and whether a promise holds.</summary>
/// <param name="Start">When it begins.</param>
/// <param name="Usual">When it is done as it usually goes.</param>
/// <param name="Slow">When it is done if all of it is slow.</param>
/// <param name="Hands">When hands are wanted; stretches that touch are one.</param>
/// <param name="Promise">How it stands to the promise.</param>
public sealed record PlanClock(
    DateTimeOffset Start,
    DateTimeOffset Usual,
    DateTimeOffset Slow,
    IReadOnlyList<HandsWindow> Hands,
    PromiseState Promise
)
{
    /// <summary>A plan that begins at a moment.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="start">When it begins.</param>
    /// <param name="promised">When the phone was promised, or null.</param>
    public static PlanClock Of(Plan plan, DateTimeOffset start, DateTimeOffset? promised)
    {
        var hands = new List<HandsWindow>();
        var (now, slow) = (start, start);
        foreach (var step in plan.Steps)
        {
            var end = now.AddSeconds(step.Seconds.Typical);
            if (step.Act.WantsHands && hands.Count > 0 && hands[^1].To == now)
                hands[^1] = hands[^1] with { To = end };
            else if (step.Act.WantsHands)
                hands.Add(new HandsWindow(now, end));
            (now, slow) = (end, slow.AddSeconds(step.Seconds.Slow));
        }

        return new PlanClock(
            start,
            now,
            slow,
            hands,
            promised is not { } at ? PromiseState.None
                : slow <= at ? PromiseState.Holds
                : now <= at ? PromiseState.Tight
                : PromiseState.Breaks
        );
    }
}

namespace Junctra.Web.Operation;

/// <summary>
/// How much of the machine a work that is done again and again may have: after each time it rests in proportion to how long that took, so
/// that it takes at most one part in so many, and never longer than an upper bound, so that on a slow machine people do not wait for it.
/// </summary>
/// <param name="time">The clock; only how much time goes by counts.</param>
/// <param name="rests">How many times as long as the work the rest is.</param>
/// <param name="maxRest">The longest rest.</param>
public sealed class WorkPace(TimeProvider time, int rests, TimeSpan maxRest)
{
    private long since;
    private TimeSpan rest;

    /// <summary>Whether it may be done again.</summary>
    public bool IsRested => time.GetElapsedTime(since) >= rest;

    /// <summary>It was done just now.</summary>
    /// <param name="begun">When it was begun, as <see cref="TimeProvider.GetTimestamp"/> tells it.</param>
    public void Done(long begun)
    {
        since = time.GetTimestamp();
        rest = rests * time.GetElapsedTime(begun, since);
        if (rest > maxRest)
            rest = maxRest;
    }
}

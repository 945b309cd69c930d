namespace Junctra.Store;

/// <summary>A promise that was given to a customer, with what was said of it. The latest one of a job counts.</summary>
public sealed class PromiseRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }

    /// <summary>The moment for which it was promised; null where a promise was taken back.</summary>
    public DateTimeOffset? PromisedFor { get; set; }

    /// <summary>Whether the customer stands there until it is ready.</summary>
    public bool Waits { get; set; }

    /// <summary>The chance that it had by the first timetable after it was given, as it was shown; null before that.</summary>
    public double? Chance { get; set; }

    /// <summary>When that timetable was made; null before.</summary>
    public DateTimeOffset? SaidAt { get; set; }

    /// <summary>When it was reckoned to be ready as things usually go, before anything that was learned; null before.</summary>
    public DateTimeOffset? Usual { get; set; }

    /// <summary>By when it was reckoned to be ready in nine of ten; null before.</summary>
    public DateTimeOffset? Slow { get; set; }
}

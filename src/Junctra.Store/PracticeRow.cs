namespace Junctra.Store;

/// <summary>How an exercise went once. It is the person's own, and theirs to delete; no job, port or logbook knows of it.</summary>
public sealed class PracticeRow
{
    public int Id { get; set; }

    /// <summary>Who practised.</summary>
    public required string Person { get; set; }

    /// <summary>The exercise.</summary>
    public required string Exercise { get; set; }

    /// <summary>The class to which it belongs.</summary>
    public required string Skill { get; set; }

    /// <summary>When it was over.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Points, 0 to 100.</summary>
    public int Points { get; set; }

    public bool Passed { get; set; }

    /// <summary>How long it took.</summary>
    public long TookMilliseconds { get; set; }

    /// <summary>The points that were lost, as JSON.</summary>
    public required string Lost { get; set; }

    /// <summary>What was done, as JSON: acts with their times, or the answer.</summary>
    public required string Done { get; set; }
}

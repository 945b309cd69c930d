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

    /// <summary>Whether it goes on: a whole job whose next part was not done yet.</summary>
    public bool IsOpen { get; set; }

    /// <summary>When it was over; while it goes on, when it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Points, 0 to 100.</summary>
    public int Points { get; set; }

    public bool Passed { get; set; }

    /// <summary>How long it took.</summary>
    public long TookMilliseconds { get; set; }

    /// <summary>The points that were lost, as JSON.</summary>
    public required string Lost { get; set; }

    /// <summary>What was done, as JSON: acts with their times, or the answer; of a whole job, its parts.</summary>
    public required string Done { get; set; }
}

/// <summary>What the shop has decided of practice. One row.</summary>
public sealed class PracticeRulesRow
{
    /// <summary>The id of the one row.</summary>
    public const int One = 1;

    public int Id { get; set; } = One;

    /// <summary>Whether leads see who is ready for which kind of work.</summary>
    public bool LeadSees { get; set; }

    /// <summary>What is asked for before a write, as <c>role/path</c>: a passed exercise of that path.</summary>
    public List<string> Licences { get; set; } = [];

    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
    public uint Version { get; set; }
}

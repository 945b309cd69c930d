namespace Junctra.Core.Facts;

/// <summary>What a write must touch to make readings of a fact from before it void.</summary>
[Flags]
public enum WriteTouch
{
    /// <summary>No write changes it.</summary>
    None = 0,

    /// <summary>The boot chain.</summary>
    BootChain = 1,

    /// <summary>The software of the mobile radio.</summary>
    Radio = 2,

    /// <summary>The system and what starts it.</summary>
    System = 4,

    /// <summary>The small second system.</summary>
    Recovery = 8,

    /// <summary>The user data, written or erased.</summary>
    UserData = 16,

    /// <summary>Any other partition.</summary>
    Other = 32,

    /// <summary>The lock, opened or closed.</summary>
    Lock = 64,

    /// <summary>Whatever was written: the phone restarts, and must be asked again.</summary>
    Anything = BootChain | Radio | System | Recovery | UserData | Other | Lock,
}

/// <summary>A fact that has a name of its own: how it is called, what its values look like, and when they become void.</summary>
/// <param name="Id">The name used in files and in the database.</param>
/// <param name="Label">The name as a technician says it.</param>
/// <param name="Form">The form of its values.</param>
/// <param name="TouchedBy">What a write must touch to make earlier readings void.</param>
public sealed record FactDefinition(string Id, string Label, FactForm Form, WriteTouch TouchedBy = WriteTouch.None)
{
    /// <summary>It changes by itself: the newest reading counts, and an older one is no disagreement.</summary>
    public bool IsMomentary { get; init; }

    /// <summary>
    /// A person changes it on the phone, without any write: a newer claim of one source replaces its older one. What is neither this nor
    /// momentary can only have changed by a recorded write, which makes claims from before it void; so until then all of them count, and
    /// two that differ are a conflict.
    /// </summary>
    public bool IsChangedByHand { get; init; }

    /// <summary>A person can read it somewhere and note it.</summary>
    public bool IsTypable { get; init; } = true;
}

/// <summary>How the claims of a fact change between two writes.</summary>
internal enum FactChange
{
    /// <summary>They do not: two that differ are a conflict.</summary>
    Never,

    /// <summary>By themselves.</summary>
    Momentary,

    /// <summary>By a person, on the phone.</summary>
    ByHand,
}

using Junctra.Core.Rescue;

namespace Junctra.Store;

/// <summary>An entry of a rescue: what happened at the opened phone.</summary>
public sealed class RescueEventRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public required RescueEvent Event { get; set; }

    /// <summary>The entry, as the core folds it.</summary>
    public RescueEntry ToEntry() => new(At, By, Event);
}

namespace Junctra.Schedule;

/// <summary>
/// A phone that goes from one pair of hands to another has to be explained. Who does what is of no weight to a solver where everybody is
/// free; here whoever was at a phone goes on with it, if nothing moves by that.
/// </summary>
internal static class Handovers
{
    /// <summary>The same timetable with no more of them than it needs, and nobody told otherwise.</summary>
    public static Timetable Fewer(Day day, Timetable made, Timetable? known)
    {
        var slots = made.Slots.ToList();
        var at = day.Hands.ToDictionary(hands => hands.Name, hands => hands.At, StringComparer.Ordinal);
        var told = known?.Slots.ToDictionary(slot => (slot.Ticket, slot.Task.Id), slot => slot.Hands) ?? [];
        var last = new Dictionary<string, string>(StringComparer.Ordinal);
        for (var i = 0; i < slots.Count; i++)
        {
            if (slots[i] is not { Hands: { } hands } slot)
                continue;
            if (
                slot.Task.BegunAt is null
                && last.TryGetValue(slot.Ticket, out var before)
                && before != hands
                && told.GetValueOrDefault((slot.Ticket, slot.Task.Id)) != hands
                && at.TryGetValue(before, out var there)
                && there.Hold(slot.Start, slot.End)
                && !slots.Exists(other => other.Hands == before && other.Start < slot.End && slot.Start < other.End)
            )
                slots[i] = slot with { Hands = hands = before };
            last[slot.Ticket] = hands;
        }

        return made with
        {
            Slots = slots,
            Cost = Timetable.CostOf(day, slots, known),
        };
    }
}

namespace Junctra.Schedule;

/// <summary>What is asked of stretches in which somebody is there, or the shop is open: in order, and apart from each other.</summary>
internal static class Stretches
{
    /// <summary>Whether one of them holds all of it.</summary>
    public static bool Hold(this IReadOnlyList<Stretch> at, int from, int to)
    {
        for (var i = 0; i < at.Count && at[i].From <= from; i++)
            if (at[i].To >= to)
                return true;
        return false;
    }

    /// <summary>The first minute, from one on, from which one of them holds so many; null where none does.</summary>
    public static int? FirstRoom(this IReadOnlyList<Stretch> at, int from, int minutes)
    {
        foreach (var stretch in at)
            if (Math.Max(from, stretch.From) is var start && start + minutes <= stretch.To)
                return start;
        return null;
    }

    /// <summary>How many minutes of them lie before one.</summary>
    public static int MinutesUntil(this IReadOnlyList<Stretch> at, int minute) =>
        at.Sum(stretch => Math.Max(0, Math.Min(stretch.To, minute) - Math.Max(0, stretch.From)));
}

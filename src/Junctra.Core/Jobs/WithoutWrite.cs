using Junctra.Core.Catalogue;
using Junctra.Core.Triage;

namespace Junctra.Core.Jobs;

/// <summary>Why a phone goes back without having been written: a full answer, which stands on its sheet.</summary>
public static class WithoutWrite
{
    /// <summary>The reason in a sentence or two; null where there is none but that nobody wrote.</summary>
    /// <param name="cell">State of the cell as seen at the counter.</param>
    /// <param name="finding">The fault class that was taken as the finding, or null.</param>
    /// <param name="notWorthOpening">Why opening it would not help, or null.</param>
    public static string? Why(CellState cell, FaultClass? finding, string? notWorthOpening) =>
        cell != CellState.Sound ? $"Its cell is {cell.ToString().ToLowerInvariant()}: it was set apart, not charged and not worked on."
        : finding?.WayOut is not { } way ? null
        : way.Toll >= Toll.EmergencyMode && notWorthOpening is not null ? $"It was not opened. {notWorthOpening}"
        : way.Paths.Count == 0 ? $"{way.Title}: {char.ToLowerInvariant(way.Words[0])}{way.Words[1..]}"
        : null;
}

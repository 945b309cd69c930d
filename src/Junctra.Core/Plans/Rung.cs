using Junctra.Core.Catalogue;

namespace Junctra.Core.Plans;

/// <summary>
/// What is tried, one after the other, with a phone that does not come up after a write (specification: section 10 of the job). The order
/// is what each costs the customer.
/// </summary>
public enum Rung
{
    /// <summary>Let it be: a first boot may be slow.</summary>
    Wait,

    /// <summary>Force a restart, or take the battery out.</summary>
    Restart,

    /// <summary>In recovery, wipe the cache, and restart.</summary>
    WipeCache,

    /// <summary>In recovery, wipe the data and the cache, and restart.</summary>
    WipeData,

    /// <summary>Write again, clean.</summary>
    WriteAgain,

    /// <summary>Ask whether it was the right package at all.</summary>
    MatchAgain,

    /// <summary>Ask whether it was the right finding.</summary>
    NextFault,
}

/// <summary>What is to be said of the rungs.</summary>
public static class Rungs
{
    private static readonly Band WipingCache = new(2, 5),
        WipingData = new(2, 6),
        Looking = new(2, 10);

    /// <summary>All of them, the one that costs least first.</summary>
    public static IReadOnlyList<Rung> All { get; } = Enum.GetValues<Rung>();

    /// <summary>Its name.</summary>
    public static string Title(this Rung rung) =>
        rung switch
        {
            Rung.Wait => "Wait",
            Rung.Restart => "Force a restart",
            Rung.WipeCache => "Wipe the cache in recovery",
            Rung.WipeData => "Wipe the data in recovery",
            Rung.WriteAgain => "Write again, clean",
            Rung.MatchAgain => "Check the match again",
            _ => "Look for another fault",
        };

    /// <summary>What it costs the customer besides the time.</summary>
    public static string Costs(this Rung rung) =>
        rung switch
        {
            Rung.Wait or Rung.Restart => "nothing",
            Rung.WipeCache => "nothing; the next start is slower",
            Rung.WipeData => "all data on the phone",
            Rung.WriteAgain => "all data on the phone, and the write once more",
            _ => "nothing yet",
        };

    /// <summary>
    /// Minutes until one knows what it brought, a first boot after it included; what a plan for it would take is not known yet.
    /// </summary>
    public static Band Minutes(this Rung rung, Figures figures)
    {
        var boot = figures.FirstBootMinutes;
        return rung switch
        {
            Rung.Wait => new(boot.Slow, figures.FirstBootStuckMinutes),
            Rung.Restart => new(boot.Typical, figures.FirstBootStuckMinutes),
            Rung.WipeCache => new(WipingCache.Typical + boot.Typical, WipingCache.Slow + figures.FirstBootStuckMinutes),
            Rung.WipeData => new(WipingData.Typical + boot.Typical, WipingData.Slow + figures.FirstBootStuckMinutes),
            _ => Looking,
        };
    }

    /// <summary>Whether hands climb it by a plan of its own, which is rehearsed, led and journaled as any other.</summary>
    public static bool IsPlanned(this Rung rung) => rung is Rung.Restart or Rung.WipeCache or Rung.WipeData;
}

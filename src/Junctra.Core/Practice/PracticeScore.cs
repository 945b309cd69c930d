namespace Junctra.Core.Practice;

/// <summary>For what points are lost, the worst first.</summary>
public enum LostFor
{
    /// <summary>Something that nobody brings back.</summary>
    Safety,

    /// <summary>It was not done.</summary>
    Aim,

    /// <summary>Something was done that was not on the way, or at the wrong moment.</summary>
    Order,

    /// <summary>It took longer than it does.</summary>
    Time,

    /// <summary>A hint was asked for, which is worth its points.</summary>
    Hint,
}

/// <summary>Points that were lost.</summary>
/// <param name="For">For what.</param>
/// <param name="Points">How many, 1 to 100.</param>
/// <param name="AtMs">When, in milliseconds from the first act.</param>
/// <param name="Why">Why, in a sentence.</param>
/// <param name="Rule">The sentence of the rule behind it.</param>
public sealed record LostPoints(LostFor For, int Points, long AtMs, string Why, string Rule);

/// <summary>
/// How an exercise went: safety first, then order, then time. Something irreversible without need ends it with nothing (specification:
/// section 14 of the job).
/// </summary>
/// <param name="Reached">Whether what was to be done is done.</param>
/// <param name="TookMs">How long it took, in milliseconds from the first act.</param>
/// <param name="Lost">The points that were lost, in the order in which they were.</param>
public sealed record PracticeScore(bool Reached, long TookMs, IReadOnlyList<LostPoints> Lost)
{
    /// <summary>All points.</summary>
    public const int Full = 100;

    /// <summary>So many are needed to pass.</summary>
    public const int Needed = 70;

    /// <summary>Whether nothing happened that nobody brings back.</summary>
    public bool IsSafe => Lost.All(one => one.For != LostFor.Safety);

    /// <summary>Points, 0 to <see cref="Full"/>.</summary>
    public int Points => IsSafe ? Math.Max(0, Full - Lost.Sum(one => one.Points)) : 0;

    /// <summary>Whether it is passed.</summary>
    public bool Passed => Reached && Points >= Needed;

    /// <summary>Whether it is over: done, or spoiled.</summary>
    public bool IsOver => Reached || !IsSafe;
}

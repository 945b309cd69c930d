using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Routes;

/// <summary>What a shop decided on ways (specification: section 7.2 of the job).</summary>
/// <param name="Debugging">Whether commands over the debugging link are used.</param>
/// <param name="Recovery">Whether recovery's menu is a way like another, or only where nothing else leads there.</param>
/// <param name="RootManager">Whether the root manager's menu is used.</param>
public sealed record RoutePolicy(bool Debugging = true, bool Recovery = false, bool RootManager = true)
{
    /// <summary>Debugging and root manager are used; recovery's menu only where nothing else leads there.</summary>
    public static RoutePolicy Usual { get; } = new();
}

/// <summary>Whether what a way needs is so.</summary>
public enum NeedState
{
    /// <summary>It is.</summary>
    Holds,

    /// <summary>Nobody knows; it is taken to be so.</summary>
    Presumed,

    /// <summary>Nobody knows.</summary>
    Unknown,

    /// <summary>It is not.</summary>
    Fails,
}

/// <summary>A way and whether it can be used.</summary>
/// <param name="Way">The way.</param>
/// <param name="State">The worst of what it needs.</param>
/// <param name="Why">What stands against it, in a sentence; null where nothing does.</param>
/// <param name="IsRuledOut">Whether it is left out whatever is known of the phone: by shop rule, or for what it risks.</param>
public sealed record JudgedWay(Way Way, NeedState State, string? Why, bool IsRuledOut = false);

/// <summary>A fact that would open a route, or a shorter one.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Value">The value that opens it.</param>
/// <param name="Known">Whether it is known to be otherwise; else nobody knows.</param>
/// <param name="Minutes">Expected minutes with it.</param>
/// <param name="By">The way that it opens.</param>
public sealed record RouteOpener(FactName Fact, string Value, bool Known, double Minutes, Way By);

/// <summary>A route: what to do next wherever the phone really is, and the line that usually comes of it.</summary>
/// <param name="From">Where it begins.</param>
/// <param name="To">Where it leads.</param>
/// <param name="Legs">The ways one after the other, as they go when each works at once; empty when the phone is there.</param>
/// <param name="Minutes">Expected minutes, retries priced in.</param>
/// <param name="Next">From every mode in which the phone may find itself: the way to take from there.</param>
public sealed record PlannedRoute(
    PhoneMode From,
    PhoneMode To,
    IReadOnlyList<Way> Legs,
    double Minutes,
    IReadOnlyDictionary<PhoneMode, Way> Next
)
{
    /// <summary>Modes into which some way that can be used leads.</summary>
    public IReadOnlySet<PhoneMode> Reachable { get; init; } = new HashSet<PhoneMode>();

    /// <summary>Needs that nobody has read, and that are taken to be so.</summary>
    public IReadOnlyList<WayNeed> Presumed { get; init; } = [];
}

/// <summary>What the router says.</summary>
/// <param name="Best">The cheapest route, or null.</param>
/// <param name="WhyNone">Why there is none; null where there is one.</param>
/// <param name="Others">Other routes, whose first leg is another, the cheaper first.</param>
/// <param name="Openers">Facts that would open a route or a shorter one, the one that helps most first.</param>
/// <param name="Ways">All ways of the phone, and whether each can be used.</param>
public sealed record RouteReport(
    PlannedRoute? Best,
    string? WhyNone,
    IReadOnlyList<PlannedRoute> Others,
    IReadOnlyList<RouteOpener> Openers,
    IReadOnlyList<JudgedWay> Ways
);

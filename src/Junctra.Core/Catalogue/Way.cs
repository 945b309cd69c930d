using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>Something that must be so for a way to work.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Is">Values of it that do.</param>
/// <param name="Presumed">Whether it is taken to be so where nobody knows: most phones are.</param>
public sealed record WayNeed(FactName Fact, IReadOnlyList<string> Is, bool Presumed = false)
{
    /// <summary>A fact must mean this.</summary>
    public static WayNeed Of<T>(FactOf<T> fact, T value, bool presumed = false) => new(fact, [fact.Write(value)], presumed);
}

/// <summary>By what a way leads.</summary>
public enum WayKind
{
    /// <summary>Keys, cable and battery, by a recipe of the key family.</summary>
    Keys,

    /// <summary>A menu of the phone.</summary>
    Menu,

    /// <summary>A command over a link.</summary>
    Command,

    /// <summary>The root manager's menu.</summary>
    RootManager,

    /// <summary>Waiting: it goes by itself.</summary>
    Wait,
}

/// <summary>A way from one mode into another.</summary>
/// <param name="Id">Id, the same for the same phone.</param>
/// <param name="Kind">By what.</param>
/// <param name="From">Mode in which it begins.</param>
/// <param name="To">Mode to which it leads.</param>
/// <param name="Score">What the hands do; its minutes are what the way takes, passing stages included.</param>
/// <param name="Minutes">Expected minutes for one try.</param>
/// <param name="FailChance">Chance that it does not lead there, 0 to 0.9.</param>
/// <param name="FailsTo">Where the phone is then.</param>
/// <param name="Needs">What must be so.</param>
public sealed record Way(
    string Id,
    WayKind Kind,
    PhoneMode From,
    PhoneMode To,
    KeyRecipe Score,
    double Minutes,
    double FailChance,
    PhoneMode FailsTo,
    IReadOnlyList<WayNeed> Needs
)
{
    /// <summary>What it risks; null where nothing. A risky way is taken only where it is itself what is wanted.</summary>
    public string? Risk => Score.Risk;
}

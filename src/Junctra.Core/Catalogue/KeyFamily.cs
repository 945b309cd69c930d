using System.Globalization;
using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>Where a key lies on the phone.</summary>
public enum KeySide
{
    /// <summary>Nowhere: no key.</summary>
    None,

    /// <summary>Left edge, as the screen faces the person.</summary>
    Left,

    /// <summary>Right edge.</summary>
    Right,

    /// <summary>Below the screen.</summary>
    Front,

    /// <summary>Lower edge.</summary>
    Bottom,

    /// <summary>Under the back.</summary>
    Back,
}

/// <summary>Something that hands act on: a key, the cable, the battery, the screen or the computer. One line of the score.</summary>
/// <param name="Id">Id in the catalogue.</param>
/// <param name="Name">Name for people.</param>
/// <param name="Side">Where it lies.</param>
/// <param name="At">How far down or along that side, 0 to 1.</param>
public sealed record Stave(string Id, string Name, KeySide Side = KeySide.None, double At = 0.5)
{
    /// <summary>Id of the cable's stave: a bar is the time for which it is in.</summary>
    public const string Cable = "cable";

    /// <summary>Id of the battery's stave: a bar is the time for which it is out.</summary>
    public const string Battery = "battery";

    /// <summary>Id of the screen's stave: a bar is a touch.</summary>
    public const string Screen = "screen";

    /// <summary>Id of the computer's stave: a bar is a command.</summary>
    public const string Computer = "computer";

    /// <summary>Whether it is a key of the phone.</summary>
    public bool IsKey => Id is not (Cable or Battery or Screen or Computer);
}

/// <summary>A moment of a score: so long after its begin, or after something that the phone shows.</summary>
/// <param name="After">Id of the event that it is bound to; null for the begin.</param>
/// <param name="Seconds">Seconds after that, 0 or more.</param>
public readonly record struct Moment(string? After, double Seconds)
{
    /// <summary>Reads <c>3.5</c>, <c>warning</c> or <c>warning + 0.5</c>; null when it is none of them.</summary>
    public static Moment? Parse(string? text)
    {
        var parts = (text ?? "").Split('+', StringSplitOptions.TrimEntries);
        if (parts.Length > 2)
            return null;
        var isTime = double.TryParse(parts[^1], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var seconds);
        if (parts.Length == 1 && isTime)
            return new Moment(null, seconds);
        if (
            parts.Length == 2 && !isTime
            || parts[0].Length == 0
            || !parts[0].All(c => char.IsAsciiLetterLower(c) || char.IsAsciiDigit(c) || c == '-')
            || !char.IsAsciiLetterLower(parts[0][0])
        )
            return null;
        return new Moment(parts[0], parts.Length == 2 ? seconds : 0);
    }

    /// <inheritdoc/>
    public override string ToString() =>
        After is null ? Seconds.ToString(CultureInfo.InvariantCulture)
        : Seconds == 0 ? After
        : string.Create(CultureInfo.InvariantCulture, $"{After} + {Seconds}");
}

/// <summary>How far a moment may be missed, and where the phone is when it was missed by more.</summary>
/// <param name="EarlySeconds">How much earlier still works; null where earlier does not matter.</param>
/// <param name="EarlyShows">Where the phone ends up when it was earlier than that.</param>
/// <param name="LateSeconds">How much later still works; null where later does not matter.</param>
/// <param name="LateShows">Where the phone ends up when it was later than that.</param>
public sealed record Tolerance(double? EarlySeconds, PhoneMode EarlyShows, double? LateSeconds, PhoneMode LateShows);

/// <summary>Something held from one moment to another.</summary>
/// <param name="StaveId">What is held.</param>
/// <param name="From">Moment of pressing.</param>
/// <param name="To">Moment of letting go.</param>
/// <param name="Label">What to do, in a word or two.</param>
public sealed record KeyBar(string StaveId, Moment From, Moment To, string Label)
{
    /// <summary>Tolerance of the press; null where it is not stated.</summary>
    public Tolerance? Press { get; init; }

    /// <summary>Tolerance of letting go; null where it is not stated.</summary>
    public Tolerance? Release { get; init; }

    /// <summary>Whether it stays down, or in, after the score's end.</summary>
    public bool Stays { get; init; }

    /// <summary>The menu entry that is touched or the command that is given, on the staves of screen and computer.</summary>
    public string? Does { get; init; }
}

/// <summary>Something that the phone shows when it worked so far.</summary>
/// <param name="Id">Id, unique in its recipe; moments can be bound to it.</param>
/// <param name="AtSeconds">When it usually comes, from the score's begin; drawn there.</param>
/// <param name="Shows">The stage that it is.</param>
/// <param name="Says">What shows, and what to do on it.</param>
public sealed record KeyMark(string Id, double AtSeconds, PhoneStage Shows, string Says);

/// <summary>What a wrong screen means.</summary>
/// <param name="Sees">What the phone shows.</param>
/// <param name="Means">What went wrong.</param>
/// <param name="Then">What to do.</param>
/// <param name="Is">The mode that this is.</param>
public sealed record WrongSign(string Sees, string Means, string Then, PhoneMode Is);

/// <summary>What must be at the socket before the first key of a score.</summary>
public enum CableAtStart
{
    /// <summary>Whatever is there.</summary>
    Any,

    /// <summary>Nothing.</summary>
    Out,

    /// <summary>A cable to the computer.</summary>
    Computer,
}

/// <summary>A way from some modes into another by keys, cable, battery, touch or command: a small score.</summary>
/// <param name="Id">Id, unique in its family.</param>
/// <param name="Name">What it does.</param>
/// <param name="From">Modes it starts from.</param>
/// <param name="Target">Where it leads.</param>
/// <param name="To">The mode, where <paramref name="Target"/> is one.</param>
/// <param name="Minutes">Expected minutes of hands.</param>
/// <param name="LengthSeconds">Length of the score.</param>
/// <param name="Bars">What is held when; every stave exists in the family.</param>
/// <param name="Marks">What the screen shows, in the order in which it does.</param>
/// <param name="Before">What to do before the first key.</param>
/// <param name="Words">The score in words, one step each.</param>
/// <param name="Wrong">Wrong screens.</param>
public sealed record KeyRecipe(
    string Id,
    string Name,
    IReadOnlyList<PhoneMode> From,
    Target Target,
    PhoneMode To,
    double Minutes,
    double LengthSeconds,
    IReadOnlyList<KeyBar> Bars,
    IReadOnlyList<KeyMark> Marks,
    IReadOnlyList<string> Before,
    IReadOnlyList<string> Words,
    IReadOnlyList<WrongSign> Wrong
)
{
    /// <summary>Chance that it does not work at once, 0 to 0.9.</summary>
    public double FailChance { get; init; } = 0.15;

    /// <summary>Where the phone usually is when it did not.</summary>
    public PhoneMode FailsTo { get; init; } = PhoneMode.Unknown;

    /// <summary>What must be at the socket before it begins.</summary>
    public CableAtStart Cable { get; init; }

    /// <summary>Whether it needs a battery that can be taken out.</summary>
    public bool NeedsBatteryOut { get; init; }

    /// <summary>What must be so on the phone for it to work.</summary>
    public IReadOnlyList<WayNeed> Needs { get; init; } = [];

    /// <summary>Whether each bar comes only after the one before it: hands that look before they press again, as in a menu.</summary>
    public bool InTurn { get; init; }

    /// <summary>Whether it is rough, or slow and uncertain: taken only where nothing gentler leads there.</summary>
    public bool LastResort { get; init; }

    /// <summary>What it risks, in a sentence; null where nothing. A risky recipe is never taken as a short cut.</summary>
    public string? Risk { get; init; }

    /// <summary>When a moment usually is, in seconds from the begin.</summary>
    public double Usual(Moment moment) =>
        (moment.After is null ? 0 : Marks.First(mark => mark.Id == moment.After).AtSeconds) + moment.Seconds;
}

/// <summary>The recipes that work on a family of phones, and how those behave. Data of the catalogue: per model, never universal.</summary>
/// <param name="Id">Id.</param>
/// <param name="Name">Name for people.</param>
/// <param name="Staves">Keys, cable and battery, in the order of drawing.</param>
/// <param name="Recipes">Its recipes.</param>
/// <param name="Behaviour">How its phones behave.</param>
public sealed record KeyFamily(
    string Id,
    string Name,
    IReadOnlyList<Stave> Staves,
    IReadOnlyList<KeyRecipe> Recipes,
    PhoneBehaviour Behaviour
)
{
    /// <summary>The stave of that id, or one that every bench has.</summary>
    public Stave StaveOf(string id) =>
        Staves.FirstOrDefault(stave => stave.Id == id)
        ?? new Stave(
            id,
            id switch
            {
                Stave.Cable => "Cable",
                Stave.Battery => "Battery",
                Stave.Screen => "Screen",
                Stave.Computer => "Computer",
                _ => id,
            }
        );
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>The ladders of practice (specification: section 14 of the job).</summary>
public enum Ladder
{
    /// <summary>Key recipes, with hands and against the clock.</summary>
    Keys,

    /// <summary>Reading a phone and what is written of it.</summary>
    Reading,

    /// <summary>Whole jobs.</summary>
    Jobs,

    /// <summary>What goes wrong, and what is then done.</summary>
    Trouble,
}

/// <summary>A phone to practise on; there is none but its twin.</summary>
/// <param name="ModelCode">Its model.</param>
/// <param name="Mode">Where it stands.</param>
/// <param name="Facts">What is so of it, and known.</param>
public sealed record PracticePhone(string ModelCode, PhoneMode Mode, IReadOnlyDictionary<FactName, string> Facts)
{
    /// <summary>The name of the computer beside it.</summary>
    public const string Computer = "practice";

    /// <summary>What is known of it.</summary>
    public Phone Known()
    {
        Fact Read(FactName name, string value) => new(name, value, FactSource.Link, DateTimeOffset.UnixEpoch, "");
        return new Phone([
            Read(FactName.ModelCode, ModelCode),
            Read(FactName.Mode, Mode.Id()),
            .. Facts.Select(fact => Read(fact.Key, fact.Value)),
        ]);
    }

    /// <summary>Its twin as it lies there.</summary>
    public TwinState Start(PhoneModel model) => TwinFactory.Of(Known(), model, Mode, Computer);
}

/// <summary>What is to be done in an exercise.</summary>
public abstract record PracticeTask;

/// <summary>The phone is to be brought into a mode by keys, cable, battery and touch.</summary>
/// <param name="Aim">The mode.</param>
public sealed record KeyTask(PhoneMode Aim) : PracticeTask;

/// <summary>What is asked of a phone that lies there.</summary>
public enum Asked
{
    /// <summary>Which screen this is.</summary>
    WhichScreen,

    /// <summary>Whether it may be unplugged.</summary>
    MayUnplug,

    /// <summary>What is lost by what stands in its menu.</summary>
    WhatIsLost,

    /// <summary>Which recipe brings it where it is wanted.</summary>
    WhichRecipe,

    /// <summary>Which package may be written.</summary>
    WhichPackage,
}

/// <summary>A question about a phone; what is right is computed, nobody writes it down.</summary>
/// <param name="Asks">What is asked.</param>
public sealed record QuestionTask(Asked Asks) : PracticeTask
{
    /// <summary>The menu entry, where what is lost by it is asked.</summary>
    public string? Entry { get; init; }

    /// <summary>The mode, where the recipe into it is asked.</summary>
    public PhoneMode? Aim { get; init; }

    /// <summary>The packages, where one of them is to be chosen.</summary>
    public IReadOnlyList<ShelfPackage> Shelf { get; init; } = [];
}

/// <summary>A plausible mistake that an exercise warns of: whoever makes it does not pass.</summary>
/// <param name="Recipe">Id of the way that is taken instead; null for the right one.</param>
/// <param name="Stave">What is handled wrongly; null for all of it.</param>
/// <param name="PressSeconds">By how much its presses are missed, early below zero.</param>
/// <param name="ReleaseSeconds">By how much it is let go wrongly, early below zero.</param>
public sealed record WrongHands(string? Recipe, string? Stave, double PressSeconds, double ReleaseSeconds)
{
    /// <summary>Seconds by which a moment is missed.</summary>
    public double Shift(HandMove move) =>
        Stave is not null && move.Bar.StaveId != Stave ? 0
        : move.IsPress ? PressSeconds
        : ReleaseSeconds;

    /// <summary>It in words.</summary>
    public override string ToString() =>
        Recipe is not null
            ? $"taking {Recipe}"
            : $"{Stave ?? "all"}: pressed {PressSeconds:+0.#;-0.#;0} s, let go {ReleaseSeconds:+0.#;-0.#;0} s";
}

/// <summary>An exercise.</summary>
/// <param name="Id">Id, unique among all.</param>
/// <param name="Ladder">Its ladder.</param>
/// <param name="Title">What is learned, in a few words.</param>
/// <param name="Skill">The class to which it belongs: exercises of one class train the same.</param>
/// <param name="Told">What is told with the phone.</param>
/// <param name="Phone">The phone.</param>
/// <param name="Task">What is to be done.</param>
public sealed record Exercise(string Id, Ladder Ladder, string Title, string Skill, string Told, PracticePhone Phone, PracticeTask Task)
{
    /// <summary>What it warns of.</summary>
    public IReadOnlyList<WrongHands> Warns { get; init; } = [];
}

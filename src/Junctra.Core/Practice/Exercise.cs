using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Triage;
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

    private const string Serial = "PRACTICE1";

    /// <summary>When it is read: after the days that packages on the shelf name.</summary>
    public static DateTimeOffset Day { get; } = new(2026, 9, 1, 9, 0, 0, TimeSpan.Zero);

    /// <summary>What is known of it.</summary>
    public Phone Known()
    {
        Fact Read(FactName name, string value) => new(name, value, FactSource.Link, Day, "");
        return new Phone([
            .. Facts.ContainsKey(FactName.Serial) ? Array.Empty<Fact>() : [Read(FactName.Serial, Serial)],
            Read(FactName.ModelCode, ModelCode),
            Read(FactName.Mode, Mode.Id()),
            .. Facts.Select(fact => Read(fact.Key, fact.Value)),
        ]);
    }

    /// <summary>What is broken on it; nothing mostly.</summary>
    public TwinFaults Faults { get; init; } = new();

    /// <summary>Its twin as it lies there.</summary>
    public TwinState Start(PhoneModel model) => TwinFactory.Of(Known(), model, Mode, Computer) with { Faults = Faults };
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

    /// <summary>Whether the write of a job may begin.</summary>
    MayBegin,

    /// <summary>What is done after the cable came out while a job was written.</summary>
    AfterABreak,

    /// <summary>What follows where the run of a job waits for hands.</summary>
    WhatFollows,

    /// <summary>What is tried next with a phone that does not come up after a write.</summary>
    WhichRung,

    /// <summary>What is tried next at a port that stays silent.</summary>
    WhichRemedy,
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

    /// <summary>The job, where something of its write is asked.</summary>
    public JobTask? Job { get; init; }

    /// <summary>The partition that was written when the cable came out; of the last that is written, the middle.</summary>
    public string? BrokeIn { get; init; }

    /// <summary>Id of the sign at the port (<c>catalogue/link-doctor.yaml</c>).</summary>
    public string? Sign { get; init; }

    /// <summary>What was tried already: ids of remedies, or names of rungs.</summary>
    public IReadOnlyList<string> Tried { get; init; } = [];
}

/// <summary>What was said, or seen at the bench, of what a gate asks for.</summary>
/// <param name="Words">It in words.</param>
/// <param name="Means">Id of the option that it means; null where nobody has said it.</param>
public sealed record SaidAtGate(string Words, string? Means);

/// <summary>A whole job, from intake to hand-back.</summary>
/// <param name="Path">Letter of the path that is the way of this job.</param>
/// <param name="ErasesData">Whether the data may go.</param>
public sealed record JobTask(string Path, bool ErasesData) : PracticeTask
{
    /// <summary>What the phone is to be written for.</summary>
    public JobGoal Goal { get; init; }

    /// <summary>Whether its board must be rescued first.</summary>
    public bool NeedsRescue { get; init; }

    /// <summary>How shop and customer want it planned.</summary>
    public PlanPolicy Policy { get; init; } = PlanPolicy.Usual;

    /// <summary>Whether earlier writes proved that its software is its maker's.</summary>
    public bool IsProvenStock { get; init; }

    /// <summary>The packages that lie on the shelf.</summary>
    public IReadOnlyList<ShelfPackage> Shelf { get; init; } = [];

    /// <summary>What was seen of the phone (<c>catalogue/triage.yaml</c>); nothing where no finding is asked for.</summary>
    public IReadOnlyList<Observation> Seen { get; init; } = [];

    /// <summary>What was said of what a gate asks for; of any other gate, that it is as it should be.</summary>
    public IReadOnlyDictionary<GateId, SaidAtGate> Said { get; init; } = new Dictionary<GateId, SaidAtGate>();

    /// <summary>What is read after the write and is not as intended.</summary>
    public IReadOnlyDictionary<FactName, string> ReadAfter { get; init; } = new Dictionary<FactName, string>();

    /// <summary>The ports on which the phone's serial answers.</summary>
    public IReadOnlyList<string> Ports { get; init; } = ["port 1"];
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

    /// <summary>Modes into which the phone must not be brought, however soon it is brought out of them.</summary>
    public IReadOnlyList<PhoneMode> Forbids { get; init; } = [];
}

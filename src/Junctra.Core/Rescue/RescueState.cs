using Junctra.Core.Catalogue;

namespace Junctra.Core.Rescue;

/// <summary>A screw that lies in a place where it does not belong.</summary>
/// <param name="Screw">The place.</param>
/// <param name="LengthMm">Length of what is in it.</param>
public sealed record WrongScrew(Screw Screw, double LengthMm)
{
    /// <summary>What that does, in a sentence.</summary>
    public string Words =>
        LengthMm > Screw.LengthMm
            ? FormattableString.Invariant(
                $"{LengthMm:0.0} mm is in {Screw.Id}, where {Screw.LengthMm:0.0} mm belongs: a longer one goes through what lies below. Out with it, at once and without force."
            )
            : FormattableString.Invariant(
                $"{LengthMm:0.0} mm is in {Screw.Id}, where {Screw.LengthMm:0.0} mm belongs: a shorter one does not hold."
            );
}

/// <summary>Where a rescue stands, for the line of its job.</summary>
public enum RescueStanding
{
    /// <summary>Nothing is open.</summary>
    None,

    /// <summary>The phone is open.</summary>
    Open,

    /// <summary>It goes no further, and the phone is still open.</summary>
    EndedOpen,

    /// <summary>It goes no further, and the phone is put together.</summary>
    Ended,
}

/// <summary>
/// How a rescue stands: the fold of its entries over what is known of the phone's inside (specification: section 12 of the job).
/// </summary>
public sealed partial class RescueState
{
    /// <summary>Seconds for which a contact rests between two attempts.</summary>
    public const double RestSeconds = 20;

    private readonly Dictionary<string, RescueEntry> done = new(StringComparer.Ordinal);
    private readonly HashSet<string> outScrews = new(StringComparer.Ordinal);
    private readonly Dictionary<string, double> wrong = new(StringComparer.Ordinal);
    private readonly List<RescueEntry> attempts = [];
    private readonly List<string> ruleChangedOn = [];
    private readonly List<string> people = [];
    private string? givenUpFor;

    private RescueState(BoardGuide guide) => Guide = guide;

    /// <summary>How a rescue stands after its entries.</summary>
    /// <param name="guide">What is known of the phone's inside.</param>
    /// <param name="entries">What happened, in order.</param>
    /// <param name="loader">What is known of revision and loader; null where no loader is.</param>
    public static RescueState Of(BoardGuide guide, IEnumerable<RescueEntry> entries, LoaderCase? loader = null)
    {
        var state = new RescueState(guide);
        foreach (var entry in entries)
            state.Take(entry);
        if (loader is not null)
            state.Doubt = LoaderDoubt.Of(
                loader.Known,
                loader.Ceiling,
                [.. state.attempts.Concat(loader.InRuns).OrderBy(entry => entry.At).Select(entry => entry.Event)]
            );
        return state;
    }

    private void Take(RescueEntry entry)
    {
        switch (entry.Event)
        {
            case StepTicked { Step: var step }:
                done[step] = entry;
                break;
            case StepTakenBack { Step: var step }:
                done.Remove(step);
                break;
            case ScrewOut { Screw: var screw }:
                outScrews.Add(screw);
                wrong.Remove(screw);
                break;
            case ScrewIn screwIn:
                outScrews.Remove(screwIn.Screw);
                if (Guide.Screw(screwIn.Screw) is { } place && Math.Abs(place.LengthMm - screwIn.LengthMm) > 0.05)
                    wrong[screwIn.Screw] = screwIn.LengthMm;
                else
                    wrong.Remove(screwIn.Screw);
                break;
            case NeedleHeld or LoaderTried:
                attempts.Add(entry);
                break;
            case AttemptTakenBack when attempts.Count > 0:
                attempts.RemoveAt(attempts.Count - 1);
                break;
            case GivenUp given:
                givenUpFor = given.Up ? given.Why : null;
                break;
            case DriverRule { Changed: true } rule:
                ruleChangedOn.Add(rule.Computer);
                break;
            case DriverRule { Changed: false } rule:
                ruleChangedOn.RemoveAll(computer => computer == rule.Computer);
                break;
        }

        First ??= entry;
        Last = entry;
        if (!people.Contains(entry.By))
            people.Add(entry.By);
    }

    /// <summary>What is known of the phone's inside.</summary>
    public BoardGuide Guide { get; }

    /// <summary>Who did something at the phone, each once, in the order in which they came to it.</summary>
    public IReadOnlyList<string> People => people;

    /// <summary>The first entry; null before it.</summary>
    public RescueEntry? First { get; private set; }

    /// <summary>The latest entry; null before the first.</summary>
    public RescueEntry? Last { get; private set; }

    /// <summary>The entry by which a step is done; null while it is not.</summary>
    public RescueEntry? DoneBy(RescueStep step) => done.GetValueOrDefault(step.Id);

    /// <summary>Whether a screw is out.</summary>
    public bool IsOut(Screw screw) => outScrews.Contains(screw.Id);

    /// <summary>Screws that lie where they do not belong.</summary>
    public IReadOnlyList<WrongScrew> Wrong =>
        [.. wrong.OrderBy(pair => pair.Key, StringComparer.Ordinal).Select(pair => new WrongScrew(Guide.Screw(pair.Key)!, pair.Value))];

    /// <summary>Which of contact, timing and revision keeps the loader from answering; null where no loader is known.</summary>
    public LoaderDoubt? Doubt { get; private set; }

    /// <summary>Whether somebody gave it up.</summary>
    public bool IsGivenUp => givenUpFor is not null;

    /// <summary>
    /// Why it goes no further, in a sentence: it was given up, or no loader runs on this phone. Then it is put back together. Null while it
    /// goes on.
    /// </summary>
    public string? Ended =>
        givenUpFor is { } why ? $"It was given up: {why.TrimEnd('.')}."
        : Doubt is { IsOver: true } over ? over.Words
        : null;

    /// <summary>The step that is offered; null where all are done. Nothing that comes after it is offered before it is ticked.</summary>
    public RescueStep? Next => Guide.Steps.FirstOrDefault(step => IsNeeded(step) && !done.ContainsKey(step.Id));

    /// <summary>
    /// Whether a step is still to be done, or was. Of a rescue that ended no more is opened, and only what was opened is put back.
    /// </summary>
    public bool IsNeeded(RescueStep step) =>
        done.ContainsKey(step.Id)
        || Ended is null
        || step.PutsScrewsIn
            && (
                step.Undoes.Count == 0
                || step.Undoes.Any(done.ContainsKey)
                || step.Screws.Any(screw => outScrews.Contains(screw) || wrong.ContainsKey(screw))
            );

    /// <summary>Whether the pad lies bare: all of the opening is done, and nothing of the closing.</summary>
    public bool IsBare =>
        Guide.Of(RescuePhase.Open).All(step => done.ContainsKey(step.Id))
        && !Guide.Of(RescuePhase.CloseForKeys).Any(step => done.ContainsKey(step.Id));

    /// <summary>Whether all steps of a phase are done that are needed.</summary>
    public bool IsDone(RescuePhase phase) => Guide.Of(phase).All(step => done.ContainsKey(step.Id) || !IsNeeded(step));

    /// <summary>Whether the phone is open: a screw was out or a step done that takes it apart, and it was not closed up since.</summary>
    public bool IsOpen => Last is not null && (outScrews.Count > 0 || wrong.Count > 0 || HasOpened) && !IsDone(RescuePhase.CloseUp);

    /// <summary>Where it stands, for the line of its job.</summary>
    public RescueStanding Standing =>
        Ended is not null && IsBegun ? (IsOpen ? RescueStanding.EndedOpen : RescueStanding.Ended)
        : IsOpen ? RescueStanding.Open
        : RescueStanding.None;

    /// <summary>Whether anything was done at the phone itself, and not only at a computer.</summary>
    public bool IsBegun => done.Count > 0 || outScrews.Count > 0 || attempts.Count > 0;

    /// <summary>Whether it was taken apart at all: making ready and taking the tray out leave it closed.</summary>
    public bool HasOpened =>
        Guide.Of(RescuePhase.Open).Any(step => done.ContainsKey(step.Id) && (step.Opens || step.Disconnects || step.Screws.Count > 0));

    /// <summary>Computers on which the rule for drivers is still changed.</summary>
    public IReadOnlyList<string> RuleChangedOn => ruleChangedOn;

    /// <summary>Attempts with the needle, in order.</summary>
    public IReadOnlyList<RescueEntry> Needles => [.. attempts.Where(entry => entry.Event is NeedleHeld)];

    /// <summary>What was tried with needle and loader, in order.</summary>
    public IReadOnlyList<RescueEvent> Tried => [.. attempts.Select(entry => entry.Event)];

    /// <summary>Until when the contact rests; null where it need not.</summary>
    public DateTimeOffset? RestsUntil(DateTimeOffset now) =>
        Needles is [.., { Event: NeedleHeld { Heard: not Heard.Port } } last] && last.At.AddSeconds(RestSeconds) is var until && until > now
            ? until
            : null;

    /// <summary>Whether the chip answers: the last needle was heard as a port that stays.</summary>
    public bool ChipAnswers => Needles is [.., { Event: NeedleHeld { Heard: Heard.Port } }];

    /// <summary>Minutes that the steps of a phase still take, usually and slow.</summary>
    /// <param name="phase">The phase.</param>
    /// <param name="minutesOf">Minutes of a step; the guide's figure where that says nothing.</param>
    public Band MinutesLeft(RescuePhase phase, Func<RescueStep, Band?>? minutesOf = null)
    {
        var left = Guide
            .Of(phase)
            .Where(step => IsNeeded(step) && !done.ContainsKey(step.Id))
            .Select(step => minutesOf?.Invoke(step) ?? step.Minutes)
            .ToList();
        return new Band(left.Sum(band => band.Typical), left.Sum(band => band.Slow));
    }
}

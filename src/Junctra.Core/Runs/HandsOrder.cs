using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Runs;

/// <summary>What somebody may say that the phone shows after a step for hands.</summary>
/// <param name="Shows">The mode.</param>
/// <param name="Label">The same in words.</param>
/// <param name="Done">Whether that is what the step was to bring.</param>
public sealed record HandsChoice(PhoneMode Shows, string Label, bool Done);

/// <summary>A serial that a person reads off the phone, where no link tells it.</summary>
/// <param name="Expected">The serial of the job's phone; null where nobody has read it yet.</param>
public sealed record TypedSerial(string? Expected)
{
    /// <summary>A serial without what people put in between, in capitals.</summary>
    public static string Plain(string? text) => new([.. (text ?? "").Where(char.IsLetterOrDigit).Select(char.ToUpperInvariant)]);
}

/// <summary>
/// What hands do now, in a run that waits for them: by the ways of the phone's key family from wherever it is, or by the words of a menu.
/// </summary>
/// <param name="Title">What it is.</param>
/// <param name="Words">What to do, one step each.</param>
/// <param name="Choices">What the phone may show then, what is expected next first.</param>
/// <param name="Way">The way that is gone, for its score; null where there is none.</param>
public sealed record HandsOrder(string Title, IReadOnlyList<string> Words, IReadOnlyList<HandsChoice> Choices, Way? Way)
{
    private const int ShortestSerial = 4;

    /// <summary>What is to be read off the phone and typed; null where nothing is.</summary>
    public TypedSerial? Types { get; private init; }

    /// <summary>The order of a run that waits.</summary>
    /// <param name="run">The run.</param>
    /// <param name="phone">What is known of the phone.</param>
    /// <param name="model">Its model.</param>
    /// <param name="catalogue">Its ways.</param>
    /// <returns>The order, or null where no hands are wanted.</returns>
    public static HandsOrder? Of(RunState run, Phone phone, PhoneModel model, ModelCatalogue catalogue)
    {
        if (run is not { Status: RunStatus.Waiting, Step: { } step, HandsFrom: { } from })
            return null;
        phone = run.KnownBy(phone, model);
        return step.Act switch
        {
            ConfirmTarget confirm => new HandsOrder(step.Title, [confirm.Compare, TypeSerial], [new(from, "It is this phone", true)], null)
            {
                Types = new TypedSerial(run.Plan.Target.Serial),
            },
            CopyToCard copy => new HandsOrder(
                step.Title,
                [
                    "Put the card into a reader, or copy on the phone itself. Copy, never move: what is moved and lost is lost for good.",
                    $"It goes into the root of {copy.CardName}, no folder, and is called {copy.FileName}: one ending, however this computer shows names.",
                    $"Compare the copy’s digest. It begins with {copy.Sha256[..8]} and ends with {copy.Sha256[^8..]}.",
                ],
                [new(from, "It lies there, and the digest is the same", true)],
                null
            ),
            PutInUpdate when from is not (PhoneMode.Unknown or PhoneMode.StockRecovery) => Lead(step, from, PhoneMode.StockRecovery, false),
            PutInUpdate update => new HandsOrder(
                step.Title,
                [
                    $"Go to “{update.Label}” by its words: entries stand elsewhere on other phones.",
                    $"Select it, then {update.FileName}.",
                    update.Words.Ends,
                ],
                [
                    new(PhoneMode.UpdateRunning, "The bar moves", true),
                    new(PhoneMode.StockRecovery, "It says that it was not accepted", false),
                ],
                null
            ),
            PatchOnPhone when from is not (PhoneMode.Unknown or PhoneMode.System) => Lead(step, from, PhoneMode.System, false),
            PatchOnPhone patch => new HandsOrder(
                step.Title,
                [
                    $"Open the root manager. It must be version {patch.RootManager}; if it is another, stop the run.",
                    "Have it patch the copy that lies on the phone, and let it write nothing by itself.",
                    patch.Words.Ends,
                ],
                [new(PhoneMode.System, "A patched copy lies beside it", true)],
                null
            ),
            SaveData save => new HandsOrder(
                step.Title,
                ["Save only what was agreed on, and do not look into it.", save.Words.Title + ".", save.Words.Ends],
                [new(PhoneMode.System, "Saved and compared", true)],
                null
            ),
            OpenToEmergency open => new HandsOrder(
                step.Title,
                [
                    "Only if you are trained for it, where local rules allow it, on an earthed mat. The battery connector comes off first; before it is off, nothing else is touched.",
                    "Bring the chip to answer, with the contact held until this computer hears it.",
                    open.Words.Ends,
                ],
                [new(PhoneMode.Emergency, "The computer hears the chip", true)],
                null
            ),
            BringInto bring => Lead(step, from, bring.To, true, bring.KnownAs(phone)),
            RestartByHands held => LetStart(step, held, from is PhoneMode.Unknown or PhoneMode.Starting ? held.From : from),
            ForceRestart force => Restart(step, from == PhoneMode.Unknown ? force.From : from),
            // Another recovery than was thought may know no such thing; what erases or restarts is never left out.
            ChooseEntry { Partition: null, Restarts: false } choose when from.IsRecovery() && EntryIn(from, choose) is null => new(
                step.Title,
                [$"This recovery has no “{choose.Label}”: leave it out."],
                [new(from, "Left out", true)],
                null
            ),
            ChooseEntry choose when from != PhoneMode.Unknown && EntryIn(from, choose) is null => Lead(step, from, choose.Menu, false),
            ChooseEntry choose => Enter(
                choose with
                {
                    Menu = from == PhoneMode.Unknown ? choose.Menu : from,
                    Label = EntryIn(from, choose) ?? choose.Label,
                }
            ),
            ChangeLock when from is not (PhoneMode.Unknown or PhoneMode.LockChange) => Lead(step, from, PhoneMode.LockChange, false),
            ChangeLock change => new HandsOrder(
                step.Title,
                [
                    $"Read the question. It must be “{change.Question}”: the same screen also does the contrary. If it asks anything else, leave it, and say what the phone shows.",
                    $"{change.Answer}.",
                    change.Words.Ends,
                ],
                [new(PhoneMode.Starting, "It restarts", true)],
                null
            ),
            _ => null,
        };

        // Whose recovery it is shows only when it opens; either has the entry, by its own words.
        string? EntryIn(PhoneMode mode, ChooseEntry choose) =>
            mode == choose.Menu ? choose.Label
            : mode.IsRecovery() && choose.Menu.IsRecovery()
                ? catalogue
                    .CommonWays.MenuOf(catalogue.KeyFamilyOf(model), mode.Standing()!.Value)
                    ?.Entries.FirstOrDefault(entry => entry.Id == choose.Entry)
                    ?.Label
            : null;

        static HandsOrder Enter(ChooseEntry choose) =>
            new(
                choose.Words.Title,
                WordsOf(choose),
                [
                    new(
                        choose.Restarts ? PhoneMode.Starting : choose.Menu,
                        choose.Restarts ? "It restarts" : "It says that it is done",
                        true
                    ),
                ],
                null
            );

        HandsOrder LetStart(PlanStep step, RestartByHands held, PhoneMode at)
        {
            var way = Router.Best(phone, model, at, Router.StartsInto(phone, at), catalogue)?.Legs is [var first, ..] ? first : null;
            return new(
                step.Title,
                [
                    "Read what the phone says: all of it should be accepted. If it says anything else, stop the run.",
                    .. way?.Score.Words ?? ["Restart it by its keys."],
                    held.Words.Ends,
                ],
                [new(PhoneMode.Starting, "It restarts", true)],
                way
            );
        }

        HandsOrder Restart(PlanStep step, PhoneMode at)
        {
            var way = ForceRestart.WayFrom(phone, model, at, catalogue);
            List<HandsChoice> choices = [new(PhoneMode.Starting, "It goes dark, then the maker's picture", true)];
            if (way?.To == PhoneMode.Off)
                choices.Insert(0, new(PhoneMode.Off, "It is off, and stays off", false));
            else if (at.IsHung())
                choices.Add(new(at, "Nothing: it does as before", false));
            return new(
                way?.To == PhoneMode.Off ? $"{step.Title}: its battery out and in" : step.Title,
                way is null
                    ? [$"No keys are known that restart it from {at.Label()}. Say what it shows, or stop the run."]
                    : [.. way.Score.Before, .. way.Score.Words, "It restarts. What it shows then is watched as after the write."],
                choices,
                way
            );
        }

        HandsOrder Lead(PlanStep step, PhoneMode at, PhoneMode to, bool ends, Phone? known = null)
        {
            var way = Router.Best(known ?? phone, model, at, to, catalogue)?.Legs is [var first, ..] ? first : null;
            List<HandsChoice> choices = [new(to, PhoneScreens.Of(to), ends)];
            if (to.IsRecovery())
                choices.Add(
                    new(to == PhoneMode.StockRecovery ? PhoneMode.CustomRecovery : PhoneMode.StockRecovery, "Another recovery's menu", ends)
                );
            // What the way at hand leads to is expected next, before what it is all for.
            if (way is not null && way.To != to && choices.TrueForAll(choice => choice.Shows != way.To))
                choices.Insert(0, new(way.To, PhoneScreens.Of(way.To), false));
            choices.AddRange(
                (way?.Score.Wrong ?? [])
                    .Where(sign => choices.All(choice => choice.Shows != sign.Is))
                    .DistinctBy(sign => sign.Is)
                    .Select(sign => new HandsChoice(sign.Is, char.ToUpperInvariant(sign.Sees[0]) + sign.Sees[1..], false))
            );
            return way is null
                ? new HandsOrder(
                    step.Title,
                    at == to
                        ? [$"It is in {to.Label()} already."]
                        : [$"From {at.Label()} no way into {to.Label()} is known. Say what the phone shows now, or stop the run."],
                    choices,
                    null
                )
                : new HandsOrder(
                    way.To == to
                        ? step.Title
                        : $"{step.Title}: first {(way.To == PhoneMode.Off ? "switched off" : $"into {way.To.Label()}")}",
                    [.. way.Score.Before, .. way.Score.Words],
                    choices,
                    way
                );
        }
    }

    private const string TypeSerial = "Read the serial off the phone or its label, and type it. Do not copy it from this screen.";

    /// <summary>Whether hands are led through an act.</summary>
    public static bool Leads(Act act) =>
        act
            is ConfirmTarget { Mode: null }
                or BringInto
                or ChooseEntry
                or ChangeLock
                or RestartByHands
                or ForceRestart
                or CopyToCard { OverLink: false }
                or PutInUpdate
                or PatchOnPhone
                or SaveData { Means: SavingMeans.Card }
                or OpenToEmergency;

    /// <summary>Why what was typed does not do; null where nothing was to be typed, or it does.</summary>
    public string? WhyNot(string? typed)
    {
        if (Types is not { } asked)
            return null;
        var serial = TypedSerial.Plain(typed);
        if (serial.Length < ShortestSerial)
            return "Type the serial as the phone or its label shows it.";
        return asked.Expected is null || TypedSerial.Plain(asked.Expected) == serial
            ? null
            : $"“{typed?.Trim()}” is not the serial of this job. Read it again; if that is what it says, this is another phone: stop the run.";
    }

    /// <summary>Whether somebody may say so now: what ends a step is among the choices, anything else leads on from there.</summary>
    public bool Allows(PhoneMode shows, bool done) => !done || Choices.Any(choice => choice.Done && choice.Shows == shows);

    private static string[] WordsOf(ChooseEntry choose) =>
        [
            $"In {choose.Menu.Label()}, go to “{choose.Label}” by its words: entries stand elsewhere on other phones.",
            "Select it. If it asks whether you mean it, choose the entry that says yes.",
            choose.Takes > 0
                ? $"Wait: it takes about {Math.Max(5, Math.Ceiling(choose.Takes / 5) * 5)} s. {choose.Words.Ends}"
                : choose.Words.Ends,
        ];
}

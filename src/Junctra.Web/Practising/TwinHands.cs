using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Web.Drawing;

namespace Junctra.Web.Practising;

/// <summary>What somebody did at a drawn phone.</summary>
/// <param name="At">Milliseconds since they began.</param>
/// <param name="Stave">What was acted on.</param>
/// <param name="Down">Pressed, plugged in or taken out; else let go.</param>
/// <param name="Does">The menu entry, for a touch.</param>
public sealed record HandsAct(long At, string? Stave, bool Down, string? Does);

/// <summary>A drawn phone that hands hold: the keys of the keyboard, what is done, and what the phone then shows.</summary>
public static class TwinHands
{
    /// <summary>So many acts at the most, in so many milliseconds.</summary>
    public const int MaxActs = 400;

    /// <inheritdoc cref="MaxActs"/>
    public const long MaxMilliseconds = 10 * 60 * 1000;

    /// <summary>What can be done on a model's phone, and the key of the keyboard that does it.</summary>
    public static IReadOnlyList<(Stave Stave, string Keyboard, string Says)> Of(KeyFamily family, PhoneModel model) =>
        [
            .. family
                .Staves.Where(stave => stave.Id != Stave.Battery || model.BatteryOut)
                .Select(stave => (stave, Keyboard(stave.Id), KeyboardName(stave.Id))),
        ];

    /// <summary>What else can be done to a phone that lies there, and the key of the keyboard that does it.</summary>
    public static IReadOnlyList<(string Id, string Words, string Keyboard)> Beside(PhoneModel model) =>
        [(Charger, "Charger in", "x"), .. model.CardUpdate is null ? [] : new[] { (Card, "Card out", "m") }];

    private const string Charger = "charger",
        Card = "card";

    /// <summary>Why it cannot be replayed; null where it can.</summary>
    public static string? WhyNot(IReadOnlyList<HandsAct?>? acts, long nowMs) =>
        acts is null
        || acts.Count > MaxActs
        || nowMs is < 0 or > MaxMilliseconds
        || acts.Any(act => act is null or { At: < 0 or > MaxMilliseconds })
            ? $"At most {MaxActs} acts in {MaxMilliseconds / 60_000} minutes."
            : null;

    /// <summary>What was done, as it happens to the twin.</summary>
    /// <param name="acts">What was done.</param>
    /// <param name="computer">Name of the computer to which the cable leads.</param>
    /// <param name="card">What lies on the card that was in the phone; null where there was none.</param>
    public static IReadOnlyList<TrialAct> Played(IReadOnlyList<HandsAct> acts, string computer, IReadOnlyList<CardFile>? card = null) =>
        [
            .. acts.Select(act => (act.At, Happening: EventOf(act, computer, card)))
                .Where(act => act.Happening is not null)
                .Select(act => new TrialAct(act.At, act.Happening!)),
        ];

    /// <summary>What the phone shows, for the page that draws it.</summary>
    public static object Shown(PhoneTwin twin, TwinState state)
    {
        var screen = twin.ScreenOf(state);
        return new
        {
            title = screen.Title,
            lines = screen.Lines,
            picture = screen.Picture,
            marked = screen.Marked,
            light = LightOf(state),
            entries = screen.Entries.Select(entry => new { id = entry.Id, label = entry.Label }),
        };
    }

    /// <summary>
    /// What the computer at its cable lists, read by the same rules as at a real port, and what the link doctor would try, the best first.
    /// </summary>
    /// <param name="state">The phone.</param>
    /// <param name="wanted">The mode in which it is wanted; unknown where none is.</param>
    /// <param name="catalogue">Signs and remedies.</param>
    public static object Listed(TwinState state, PhoneMode wanted, ModelCatalogue catalogue)
    {
        if (state.Cable != CableTo.Computer)
            return new
            {
                phones = Array.Empty<object>(),
                sign = "",
                why = "No cable leads to the computer.",
                tries = Array.Empty<object>(),
            };
        // A chip that answers alone tells no serial.
        IReadOnlyList<ListedPhone> listed = PhoneTwin.LinkOf(state) is null
            ? []
            : [new(state.Mode == PhoneMode.Emergency ? null : state.Serial, state.Mode, false, PhoneTwin.IsAllowed(state), null)];
        var reading = ListReading.Of(listed, state.Mode == PhoneMode.Emergency ? null : state.Serial, wanted);
        var sign = catalogue.Links.Sign(reading.SignId);
        return new
        {
            phones = listed.Select(phone => new
            {
                serial = phone.Serial ?? "none shown",
                mode = phone.Mode == PhoneMode.Unknown ? "not told" : phone.Mode.Label(),
                how = phone.IsAllowed ? "answers" : "not allowed yet",
                look = phone.IsAllowed ? "go" : "ask",
            }),
            sign = sign is { IsWell: false } ? sign.Means : "",
            why = reading.Why,
            tries = sign is { IsWell: false }
                ? LinkDoctor
                    .Order(catalogue.Links, reading.SignId, [], [])
                    .Take(MaxTries)
                    .Select(ranked => new
                    {
                        label = ranked.Remedy.Label,
                        words = ranked.Remedy.Words,
                        chance = Say.Percent(ranked.Chance),
                        takes = Say.Minutes(ranked.Remedy.Minutes),
                    })
                : (IEnumerable<object>)[],
        };
    }

    private const int MaxTries = 3;

    // The light of a phone: while it charges, and while it is told of nothing it is dark.
    private static string LightOf(TwinState state) =>
        state.Cable == CableTo.Nothing || state.Faults.DeadBoard || !state.BatteryIn ? ""
        : state.ChargePercent >= Full ? "full"
        : "charging";

    private const int Full = 100;

    /// <summary>A moment in words.</summary>
    public static object Said(KeyFamily family, JudgedMoment moment) =>
        new
        {
            says = $"{family.StaveOf(moment.Bar.StaveId).Name} {Verb(moment)}",
            off = OffWords(moment),
            verdict = moment.Verdict.ToString().ToLowerInvariant(),
        };

    private static string Verb(JudgedMoment moment) =>
        moment.Bar.StaveId switch
        {
            Stave.Cable or Stave.Battery => moment.IsPress == (moment.Bar.StaveId == Stave.Cable) ? "in" : "out",
            Stave.Screen => "touched",
            _ => moment.IsPress ? "pressed" : "let go",
        };

    private static string OffWords(JudgedMoment moment) =>
        Math.Abs(moment.OffSeconds) < 0.15
            ? "on the beat"
            : string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"{Math.Abs(moment.OffSeconds):0.0} s {(moment.OffSeconds < 0 ? "early" : "late")}"
            );

    private static TwinEvent? EventOf(HandsAct act, string computer, IReadOnlyList<CardFile>? card) =>
        (act.Stave, act.Down) switch
        {
            (Charger, true) => new CableIn(null),
            (Charger, false) => new CableOut(),
            (Card, true) => new CardTakenOut(),
            (Card, false) => new CardPutIn(card ?? []),
            (Stave.Cable, true) => new CableIn(computer),
            (Stave.Cable, false) => new CableOut(),
            (Stave.Battery, true) => new BatteryOut(),
            (Stave.Battery, false) => new BatteryIn(),
            (Stave.Screen, true) => new Choose(act.Does ?? ""),
            (Stave.Computer, true) => new Command(act.Does ?? ""),
            (null or "" or Stave.Screen or Stave.Computer, _) => null,
            (var key, true) => new KeyDown(key),
            (var key, false) => new KeyUp(key),
        };

    private static string Keyboard(string stave) =>
        stave switch
        {
            "volume-up" => "ArrowUp",
            "volume-down" => "ArrowDown",
            "home" => "h",
            "power" => "p",
            Stave.Cable => "c",
            Stave.Battery => "b",
            _ => stave[..1],
        };

    private static string KeyboardName(string stave) =>
        Keyboard(stave) switch
        {
            "ArrowUp" => "↑",
            "ArrowDown" => "↓",
            var key => key,
        };
}

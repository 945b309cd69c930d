using Junctra.Core.Facts;

namespace Junctra.Core.Rescue;

/// <summary>What keeps a loader from answering.</summary>
public enum LoaderTrouble
{
    /// <summary>The needle did not touch, or the wrong pad.</summary>
    Contact,

    /// <summary>It was lifted too early or too late.</summary>
    Timing,

    /// <summary>The phone's revision is above what the loader supports: nothing helps.</summary>
    Revision,
}

/// <summary>
/// Which of contact, timing and revision is likelier, by Bayes over what was tried (specification: section 12 of the job). The chip's own
/// port comes whatever the revision is: so a port that stays and a loader that stays silent speak for the revision, and no port at all
/// speaks for contact and timing.
/// </summary>
public sealed class LoaderDoubt
{
    // How likely each sign is if one of them is the trouble; from what those who do it report, and careful: no single try decides.
    private static readonly Dictionary<LoaderTrouble, (double Nothing, double Came, double Port, double Silent)> Signs = new()
    {
        [LoaderTrouble.Contact] = (0.80, 0.15, 0.05, 0.35),
        [LoaderTrouble.Timing] = (0.45, 0.40, 0.15, 0.50),
        [LoaderTrouble.Revision] = (0.15, 0.10, 0.75, 0.97),
    };

    /// <summary>From here on the revision counts as proved.</summary>
    public const double Proved = 0.95;

    // A loader that was silent on a good port so often is not tried for ever.
    private const int LeastSilent = 3;

    private readonly Dictionary<LoaderTrouble, double> chances;
    private readonly int silent;
    private readonly string? tooHigh;

    private LoaderDoubt(Dictionary<LoaderTrouble, double> chances, int silent, bool answered, string? tooHigh) =>
        (this.chances, this.silent, HasAnswered, this.tooHigh) = (chances, silent, answered, tooHigh);

    /// <summary>Weighs what was tried.</summary>
    /// <param name="known">The highest revision that the phone is known to have had: a lower bound; null where none is known.</param>
    /// <param name="ceiling">The highest revision that the loader supports.</param>
    /// <param name="tried">What was tried, in order.</param>
    public static LoaderDoubt Of(Revision? known, Revision ceiling, IReadOnlyList<RescueEvent> tried)
    {
        var isTooHigh = known > ceiling;
        // The nearer what is known lies to the ceiling, the likelier something newer was put in since.
        var above =
            known is not { } bound ? 0.35
            : isTooHigh ? 1
            : bound == ceiling ? 0.20
            : 0.10;
        // Whatever it answered once, it supports this phone.
        var answered = tried.OfType<LoaderTried>().Any(one => one.Answered);
        if (answered)
            above = 0;
        var chances = new Dictionary<LoaderTrouble, double>
        {
            [LoaderTrouble.Contact] = (1 - above) * 0.65,
            [LoaderTrouble.Timing] = (1 - above) * 0.35,
            [LoaderTrouble.Revision] = above,
        };
        var silent = 0;
        foreach (var one in tried)
        {
            foreach (var trouble in Signs.Keys)
                chances[trouble] *= one switch
                {
                    NeedleHeld { Heard: Heard.Nothing } => Signs[trouble].Nothing,
                    NeedleHeld { Heard: Heard.CameAndWent } => Signs[trouble].Came,
                    NeedleHeld => Signs[trouble].Port,
                    LoaderTried { Answered: false } => Signs[trouble].Silent,
                    _ => 1,
                };
            silent += one is LoaderTried { Answered: false } ? 1 : 0;
            var sum = chances.Values.Sum();
            foreach (var trouble in Signs.Keys)
                chances[trouble] /= sum;
        }

        return new LoaderDoubt(
            chances,
            silent,
            tried is [.., LoaderTried { Answered: true }],
            isTooHigh && !answered
                ? $"It ends here: the phone had revision {known}, and the loader supports revisions up to {ceiling}. No contact changes that."
                : null
        );
    }

    /// <summary>Whether the loader answered at last: then there is no trouble.</summary>
    public bool HasAnswered { get; }

    /// <summary>Each trouble with its chance, the likeliest first; together 1.</summary>
    public IReadOnlyList<(LoaderTrouble Trouble, double Chance)> Ranked =>
        [.. chances.OrderByDescending(pair => pair.Value).ThenBy(pair => pair.Key).Select(pair => (pair.Key, pair.Value))];

    /// <summary>Whether it ends here: the loader was silent on a good port often enough, and its revision is all that is left.</summary>
    public bool IsOver => !HasAnswered && (tooHigh is not null || silent >= LeastSilent && chances[LoaderTrouble.Revision] >= Proved);

    /// <summary>What to do next, in a sentence or two.</summary>
    public string Words =>
        HasAnswered ? "The loader answers. Go on with the run; do not touch the board."
        : IsOver
            ? tooHigh
                ?? "It ends here: the port is good and the loader stays silent. The phone's revision is above what the loader supports, and no contact changes that."
        : Ranked[0].Trouble switch
        {
            LoaderTrouble.Contact =>
                "Likeliest the contact: clean pad and needle, press on the middle of the pad and on the shield, and hold still.",
            LoaderTrouble.Timing =>
                "Likeliest the timing: needle first, then the cable's other end into the computer; lift a moment after the port is heard.",
            _ =>
                "Likeliest the revision. Try the loader on a port that stays; silent there again and again, it does not support this phone.",
        };
}

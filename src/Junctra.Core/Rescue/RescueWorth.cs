using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Triage;

namespace Junctra.Core.Rescue;

/// <summary>A line of the question whether opening is worth it.</summary>
/// <param name="Title">What is asked.</param>
/// <param name="Verdict">How it stands.</param>
/// <param name="Words">What is known of it.</param>
/// <param name="Asks">The check of the triage that answers it; null where none does, or it is answered.</param>
public sealed record WorthLine(string Title, Verdict Verdict, string Words, string? Asks = null);

/// <summary>
/// Whether opening a phone is worth it, said before (specification: section 12 of the job): that nothing reacts, what the loader supports
/// against what the phone had, what it costs against what it brings. A stop here is a full answer.
/// </summary>
public static class RescueWorth
{
    // By which checks of the triage, and which of their outcomes, each is proved.
    private static readonly (string Title, string[] Checks, string[] Dead, string Missing)[] Proofs =
    [
        ("Charged", ["charge", "after-charge"], ["takes", "takes-none", "dark"], "Thirty minutes on a known-good charger come first."),
        ("Keys", ["power-key"], ["dark"], "Hold its keys as long as a forced restart takes."),
        ("Listening", ["vibrates"], ["no"], "Listen: does it buzz, click or light up?"),
        (
            "Cable and computer",
            ["computer", "other-cable", "write-mode"],
            ["nothing", "unseen", "no-answer"],
            "Another cable, another port: does the computer hear anything?"
        ),
    ];

    /// <summary>All lines, in order.</summary>
    /// <param name="observations">What was answered at the triage.</param>
    /// <param name="whyNot">Why opening would not help by loader and revision; null where it would.</param>
    /// <param name="known">The highest revision that the phone is known to have had; null where none is.</param>
    /// <param name="ceiling">The highest revision that a loader supports; null where there is none.</param>
    /// <param name="guide">What is known of its inside; null where nothing is.</param>
    /// <param name="dataIsWanted">Whether the customer wants what is on it.</param>
    /// <param name="minutes">What opening and closing take.</param>
    public static IReadOnlyList<WorthLine> Of(
        IReadOnlyList<Observation> observations,
        string? whyNot,
        Revision? known,
        Revision? ceiling,
        BoardGuide? guide,
        bool dataIsWanted,
        Band minutes
    )
    {
        var lines = Proofs.Select(proof => Proved(proof, observations)).ToList();
        lines.Add(
            new WorthLine(
                "Loader and revision",
                whyNot is null ? Verdict.Go
                    : known is null && ceiling is not null ? Verdict.Ask
                    : Verdict.Stop,
                whyNot
                    ?? $"The loader supports revisions up to {ceiling}; the highest that is known of this phone is {known}. It may have had a higher one since: that is seen only when the loader stays silent."
            )
        );
        if (guide is null)
        {
            lines.Add(
                new WorthLine(
                    "Its inside",
                    Verdict.Ask,
                    "Nothing is known here of its board, screws and pads. Somebody who knows it writes it down first (catalogue/boards)."
                )
            );
            return lines;
        }

        lines.Add(
            new WorthLine(
                "Data",
                dataIsWanted ? Verdict.Care : Verdict.Go,
                dataIsWanted
                    ? "The customer wants what is on it, and a rescue does not save it: the phone is written clean. Say so before anything is opened."
                    : "It is written clean; nothing on it is wanted."
            )
        );
        lines.Add(Money(guide.Figures, minutes));
        lines.Add(
            new WorthLine(
                "What can still go wrong",
                Verdict.Care,
                "The back may splinter, a ribbon tear, a needle slip: one short in the wrong place ends the board, and nobody brings it back. It is no longer proof against water."
            )
        );
        return lines;
    }

    /// <summary>What all lines come to: the worst of those that decide.</summary>
    public static Verdict Sum(IReadOnlyList<WorthLine> lines) =>
        lines.Any(line => line.Verdict == Verdict.Stop) ? Verdict.Stop
        : lines.Any(line => line.Verdict == Verdict.Ask) ? Verdict.Ask
        : Verdict.Care;

    /// <summary>Why a phone is not opened, or not yet; null where it may be.</summary>
    public static string? WhyNotOpen(IReadOnlyList<WorthLine> lines) =>
        Sum(lines) switch
        {
            Verdict.Stop => "It is not worth opening. That is a full answer: the phone goes back as it is.",
            Verdict.Ask => "Whether it is worth opening is not known yet: answer what is open first.",
            _ => null,
        };

    private static WorthLine Proved(
        (string Title, string[] Checks, string[] Dead, string Missing) proof,
        IReadOnlyList<Observation> observations
    )
    {
        var answers = observations.Where(one => proof.Checks.Contains(one.CheckId)).ToList();
        return answers.Exists(one => !proof.Dead.Contains(one.OutcomeId))
                ? new(proof.Title, Verdict.Stop, "It reacts: what reacts is not opened. Find out what is wrong by that.")
            : answers.Count > 0 ? new(proof.Title, Verdict.Go, "Asked, and no reaction.")
            : new(proof.Title, Verdict.Ask, $"Not asked yet. {proof.Missing}", proof.Checks[0]);
    }

    private static WorthLine Money(RescueFigures figures, Band minutes)
    {
        var (hours, slow) = (minutes.Typical / 60, minutes.Slow / 60);
        var brings = figures.Succeeds * figures.Phone + (1 - figures.Succeeds) * figures.Parts - figures.Parts;
        var (labour, atWorst) = (hours * figures.LabourAnHour, slow * figures.LabourAnHour);
        var words = FormattableString.Invariant(
            $"About {minutes.Typical:0} min of trained hands, at worst {minutes.Slow:0}: {labour:0} to {atWorst:0}. Working it is worth {figures.Phone:0}, in parts {figures.Parts:0}; {figures.Succeeds * 100:0} of 100 succeed, so that opening brings {brings:0} more than its parts."
        );
        return new(
            "Labour against worth",
            brings >= atWorst ? Verdict.Go
                : brings >= labour ? Verdict.Care
                : Verdict.Stop,
            brings < labour ? words + " It costs more than it brings; only for a customer who wants just this phone." : words
        );
    }
}

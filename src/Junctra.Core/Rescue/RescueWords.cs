using Junctra.Core.Catalogue;

namespace Junctra.Core.Rescue;

/// <summary>What happened at an opened phone, in words: for its list, its story, and to be found by.</summary>
public static class RescueWords
{
    /// <summary>An event in a sentence.</summary>
    /// <param name="happening">The event.</param>
    /// <param name="guide">What is known of the phone's inside; null where nothing is any more.</param>
    public static string Of(RescueEvent happening, BoardGuide? guide) =>
        happening switch
        {
            StepTicked step => $"Done: {Title(step.Step, guide)}.",
            StepTakenBack step => $"Taken back: {Title(step.Step, guide)}.",
            ScrewOut screw => $"Screw {screw.Screw} out.",
            ScrewIn screw => FormattableString.Invariant($"Screw of {screw.LengthMm:0.0} mm into {screw.Screw}."),
            NeedleHeld { Heard: Heard.Port } needle =>
                $"Needle on {Pad(needle.Pad, guide)}: the chip's port is heard{(needle.Port.Length > 0 ? $", as {needle.Port}" : "")}.",
            NeedleHeld { Heard: Heard.CameAndWent } needle => $"Needle on {Pad(needle.Pad, guide)}: a port came, and was gone again.",
            NeedleHeld needle => $"Needle on {Pad(needle.Pad, guide)}: nothing was heard.",
            LoaderTried { Answered: true } => "The loader gave its first answer.",
            LoaderTried => "The loader stayed silent.",
            AttemptTakenBack => "The last attempt was noted by mistake, and does not count.",
            GivenUp { Up: true } given => $"Given up: {given.Why.TrimEnd('.')}.",
            GivenUp => "Taken up again.",
            DriverRule { Changed: true } rule => $"Rule for drivers changed on {rule.Computer}.",
            DriverRule rule => $"Rule for drivers put back on {rule.Computer}.",
            _ => "",
        };

    /// <summary>What was done at an opened phone, for its sheet; null where it was not opened.</summary>
    public static string? Summary(RescueState state)
    {
        if (!state.HasOpened)
            return null;
        var needles = state.Needles.Count;
        var came =
            needles == 0 ? ""
            : state.Tried is [.., LoaderTried { Answered: false }] ? ", and its chip answered, but no loader ran on it"
            : state.ChipAnswers ? ", and its chip answered"
            : ", and its chip did not answer";
        return $"It was opened by {string.Join(" and ", state.People)}{(needles == 0 ? "" : $"; a needle was held {needles} {(needles == 1 ? "time" : "times")}")}{came}. {(state.Ended is { } ended ? ended + " " : "")}{(state.IsOpen ? "It is open still." : "It was closed up again, with all its screws.")}";
    }

    private static string Title(string step, BoardGuide? guide) => guide?.Step(step)?.Title.ToLowerInvariant() ?? step;

    private static string Pad(int? line, BoardGuide? guide) =>
        line is { } known && guide?.Board.Pads.FirstOrDefault(pad => pad.Line == known) is { } pad ? $"{pad.Part} ({pad.Net})" : "a pad";
}

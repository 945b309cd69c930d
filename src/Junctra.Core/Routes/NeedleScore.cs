using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Routes;

/// <summary>
/// The order of cable, needle and computer as a score (specification: section 12 of the job): the cable into the phone first, the needle on
/// pad and shield, then the other end into the computer, held until it is heard. At no moment more than two hands.
/// </summary>
public static class NeedleScore
{
    private const string Needle = "Needle",
        Heard = "heard";

    /// <summary>The score.</summary>
    public static KeyRecipe Recipe { get; } =
        new(
            "needle",
            "Cable, needle, computer",
            [PhoneMode.Off],
            Target.Stage,
            PhoneMode.Emergency,
            1,
            12,
            [
                new KeyBar(Stave.Cable, new Moment(null, 0), new Moment(null, 12), "into the phone") { Stays = true },
                new KeyBar(Needle, new Moment(null, 2), new Moment(Heard, 1), "on pad and shield, still"),
                new KeyBar(Stave.Computer, new Moment(null, 4), new Moment(null, 12), "the other end in") { Stays = true },
            ],
            [new KeyMark(Heard, 8, PhoneStage.Emergency, "the computer hears a port: lift the needle")],
            ["The computer first: rule for drivers, restarts, the loader's program ready."],
            [
                "Left hand: the cable into the phone. Its other end stays out.",
                "Right hand: needle on the pad and on the shield's edge. Hold still.",
                "Left hand: the other end into the computer. Hold until it is heard, then lift.",
                "Look at the list for a serial port of the chip, and its number.",
            ],
            []
        );
}

using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Runs;

namespace Junctra.Web.Bench;

/// <summary>What the card of a phone on its way up shows, at the write and at the check.</summary>
/// <param name="Ticket">The job.</param>
/// <param name="Up">How it comes up.</param>
/// <param name="Shows">What it was last seen to show since; null where nobody said.</param>
/// <param name="MayAct">Whether whoever looks may act.</param>
public sealed record WayUpCard(string Ticket, WayUp Up, PhoneMode? Shows, bool MayAct)
{
    /// <summary>How a rung stands, in a word.</summary>
    public static string WordOf(RungState state) =>
        state switch
        {
            RungState.Climbed => "tried",
            RungState.Here => "now",
            RungState.Next => "next",
            RungState.Closed => "not here",
            _ => "",
        };

    /// <summary>The words on the button of a rung that leads to another station.</summary>
    public static string GoOf(Rung rung) =>
        rung switch
        {
            Rung.WriteAgain => "Plan it anew, erasing",
            Rung.MatchAgain => "To the match",
            _ => "To find out",
        };
}

using Junctra.Core.Catalogue;

namespace Junctra.Web.Bench;

/// <summary>What hands do, as the route station and a run that waits show it.</summary>
/// <param name="Title">What it is.</param>
/// <param name="Before">What comes before it.</param>
/// <param name="Words">What to do, one step each.</param>
/// <param name="Way">The way that is gone, for its score; null where there is none.</param>
/// <param name="Family">The phone's keys.</param>
/// <param name="Ticket">The job, where the way may be tried on its twin; else null.</param>
/// <param name="Class">A class of the card beside its own.</param>
public sealed record ScoreCard(
    string Title,
    IReadOnlyList<string> Before,
    IReadOnlyList<string> Words,
    Way? Way,
    KeyFamily Family,
    string? Ticket,
    string Class = ""
)
{
    /// <summary>Whether it takes a score: a touch or a command needs none, its words say it.</summary>
    public bool HasScore => Way is { } way && way.Score.Bars.Any(bar => bar.StaveId is not (Stave.Screen or Stave.Computer));

    /// <summary>Whether it takes keys.</summary>
    public bool HasKeys => Way is { } way && way.Score.Bars.Any(bar => Family.StaveOf(bar.StaveId).IsKey);
}

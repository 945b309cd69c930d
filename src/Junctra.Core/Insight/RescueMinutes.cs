using Junctra.Core.Catalogue;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Rescue;

namespace Junctra.Core.Insight;

/// <summary>
/// How long the steps of a rescue take in this shop: the guide's figures, and from three rescues of such a phone on what those took
/// (<see cref="Estimates"/>).
/// </summary>
public sealed class RescueMinutes
{
    private readonly BoardGuide guide;
    private readonly Dictionary<string, (Band Minutes, int Jobs)> learned = new(StringComparer.Ordinal);

    /// <summary>Learns from rescues of such phones.</summary>
    /// <param name="guide">What is known of their inside.</param>
    /// <param name="log">What happened at each, in order, by its job.</param>
    /// <param name="by">Whose hands it will be; empty where nobody knows.</param>
    public RescueMinutes(BoardGuide guide, IEnumerable<(int Job, IEnumerable<RescueEntry> Entries)> log, string by)
    {
        this.guide = guide;
        var estimates = Estimates.Of(
            log.SelectMany(one =>
                RescueTimes
                    .Of(guide, one.Entries)
                    .Select(took => new LoggedTime(
                        one.Job,
                        TimeKind.Hands,
                        took.Step.Id,
                        "",
                        "",
                        took.By,
                        took.Step.Minutes.Typical,
                        took.Minutes
                    ))
            )
        );
        foreach (var step in guide.Steps)
            if (estimates.Find(TimeKind.Hands, step.Minutes, step.Id, by: by) is { } known)
                learned[step.Id] = (new Band(step.Minutes.Typical * known.Times, step.Minutes.Typical * known.SlowTimes), known.Jobs);
    }

    /// <summary>Minutes of a step.</summary>
    public Band Of(RescueStep step) => learned.TryGetValue(step.Id, out var known) ? known.Minutes : step.Minutes;

    /// <summary>All of the opening, with the needle; null where no step of it was learned.</summary>
    public ActTime? Opening
    {
        get
        {
            var jobs = guide.Of(RescuePhase.Open).Max(step => learned.TryGetValue(step.Id, out var known) ? known.Jobs : 0);
            return jobs > 0 ? new ActTime(BoardRescue.OpeningOf(guide, Of), jobs) : null;
        }
    }

    /// <summary>Times of acts in which the opening takes what was learned of its steps.</summary>
    /// <param name="others">Times of all other acts.</param>
    public IActTimes Within(IActTimes others) => new Times(others, Opening);

    private sealed record Times(IActTimes Others, ActTime? Opening) : IActTimes
    {
        public ActTime? Of(Act act) => act is OpenToEmergency && Opening is { } opening ? opening : Others.Of(act);
    }
}

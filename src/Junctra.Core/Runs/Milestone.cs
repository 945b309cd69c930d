using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Runs;

/// <summary>
/// A sign on the way from the first byte to a phone that is done. Several look like the end and are not (specification: section 10 of the
/// job): all of them stand side by side.
/// </summary>
/// <param name="Title">What it is.</param>
/// <param name="IsReached">Whether it is so.</param>
/// <param name="Means">What it means, and what it does not.</param>
public sealed record Milestone(string Title, bool IsReached, string Means)
{
    /// <summary>The milestones of a run, in order; those that its plan has.</summary>
    public static IReadOnlyList<Milestone> Of(RunState run)
    {
        var steps = run.Plan.Steps;
        var images = steps.SelectMany(step => step.Act.Touches).Where(touch => !touch.Erases).Select(touch => touch.Partition).ToHashSet();
        var isOver = run.Status == RunStatus.Finished;
        var accepted = isOver || images.All(run.Accepted.ContainsKey);
        var list = new List<Milestone>();
        if (images.Count > 0)
        {
            list.Add(
                new(
                    "All sent",
                    accepted || run.Plan.BytesToSend > 0 && run.BytesDone + run.BytesSentInStep >= run.Plan.BytesToSend,
                    "The computer has given everything away. The phone may not have written it."
                )
            );
            list.Add(new("All accepted", accepted, "The phone has written everything and said so."));
        }

        if (steps.LastOrDefault(step => step.Act is RestartByHands) is { } held)
            list.Add(
                new(
                    "Let start by hand",
                    isOver || run.Done.Contains(held.Number),
                    "Its restart is held: written it is, and it starts only when hands let it."
                )
            );
        else if (run.Plan.StartsThePhone)
            list.Add(new("Restarted", isOver, "Written and restarted: the writing is finished. The phone is not."));
        var up = isOver && run.Seen.Count > 0 && PhoneModes.Parse(run.Seen[^1].What.Shows) is PhoneMode.System or PhoneMode.SetupWizard;
        if (steps.Any(step => step.Act is AwaitStage { Work: OwnWork.InstallPhase or OwnWork.CardUpdate }))
            list.Add(new("Put in by the phone", up, "What was sent is put in by the phone itself; it restarts for that, perhaps twice."));
        if (steps.Any(step => step.Act is AwaitStage))
            list.Add(new("Up", up, "The set-up or the lock screen shows. A success on a screen before that is none."));
        return list;
    }
}

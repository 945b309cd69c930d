using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path K: hands wipe the data in recovery, and nothing is written. For a phone whose software is whole and whose data it cannot start
/// with.
/// </summary>
public sealed class WipeOnly : IPath
{
    /// <inheritdoc/>
    public string Letter => "K";

    /// <inheritdoc/>
    public string Title => "Wipe only, nothing written";

    /// <inheritdoc/>
    public string Purpose => "For a phone whose software is whole and that cannot start with its data. Everything on it is erased.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.NoPackage(@case) ?? PathFit.Erases(@case) ?? (@case.Mode == PhoneMode.System ? WhyNothingIsWon(@case) : null);

    /// <summary>A phone that runs is not mended by a wipe; what a job is for may want more than that.</summary>
    private static string? WhyNothingIsWon(PathCase @case) =>
        @case.Goal is JobGoal.Update or JobGoal.KeepRoot ? "It runs, and a wipe brings no newer build."
        : @case.Goal == JobGoal.Recovery ? "It runs, and a wipe leaves its recovery as it is."
        : @case.Phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Custom)
            ? "It runs software that is not its maker's, and a wipe leaves that on it."
        : null;

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        draft.RefuseIfLost();
        if (
            @case.Phone.Of(FactName.LockState).Is(LockState.Locked)
            && (@case.Phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Custom) || @case.Phone.Of(FactName.Root).Is(Presence.Present))
        )
            draft.Refuse("Its lock is closed over software that is not its maker's: a wipe does not mend that. Write full signed stock.");
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        if (RecoveryMenu.AddWipe(@case, @case.Phone, model, @case.Mode, draft.Add) is { } why)
            draft.Refuse(why);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, true), draft.TargetAsKnown(model), null);
    }

    /// <summary>
    /// What is agreed on beforehand for the case that a phone loops on the data that were kept: this path, from the loop. Left out where no
    /// way leads from a loop into recovery; the write is none the worse for that.
    /// </summary>
    internal static void AddIfItLoops(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        var acts = new List<Act> { new ConfirmTarget(null, ConfirmTarget.ByLabel) };
        if (RecoveryMenu.AddWipe(@case, @case.Phone, model, PhoneMode.BootLoop, acts.Add) is not null)
            return;
        foreach (var act in acts.Append(new AwaitStage(OwnWork.FirstBoot)).Append(new CheckResult()))
            draft.AddIfItLoops(act);
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path J: hands close the lock, and nothing is written. Only over software that is its maker's: what proves it is a gate
/// (<see cref="StockProof"/>), what speaks against it ends the plan here.
/// </summary>
public sealed class Relock : IPath
{
    private const string WriteFirst = "Write a full stock package first, and let the phone start once.";

    /// <inheritdoc/>
    public string Letter => "J";

    /// <inheritdoc/>
    public string Title => "Close the lock, nothing written";

    /// <inheritdoc/>
    public string Purpose => "For a phone with its maker's software and an open lock. On most models everything on it is erased.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) => PathFit.NoPackage(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        draft.RefuseIfLost();
        if (@case.Mode is PhoneMode.BootLoop or PhoneMode.StuckAtLogo)
            draft.Refuse("It does not start, and a lock is closed only over software that has started once. Mend that first.");
        RefuseUnlessOpen(draft, @case);
        RefuseUnlessStock(draft, @case);
        var family = @case.Catalogue.KeyFamilyOf(model);
        var answer = ChangeLock.AnswerOf(family, @case.Catalogue.CommonWays);
        if (answer is null)
            draft.Refuse($"How a {model.Code} asks before it changes its lock is not known: nothing is done by guessing.");
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        draft.Bring(model, @case.Mode, PhoneMode.LockChange);
        var data = model.RelockErases ? model.Partitions.FirstOrDefault(spec => spec.Role == PartitionRole.UserData)?.Name : null;
        draft.Add(new ChangeLock(true, data, answer!));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new SwitchPermissionOff());
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, model.RelockErases), draft.TargetAsKnown(model), null);
    }

    private static void RefuseUnlessOpen(PlanDraft draft, PathCase @case)
    {
        var lockState = @case.Phone.Of(FactName.LockState);
        if (lockState.Is(LockState.Locked))
            draft.Refuse("The lock is closed already. Check that it starts, and hand it back.");
        else if (!lockState.Is(LockState.Unlocked))
            draft.Refuse("Whether the lock is open is not known. Read it off the screen of its bootloader.");
    }

    private static void RefuseUnlessStock(PlanDraft draft, PathCase @case)
    {
        var status = @case.Phone.Of(FactName.DeviceStatus);
        if (status.MayBe(DeviceStatus.Custom))
            draft.Refuse($"Its software is not its maker's: a lock closed over that can end the phone. {WriteFirst}");
        else if (!status.Is(DeviceStatus.Official) && !@case.IsProvenStock)
            draft.Refuse(
                "Whether its software is its maker's is not known: look at the device status, in its settings or on its bootloader's screen. A lock closed over modified software can end the phone."
            );
        if (@case.Phone.Of(FactName.Recovery).Is(RecoveryKind.Custom))
            draft.Refuse($"Its recovery is not its maker's: a lock closed over that can end the phone. {WriteFirst}");
        if (@case.Phone.Of(FactName.Root).Is(Presence.Present))
            draft.Refuse($"It has root: its boot image is not its maker's, and a lock closed over that can end the phone. {WriteFirst}");
    }
}

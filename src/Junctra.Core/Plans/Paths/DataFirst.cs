using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path N: the data first, by whatever the phone still allows; nothing is written. Another path follows, and after it the data go back by
/// the same means. The copy is deleted after hand-back.
/// </summary>
public sealed class DataFirst : IPath
{
    /// <inheritdoc/>
    public string Letter => "N";

    /// <inheritdoc/>
    public string Title => "Data saved first, nothing written";

    /// <inheritdoc/>
    public string Purpose =>
        "For data that are wanted, while the phone still gives them: over its debugging link, from a custom recovery, or to its card. Another path follows.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.NoPackage(@case) ?? (@case is { ErasesData: true, Saved: null } ? "The data may go: there is nothing to save." : null);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        if (@case.Saved is { } saved)
        {
            AddBringingBack(draft, @case, saved);
            return draft.Finish(new PathChoice(Letter, "Saved data brought back", false), draft.TargetAsKnown(model), null);
        }

        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        AddSaving(draft, @case, model);
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, false), draft.TargetAsKnown(model), null);
    }

    // Whose data they are is held against the serial over the same link: they go to no other phone.
    private static void AddBringingBack(PlanDraft draft, PathCase @case, SavedData saved)
    {
        draft.RefuseIfLost();
        if (@case.Mode is not (PhoneMode.System or PhoneMode.CustomRecovery))
            draft.Refuse("The data go back to a phone that runs, or that is in a custom recovery. Note where it is.");
        else if (@case.Mode == PhoneMode.System && !@case.Phone.Of(FactName.UsbDebugging).Is(Debugging.Authorised))
            draft.Refuse("Its debugging link does not allow this computer. Turn USB debugging on, allow this computer, and note it.");
        else if (@case.Phone[FactName.Serial].Value is null)
            draft.Refuse("Its serial is not known, so nobody can say whether these are its data. Read the phone.");
        if (draft.Refusals.Count > 0)
            return;
        draft.Add(new ConfirmTarget(@case.Mode));
        draft.Add(new BringBack(@case.Mode == PhoneMode.System ? SavingMeans.DebuggingLink : SavingMeans.RecoveryLink, saved));
    }

    private static void AddSaving(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        draft.RefuseIfLost();
        if (@case.Mode == PhoneMode.System)
        {
            if (@case.Phone.Of(FactName.UsbDebugging).Is(Debugging.Authorised))
                draft.Add(new SaveData(SavingMeans.DebuggingLink));
            else if (@case.Phone.Of(FactName.Card).Is(Presence.Present))
                draft.Add(new SaveData(SavingMeans.Card));
            else
                draft.Refuse(
                    "It runs, and neither does its debugging link allow this computer nor is a storage card in it. Turn USB debugging on and allow this computer, or put a card in."
                );
        }
        else if (draft.Refusals.Count == 0)
        {
            draft.RefuseUnlessCustomRecovery("which gives no data out");
            if (draft.Refusals.Count == 0)
                draft.Bring(model, @case.Mode, PhoneMode.CustomRecovery);
            draft.Add(new SaveData(SavingMeans.RecoveryLink));
        }
    }
}

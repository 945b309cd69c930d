using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path N: the data first, by whatever the phone still allows; nothing is written. Another path follows. The copy is deleted after
/// hand-back.
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
        PathFit.NoPackage(@case) ?? (@case.ErasesData ? "The data may go: there is nothing to save." : null);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        if (@case.Mode == PhoneMode.Unknown)
        {
            draft.Refuse("Where the phone is now is not known. Look at it, and note what it shows.");
            return draft.Finish(null!, null, null);
        }

        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        if (!AddSaving(draft, @case, model))
            return draft.Finish(null!, null, null);
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, false), draft.TargetAsKnown(model), null);
    }

    private static bool AddSaving(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        if (@case.Mode == PhoneMode.System)
        {
            if (@case.Phone.Of(FactName.UsbDebugging).Is(Debugging.Authorised))
                draft.Add(new SaveData(SavingMeans.DebuggingLink));
            else if (@case.Phone.Of(FactName.Card).Is(Presence.Present))
                draft.Add(new SaveData(SavingMeans.Card));
            else
            {
                draft.Refuse(
                    "It runs, and neither does its debugging link allow this computer nor is a storage card in it. Turn USB debugging on and allow this computer, or put a card in."
                );
                return false;
            }

            return true;
        }

        var recovery = @case.Phone.Of(FactName.Recovery);
        if (!recovery.Is(RecoveryKind.Custom))
        {
            draft.Refuse(
                recovery.MayBe(RecoveryKind.Stock)
                    ? "It does not run, and its recovery is its maker's: nothing gives the data out as it is."
                    : "It does not run, and whether it has a custom recovery, which would give the data out, is not known. Open its recovery once, and note whose it is."
            );
            return false;
        }

        if (Router.Best(@case.Phone, model, @case.Mode, PhoneMode.CustomRecovery, @case.Catalogue) is not { } route)
        {
            var why = Router.Find(@case.Phone, model, @case.Mode, PhoneMode.CustomRecovery, @case.Catalogue).WhyNone;
            draft.Refuse($"From {@case.Mode.Label()} no way leads into its custom recovery. {why}".TrimEnd());
            return false;
        }

        if (route.Legs.Count > 0)
            draft.Add(new BringInto(@case.Mode, PhoneMode.CustomRecovery, route.Minutes));
        draft.Add(new SaveData(SavingMeans.RecoveryLink));
        return true;
    }
}

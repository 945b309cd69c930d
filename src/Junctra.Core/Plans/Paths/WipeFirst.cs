using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path C: hands wipe the data and format the system from custom recovery, switch off by its menu, and bring the phone back into download
/// mode; then the bundle, clean. A formatted phone has no system: so the package is verified and the link proven before.
/// </summary>
public sealed class WipeFirst : IPath
{
    /// <inheritdoc/>
    public string Letter => "C";

    /// <inheritdoc/>
    public string Title => "Wiped from custom recovery, then the bundle";

    /// <inheritdoc/>
    public string Purpose =>
        "For a phone that comes from a custom system whose data nobody wants. Everything on it is erased, the system too, before the bundle is sent.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) => Bundle.WhyUnfit(@case) ?? PathFit.Erases(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var target = draft.TargetFromLink(PhoneMode.Download);
        draft.RefuseUnlessCustomRecovery("which formats no system");
        if (Bundle.Of(draft, @case, PartKind.CleanPack, PartKind.KeepDataPack) is not { } bundle)
            return draft.Finish(null!, null, null);
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        draft.Bring(bundle.Model, PhoneMode.Download, PhoneMode.CustomRecovery);
        foreach (
            var (id, what) in new[]
            {
                (RecoveryMenu.WipeData, "wipes the data"),
                (RecoveryMenu.FormatSystem, "formats the system"),
                (RecoveryMenu.SwitchOff, "switches it off"),
            }
        )
        {
            if (RecoveryMenu.Choose(@case, bundle.Model, PhoneMode.CustomRecovery, id) is { } entry)
                draft.Add(entry);
            else
                draft.Refuse($"The menu of its recovery has no entry that {what}.");
        }

        // With the cable in, what is switched off charges.
        draft.Bring(bundle.Model, PhoneMode.Charging, PhoneMode.Download);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        bundle.AddClean(draft);
        return draft.Finish(new PathChoice(Letter, Title, true), target, bundle.Package);
    }
}

using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path D: a bundle whose restart is held back, so that hands wipe the data from the new recovery before the first start. The way to a
/// clean phone for a single bundle, which has no clean pack, and for a phone that would loop at once.
/// </summary>
public sealed class BundleHeld : IPath
{
    /// <inheritdoc/>
    public string Letter => "D";

    /// <inheritdoc/>
    public string Title => "Bundle, restart held, then wiped";

    /// <inheritdoc/>
    public string Purpose =>
        "For a bundle without a clean pack, or a phone that would loop on its first start. Everything on it is erased by hands before that.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) => Bundle.WhyUnfit(@case) ?? PathFit.Erases(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var target = draft.TargetFromLink(PhoneMode.Download);
        if (Bundle.Of(draft, @case, PartKind.CleanPack, PartKind.KeepDataPack) is not { } bundle)
            return draft.Finish(null!, null, null);
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        draft.Add(bundle.SendHeld);
        // Whatever recovery it came with, the bundle brings its maker's; and it must not start before it is wiped.
        var written = BringInto.WithoutItsSystem(@case.Phone.Supposing(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Stock)));
        if (RecoveryMenu.AddWipe(@case, written, bundle.Model, PhoneMode.Download, Past) is { } why)
            draft.Refuse(why);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, true), target, bundle.Package);

        void Past(Act act) => draft.Add(act is BringInto bring ? bring with { PastSystem = true } : act);
    }
}

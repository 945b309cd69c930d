using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path A: a bundle with its keep-data pack, or a single bundle, over the download link. If the phone loops afterwards, the wipe that was
/// agreed on.
/// </summary>
public sealed class BundleKeepingData : IPath
{
    /// <inheritdoc/>
    public string Letter => "A";

    /// <inheritdoc/>
    public string Title => "Bundle, data kept";

    /// <inheritdoc/>
    public string Purpose => "For a phone that takes a whole bundle in download mode, and whose data are wanted. They are never promised.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) => Bundle.WhyUnfit(@case) ?? PathFit.Keeps(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var target = draft.TargetFromLink(PhoneMode.Download);
        if (@case.NeedsCleanWrite)
            draft.Refuse($"{@case.Package!.Title} can only be written with the user data erased. Choose that, or another package.");
        if (Bundle.Of(draft, @case, PartKind.KeepDataPack) is not { } bundle)
            return draft.Finish(null!, null, null);
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        bundle.AddSend(draft);
        draft.Add(new AwaitStage(OwnWork.InstallPhase));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new AwaitStage(OwnWork.OptimisingApps, Bundle.UsualApps));
        WipeOnly.AddIfItLoops(draft, @case, bundle.Model);
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, false), target, bundle.Package);
    }
}

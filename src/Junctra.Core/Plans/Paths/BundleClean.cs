using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>Path B: a bundle with its clean pack over the download link; the set-up follows.</summary>
public sealed class BundleClean : IPath
{
    /// <inheritdoc/>
    public string Letter => "B";

    /// <inheritdoc/>
    public string Title => "Bundle, data erased";

    /// <inheritdoc/>
    public string Purpose => "For a phone that takes a whole bundle in download mode, and whose data may go. Everything on it is erased.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) => Bundle.WhyUnfit(@case) ?? PathFit.Erases(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var target = draft.TargetFromLink(PhoneMode.Download);
        if (!@case.Package!.Kind.Traits().HasRegionPacks)
            draft.Refuse("A single bundle brings no clean pack. Hold its restart back and wipe from recovery, or keep the data.");
        if (Bundle.Of(draft, @case, PartKind.CleanPack) is not { } bundle)
            return draft.Finish(null!, null, null);
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        bundle.AddClean(draft);
        return draft.Finish(new PathChoice(Letter, Title, true), target, bundle.Package);
    }
}

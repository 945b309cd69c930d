using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path L: a phone of which only the chip answers, or not even that by itself. Whether it is worth opening is said before: a loader
/// supports boot chains up to some revision, and nothing helps a phone above it. Then the boot chain through the loader, and the bundle,
/// clean.
/// </summary>
public sealed class BoardRescue : IPath
{
    /// <inheritdoc/>
    public string Letter => "L";

    /// <inheritdoc/>
    public string Title => "Board rescue, then the bundle, data erased";

    /// <inheritdoc/>
    public string Purpose => "Only for a phone with no reaction at all. For trained people; everything on it is erased.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        @case.Mode != PhoneMode.Emergency && !(@case.NeedsRescue && @case.Mode is PhoneMode.Off or PhoneMode.Unknown)
            ? "The phone answers by itself: it need not be opened."
        : @case is { Package: null, Model: { } model } && WhyNotWorth(@case, model) is { } why ? why
        : @case.Package?.Kind.Traits().IsBundle != true ? $"{PathFit.ItTakes}a bundle."
        : PathFit.Erases(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        var loader = LoaderFor(draft, @case, model);
        if (Bundle.Of(draft, @case, PartKind.CleanPack, PartKind.KeepDataPack) is not { } bundle || loader is null)
            return draft.Finish(null!, null, null);
        var chain = bundle.Images.Where(image => image.Role == PartitionRole.BootChain).ToList();
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        if (@case.Mode != PhoneMode.Emergency)
            draft.Add(
                new OpenToEmergency
                {
                    Takes = @case.Catalogue.BoardOf(model.Code) is { } guide ? OpeningOf(guide, step => step.Minutes) : null,
                }
            );
        draft.Add(
            new SupplyEmergencyLoader(loader.Chip, loader.HighestRevision, RollbackFloor.Of(@case.Phone, @case.Catalogue).Highest!.Value)
            {
                File = loader.File,
            }
        );
        draft.Add(new WriteThroughLoader(chain));
        // From wherever its new chain brings it: a system that starts, one that loops, or a write mode at once.
        draft.Bring(model, PhoneMode.BootLoop, PhoneMode.Download);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        bundle.AddClean(draft);
        return draft.Finish(new PathChoice(Letter, Title, true), draft.TargetAsKnown(model), bundle.Package);
    }

    /// <summary>Why opening a phone would not help it, whatever package is there; null where it would, or its model is not known.</summary>
    /// <param name="case">The phone, without a package.</param>
    public static string? WhyNotWorth(PathCase @case) => @case.Model is { } model ? WhyNotWorth(@case, model) : null;

    // Said before it is opened, and again where it was and came to nothing.
    private static string? WhyNotWorth(PathCase @case, PhoneModel model)
    {
        if (@case.RescueEnded is { } ended)
            return ended;
        var chips = @case.Phone[FactName.ChipFamily].Values.Append(model.ChipFamily).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        if (chips.Count > 1)
            return $"Its chip is in doubt, {string.Join(" or ", chips)}: which loader it takes must be known before anything is opened.";
        if (@case.Catalogue.LoaderOf(model) is not { } loader)
            return $"No emergency loader for {model.ChipFamily} is known: it is not worth opening.";
        if (RollbackFloor.Of(@case.Phone, @case.Catalogue).Highest is not { } ours)
            return $"The loader supports revisions up to {loader.HighestRevision}, and the phone's is not known. Look into the logbook, or for an older build on its box, before anything is opened.";
        return ours > loader.HighestRevision
            ? $"Not worth opening: the loader supports revisions up to {loader.HighestRevision}, and the phone had {ours}."
            : null;
    }

    /// <summary>Seconds of opening a phone, step by step, and of a try with the needle; at worst of ten.</summary>
    /// <param name="guide">What is known of its inside.</param>
    /// <param name="minutesOf">Minutes of a step.</param>
    public static Band OpeningOf(BoardGuide guide, Func<RescueStep, Band> minutesOf)
    {
        var minutes = guide.Of(RescuePhase.Open).Select(minutesOf).ToList();
        return new Band(
            60 * (minutes.Sum(band => band.Typical) + NeedleScore.Recipe.Minutes),
            60 * (minutes.Sum(band => band.Slow) + NeedleTries * NeedleScore.Recipe.Minutes)
        );
    }

    private const int NeedleTries = 10;

    private static EmergencyLoader? LoaderFor(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        if (WhyNotWorth(@case, model) is { } why)
        {
            draft.Refuse(why);
            return null;
        }

        var loader = @case.Catalogue.LoaderOf(model)!;
        var ours = RollbackFloor.Of(@case.Phone, @case.Catalogue).Highest;
        var brings = @case.Package!.Revisions;
        if (brings.Any(one => one < ours))
            draft.Refuse($"The package brings revision {brings[0]}; the phone had {ours}, and starts from none below.");
        else if (brings.Any(one => one > loader.HighestRevision))
            draft.Refuse($"The package brings revision {brings[^1]}; the loader supports revisions up to {loader.HighestRevision}.");
        return draft.Refusals.Count == 0 ? loader : null;
    }
}

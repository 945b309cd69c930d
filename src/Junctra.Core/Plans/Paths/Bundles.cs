using Junctra.Core.Catalogue;
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
    public bool Suits(PathCase @case) => !@case.ErasesData && Bundle.Suits(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case) => Bundle.Compile(@case, this, PartKind.KeepDataPack);
}

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
    public bool Suits(PathCase @case) => @case.ErasesData && Bundle.Suits(@case);

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case) => Bundle.Compile(@case, this, PartKind.CleanPack);
}

/// <summary>What the paths of a bundle have in common.</summary>
internal static class Bundle
{
    private const int UsualApps = 40;

    // The boot chain first; what the phone verifies with and starts with; the large ones; the region pack last.
    private static readonly PartitionRole[] Order =
    [
        PartitionRole.BootChain,
        PartitionRole.Verification,
        PartitionRole.Boot,
        PartitionRole.Recovery,
        PartitionRole.System,
        PartitionRole.Overlay,
        PartitionRole.Radio,
        PartitionRole.Other,
        PartitionRole.RegionPack,
        PartitionRole.UserData,
    ];

    public static bool Suits(PathCase @case) => @case.Package?.Kind.Traits().IsBundle == true;

    public static PlanOutcome Compile(PathCase @case, IPath path, PartKind pack)
    {
        var draft = new PlanDraft(@case);
        var package = @case.Package!;
        var model = draft.Model();
        var target = draft.TargetFromLink(PhoneMode.Download);
        if (@case.NeedsCleanWrite && !@case.ErasesData)
            draft.Refuse($"{package.Title} can only be written with the user data erased. Choose that, or another package.");
        var chosen = package.Parts.FirstOrDefault(part => part.Kind == pack);
        if (package.Kind.Traits().HasRegionPacks && chosen is null)
            draft.Refuse($"The bundle has no {(pack == PartKind.CleanPack ? "clean" : "keep-data")} pack.");
        if (!package.Kind.Traits().HasRegionPacks && @case.ErasesData)
            draft.Refuse("A single bundle brings no clean pack. Write it with the data kept, and wipe afterwards.");
        if (model is null || draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);

        var images = package
            .Parts.Where(part =>
                part == chosen || part.Kind is not (PartKind.KeepDataPack or PartKind.CleanPack or PartKind.UserData or PartKind.Layout)
            )
            .SelectMany(part => part.Images)
            .Where(image => model.Partition(image.Partition) is { Role: not PartitionRole.Identity })
            .Select(image => PlannedImage.Of(image, model.Partition(image.Partition)!.Role, package, model))
            .OrderBy(image => Array.IndexOf(Order, image.Role!.Value))
            .ToList();
        foreach (
            var missing in model.Partitions.Where(partition =>
                partition is { IsStock: true, Role: not PartitionRole.RegionPack } && images.All(image => image.Partition != partition.Name)
            )
        )
            draft.Refuse($"The package brings no image for {missing.Name}, which belongs to a full stock write.");
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);

        draft.Add(new VerifyFiles(package.Contents.SizeBytes, UnpackedBytes(package, images)));
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        draft.Add(new SendBundle(images, chosen?.Kind));
        draft.Add(new AwaitStage(OwnWork.InstallPhase));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        if (!@case.ErasesData)
        {
            draft.Add(new AwaitStage(OwnWork.OptimisingApps, UsualApps));
            WipeOnly.AddIfItLoops(draft, @case, model);
        }

        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(path.Letter, path.Title, @case.ErasesData), target, package);
    }

    private static long UnpackedBytes(Package package, List<PlannedImage> images) =>
        package
            .Images.Where(image =>
                images.Any(planned => planned.Partition == image.Partition && planned.Sha256 == image.Body.Sha256)
                && image.Body.Offset is null
            )
            .Sum(image => image.Body.Bytes);
}

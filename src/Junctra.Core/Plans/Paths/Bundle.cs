using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>A bundle as the paths of one send it: its images in the only safe order, with one region pack.</summary>
/// <param name="Package">The package.</param>
/// <param name="Model">The phone's model.</param>
/// <param name="Images">What is sent, in order.</param>
/// <param name="Pack">The region pack; null where the bundle has none.</param>
internal sealed record Bundle(Package Package, PhoneModel Model, IReadOnlyList<PlannedImage> Images, PartKind? Pack)
{
    public const int UsualApps = 40;

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

    /// <summary>Why a path of a bundle is none.</summary>
    public static string? WhyUnfit(PathCase @case) => PathFit.Package(@case, "a bundle", package => package.Kind.Traits().IsBundle);

    /// <summary>The bundle of a case, or null with refusals in the draft.</summary>
    /// <param name="draft">The draft.</param>
    /// <param name="case">The case.</param>
    /// <param name="pack">The region pack that is wanted where it has two.</param>
    /// <param name="otherwise">What is taken where it has only the other; null for a refusal.</param>
    public static Bundle? Of(PlanDraft draft, PathCase @case, PartKind pack, PartKind? otherwise = null)
    {
        var package = @case.Package!;
        var model = draft.Model();
        var chosen = PartOf(pack) ?? (otherwise is { } second ? PartOf(second) : null);
        if (package.Kind.Traits().HasRegionPacks && chosen is null)
            draft.Refuse($"The bundle has no {(pack == PartKind.CleanPack ? "clean" : "keep-data")} pack.");
        if (model is null || draft.Refusals.Count > 0)
            return null;
        var images = ImagesOf(package, model, chosen);
        foreach (var missing in Missing(model, images))
            draft.Refuse($"The package brings no image for {missing}, which belongs to a full stock write.");
        return draft.Refusals.Count > 0 ? null : new Bundle(package, model, images, chosen?.Kind);

        PackagePart? PartOf(PartKind kind) => package.Parts.FirstOrDefault(part => part.Kind == kind);
    }

    /// <summary>The images of a bundle that are sent with one of its region packs, in order.</summary>
    public static List<PlannedImage> ImagesOf(Package package, PhoneModel model, PackagePart? pack) =>
        [
            .. package
                .Parts.Where(part =>
                    part == pack || part.Kind is not (PartKind.KeepDataPack or PartKind.CleanPack or PartKind.UserData or PartKind.Layout)
                )
                .SelectMany(part => part.Images)
                .Where(image => model.Partition(image.Partition) is { Role: not PartitionRole.Identity })
                .Select(image => PlannedImage.Of(image, model.Partition(image.Partition)!.Role, package, model))
                .OrderBy(image => Array.IndexOf(Order, image.Role!.Value)),
        ];

    /// <summary>Partitions of the stock list for which no image is sent.</summary>
    public static IEnumerable<string> Missing(PhoneModel model, IReadOnlyList<PlannedImage> images) =>
        model
            .StockMissing(name => images.Any(image => image.Partition == name))
            .Where(partition => partition.Role != PartitionRole.RegionPack)
            .Select(partition => partition.Name);

    /// <summary>The step that verifies the file, and unpacks of it what is sent.</summary>
    public VerifyFiles Verify => new(Package.Contents.SizeBytes, UnpackedBytes(Package, Images));

    /// <summary>The step that sends it and leaves the phone in its write mode.</summary>
    public SendBundle SendHeld => new(Images, Pack, true);

    /// <summary>Sends it, and lets the phone start.</summary>
    public void AddSend(PlanDraft draft)
    {
        draft.Add(new SendBundle(Images, Pack, draft.HoldsRestart));
        if (draft.HoldsRestart)
            draft.Add(new RestartByHands(PhoneMode.Download));
    }

    /// <summary>Sends it with its clean pack, up to the check.</summary>
    public void AddClean(PlanDraft draft)
    {
        AddSend(draft);
        draft.Add(new AwaitStage(OwnWork.InstallPhase));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
    }

    /// <summary>Bytes that must be unpacked before images can be sent: those that do not lie plainly in the file.</summary>
    public static long UnpackedBytes(Package package, IReadOnlyList<PlannedImage> images) =>
        package
            .Images.Where(image =>
                images.Any(planned => planned.Partition == image.Partition && planned.Sha256 == image.Body.Sha256)
                && image.Body.Offset is null
            )
            .Sum(image => image.Body.Bytes);
}

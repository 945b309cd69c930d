using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path H: the phone's own backup of before its modification, put back by custom recovery. After it has started and was checked, stock
/// recovery and the lock follow as plans of their own, each proved by looking.
/// </summary>
public sealed class OwnBackup : IPath
{
    // What it starts with before what it starts; the data last.
    private static readonly PartitionRole[] Order =
    [
        PartitionRole.Boot,
        PartitionRole.System,
        PartitionRole.RegionPack,
        PartitionRole.UserData,
    ];

    // The chain and the radio of the phone go on; recovery does not write over itself.
    private static readonly PartitionRole[] NeverRestored =
    [
        PartitionRole.BootChain,
        PartitionRole.Radio,
        PartitionRole.Identity,
        PartitionRole.Recovery,
    ];

    /// <inheritdoc/>
    public string Letter => "H";

    /// <inheritdoc/>
    public string Title => "Its own backup, restored";

    /// <inheritdoc/>
    public string Purpose =>
        "For a phone of which a backup from before its modification exists. Data and system become those of that day; stock recovery and the lock follow as plans of their own.";

    /// <inheritdoc/>
    public bool ReadsLink => false;

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.Package(@case, "a backup set", package => package.Kind == PackageKind.BackupSet)
        ?? (@case.Package!.Images.Any(image => image.Role == PartitionRole.UserData) ? null : PathFit.Erases(@case));

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var package = @case.Package!;
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        RefuseUnlessOwn(draft, @case, package);
        draft.RefuseUnlessCustomRecovery("which restores no backup");
        foreach (var role in new[] { PartitionRole.Boot, PartitionRole.System })
        {
            if (package.Images.All(image => image.Role != role))
                draft.Refuse(
                    $"The backup has no image of its {(role == PartitionRole.Boot ? "boot" : "system")} partition: the phone would not start from it."
                );
        }

        if (package.Images.FirstOrDefault(image => model.DynamicPartitions.Contains(image.Partition)) is { } inside)
            draft.Refuse(
                $"The backup brings {inside.Partition} by itself, which lies inside {model.Large!.Name}: recovery puts only the whole of that back."
            );
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        var images = package
            .Images.Where(image => model.Partition(image.Partition) is { } spec && !NeverRestored.Contains(spec.Role))
            .Select(image => PlannedImage.Of(image, model.Partition(image.Partition)!.Role, package, model))
            .OrderBy(image => Array.IndexOf(Order, image.Role!.Value) is var at && at < 0 ? Order.Length : at)
            .ToList();
        var hasData = images.Exists(image => image.Role == PartitionRole.UserData);
        draft.Add(new VerifyFiles(package.Contents.SizeBytes, Bundle.UnpackedBytes(package, images)));
        draft.Add(new ConfirmTarget(PhoneMode.CustomRecovery));
        draft.Add(new RestoreBackup(images, hasData, PlannedImage.OriginOf(package, model, SoftwareKind.Stock)));
        // What a modified system left behind does not start with the old one.
        if (!hasData && RecoveryMenu.Choose(@case, model, PhoneMode.CustomRecovery, RecoveryMenu.WipeData) is { } wipe)
            draft.Add(wipe);
        if (RecoveryMenu.Choose(@case, model, PhoneMode.CustomRecovery, RecoveryMenu.Restart) is { } restart)
            draft.Add(restart);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, true), draft.TargetAsKnown(model), package);
    }

    private static void RefuseUnlessOwn(PlanDraft draft, PathCase @case, Package package)
    {
        if (@case.Phone[FactName.Serial].Value is not { } serial)
            draft.Refuse("The serial of the phone is not known, and only it proves whose backup this is. Read it.");
        else if (package.Backup is not { } backup || !backup.Serial.Equals(serial, StringComparison.OrdinalIgnoreCase))
            draft.Refuse(
                $"It is the backup of another phone{(package.Backup is { } other ? $", {other.Serial}" : "")}: it would bring somebody else's data."
            );
        if (package.Backup is { System: not "stock" })
            draft.Refuse("It was taken when the phone was modified already, or does not say: it would bring the modification back.");
    }
}

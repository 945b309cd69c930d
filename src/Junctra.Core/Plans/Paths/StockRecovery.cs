using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>Path M: stock recovery alone, in fastboot mode, proved by entering it. Nothing else is touched.</summary>
public sealed class StockRecovery : IPath
{
    /// <inheritdoc/>
    public string Letter => "M";

    /// <inheritdoc/>
    public string Title => "Stock recovery only";

    /// <inheritdoc/>
    public string Purpose => "For a phone whose system is whole and whose recovery is somebody else's. Data and system stay.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        @case.Package is not { } package ? $"{PathFit.ItTakes}a recovery image, and no package is chosen."
        : package.Kind == PackageKind.BackupSet || !package.Images.Any(image => image.Role == PartitionRole.Recovery)
            ? $"{PathFit.ItTakes}a package with a recovery image."
        : @case.Goal != JobGoal.Recovery && package.Kind != PackageKind.SingleImage ? "The job is for more than its recovery."
        : null;

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var package = @case.Package!;
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        if (model.WriteMode != PhoneMode.Fastboot)
            draft.Refuse($"A {model.Code} takes no single image: its recovery comes with a whole bundle.");
        draft.RefuseIfLocked();
        var image = package.Images.First(image => image.Role == PartitionRole.Recovery);
        if (model.Partition(image.Partition) is null)
            draft.Refuse(
                $"A {model.Code} has no partition {image.Partition}: its recovery lies in its boot image, which a factory set brings."
            );
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        var target = draft.TargetFromLink(PhoneMode.Fastboot);
        var written = @case.Phone.Supposing(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Stock));
        if (Router.Best(written, model, PhoneMode.Fastboot, PhoneMode.StockRecovery, @case.Catalogue) is not { } route)
        {
            draft.Refuse("From fastboot mode no way leads into its recovery, and only entering it proves what was written.");
            return draft.Finish(null!, null, null);
        }

        var planned = PlannedImage.Of(image, PartitionRole.Recovery, package, model);
        draft.Add(new VerifyFiles(package.Contents.SizeBytes, Bundle.UnpackedBytes(package, [planned])));
        draft.Add(new ConfirmTarget(PhoneMode.Fastboot));
        draft.Add(new WriteImage(planned));
        draft.Add(new BringInto(PhoneMode.Fastboot, PhoneMode.StockRecovery, route.Minutes));
        if (RecoveryMenu.Choose(@case, model, PhoneMode.StockRecovery, RecoveryMenu.Restart) is { } restart)
            draft.Add(restart);
        draft.Add(new AwaitStage(OwnWork.Start));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, false), target, package);
    }
}

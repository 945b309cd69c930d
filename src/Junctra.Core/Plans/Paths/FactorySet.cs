using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path F: a factory set, image by image in fastboot mode, with restarts between. Boot chain first and alone, because it decides whether
/// the phone answers at all; then the radio; then what starts the system; the system; the rest.
/// </summary>
public sealed class FactorySet : IPath
{
    private static readonly PartitionRole[] StartRoles = [PartitionRole.Boot, PartitionRole.Overlay, PartitionRole.Verification];
    private static readonly PartitionRole[] NeverWritten = [PartitionRole.Identity, PartitionRole.UserData];

    /// <inheritdoc/>
    public string Letter => "F";

    /// <inheritdoc/>
    public string Title => "Factory set";

    /// <inheritdoc/>
    public string Purpose => "For a phone that takes its images one by one in fastboot mode.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.Package(@case, "a factory set", package => package.Kind == PackageKind.FactorySet)
        ?? (@case.ErasesData ? null : PathFit.Keeps(@case));

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var (package, erase) = (@case.Package!, @case.ErasesData);
        var model = draft.Model();
        var target = draft.TargetFromLink(PhoneMode.Fastboot);
        draft.RefuseIfLocked();
        if (@case.NeedsCleanWrite && !erase)
            draft.Refuse($"{package.Title} can only be written with the user data erased. Choose that, or another package.");
        foreach (var missing in model?.StockMissing(name => package.Image(name) is not null) ?? [])
            draft.Refuse($"The package brings no image for {missing.Name}, which belongs to a full stock write.");
        if (model?.Large is { } large && package.Image(large.Name) is not null && Inner(package, model).FirstOrDefault() is { } loose)
            draft.Refuse(
                $"The package brings {large.Name} whole, and {loose.Name}, which lies inside it: which of them counts is not known."
            );
        if (model is null || draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);

        var images = Written(package, model)
            .Select(partition => PlannedImage.Of(package.Image(partition.Name)!, partition.Role, package, model))
            .ToList();
        draft.Add(new VerifyFiles(package.Contents.SizeBytes, UnpackedBytes(package, model)));
        draft.Add(new ConfirmTarget(PhoneMode.Fastboot));
        Write(PartitionRole.BootChain);
        draft.Add(new RestartInto(true, " on its new boot chain"));
        if (Write(PartitionRole.Radio))
            draft.Add(new RestartInto(true, " with the new radio"));
        foreach (var role in StartRoles)
            Write(role);
        Write(PartitionRole.System);
        foreach (
            var image in images.Where(image =>
                image.Role is not (PartitionRole.BootChain or PartitionRole.Radio or PartitionRole.System)
                && !StartRoles.Contains(image.Role!.Value)
            )
        )
            draft.Add(new WriteImage(image));
        var inner = Inner(package, model).ToList();
        if (inner.Count > 0)
        {
            draft.Add(new RestartInto(false, $" for what lies inside {model.Large!.Name}") { ToCommandMode = true });
            foreach (var partition in inner)
                draft.Add(
                    new WriteImage(PlannedImage.Of(package.Image(partition.Name)!, partition.Role, package, model))
                    {
                        Mode = PhoneMode.RecoveryCommands,
                    }
                );
            // Data are erased, and a start is asked for, where every phone takes it.
            draft.Add(new RestartInto(true, ", out of that mode") { FromCommandMode = true });
        }

        if (erase)
        {
            foreach (var data in model.Partitions.Where(partition => partition.Role == PartitionRole.UserData))
                draft.Add(new ErasePartition(data.Name, data.Role));
        }

        draft.Add(draft.HoldsRestart ? new RestartByHands(PhoneMode.Fastboot) : new RestartInto(false));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        if (!erase)
            WipeOnly.AddIfItLoops(draft, @case, model);
        return draft.Finish(new PathChoice(Letter, erase ? "Factory set, data erased" : "Factory set, data kept", erase), target, package);

        bool Write(PartitionRole role)
        {
            var own = images.Where(image => image.Role == role).ToList();
            foreach (var image in own)
                draft.Add(new WriteImage(image));
            return own.Count > 0;
        }
    }

    private static long UnpackedBytes(Package package, PhoneModel model) =>
        Written(package, model)
            .Concat(Inner(package, model))
            .Select(partition => package.Image(partition.Name)!.Body)
            .Where(image => image.Offset is null)
            .Sum(image => image.Bytes);

    /// <summary>Partitions inside the large one for which there are images of their own.</summary>
    private static IEnumerable<PartitionSpec> Inner(Package package, PhoneModel model) =>
        model.DynamicPartitions.Where(name => package.Image(name) is not null).Select(name => model.Place(name)!);

    private static IEnumerable<PartitionSpec> Written(Package package, PhoneModel model) =>
        model.Partitions.Where(partition => !NeverWritten.Contains(partition.Role) && package.Image(partition.Name) is not null);
}

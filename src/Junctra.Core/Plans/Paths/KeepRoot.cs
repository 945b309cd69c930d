using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path I: an update that keeps root. In two plans, for what is written must be known before: first the system part is taken out of the
/// bundle, patched by the root manager on the phone and brought back; then the patched part goes in place of the maker's, with the
/// keep-data pack.
/// </summary>
public sealed class KeepRoot : IPath
{
    private const string PartOnPhone = "system-part.tar";

    /// <inheritdoc/>
    public string Letter => "I";

    /// <inheritdoc/>
    public string Title => "Update, root kept";

    /// <inheritdoc/>
    public string Purpose => "For a rooted phone that is to be updated and stay rooted. Data and root are kept; neither is ever promised.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        PathFit.Package(@case, "a four-part bundle, or the part of one that was patched on the phone", package =>
            package.Kind is PackageKind.FourPartBundle or PackageKind.BundlePart
        )
        ?? (
            @case.Goal != JobGoal.KeepRoot ? "The job is not for an update that keeps root."
            : @case.ErasesData ? "It keeps the data, which are to be erased."
            : null
        );

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        if (!@case.Phone.Of(FactName.LockState).Is(LockState.Unlocked))
            draft.Refuse("A phone whose lock is not known to be open starts no patched system.");
        if (@case.Phone[FactName.RootManager].Value is not { } manager)
        {
            draft.Refuse(
                "The version of the root manager on the phone is not known, and only the same one may patch. Read it on the phone."
            );
            return draft.Finish(null!, null, null);
        }

        return @case.Package!.Kind == PackageKind.BundlePart ? Write(draft, @case, model, manager) : Prepare(draft, @case, model, manager);
    }

    /// <summary>The plan that writes the patched part.</summary>
    private PlanOutcome Write(PlanDraft draft, PathCase @case, PhoneModel model, string manager)
    {
        var part = @case.Package!;
        if (part.PatchedWith is not { } version)
            draft.Refuse("The part does not say which version of the root manager patched it.");
        else if (VersionOrder.Compare(version, manager) != 0)
            draft.Refuse($"The part was patched by root manager {version}; the phone has {manager}. Patch it anew on the phone.");
        if (@case.Original is not { } original)
            draft.Refuse("The bundle from which the part was made is not in the library: the rest of its build is written with it.");
        else if (original.Parts.All(one => one.Kind != PartKind.KeepDataPack))
            draft.Refuse("The bundle from which the part was made has no keep-data pack: root would be lost with the data.");
        if (draft.Refusals.Count > 0 || draft.TargetFromLink(PhoneMode.Download) is not { } target)
            return draft.Finish(null!, null, null);
        var rest = @case.Original!;
        var pack = rest.Parts.First(one => one.Kind == PartKind.KeepDataPack);
        // What the manager left as it was is still the maker's, however it was packed again.
        var patched = part
            .Images.Where(image => model.Partition(image.Partition) is not null)
            .Where(image =>
                !rest.Images.Any(own => own.Partition == image.Partition && own.Body.ExpandedSha256 == image.Body.ExpandedSha256)
            )
            .Select(image => PlannedImage.Of(image, model.Partition(image.Partition)!.Role, part, model))
            .ToList();
        var images = Bundle.ImagesOf(rest, model, pack).ConvertAll(image => patched.Find(own => own.Partition == image.Partition) ?? image);
        foreach (var missing in Bundle.Missing(model, images))
            draft.Refuse($"Neither the part nor its bundle brings an image for {missing}.");
        draft.Add(
            new VerifyFiles(
                part.Contents.SizeBytes + rest.Contents.SizeBytes,
                Bundle.UnpackedBytes(part, images) + Bundle.UnpackedBytes(rest, images)
            )
        );
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        draft.Add(new SendBundle(images, PartKind.KeepDataPack));
        draft.Add(new AwaitStage(OwnWork.InstallPhase));
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new AwaitStage(OwnWork.OptimisingApps, Bundle.UsualApps));
        draft.Add(new CheckResult());
        WipeOnly.AddIfItLoops(draft, @case, model);
        return draft.Finish(new PathChoice(Letter, Title, false), target, part, rest);
    }

    /// <summary>The plan that has the part patched.</summary>
    private PlanOutcome Prepare(PlanDraft draft, PathCase @case, PhoneModel model, string manager)
    {
        var bundle = @case.Package!;
        var system = bundle.Parts.FirstOrDefault(part => part.Kind == PartKind.System);
        if (system is null)
            draft.Refuse("The bundle has no system part that could be patched.");
        if (!@case.Phone.Of(FactName.UsbDebugging).Is(Debugging.Authorised))
            draft.Refuse(
                "This computer is not allowed on the debugging link of the phone. Turn USB debugging on, and allow this computer."
            );
        if (@case.Mode != PhoneMode.System)
            draft.Refuse("The phone must run for that: the root manager on it patches the part. Let it start, and note what it shows.");
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        var bytes = system!.Images.Sum(image => image.Body.Bytes);
        draft.Add(new VerifyFiles(bundle.Contents.SizeBytes, 0));
        draft.Add(new UnpackPart("system part", bytes) { Archive = system.Name });
        draft.Add(new ConfirmTarget(PhoneMode.System));
        draft.Add(new CopyOverDebugging(false, "the system part", bytes) { FileName = PartOnPhone });
        draft.Add(new PatchOnPhone(manager));
        draft.Add(new CopyOverDebugging(true, "the patched part", bytes) { FileName = PartOnPhone });
        draft.Add(new TakeInPatched());
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, "Have the system part patched, root kept", false), draft.TargetAsKnown(model), bundle);
    }
}

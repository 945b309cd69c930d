using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path E: a bundle and its partition table. Only by explicit choice, where the layout of the phone is damaged: all that lies in it is
/// lost.
/// </summary>
public sealed class BundleWithLayout : IPath
{
    /// <inheritdoc/>
    public string Letter => "E";

    /// <inheritdoc/>
    public string Title => "Bundle with its layout";

    /// <inheritdoc/>
    public string Purpose =>
        "Only for a phone whose layout is damaged, and with a layout for its model and storage. Everything on it is erased; it takes longer than a write without.";

    /// <inheritdoc/>
    public string? WhyUnfit(PathCase @case) =>
        Bundle.WhyUnfit(@case)
        ?? (
            @case.Package!.Layout is null ? $"{PathFit.ItTakes}a bundle that brings a layout."
            : @case.Policy.Layout == LayoutSchool.Never ? "By shop rule no layout is written: decide otherwise for this job."
            : PathFit.Erases(@case)
        );

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        var target = draft.TargetFromLink(PhoneMode.Download);
        if (!@case.Phone.Of(FactName.LockState).Is(LockState.Unlocked))
            draft.Refuse("A phone whose lock is not known to be open takes no other layout.");
        if (Bundle.Of(draft, @case, PartKind.CleanPack, PartKind.KeepDataPack) is not { } bundle)
            return draft.Finish(null!, null, null);
        var layout = LayoutOf(draft, @case, bundle.Model);
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        draft.Add(bundle.Verify);
        draft.Add(new ConfirmTarget(PhoneMode.Download));
        draft.Add(new RewriteLayout(layout));
        bundle.AddClean(draft);
        return draft.Finish(new PathChoice(Letter, Title, true), target, bundle.Package);
    }

    /// <summary>The layout of the package as the model's, with a refusal for whatever is not.</summary>
    private static List<LaidOut> LayoutOf(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        var entries = @case.Package!.Layout!.Image!.Inside!.Table!.Entries;
        foreach (var spec in model.Partitions.Where(spec => entries.All(entry => entry.Name != spec.Name)))
            draft.Refuse($"The layout has no {spec.Name}, which a {model.Code} needs.");
        foreach (var entry in entries)
        {
            if (model.Partition(entry.Name) is not { } spec)
                draft.Refuse($"The layout has {entry.Name}, which a {model.Code} does not know.");
            // Only what is left over for the user data differs from one storage size to the other.
            else if (spec.Role != PartitionRole.UserData && spec.SizeBytes != entry.SizeBytes)
                draft.Refuse(
                    $"The layout gives {ByteSize.Text(entry.SizeBytes)} to {entry.Name}; a {model.Code} has {ByteSize.Text(spec.SizeBytes)}."
                );
        }

        var storage = @case.Phone[FactName.StorageSize];
        var says = @case.Package.Says(FactName.StorageSize);
        if (says.Count > 0 && storage.Values.FirstOrDefault(size => !says.Contains(size)) is { } other)
            draft.Refuse($"The layout is for a storage of {string.Join(" or ", says)} GB; the phone has {other} GB.");
        return
        [
            .. entries
                .Where(entry => model.Partition(entry.Name) is not null)
                .Select(entry => new LaidOut(entry.Name, model.Partition(entry.Name)!.Role, entry.SizeBytes)),
        ];
    }
}

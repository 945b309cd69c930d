using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans.Paths;

/// <summary>Path K: hands wipe the data in recovery, and nothing is written. For a phone whose software is whole and whose data it cannot start with.</summary>
public sealed class WipeOnly : IPath
{
    private const string WipeData = "wipe-data", WipeCache = "wipe-cache", Restart = "restart";

    /// <inheritdoc/>
    public string Letter => "K";

    /// <inheritdoc/>
    public string Title => "Wipe only, nothing written";

    /// <inheritdoc/>
    public bool Suits(PathCase @case) => @case is { Package: null, ErasesData: true };

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model) return draft.Finish(null!, null, null);
        if (@case.Mode == PhoneMode.Unknown) draft.Refuse("Where the phone is now is not known. Look at it, and note what it shows.");
        if (draft.Refusals.Count > 0) return draft.Finish(null!, null, null);
        draft.Add(new ConfirmTarget(null, "Model and serial on its label, and the ticket stuck to it, are those of this job."));
        AddWipe(draft, @case, model, @case.Mode, draft.Add);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, true), draft.TargetAsKnown(model), null);
    }

    /// <summary>The hands' acts from a mode through recovery's menu, up to the restart; refused where no way leads there.</summary>
    internal static void AddWipe(PlanDraft draft, PathCase @case, PhoneModel model, PhoneMode from, Action<Act> add)
    {
        var recovery = new[] { PhoneMode.StockRecovery, PhoneMode.CustomRecovery }
            .Select(mode => (Mode: mode, Route: Router.Best(@case.Phone, model, from, mode, @case.Catalogue)))
            .Where(way => way.Route is not null).OrderBy(way => way.Route!.Minutes).FirstOrDefault();
        if (recovery.Route is null)
        {
            draft.Refuse($"From {from.Label()} no way leads into recovery. {Router.Find(@case.Phone, model, from, PhoneMode.StockRecovery, @case.Catalogue).WhyNone}".TrimEnd());
            return;
        }

        if (recovery.Route.Legs.Count > 0) add(new BringInto(from, recovery.Mode, recovery.Route.Minutes));
        var menu = @case.Catalogue.CommonWays.MenuOf(@case.Catalogue.KeyFamilyOf(model), recovery.Mode.Standing()!.Value);
        foreach (var id in new[] { WipeData, WipeCache, Restart })
        {
            if (menu?.Entries.FirstOrDefault(entry => entry.Id == id) is not { } entry) continue;
            var data = entry.Does == MenuEffect.WipeData ? model.Partitions.FirstOrDefault(partition => partition.Role == PartitionRole.UserData)?.Name : null;
            add(new ChooseEntry(recovery.Mode, id, entry.Label, data, entry.TakesMs / 1000.0, entry.Target == Target.Start));
        }
    }
}

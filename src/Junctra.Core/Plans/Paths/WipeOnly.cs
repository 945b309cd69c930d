using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>
/// Path K: hands wipe the data in recovery, and nothing is written. For a phone whose software is whole and whose data it cannot start
/// with.
/// </summary>
public sealed class WipeOnly : IPath
{
    private const string WipeData = "wipe-data",
        WipeCache = "wipe-cache",
        Restart = "restart";

    /// <inheritdoc/>
    public string Letter => "K";

    /// <inheritdoc/>
    public string Title => "Wipe only, nothing written";

    /// <inheritdoc/>
    public string Purpose => "For a phone whose software is whole and that cannot start with its data. Everything on it is erased.";

    /// <inheritdoc/>
    public bool Suits(PathCase @case) => @case is { Package: null, ErasesData: true };

    /// <inheritdoc/>
    public PlanOutcome Compile(PathCase @case)
    {
        var draft = new PlanDraft(@case);
        if (draft.Model() is not { } model)
            return draft.Finish(null!, null, null);
        if (@case.Mode == PhoneMode.Unknown)
            draft.Refuse("Where the phone is now is not known. Look at it, and note what it shows.");
        if (draft.Refusals.Count > 0)
            return draft.Finish(null!, null, null);
        draft.Add(new ConfirmTarget(null, ConfirmTarget.ByLabel));
        if (AddWipe(@case, model, @case.Mode, draft.Add) is { } why)
            draft.Refuse(why);
        draft.Add(new AwaitStage(OwnWork.FirstBoot));
        draft.Add(new CheckResult());
        return draft.Finish(new PathChoice(Letter, Title, true), draft.TargetAsKnown(model), null);
    }

    /// <summary>
    /// What is agreed on beforehand for the case that a phone loops on the data that were kept: this path, from the loop. Left out where no
    /// way leads from a loop into recovery; the write is none the worse for that.
    /// </summary>
    internal static void AddIfItLoops(PlanDraft draft, PathCase @case, PhoneModel model)
    {
        var acts = new List<Act> { new ConfirmTarget(null, ConfirmTarget.ByLabel) };
        if (AddWipe(@case, model, PhoneMode.BootLoop, acts.Add) is not null)
            return;
        foreach (var act in acts.Append(new AwaitStage(OwnWork.FirstBoot)).Append(new CheckResult()))
            draft.AddIfItLoops(act);
    }

    /// <summary>The plan that a written plan holds ready for a phone that loops; begun by a person, or never.</summary>
    /// <param name="written">The plan that was carried out.</param>
    /// <param name="case">The phone as it is now.</param>
    public static PlanOutcome After(Plan written, PathCase @case)
    {
        if (written.IfItLoops.Count == 0)
            return new PlanOutcome(null, ["Nothing was agreed on for a phone that loops afterwards."]);
        if (@case.Mode is not (PhoneMode.BootLoop or PhoneMode.StuckAtLogo))
            return new PlanOutcome(null, ["The wipe is for a phone that loops. Note what it shows."]);
        var plan = new Plan(
            Plan.Current,
            new PathChoice(new WipeOnly().Letter, "Agreed wipe after a loop", true),
            written.Target,
            [],
            written.IfItLoops,
            [],
            Rehearsal.None
        )
        {
            Follows = written.Key,
        };
        var rehearsal = Rehearser.Rehearse(plan, @case, null);
        if (rehearsal.WhyNot is { } why)
            return new PlanOutcome(null, [why]) { IsRefusedByRehearsal = true };
        // What the first plan was to bring still is to be there.
        return new PlanOutcome(
            plan with
            {
                Rehearsal = rehearsal with { Expectations = [.. rehearsal.Expectations, .. written.Rehearsal.Expectations] },
            },
            []
        );
    }

    /// <summary>The hands' acts from a mode through recovery's menu, up to the restart.</summary>
    /// <returns>Null, or why no way leads there.</returns>
    private static string? AddWipe(PathCase @case, PhoneModel model, PhoneMode from, Action<Act> add)
    {
        var recovery = new[] { PhoneMode.StockRecovery, PhoneMode.CustomRecovery }
            .Select(mode => (Mode: mode, Route: Router.Best(@case.Phone, model, from, mode, @case.Catalogue)))
            .Where(way => way.Route is not null)
            .OrderBy(way => way.Route!.Minutes)
            .FirstOrDefault();
        if (recovery.Route is null)
            return $"From {from.Label()} no way leads into recovery. {Router.Find(@case.Phone, model, from, PhoneMode.StockRecovery, @case.Catalogue).WhyNone}".TrimEnd();

        if (recovery.Route.Legs.Count > 0)
            add(new BringInto(from, recovery.Mode, recovery.Route.Minutes));
        var menu = @case.Catalogue.CommonWays.MenuOf(@case.Catalogue.KeyFamilyOf(model), recovery.Mode.Standing()!.Value);
        foreach (var id in new[] { WipeData, WipeCache, Restart })
        {
            if (menu?.Entries.FirstOrDefault(entry => entry.Id == id) is not { } entry)
                continue;
            var data =
                entry.Does == MenuEffect.WipeData
                    ? model.Partitions.FirstOrDefault(partition => partition.Role == PartitionRole.UserData)?.Name
                    : null;
            add(new ChooseEntry(recovery.Mode, id, entry.Label, data, entry.TakesMs / 1000.0, entry.Target == Target.Start));
        }

        return null;
    }
}

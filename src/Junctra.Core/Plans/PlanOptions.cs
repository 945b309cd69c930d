using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>An option of a write, as a plan sets it.</summary>
/// <param name="Option">The option.</param>
/// <param name="Set">How it is set.</param>
/// <param name="Why">Why the path sets it so.</param>
public sealed record PlanOption(string Option, string Set, string Why);

/// <summary>
/// The options of a plan. Each is set by its path and changed only by choosing another; one that the plan has no use for is not among them
/// (specification: section 9.4 of the job).
/// </summary>
public static class PlanOptions
{
    private const string Automatic = "automatic",
        Held = "held back";

    /// <summary>The options of a plan, in the order in which they matter.</summary>
    /// <param name="plan">The plan.</param>
    /// <param name="package">Its package, or null.</param>
    /// <param name="model">The phone's model.</param>
    public static IReadOnlyList<PlanOption> Of(Plan plan, Package? package, PhoneModel model) =>
        [.. Restart(plan), .. RegionPack(plan), .. Data(plan), .. Layout(plan, package), .. Slot(plan, model)];

    private static IEnumerable<PlanOption> Restart(Plan plan)
    {
        var acts = plan.Steps.Select(step => step.Act).ToList();
        if (!acts.Exists(act => act is SendBundle or RestartInto { ToBootloader: false, ToCommandMode: false } or RestartByHands))
            yield break;
        yield return acts.Exists(act => act is RestartByHands)
            ? new("Restart", Held, "By shop policy somebody reads what the phone says first.")
        : acts.Exists(act => act is SendBundle { HoldsRestart: true })
            ? new("Restart", Held, "The data are wiped by hands before the first start.")
        : new("Restart", Automatic, "Nothing is to be done between the write and the first start.");
    }

    private static IEnumerable<PlanOption> RegionPack(Plan plan) =>
        plan
            .Steps.Select(step => step.Act)
            .OfType<SendBundle>()
            .Where(send => send.Pack is not null)
            .Select(send =>
                send.Pack == PartKind.CleanPack
                    ? new PlanOption("Region pack", "clean", "The data go; nothing of the old system is left to loop on.")
                : plan.ErasesData ? new PlanOption("Region pack", "keep-data", "The bundle has no clean one; the data are wiped by hands.")
                : new PlanOption("Region pack", "keep-data", "The data are wanted.")
            );

    private static IEnumerable<PlanOption> Data(Plan plan) =>
        !plan.Writes ? []
        : plan.ErasesData ? [new("User data", "erased", "They may go, or the package can only be written so.")]
        :
        [
            new(
                "User data",
                "not written",
                plan.IfItLoops.Count > 0 ? "They are wanted; wiped only if it loops, as agreed." : "They are wanted."
            ),
        ];

    private static IEnumerable<PlanOption> Layout(Plan plan, Package? package) =>
        plan.Steps.Any(step => step.Act is RewriteLayout)
            ? [new("Layout", "written", "It is damaged, or shop policy has it written wherever the data go.")]
        : package?.Layout is not null
            ? [new("Layout", "left out", "The phone keeps its own; another one ends its data, and may end the phone.")]
        : [];

    private static IEnumerable<PlanOption> Slot(Plan plan, PhoneModel model) =>
        model.Slots > 1 && plan.WritesSystem ? [new("Slot", "the one it starts from", "The other stays as it is, to fall back to.")] : [];
}

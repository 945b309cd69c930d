using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>Gates whose answer is computed, or whose question is.</summary>
public static partial class Gates
{
    private static Gate JudgePackage(GateCase c) =>
        Computed(
            GateId.Package,
            "Package here, whole, verified",
            c.PackageFileBytes == c.Package!.Contents.SizeBytes,
            c.PackageFileBytes is null ? "The file is no longer in the library folder."
                : c.PackageFileBytes == c.Package.Contents.SizeBytes
                    ? "On this computer; its digest is read once more before the first byte."
                : "The file has changed size since it was checked. Look through the library again."
        );

    private static List<PlanStep> NotCarried(GateCase c) => [.. c.Plan.Steps.Where(step => !c.Carries(step.Act))];

    private static Gate JudgeCarried(GateCase c) =>
        Computed(
            GateId.Carried,
            "Carried out from here",
            false,
            $"{string.Join("; ", NotCarried(c).Select(step => step.Title))}: planned and rehearsed, and nothing on this computer does it yet. Choose another way, or use the plan as a list by hand."
        );

    /// <summary>Bytes that a copy takes on the phone or its card; 0 where nothing is copied there.</summary>
    private static long RoomNeeded(GateCase c) =>
        c
            .Plan.Steps.Select(step =>
                step.Act switch
                {
                    CopyToCard copy => copy.Bytes,
                    // The part, and the patched copy beside it.
                    CopyOverDebugging { FromPhone: false } copy => 2 * copy.Bytes,
                    _ => 0,
                }
            )
            .Sum();

    private static SupplyEmergencyLoader? Loader(GateCase c) =>
        c.Plan.Steps.Select(step => step.Act).OfType<SupplyEmergencyLoader>().FirstOrDefault();

    private static Gate JudgeLoader(GateCase c)
    {
        var loader = Loader(c)!;
        var supports = loader.PhoneAtLeast <= loader.HighestRevision;
        return Computed(
            GateId.Loader,
            "Loader, before anything is opened",
            supports,
            $"It supports revisions up to {loader.HighestRevision}; the phone had {loader.PhoneAtLeast}{(supports ? "." : ": not worth opening.")}"
        );
    }

    private static Gate JudgeTarget(GateCase c) =>
        Loader(c) is not null
            ? JudgeChip(c)
            : Computed(
                GateId.Target,
                "One and only one target",
                c.PortsWithTarget.Count == 1,
                c.PortsWithTarget.Count switch
                {
                    1 => $"Serial {c.Plan.Target.Serial}, on {c.PortsWithTarget[0]} only.",
                    0 => $"Serial {c.Plan.Target.Serial} was not seen on any port. Read the phone again.",
                    _ => $"Serial {c.Plan.Target.Serial} answers on {string.Join(" and ", c.PortsWithTarget)}. Unplug the other phone.",
                }
            );

    // A chip that answers alone tells no serial: its label was compared, and one port hears a chip.
    private static Gate JudgeChip(GateCase c) =>
        Computed(
            GateId.Target,
            "One and only one target",
            c.PortsWithTarget.Count == 1,
            c.PortsWithTarget.Count == 1
                ? $"A chip answers alone on {c.PortsWithTarget[0]}; whose it is was compared by its label."
                : "Its chip answers on no port yet: open it first, under Board rescue, and read it at the port that hears it."
        );

    private static Gate JudgeBattery(GateCase c)
    {
        var floor = c.Figures.BatteryFloorPercent;
        if (c.Phone[FactName.BatteryPercent].Best is not { } read || c.Phone.Of(FactName.BatteryPercent).Best() is not { } charge)
            return Asked(
                c,
                GateId.Battery,
                "Battery",
                new GateOption(
                    "charged",
                    $"It cannot be read; the phone was {c.Figures.ChargeInsteadMinutes} minutes on a measured charger."
                )
            );
        var enough = charge.Number >= floor;
        return Computed(
            GateId.Battery,
            "Battery",
            enough,
            enough
                ? $"{read.Value} % ({read.Source.Label()}), floor {floor} %."
                : $"{read.Value} % ({read.Source.Label()}) is below the floor of {floor} %. Charge it, then read the phone again."
        );
    }
}

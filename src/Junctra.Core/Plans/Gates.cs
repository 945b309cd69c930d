using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;

namespace Junctra.Core.Plans;

/// <summary>The gates before anything irreversible. All must hold; there is no override.</summary>
public static class Gates
{
    // Raising the floor has a gate of its own, whatever the match says of it.
    private static readonly RuleId RevisionRule = RuleId.Revision;

    /// <summary>All gates, in the order in which they are shown; one for each care of the match follows.</summary>
    public static IReadOnlyList<GateRule> Rules { get; } =
    [
        new(
            GateId.Match,
            c => c.Report is not null,
            c => Computed(GateId.Match, "The package still matches", c.Report!.MayBeChosen, c.Report.Headline)
        ),
        new(
            GateId.Ownership,
            _ => true,
            c =>
                Computed(
                    GateId.Ownership,
                    "Ownership stated",
                    c.OwnershipStated,
                    c.OwnershipStated
                        ? "Stated at intake."
                        : "Nobody has stated whose phone this is. Say so at intake; a phone of doubtful ownership is not worked on."
                )
        ),
        new(GateId.Package, c => c.Package is not null, JudgePackage),
        new(GateId.Target, c => c.Plan.NeedsLink, JudgeTarget),
        new(GateId.Battery, _ => true, JudgeBattery),
        new(
            GateId.Backup,
            _ => true,
            c =>
                Asked(
                    c,
                    GateId.Backup,
                    "Backup",
                    new GateOption("made", "A backup was made, and it can be read."),
                    new GateOption("waived", "The customer waived a backup in writing.")
                )
        ),
        new(
            GateId.Room,
            c => c.UnpackedBytes > 0,
            c =>
                Computed(
                    GateId.Room,
                    "Room on this computer",
                    c.UnpackedBytes <= c.FreeDiskBytes,
                    $"{ByteSize.Text(c.UnpackedBytes)} must be unpacked before the phone is touched; {ByteSize.Text(c.FreeDiskBytes)} are free."
                )
        ),
        new(
            GateId.ProvenStock,
            c => c.Plan.ClosesLock,
            c => Computed(GateId.ProvenStock, "Its software is proved to be its maker's", c.Stock.Holds, c.Stock.Why)
        ),
        new(
            GateId.DataLoss,
            c => c.Plan.ErasesData || c.Plan.Writes,
            c =>
                c.Plan.ErasesData
                    ? Asked(
                        c,
                        GateId.DataLoss,
                        "Loss of data",
                        new GateOption("agreed", "The customer agreed that photos, apps and messages are erased.")
                    )
                    : Asked(
                        c,
                        GateId.DataLoss,
                        "Data may go",
                        new GateOption("agreed", "The customer agreed that a wipe may follow if the phone still loops.")
                    )
        ),
        // A wipe may follow a write that keeps the data, and then too the phone asks for the account.
        new(
            GateId.Accounts,
            c => c.Plan.ErasesData || c.Plan.Writes,
            c =>
                Asked(
                    c,
                    GateId.Accounts,
                    "Accounts",
                    new GateOption("signed-out", "All accounts were signed out on the phone."),
                    new GateOption("owner-knows", "The phone does not start; the owner confirms knowing account and password.")
                )
        ),
        new(
            GateId.OneWay,
            c => c.Plan.RaisesFloor,
            c =>
                Asked(
                    c,
                    GateId.OneWay,
                    "One-way step",
                    new GateOption(
                        "agreed",
                        $"The customer agreed: the floor rises from {c.Plan.Target.RollbackFloor} to {c.Plan.Package?.Revision} for ever."
                    )
                )
        ),
        new(
            GateId.Modification,
            c => c.Plan.Writes,
            c =>
                Asked(
                    c,
                    GateId.Modification,
                    "Root and custom system",
                    new GateOption(
                        "agreed",
                        "The customer agreed that root and any custom system are lost, and knows that the warranty position is not ours to judge."
                    )
                )
        ),
        new(
            GateId.Program,
            c => c.Plan.NeedsLink,
            c =>
                Asked(
                    c,
                    GateId.Program,
                    "Maker's companion program",
                    new GateOption("closed", "It is closed on this computer, or was never installed.")
                )
        ),
        new(
            GateId.Cable,
            c => c.Plan.NeedsLink,
            c =>
                Asked(
                    c,
                    GateId.Cable,
                    "Cable and place",
                    new GateOption("steady", "The cable is seated, directly in the computer; the phone lies still.")
                )
        ),
    ];

    /// <summary>How every gate of a plan stands.</summary>
    public static IReadOnlyList<Gate> Evaluate(GateCase @case) =>
        [
            .. Rules.Where(rule => rule.Applies(@case)).Select(rule => rule.Judge(@case)),
            .. (@case.Report?.Results ?? [])
                .Where(result => result.Verdict == Verdict.Care && result.RuleId != RevisionRule)
                .Select(care => Asked(@case, GateId.Care(care.RuleId), care.Title, new GateOption("agreed", $"Accepted: {care.Sentence}"))),
        ];

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

    private static Gate JudgeTarget(GateCase c) =>
        Computed(
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

    private static Gate Computed(GateId id, string title, bool holds, string why) => new(id, title, holds, why, []);

    private static Gate Asked(GateCase c, GateId id, string title, params GateOption[] options)
    {
        var answer = c.Answers.LastOrDefault(a => a.GateId == id);
        var chosen = options.FirstOrDefault(option => option.Id == answer?.OptionId);
        return new Gate(
            id,
            title,
            chosen is not null,
            chosen is not null ? $"{answer!.By}, {answer.At:HH:mm}" : "Waits for an answer.",
            options,
            chosen?.Id
        );
    }
}

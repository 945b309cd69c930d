using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>The gates before anything irreversible. All must hold; there is no override.</summary>
public static partial class Gates
{
    // Raising the floor has a gate of its own, whatever the match says of it.
    private static readonly RuleId RevisionRule = RuleId.Revision;

    /// <summary>All gates, in the order in which they are shown; one for each care of the match follows.</summary>
    public static IReadOnlyList<GateRule> Rules { get; } =
    [
        new(
            GateId.Match,
            c => c.Report is not null,
            c =>
                Loader(c) is not null && c.Report!.IsToldAfterRescue
                    ? Asked(
                        c,
                        GateId.Match,
                        "The package still matches",
                        new GateOption(
                            "after-rescue",
                            "What is still open only the phone tells, after its rescue. It is read then, before anything but its boot chain is written, and the run ends where it differs."
                        )
                    )
                    : Computed(GateId.Match, "The package still matches", c.Report!.MayBeChosen, c.Report.Headline)
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
        new(GateId.Carried, c => NotCarried(c).Count > 0, JudgeCarried),
        new(GateId.Package, c => c.Package is not null, JudgePackage),
        new(GateId.Target, c => c.Plan.NeedsLink, JudgeTarget),
        // A restart, and what it takes to wipe a cache, harm no phone whose battery gives out.
        new(GateId.Battery, c => c.Plan.Changes || c.Plan.Rung is null, JudgeBattery),
        new(
            GateId.Backup,
            // Whoever saves the data makes the backup; what changes nothing needs none.
            c => c.Plan.Changes,
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
            GateId.RoomThere,
            c => RoomNeeded(c) > 0,
            c =>
                Asked(
                    c,
                    GateId.RoomThere,
                    "Room there",
                    new GateOption(
                        "seen",
                        $"{ByteSize.Text(RoomNeeded(c))} are free on the {(c.Plan.Steps.Any(step => step.Act is CopyToCard) ? "card" : "phone")}."
                    )
                )
        ),
        new(
            GateId.CardsOut,
            c => c.Plan.Steps.Any(step => step.Act is RewriteLayout or ChooseEntry { Role: PartitionRole.System } or OpenToEmergency),
            c =>
                Asked(
                    c,
                    GateId.CardsOut,
                    "Storage card and SIM",
                    new GateOption("out", "Both are out, in the bag of this ticket: what follows may write to a card.")
                )
        ),
        new(GateId.Loader, c => Loader(c) is not null, JudgeLoader),
        new(
            GateId.Trained,
            c => c.Plan.Steps.Any(step => step.Act is OpenToEmergency),
            c =>
                Asked(
                    c,
                    GateId.Trained,
                    "Who opens it",
                    new GateOption(
                        "trained",
                        "Somebody trained opens it: cell disconnected first, strap, eyes and hands protected, air; local rules for cells and mains are kept."
                    )
                )
        ),
        new(
            GateId.OwnBackup,
            c => c.Plan.Steps.Any(step => step.Act is RestoreBackup),
            c =>
                Asked(
                    c,
                    GateId.OwnBackup,
                    "Whose backup",
                    new GateOption("agreed", "The customer agreed that the data become those of that day; what came since is gone.")
                )
        ),
        new(
            GateId.DataLoss,
            c => MayLoseData(c) && !c.Plan.Steps.Any(step => step.Act is RestoreBackup),
            c =>
                c.Plan.LosesDataForSure
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
        new(GateId.Accounts, MayLoseData, c =>
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
                        $"The customer agreed: the floor rises from {c.Plan.Target.RollbackFloor} to {c.Plan.WrittenRevision} for ever."
                    )
                )
        ),
        new(
            GateId.Modification,
            c => c.Plan.WritesSystem && !c.Plan.KeepsRoot && MayBeModified(c.Phone),
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
                    c.Policy.HasWholeSuite
                        ? new GateOption("closed", "It is installed for its drivers, and all of it is ended on this computer.")
                        : new GateOption("closed", "It was never installed on this computer, or is closed.")
                )
        ),
        new(
            GateId.OnlineWriter,
            c => c.Policy.OnlineFirst && c.Plan.WritesSystem,
            c =>
                Asked(
                    c,
                    GateId.OnlineWriter,
                    "Maker's online writer, first",
                    new GateOption("tried", "It was tried, and has not helped."),
                    new GateOption("none", "The maker has none for this phone, or it does not know the phone."),
                    new GateOption("line", "The line here is not to be trusted with a write.")
                )
        ),
        new(
            GateId.Licence,
            c => c.Licence is not null,
            c => Computed(GateId.Licence, "Practised, as the shop asks", c.Licence!.Value.Holds, c.Licence.Value.Why)
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

    /// <summary>A wipe may follow a write that keeps the data, and then too the phone asks for the account.</summary>
    private static bool MayLoseData(GateCase c) =>
        c.Plan.ErasesData || c.Plan.WritesSystem && !c.Policy.TrustsKeeping || c.Plan.ClosesLock && c.Policy.AssumesRelockErases;

    private static bool MayBeModified(Phone phone) =>
        !phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Official)
        || !phone.Of(FactName.Root).Is(Presence.None)
        || phone.Of(FactName.DeviceStatus).MayBe(DeviceStatus.Custom)
        || phone.Of(FactName.Root).MayBe(Presence.Present);

    /// <summary>How every gate of a plan stands.</summary>
    public static IReadOnlyList<Gate> Evaluate(GateCase @case) =>
        [
            .. Rules.Where(rule => rule.Applies(@case)).Select(rule => rule.Judge(@case)),
            .. (@case.Report?.Results ?? [])
                .Where(result => result.Verdict == Verdict.Care && result.RuleId != RevisionRule)
                .Select(care => Asked(@case, GateId.Care(care.RuleId), care.Title, new GateOption("agreed", $"Accepted: {care.Sentence}"))),
        ];

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

using System.Globalization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Core.Practice;

/// <summary>Draws whole jobs: a phone, what is known of it, a shelf, what was said. Whether one can be done, says its check.</summary>
internal static class DrawnJobs
{
    private static readonly PackageKind[] Full = [PackageKind.FactorySet, PackageKind.FourPartBundle, PackageKind.SingleBundle];
    private static readonly PhoneMode[] Comes = [PhoneMode.BootLoop, PhoneMode.System, PhoneMode.StuckAtLogo, PhoneMode.Off];

    // What may not have been said yet, and what the customer said instead.
    private static readonly (GateId Gate, string Words)[] NotSaid =
    [
        (GateId.Backup, "“There must be a copy somewhere.” Nobody has looked."),
        (GateId.DataLoss, "The owner was not asked."),
        (GateId.Accounts, "“It never asked me for anything.”"),
    ];

    /// <summary>Draws one; null where nothing can be made of what was drawn.</summary>
    /// <param name="draws">The draws.</param>
    /// <param name="catalogue">Models.</param>
    /// <param name="inWriteMode">Whether the phone stands in its write mode already.</param>
    /// <param name="writtenIn">The write mode of its model; null for any.</param>
    public static (PracticePhone Phone, JobTask Job)? Make(
        Draws draws,
        ModelCatalogue catalogue,
        bool inWriteMode,
        PhoneMode? writtenIn = null
    )
    {
        var model = draws.Pick([
            .. catalogue.Models.Where(one => Full.Contains(one.PackageKind) && (writtenIn ?? one.WriteMode) == one.WriteMode),
        ]);
        if (DrawnPackages.Make(draws, catalogue, model, hasOneThatFits: true) is not { } packages)
            return null;
        var facts = new Dictionary<FactName, string>(packages.Known)
        {
            [FactName.BatteryPercent] = (55 + draws.Below(41)).ToString(CultureInfo.InvariantCulture),
            [FactName.LockState] = FactName.LockState.Write(
                model.WriteMode == PhoneMode.Fastboot ? LockState.Unlocked : draws.Pick([LockState.Locked, LockState.Unlocked])
            ),
            [FactName.DeviceStatus] = FactName.DeviceStatus.Write(DeviceStatus.Official),
            [FactName.Root] = FactName.Root.Write(Presence.None),
            [FactName.Recovery] = FactName.Recovery.Write(RecoveryKind.Stock),
            [FactName.Account] = FactName.Account.Write(draws.Pick([AccountState.None, AccountState.SignedIn])),
        };
        var isSet = model.PackageKind == PackageKind.FactorySet;
        var erases = isSet || draws.Below(2) == 0;
        var job = new JobTask(
            isSet ? "F"
                : !erases ? "A"
                : model.PackageKind == PackageKind.SingleBundle ? "D"
                : "B",
            erases
        )
        {
            Shelf = packages.Shelf,
        };
        if (draws.Below(3) == 0 && draws.Pick(NotSaid) is var (gate, words))
            job = job with { Said = new Dictionary<GateId, SaidAtGate> { [gate] = new(words, null) } };
        return (new PracticePhone(model.Code, inWriteMode ? model.WriteMode : draws.Pick(Comes), facts), job);
    }
}

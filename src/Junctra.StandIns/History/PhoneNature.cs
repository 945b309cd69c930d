using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.StandIns.History;

/// <summary>What a simulated phone is, whether or not anybody has looked yet.</summary>
internal sealed record PhoneNature(
    Package? Runs,
    string? Region,
    int Floor,
    bool IsModified,
    bool IsUnlocked,
    bool IsRooted,
    bool HasCard,
    int Battery
)
{
    /// <summary>A phone of a model, by what is wrong with it: it runs what lies in one of the packages for it, or did.</summary>
    public static PhoneNature Of(PhoneModel model, FaultClass truth, IReadOnlyList<Package> packages, Dice dice)
    {
        var whole = packages.Where(package => package is { IsDamaged: false, Build: not null, Revisions.Count: 1 }).ToList();
        var runs = whole.Count == 0 ? null : dice.Pick(whole);
        var isModified = truth.Id is "modified-running" or "stale-data" or "locked-modified" || dice.Chance(0.15);
        return new PhoneNature(
            runs,
            runs?.Says(FactName.Region) is [var region, ..] ? region : null,
            runs is null ? 1 : runs.Revisions[0].Number,
            isModified,
            isModified && truth.Id != "locked-modified" || dice.Chance(model.WriteMode == PhoneMode.Fastboot ? 0.92 : 0.4),
            isModified && dice.Chance(0.4),
            dice.Chance(0.5),
            55 + dice.Below(45)
        );
    }

    /// <summary>What is read of it, with where.</summary>
    public IEnumerable<(FactName Name, string Value, FactSource Source)> Facts(PhoneModel model, string serial, ModelCatalogue catalogue)
    {
        yield return (FactName.Serial, serial, FactSource.Link);
        yield return (FactName.ModelCode, model.Code, FactSource.Link);
        yield return (FactName.Mode, model.WriteMode.Id(), FactSource.Seen);
        yield return (FactName.LockState, IsUnlocked ? "unlocked" : "locked", FactSource.Link);
        if (catalogue.MakerOf(model.Code)?.HasRollbackFuses != false)
            yield return (FactName.RollbackFloor, $"{Floor}", FactSource.Link);
        yield return (FactName.BatteryPercent, $"{Battery}", FactSource.Link);
        yield return (FactName.DeviceStatus, IsModified ? "custom" : "official", FactSource.BootloaderScreen);
        yield return (FactName.Recovery, "stock", FactSource.Seen);
        yield return (FactName.Root, IsRooted ? "present" : "none", FactSource.Seen);
        yield return (FactName.CarrierLocked, "no", FactSource.Label);
        yield return (FactName.Card, HasCard ? "present" : "none", FactSource.Seen);
        if (Runs?.Says(FactName.RadioBuild) is [var radio])
            yield return (FactName.RadioBuild, radio, FactSource.Link);
        if (Region is not null)
            yield return (FactName.Region, Region, FactSource.Label);
        if (Runs?.Build is { } build)
            yield return (FactName.LastGoodBuild, build.Build, FactSource.Customer);
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Values of a fact with which a package might be written: what its lines, its kind and the phone leave.</summary>
internal static class OpeningValues
{
    /// <summary>What a person changes with hands, and need not be found out.</summary>
    public static bool IsByHand(FactName name) =>
        name == FactName.Card
        || name == FactName.CardPlace
        || name == FactName.CardFileName
        || name == FactName.CardFileDigest
        || name == FactName.CardFree;

    /// <summary>What hands do for it, as an instruction.</summary>
    public static string Hands(FactName name, string value) =>
        name == FactName.Card ? "Put a storage card in"
        : name == FactName.CardPlace ? "Copy it to the root of the external card"
        : name == FactName.CardFileName ? $"Name the copy {value}"
        : name == FactName.CardFileDigest ? $"Read the digest of the copy, which must be the package's own ({value[..8]}…)"
        : $"Have {value} MB free on the card, and note it";

    /// <summary>Values of a fact that the package may be written with.</summary>
    public static IEnumerable<string> Of(FactName name, Phone phone, Package package, ModelCatalogue catalogue)
    {
        if (name == FactName.RollbackFloor)
            return package
                .Revisions.Where(revision => revision >= (RollbackFloor.Of(phone, catalogue).AtLeast ?? 0))
                .Select(revision => revision.ToString());
        if (name == FactName.LockState)
            return [FactName.LockState.Write(LockState.Unlocked)];
        if (name == FactName.DeviceStatus || name == FactName.CarrierLocked)
            return name.Definition.Form.Words.Select(word => word.Value);
        if (name == FactName.Serial)
            return package.Backup is { } backup ? [backup.Serial] : [];
        if (name == FactName.Build)
            return package.BaseBuild is { } from ? [from] : package.Says(name);
        if (name == FactName.ChipFamily)
            return package
                .Says(name)
                .Concat(package.Says(FactName.ModelCode).Select(code => catalogue.Model(code)?.ChipFamily).OfType<string>());
        if (name == FactName.RootManager)
            return package.PatchedWith is { } version ? [version] : [];
        // Where a start ended once says where the next one may, and opens no package.
        if (name.IsReached)
            return name.ReachedMode is PhoneMode.System or PhoneMode.BootLoop or PhoneMode.StuckAtLogo
                ? []
                : [FactName.Reached(name.ReachedMode).Write(true)];
        if (name == FactName.Recovery)
            return package.Kind.Traits().Recovery is { } recovery ? [FactName.Recovery.Write(recovery)] : [];
        if (IsByHand(name))
            return package.Kind.Traits().IsOnCard ? ByHand(name, phone, package, catalogue) : [];
        return
            name == FactName.ModelCode
            || name == FactName.Region
            || name == FactName.RegionGroup
            || name == FactName.StorageSize
            || name == FactName.OsVersion
            || name == FactName.SecurityPatch
            || name == FactName.RadioBuild
            ? package.Says(name)
            : [];
    }

    private static IEnumerable<string> ByHand(FactName name, Phone phone, Package package, ModelCatalogue catalogue)
    {
        if (name == FactName.Card)
            return [FactName.Card.Write(Presence.Present)];
        if (name == FactName.CardPlace)
            return [FactName.CardPlace.Write(CardPlace.Root)];
        if (name == FactName.CardFileDigest)
            return [package.Id];
        if (name == FactName.CardFileName)
            return [.. catalogue.Model(phone[FactName.ModelCode].Value)?.CardUpdate is { } card ? [card.FileName] : Array.Empty<string>()];
        return long.TryParse(phone[name].Value, out var free) && free >= M18Card.RoomMegabytes(package)
            ? []
            : [$"{M18Card.RoomMegabytes(package)}"];
    }
}

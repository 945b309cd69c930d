using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>Something about a phone's facts that is worth saying by itself.</summary>
/// <param name="Title">What it is, in a few words.</param>
/// <param name="Sentence">What disagrees with what, what it may mean, and what to do.</param>
/// <param name="IsGrave">Whether nothing should be written before it is cleared up.</param>
public sealed record PhoneFinding(string Title, string Sentence, bool IsGrave);

/// <summary>Reads findings off the facts: disagreements between sources, and between facts that belong together.</summary>
public static class PhoneFindings
{
    /// <summary>The findings, the grave ones first.</summary>
    public static IReadOnlyList<PhoneFinding> Of(Phone phone, ModelCatalogue catalogue) =>
        [.. All(phone, catalogue).OrderByDescending(finding => finding.IsGrave)];

    private static IEnumerable<PhoneFinding> All(Phone phone, ModelCatalogue catalogue)
    {
        foreach (var finding in BoardAndShell(phone, catalogue))
            yield return finding;
        var floor = RollbackFloor.Of(phone, catalogue);
        if (floor.IsConflicting)
            yield return new(
                "Rollback floor",
                $"The readings cannot all be right: {Claims(floor.Facts)}. Read the floor again in the bootloader; a fuse never goes down.",
                true
            );
        foreach (
            var name in phone.Names.Where(name =>
                phone[name].State == FactState.Conflicting
                && name != FactName.ModelCode
                && name != FactName.ChipFamily
                && name != FactName.RollbackFloor
            )
        )
            yield return new(
                $"{name.Label}: sources disagree",
                $"{Claims(phone[name].Claims)}. Most trusted: {phone[name].Best!.Source.Label()}. Find out which is right and withdraw the other.",
                false
            );
        foreach (var finding in Pairs(phone))
            yield return finding;
    }

    /// <summary>The link speaks for the board, the label for the shell around it.</summary>
    private static IEnumerable<PhoneFinding> BoardAndShell(Phone phone, ModelCatalogue catalogue)
    {
        foreach (var name in new[] { FactName.ModelCode, FactName.ChipFamily })
        {
            var fact = phone[name];
            if (fact.State != FactState.Conflicting)
                continue;
            var board = fact.Claims.FirstOrDefault(claim => claim.Source is FactSource.Link or FactSource.BootloaderScreen);
            var shell = fact.Claims.FirstOrDefault(claim => claim.Source == FactSource.Label && claim.Value != board?.Value);
            var sentence =
                board is not null && shell is not null
                    ? $"The board says {board.Value}, the shell says {shell.Value}: a swapped board, or a shell of another phone. Go by the board, and withdraw what is wrong."
                    : $"{Claims(fact.Claims)}. Read it over the link: the board itself decides.";
            yield return new(name == FactName.ModelCode ? "The model is in doubt" : "The chip is in doubt", sentence, true);
        }

        var model = catalogue.Model(phone[FactName.ModelCode].Value);
        if (model is null)
            yield break;
        if (
            phone[FactName.ChipFamily] is { State: FactState.Known, Best: { } chip }
            && !chip.Value.Equals(model.ChipFamily, StringComparison.OrdinalIgnoreCase)
        )
            yield return new(
                "Chip and model do not belong together",
                $"A {model.Code} has {model.ChipFamily}; {chip.Source.Label()} says {chip.Value}. One of the two was read wrong, or the board was swapped.",
                true
            );
        if (
            phone[FactName.ProductName] is { State: FactState.Known, Best: { } product }
            && !product.Value.Equals(model.ProductName, StringComparison.OrdinalIgnoreCase)
        )
            yield return new(
                "Name and model do not belong together",
                $"A {model.Code} is sold as {model.ProductName}; {product.Source.Label()} says {product.Value}.",
                false
            );
        if (
            phone[FactName.CarrierLocked] is { State: FactState.Known, Best: { } carrier }
            && !phone.Of(FactName.CarrierLocked).Is(model.CarrierLocked)
        )
            yield return new(
                "Carrier lock and model do not belong together",
                $"A {model.Code} is sold {(model.CarrierLocked ? "for one carrier only" : "open")}; {carrier.Source.Label()} says carrier-locked: {carrier.Value}.",
                false
            );
        if (
            phone[FactName.StorageSize] is { State: FactState.Known, Best: { } storage }
            && phone.Of(FactName.StorageSize).Best() is { } gb
            && !model.StorageSizesGb.Contains(gb)
        )
            yield return new(
                "Storage size",
                $"A {model.Code} is sold with {string.Join(" or ", model.StorageSizesGb)} GB; {storage.Source.Label()} says {gb} GB.",
                false
            );
    }

    private static IEnumerable<PhoneFinding> Pairs(Phone phone)
    {
        var (lockState, permission) = (phone.Of(FactName.LockState).Best(), phone.Of(FactName.UnlockPermission).Best());
        if ((lockState, permission) is (LockState.Unlocked, UnlockSwitch.Off))
            yield return new(
                "Lock and permission switch contradict each other",
                "An unlocked phone shows the switch greyed, not off. Read both again.",
                false
            );
        if ((lockState, permission) is (LockState.Unlocked, UnlockSwitch.Greyed))
            yield return new(
                "Already open",
                "The lock is open, so its switch is greyed. It is closed first, and the switch turned off after that.",
                false
            );
        if ((lockState, permission) is (LockState.Locked, UnlockSwitch.Hidden))
            yield return new(
                "The permission switch is hidden",
                "That is usual after a reset: bring the phone online, let it ask for an update, look again.",
                false
            );
        if (phone.Of(FactName.DeviceStatus).Is(DeviceStatus.Custom) && phone.All.Any(fact => fact.Source == FactSource.Settings))
            yield return new(
                "Settings of a system that is not the maker's",
                "The system on it is custom, and some facts are noted as read in the official settings. If they were read in this system, note them as custom system: it can say anything.",
                false
            );
        var system = phone
            .All.Where(fact => fact.Name == FactName.BootloaderRevision && fact.ParsedFrom is not null)
            .MaxBy(fact => fact.At);
        var chain = phone
            .All.Where(fact =>
                fact.Name == FactName.BootloaderRevision && fact.ParsedFrom is null && fact.Source >= FactSource.BootloaderScreen
            )
            .MaxBy(fact => fact.At);
        if (system is not null && chain is not null && system.Value != chain.Value)
            yield return new(
                "Boot chain and system are of different revisions",
                $"The boot chain is of revision {chain.Value}, the build {system.ParsedFrom} of {system.Value}: a write that broke half way, or parts of two packages.",
                false
            );
    }

    private static string Claims(IEnumerable<Fact> facts) =>
        string.Join(", ", facts.Select(fact => $"{fact.Name.Label.ToLowerInvariant()} {fact.Value} ({fact.Source.Label()})"));
}

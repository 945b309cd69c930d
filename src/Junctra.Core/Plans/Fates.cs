using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>
/// What becomes of what is on the phone (specification: section 9.5 of the job): every thing that a customer cares about, as the twins of a
/// rehearsal have it before and after, with the act that changed it.
/// </summary>
internal sealed class Fates
{
    private readonly Plan plan;
    private readonly PathCase @case;
    private readonly IReadOnlyList<PlayedBranch> played;
    private readonly PhoneTwin twin;
    private readonly HashSet<PartitionRole?> touched;

    private Fates(Plan plan, PathCase @case, IReadOnlyList<PlayedBranch> played, PhoneTwin twin)
    {
        (this.plan, this.@case, this.played, this.twin) = (plan, @case, played, twin);
        touched = plan.Touches.Select(touch => touch.Role).ToHashSet();
    }

    /// <summary>All of them, in the order in which they are shown.</summary>
    public static List<Fate> Of(Plan plan, PathCase @case, IReadOnlyList<PlayedBranch> played, PhoneTwin twin)
    {
        var fates = new Fates(plan, @case, played, twin);
        return
        [
            fates.Data(),
            fates.Accounts(),
            fates.Root(),
            fates.Recovery(),
            fates.Lock(),
            fates.Floor(),
            .. fates.Slots(),
            .. fates.TamperFuse(),
            .. fates.RegionApps(),
            fates.Cards(),
            new Fate("Identity numbers", FateKind.Kept, "untouched", "Junctra never writes them."),
            new Fate("Warranty", FateKind.Unknown, "not known", "It depends on the maker and on local consumer law; ask there."),
        ];
    }

    private Fate Data()
    {
        const string thing = "Photos, apps, messages";
        if (plan.Steps.FirstOrDefault(step => step.Act is RestoreBackup { HasData: true }) is { } restored)
            return new(
                thing,
                FateKind.Replaced,
                "as of the backup",
                $"Step {restored.Number} puts back those of the day it was taken; what came since is gone."
            );
        if (IsGone)
            return new(thing, FateKind.Lost, "lost", $"{Named(FirstThat(Lost))} erases the user data.");
        if (!plan.Writes)
            return new(
                thing,
                FateKind.Kept,
                "kept",
                plan.ClosesLock ? "Nothing is written, and this model keeps them." : "Nothing on the phone is changed."
            );
        if (!plan.WritesSystem)
            return new(thing, FateKind.Kept, "kept", "Neither boot nor system is written, and nothing that holds them.");
        var loops = played.Any(branch => branch.End.Mode == PhoneMode.BootLoop);
        return new(
            thing,
            FateKind.Unknown,
            "kept if it starts",
            loops && @case.Phone.Of(FactName.DeviceStatus).MayBe(DeviceStatus.Custom)
                ? "Nothing that is written holds them, but a phone that comes from a custom system is likely to loop until it is wiped."
                : "Nothing that is written holds them. Keeping data is never guaranteed: a loop after the write may force a wipe."
        );
    }

    private Fate Accounts() =>
        IsGone
            ? new(
                "Accounts",
                FateKind.Lost,
                "signed out",
                played.Any(branch => branch.End.AsksForAccount is not null)
                    ? "The set-up may ask for the account that was signed in last."
                    : "No account was signed in."
            )
            : new("Accounts", FateKind.Kept, "kept", "They lie with the user data.");

    private Fate Root()
    {
        const string thing = "Root, custom system";
        if (plan.KeepsRoot)
            return new(
                thing,
                FateKind.Kept,
                "root is kept",
                $"{Named(FirstThat((_, after) => twin.RootOf(after) is not null))} writes the part that its own root manager patched."
            );
        return touched.Contains(PartitionRole.Boot) || touched.Contains(PartitionRole.System)
            ? new(thing, FateKind.Lost, "replaced by stock", "Boot and system are written over.")
            : new(thing, FateKind.Kept, "untouched", "Neither boot nor system is written.");
    }

    private Fate Recovery()
    {
        const string thing = "Custom recovery";
        var becomesStock =
            played.All(branch => twin.RecoveryOf(branch.End)?.Kind == SoftwareKind.Stock)
            && played.Any(branch => twin.RecoveryOf(branch.Start)?.Kind != SoftwareKind.Stock);
        return touched.Contains(PartitionRole.Recovery) || becomesStock
            ? new(thing, FateKind.Replaced, "replaced by stock", "Recovery is written over.")
            : new(thing, FateKind.Kept, "untouched", "Recovery is not written.");
    }

    private Fate Lock()
    {
        const string thing = "Lock state";
        if (played.Any(branch => branch.Start.Unlocked != branch.End.Unlocked))
            return new(
                thing,
                FateKind.OneWay,
                played[0].End.Unlocked ? "becomes unlocked" : "becomes locked",
                $"{Named(FirstThat((before, after) => before.Unlocked != after.Unlocked))} changes it."
            );
        return new(
            thing,
            FateKind.Kept,
            plan.Target.LockState is { } locked ? $"stays {FactName.LockState.Write(locked)}" : "stays as it is",
            "Closing the lock is a plan of its own, after proof of stock and one boot."
        );
    }

    private Fate Floor()
    {
        const string thing = "Rollback floor";
        if (!twin.Maker.HasRollbackFuses)
            return new(thing, FateKind.Kept, "none", "Phones of this maker have no rollback fuses.");
        var raised = played.Select(branch => branch.End.Floor).DefaultIfEmpty().Max();
        if (plan.Target.RollbackFloor is not { } floor)
            return new(thing, FateKind.Kept, "stays as it is", Why());
        return raised > floor.Number
            ? new(thing, FateKind.OneWay, $"{floor} becomes {raised}", "For ever: no older revision can be written after this.")
            : new(thing, FateKind.Kept, $"stays {floor}", Why());

        string Why() =>
            !plan.Writes ? "Nothing is written."
            : plan.WrittenRevision is null ? "No boot chain is written."
            : "The package brings the same revision.";
    }

    /// <summary>Of a phone with two slots: which one is written, and what the other is good for.</summary>
    private IEnumerable<Fate> Slots()
    {
        if (twin.Model.Slots < 2 || !plan.WritesSystem)
            yield break;
        var (before, after) = (played[0].Start, played[0].End);
        var other = before.Slot == 'a' ? 'b' : 'a';
        bool Changed(char slot) =>
            after.Parts.Any(pair =>
                pair.Key.EndsWith($"_{slot}", StringComparison.Ordinal) && before.Parts.GetValueOrDefault(pair.Key) != pair.Value
            );
        yield return new(
            $"Slot {before.Slot}, which it starts from",
            FateKind.Replaced,
            Changed(before.Slot) ? "written" : "untouched",
            plan.Steps.Any(step => step.Act is WriteImage { Mode: PhoneMode.RecoveryCommands })
                ? "What lies inside the large partition is written image by image, in the recovery-hosted command mode."
                : "What lies inside the large partition is written with it, in one image."
        );
        yield return Changed(other)
            ? new($"Slot {other}", FateKind.Replaced, "written too", "Nothing is left to fall back to.")
            : new(
                $"Slot {other}",
                FateKind.Kept,
                "keeps what it holds",
                "After three starts that fail the phone falls back to it, if it is whole; its data may be newer than its system then."
            );
    }

    private IEnumerable<Fate> TamperFuse()
    {
        if (!twin.Model.HasTamperFuse)
            yield break;
        var trips = FirstThat((before, after) => !before.Tripped && after.Tripped);
        var always = played.All(branch => branch.End.Tripped);
        var isBlown = @case.Phone.Of(FactName.TamperFuse).Is(Facts.TamperFuse.Tripped);
        if (trips is not null && !isBlown)
            yield return new(
                "Tamper fuse",
                always ? FateKind.OneWay : FateKind.Unknown,
                always ? "is blown" : "may be blown",
                $"{Named(trips)} starts software that is {(always ? "" : "perhaps ")}not its maker's as sent out. It never heals."
            );
        else
            yield return new("Tamper fuse", FateKind.Kept, isBlown ? "stays blown" : "stays as it is", "No write heals it.");
    }

    private IEnumerable<Fate> RegionApps()
    {
        if (!touched.Contains(PartitionRole.RegionPack) || @case.Package is not { } package)
            yield break;
        var brings = package.Says(FactName.Region);
        var has = @case.Phone[FactName.Region].Value;
        if (brings.Count == 0 || has is null)
            yield return new(
                "Apps and networks of the region",
                FateKind.Unknown,
                "as the package has them",
                "They come with the region pack; which region it has, or had, is not known."
            );
        else if (brings.Contains(has, StringComparer.OrdinalIgnoreCase))
            yield return new(
                "Apps and networks of the region",
                FateKind.Kept,
                $"those of {has}",
                "The region pack is for the region that it has."
            );
        else
            yield return new(
                "Apps and networks of the region",
                FateKind.Replaced,
                $"those of {string.Join(" or ", brings)}",
                $"The region pack is another than that of {has}: other apps come with it, and that is no damage."
            );
    }

    private Fate Cards() =>
        plan.Steps.FirstOrDefault(step => step.Act is CopyToCard) is { } copy
            ? new(
                "SIM and storage card",
                FateKind.Kept,
                "the card gets a file",
                $"Step {copy.Number} copies the update to it. What else lies on it stays."
            )
            : new("SIM and storage card", FateKind.Kept, "untouched", "Take them out anyway; they go back in at hand-back.");

    private bool IsGone => played.All(branch => Lost(branch.Start, branch.End));

    private static bool Lost(TwinState before, TwinState after) =>
        before.Data is not null && (after.Data is null || after.Data.Apps < before.Data.Apps);

    private PlanStep? FirstThat(Func<TwinState, TwinState, bool> changed) =>
        played
            .SelectMany(branch => branch.Seen.Where(seen => changed(branch.Start, seen.State)).Take(1))
            .Select(seen => seen.Step)
            .FirstOrDefault();

    private static string Named(PlanStep? step) => step is null ? "The plan" : $"Step {step.Number}";
}

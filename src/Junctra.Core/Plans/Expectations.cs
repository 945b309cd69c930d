using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>
/// What must be read, or may, before a phone goes back (specification: section 11 of the job): what a plan touches, as the twins of its
/// rehearsal end, and what was to stay as it was.
/// </summary>
internal sealed class Expectations
{
    private readonly Plan plan;
    private readonly PathCase @case;
    private readonly IReadOnlyList<PlayedBranch> played;
    private readonly PhoneTwin twin;
    private readonly HashSet<PartitionRole?> written;

    private Expectations(Plan plan, PathCase @case, IReadOnlyList<PlayedBranch> played, PhoneTwin twin)
    {
        (this.plan, this.@case, this.played, this.twin) = (plan, @case, played, twin);
        written = plan.Touches.Where(touch => !touch.Erases).Select(touch => touch.Role).ToHashSet();
    }

    /// <summary>All of them, in the order in which they are shown.</summary>
    public static List<Expectation> Of(Plan plan, PathCase @case, IReadOnlyList<PlayedBranch> played, PhoneTwin twin)
    {
        // Nothing is written: whose phone it is was compared by hands, and what is to be seen is that it starts.
        if (!plan.Changes)
            return [];
        var all = new Expectations(plan, @case, played, twin);
        return [.. plan.Writes ? all.OfWrite() : all.WithoutPackage(), .. all.OfSwitch(), .. all.OfData(), .. all.OfUse()];
    }

    private Package? Package => @case.Package;

    private IEnumerable<Expectation> OfWrite()
    {
        // The root manager before the build: without root the update has failed, whatever its number.
        if (plan.KeepsRoot)
        {
            yield return Of(FactName.Root, Presence.Present, "the patched part keeps it; look at the root manager first", true);
            if (@case.Phone[FactName.RootManager].Value is { } manager)
                yield return new(FactName.RootManager, manager, "the patched part was made with it", false);
        }

        if (plan.Target.Serial is { } serial)
            yield return new(FactName.Serial, serial, "the same phone", true);
        yield return new(FactName.ModelCode, plan.Target.ModelCode, "the same phone", true);
        if (plan.Target.LockState is { } locked)
            yield return Of(FactName.LockState, locked, "this plan does not change it", true);
        foreach (var line in plan.WritesSystem ? OfSystem() : [])
            yield return line;
        if (written.Contains(PartitionRole.BootChain) && plan.WrittenRevision is not null)
            yield return new(FactName.BootloaderRevision, $"{played[0].End.RunningRevision}", "the package", true);
        if (plan.Target.RollbackFloor is { } floor)
            yield return new(
                FactName.RollbackFloor,
                $"{played[0].End.Floor}",
                played[0].End.Floor > floor.Number ? "raised by the package" : "unchanged",
                true
            );
        if (written.Contains(PartitionRole.Radio) && Package?.Says(FactName.RadioBuild) is [var radio])
            yield return new(FactName.RadioBuild, radio, "the package", true);
        if (written.Contains(PartitionRole.Recovery))
            yield return Of(FactName.Recovery, RecoveryKind.Stock, "entered once", !plan.WritesSystem);
        if (!plan.WritesSystem)
            yield break;
        var official = played.All(branch => twin.StatusOf(branch.End) == DeviceStatus.Official);
        yield return Of(
            FactName.DeviceStatus,
            official ? DeviceStatus.Official : DeviceStatus.Custom,
            official ? "full stock" : "not all of it is its maker's as sent out",
            false
        );
        if (official)
            yield return Of(FactName.UpdateCheck, UpdateAnswer.UpToDate, "full stock; a newer one is put in now", false) with
            {
                Also = [FactName.UpdateCheck.Write(UpdateAnswer.NewerOffered)],
            };
        if (!plan.KeepsRoot)
            yield return Of(
                FactName.Root,
                played.All(branch => twin.RootOf(branch.End) is null) ? Presence.None : Presence.Present,
                "full stock",
                false
            );
    }

    private IEnumerable<Expectation> OfSystem()
    {
        if (Package?.Build is not { } build)
            yield break;
        var from = plan.Steps.Any(step => step.Act is RestoreBackup) ? "the backup" : "the package";
        yield return new(FactName.Build, build.Build, from, true);
        if (build.Os is { } os)
            yield return new(FactName.OsVersion, os, from, false);
        if (Package.Says(FactName.SecurityPatch) is [var month])
            yield return new(FactName.SecurityPatch, month, from, false);
        // What brings no pack of its own region leaves the one that is there.
        if (
            Package.Says(FactName.Region) is [var region]
            && @case.Catalogue.MakerOf(plan.Target.ModelCode) is { OneBuildForAllRegions: false }
        )
            yield return new(FactName.Region, region, from, false);
    }

    private IEnumerable<Expectation> WithoutPackage()
    {
        var setUp = played.All(branch => branch.Seen.Any(seen => seen.State.Mode == PhoneMode.SetupWizard));
        var starts = FactName.Reached(setUp ? PhoneMode.SetupWizard : PhoneMode.System);
        yield return new(starts, starts.Write(true), setUp ? "wiped, so it starts with its set-up" : "it starts", true);
        if (plan.ClosesLock)
            yield return Of(FactName.LockState, LockState.Locked, "closed by this plan", true);
    }

    /// <summary>The switch that permits changing the lock, which is read together with it.</summary>
    private IEnumerable<Expectation> OfSwitch()
    {
        if (!plan.ClosesLock && !plan.WritesSystem || @case.Phone[FactName.UnlockPermission].State == FactState.Unknown && !plan.ClosesLock)
            yield break;
        // Where the set-up waits for an account, nobody but its owner comes to the switch.
        var started = played.Where(branch => branch.End.Mode == PhoneMode.System || !plan.ClosesLock);
        if (started.Select(branch => PhoneTwin.PermissionOf(branch.End)).Distinct().ToList() is not [var permission])
            yield break;
        yield return Of(
            FactName.UnlockPermission,
            permission,
            plan.ClosesLock ? "turned off afterwards"
                : permission == UnlockSwitch.Hidden ? "hidden after a reset until it was online"
                : "this plan does not change it",
            false
        );
    }

    /// <summary>What proves that the data stayed, or went, as it was agreed on.</summary>
    private IEnumerable<Expectation> OfData()
    {
        var isGone = played.All(branch => branch.End.Data is not { } data || branch.Start.Data is { } before && data.Apps < before.Apps);
        if (isGone)
        {
            // Without a package the set-up that is seen says as much.
            if (plan.Writes)
                yield return Of(FactName.HomeScreen, HomeScreenState.New, "the user data was erased, as agreed", false);
            yield break;
        }

        if (plan.Steps.Any(step => step.Act is RestoreBackup))
            yield break;
        yield return Of(FactName.HomeScreen, HomeScreenState.Own, "the data was to be kept", false);
        foreach (var name in new FactName[] { FactName.AppCount, FactName.Networks })
        {
            if (@case.Phone[name].Value is { } before)
                yield return new(name, before, "as before: the data was to be kept", false);
        }
    }

    /// <summary>Whether it can be used as a phone again, and is the one that came.</summary>
    private IEnumerable<Expectation> OfUse()
    {
        if (!plan.WritesSystem && !written.Contains(PartitionRole.Radio))
            yield break;
        yield return Of(FactName.Network, NetworkState.Registers, "its radio and its system work together", false) with
        {
            Also = [FactName.Network.Write(NetworkState.NoCard)],
        };
        yield return Of(FactName.IdentityNumbers, IdentityState.Unchanged, "Junctra never writes them", false);
    }

    private static Expectation Of<T>(FactOf<T> fact, T value, string why, bool isNeeded) => new(fact, fact.Write(value), why, isNeeded);
}

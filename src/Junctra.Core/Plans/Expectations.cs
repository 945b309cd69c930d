using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>What must be read, or may, before a phone goes back: what a plan touches, as the twins of its rehearsal end.</summary>
internal static class Expectations
{
    /// <summary>All of them, in the order in which they are read.</summary>
    public static List<Expectation> Of(Plan plan, IReadOnlyList<PlayedBranch> played, PhoneTwin twin, Package? package)
    {
        // Nothing is written: whose phone it is was compared by hands, and what is to be seen is that it starts.
        if (!plan.Changes)
            return [];
        if (!plan.Writes)
            return WithoutPackage(plan, played);
        var written = plan.Touches.Where(touch => !touch.Erases).Select(touch => touch.Role).ToHashSet();
        var expected = new List<Expectation>();
        // The root manager before the build: without root the update has failed, whatever its number.
        if (plan.KeepsRoot)
            expected.Add(
                new(FactName.Root, FactName.Root.Write(Presence.Present), "the patched part keeps it; look at the root manager first", true)
            );
        if (plan.Target.Serial is { } serial)
            expected.Add(new(FactName.Serial, serial, "the same phone", true));
        expected.Add(new(FactName.ModelCode, plan.Target.ModelCode, "the same phone", true));
        if (plan.Target.LockState is { } locked)
            expected.Add(new(FactName.LockState, FactName.LockState.Write(locked), "this plan does not change it", true));
        if (plan.WritesSystem)
            System(expected, plan, package);
        if (written.Contains(PartitionRole.BootChain) && plan.WrittenRevision is not null)
            expected.Add(new(FactName.BootloaderRevision, played[0].End.RunningRevision.ToString(), "the package", true));
        if (plan.Target.RollbackFloor is { } floor)
            expected.Add(
                new(
                    FactName.RollbackFloor,
                    played[0].End.Floor.ToString(),
                    played[0].End.Floor > floor.Number ? "raised by the package" : "unchanged",
                    true
                )
            );
        if (written.Contains(PartitionRole.Radio) && package?.Says(FactName.RadioBuild) is [var radio])
            expected.Add(new(FactName.RadioBuild, radio, "the package", true));
        if (written.Contains(PartitionRole.Recovery) && !plan.WritesSystem)
            expected.Add(new(FactName.Recovery, FactName.Recovery.Write(RecoveryKind.Stock), "entered once", true));
        if (!plan.WritesSystem)
            return expected;
        var official = played.All(branch => twin.StatusOf(branch.End) == DeviceStatus.Official);
        expected.Add(
            new(
                FactName.DeviceStatus,
                FactName.DeviceStatus.Write(official ? DeviceStatus.Official : DeviceStatus.Custom),
                official ? "full stock" : "not all of it is its maker's as sent out",
                false
            )
        );
        if (!plan.KeepsRoot)
        {
            var root = played.All(branch => twin.RootOf(branch.End) is null) ? Presence.None : Presence.Present;
            expected.Add(new(FactName.Root, FactName.Root.Write(root), "full stock", false));
        }

        return expected;
    }

    private static void System(List<Expectation> expected, Plan plan, Package? package)
    {
        if (package?.Build is not { } build)
            return;
        var from = plan.Steps.Any(step => step.Act is Acts.RestoreBackup) ? "the backup" : "the package";
        expected.Add(new(FactName.Build, build.Build, from, true));
        if (build.Os is { } os)
            expected.Add(new(FactName.OsVersion, os, from, false));
    }

    private static List<Expectation> WithoutPackage(Plan plan, IReadOnlyList<PlayedBranch> played)
    {
        var setUp = played.All(branch => branch.Seen.Any(seen => seen.State.Mode == PhoneMode.SetupWizard));
        var starts = FactName.Reached(setUp ? PhoneMode.SetupWizard : PhoneMode.System);
        var expected = new List<Expectation>
        {
            new(starts, starts.Write(true), setUp ? "wiped, so it starts with its set-up" : "it starts", true),
        };
        if (!plan.ClosesLock)
            return expected;
        expected.Add(new(FactName.LockState, FactName.LockState.Write(LockState.Locked), "closed by this plan", true));
        // Where the set-up waits for an account, nobody but its owner comes to the switch.
        var started = played.Where(branch => branch.End.Mode == PhoneMode.System);
        if (started.Select(branch => PhoneTwin.PermissionOf(branch.End)).Distinct().ToList() is [var permission])
            expected.Add(new(FactName.UnlockPermission, FactName.UnlockPermission.Write(permission), "turned off afterwards", false));
        return expected;
    }
}

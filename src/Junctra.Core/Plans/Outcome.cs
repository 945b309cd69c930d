using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans;

/// <summary>
/// What a rehearsal's end says: what becomes of what is on the phone (specification: section 9.5 of the job), and what is to be read
/// afterwards.
/// </summary>
internal static class Outcome
{
    /// <summary>Every thing that a customer cares about, before and after, with the act that changed it.</summary>
    public static List<Fate> Fates(Plan plan, PathCase @case, IReadOnlyList<PlayedBranch> played, PhoneTwin twin)
    {
        var touched = plan.Steps.SelectMany(step => step.Act.Touches).Select(touch => touch.Role).ToHashSet();
        var loops = played.Any(branch => branch.End.Mode == PhoneMode.BootLoop);
        var gone = played.All(branch => IsGone(branch.Start, branch.End));
        var erasing = FirstThat(played, IsGone);
        var floor = plan.Target.RollbackFloor;
        var raised = played.Select(branch => branch.End.Floor).DefaultIfEmpty().Max();
        return
        [
            gone ? new Fate("Photos, apps, messages", FateKind.Lost, "lost", $"{Named(erasing)} erases the user data.")
            : !plan.Writes ? new Fate("Photos, apps, messages", FateKind.Kept, "kept", "Nothing is written, and this model keeps them.")
            : new Fate(
                "Photos, apps, messages",
                FateKind.Unknown,
                "kept if it starts",
                loops && @case.Phone.Of(FactName.DeviceStatus).MayBe(DeviceStatus.Custom)
                    ? "Nothing that is written holds them, but a phone that comes from a custom system is likely to loop until it is wiped."
                    : "Nothing that is written holds them. Keeping data is never guaranteed: a loop after the write may force a wipe."
            ),
            gone
                ? new Fate(
                    "Accounts",
                    FateKind.Lost,
                    "signed out",
                    played.Any(branch => branch.End.AsksForAccount is not null)
                        ? "The set-up may ask for the account that was signed in last."
                        : "No account was signed in."
                )
                : new Fate("Accounts", FateKind.Kept, "kept", "They lie with the user data."),
            touched.Contains(PartitionRole.Boot) || touched.Contains(PartitionRole.System)
                ? new Fate("Root, custom system", FateKind.Lost, "replaced by stock", "Boot and system are written over.")
                : new Fate("Root, custom system", FateKind.Kept, "untouched", "Neither boot nor system is written."),
            touched.Contains(PartitionRole.Recovery)
            || played.All(branch => Recovery(twin, branch.End)?.Kind == SoftwareKind.Stock)
                && played.Any(branch => Recovery(twin, branch.Start)?.Kind != SoftwareKind.Stock)
                ? new Fate("Custom recovery", FateKind.Replaced, "replaced by stock", "Recovery is written over.")
                : new Fate("Custom recovery", FateKind.Kept, "untouched", "Recovery is not written."),
            played.Any(branch => branch.Start.Unlocked != branch.End.Unlocked)
                ? new Fate(
                    "Lock state",
                    FateKind.OneWay,
                    played[0].End.Unlocked ? "becomes unlocked" : "becomes locked",
                    $"{Named(FirstThat(played, (before, after) => before.Unlocked != after.Unlocked))} changes it."
                )
                : new Fate(
                    "Lock state",
                    FateKind.Kept,
                    plan.Target.LockState is { } locked ? $"stays {FactName.LockState.Write(locked)}" : "stays as it is",
                    "Closing the lock is a plan of its own, after proof of stock and one boot."
                ),
            !twin.Maker.HasRollbackFuses ? new Fate("Rollback floor", FateKind.Kept, "none", "Phones of this maker have no rollback fuses.")
            : floor is { } now && raised > now
                ? new Fate(
                    "Rollback floor",
                    FateKind.OneWay,
                    $"{now} becomes {raised}",
                    "For ever: no older revision can be written after this."
                )
            : new Fate(
                "Rollback floor",
                FateKind.Kept,
                floor is null ? "stays as it is" : $"stays {floor}",
                plan.Writes ? "The package brings the same revision." : "Nothing is written."
            ),
            new Fate("SIM and storage card", FateKind.Kept, "untouched", "Take them out anyway; they go back in at hand-back."),
            new Fate("Identity numbers", FateKind.Kept, "untouched", "Junctra never writes them."),
            new Fate("Warranty", FateKind.Unknown, "not known", "It depends on the maker and on local consumer law; ask there."),
        ];
    }

    /// <summary>What must be read, or may, before the phone goes back.</summary>
    public static List<Expectation> Expectations(Plan plan, IReadOnlyList<PlayedBranch> played, PhoneTwin twin, Package? package)
    {
        // Nothing is written: whose phone it is was compared by hands, and what is to be seen is that it starts.
        if (!plan.Writes)
            return WithoutPackage(plan, played);
        var expected = new List<Expectation>();
        if (plan.Target.Serial is { } serial)
            expected.Add(new(FactName.Serial, serial, "the same phone", true));
        expected.Add(new(FactName.ModelCode, plan.Target.ModelCode, "the same phone", true));
        if (plan.Target.LockState is { } locked)
            expected.Add(new(FactName.LockState, FactName.LockState.Write(locked), "this plan does not change it", true));
        if (package?.Build is { } build)
            expected.Add(new(FactName.Build, build.Build, "the package", true));
        if (package?.Build?.Os is { } os)
            expected.Add(new(FactName.OsVersion, os, "the package", false));
        if (plan.Package?.Revision is not null)
            expected.Add(new(FactName.BootloaderRevision, played[0].End.RunningRevision.ToString(), "the package", true));
        if (plan.Target.RollbackFloor is { } floor)
            expected.Add(
                new(
                    FactName.RollbackFloor,
                    played[0].End.Floor.ToString(),
                    played[0].End.Floor > floor ? "raised by the package" : "unchanged",
                    true
                )
            );
        if (package?.Says(FactName.RadioBuild) is [var radio])
            expected.Add(new(FactName.RadioBuild, radio, "the package", true));
        expected.Add(
            new(
                FactName.DeviceStatus,
                played.All(branch => twin.StatusOf(branch.End) == DeviceStatus.Official)
                    ? FactName.DeviceStatus.Write(DeviceStatus.Official)
                    : FactName.DeviceStatus.Write(DeviceStatus.Custom),
                "full stock",
                false
            )
        );
        expected.Add(
            new(
                FactName.Root,
                played.All(branch => twin.RootOf(branch.End) is null)
                    ? FactName.Root.Write(Presence.None)
                    : FactName.Root.Write(Presence.Present),
                "full stock",
                false
            )
        );
        return expected;
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

    private static TwinPart? Recovery(PhoneTwin twin, TwinState state) => twin.PartOf(state, PartitionRole.Recovery);

    private static bool IsGone(TwinState before, TwinState after) =>
        before.Data is not null && (after.Data is null || after.Data.Apps < before.Data.Apps);

    private static PlanStep? FirstThat(IReadOnlyList<PlayedBranch> played, Func<TwinState, TwinState, bool> changed) =>
        played
            .SelectMany(branch => branch.Seen.Where(seen => changed(branch.Start, seen.State)).Take(1))
            .Select(seen => seen.Step)
            .FirstOrDefault();

    private static string Named(PlanStep? step) => step is null ? "The plan" : $"Step {step.Number}";
}

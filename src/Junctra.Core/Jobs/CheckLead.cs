using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Core.Jobs;

/// <summary>Where a difference found at the check leads.</summary>
/// <param name="Fact">The fact that differs.</param>
/// <param name="Means">What it means, in a sentence.</param>
/// <param name="Do">What is done about it, in a sentence.</param>
/// <param name="Station">The station where that is done.</param>
public sealed record CheckLead(FactName Fact, string Means, string Do, Station Station)
{
    /// <summary>What every line that differs leads to; first what forbids everything else, then in the order of the lines.</summary>
    /// <param name="lines">The lines of the check.</param>
    /// <param name="plan">The plan that was carried out.</param>
    public static IReadOnlyList<CheckLead> Of(IReadOnlyList<CheckLine> lines, Plan plan) =>
        [
            .. lines
                .Where(line => line.State == CheckState.Differs)
                .OrderByDescending(line => Forbids.Contains(line.Expectation.Fact))
                .Select(line => Of(line, plan)),
        ];

    // Another phone, or one whose numbers are gone: whatever else differs, nothing more is written to it.
    private static readonly FactName[] Forbids = [FactName.Serial, FactName.ModelCode, FactName.IdentityNumbers];

    private static CheckLead Of(CheckLine line, Plan plan)
    {
        var fact = line.Expectation.Fact;
        var read = line.Claims[^1].Value;
        return fact.Value switch
        {
            _ when fact == FactName.Serial || fact == FactName.ModelCode => new(
                fact,
                "This is another phone than the one of this job, or it was read wrong.",
                "Compare its label. If it is another, put it back under its own ticket and withdraw the reading here.",
                Station.FindOut
            ),
            _ when fact == FactName.Build || fact == FactName.OsVersion || fact == FactName.SecurityPatch => new(
                fact,
                "The system on it is not the one that was written: it started something else, or kept what it had.",
                "Write it again; if the same comes up, match again.",
                Station.Plan
            ),
            _ when fact == FactName.Region => new(
                fact,
                "The region pack on it is another one: apps and networks of its own region may be missing.",
                "Match a package of its region, with the pack that keeps the data.",
                Station.Match
            ),
            _ when fact == FactName.RadioBuild => new(
                fact,
                "Its radio is not the one of the package: calls and data may fail.",
                "Write the package again, radio included.",
                Station.Plan
            ),
            _ when fact == FactName.BootloaderRevision || fact == FactName.RollbackFloor => new(
                fact,
                "Its boot chain is not the one of the package. What may be written to it has changed with that.",
                "Match again by the revision that it shows now.",
                Station.Match
            ),
            _ when fact == FactName.LockState || fact == FactName.UnlockPermission => new(
                fact,
                plan.ClosesLock && read == FactName.LockState.Write(LockState.Unlocked)
                        ? "The lock is still open: the question on its screen was answered otherwise, or it was the other question."
                    : read == FactName.UnlockPermission.Write(UnlockSwitch.Hidden)
                        ? "The switch is hidden. That is usual after a reset; it says nothing of the lock."
                    : "Lock and switch are not as they were; somebody changed them, or they were read wrong.",
                read == FactName.UnlockPermission.Write(UnlockSwitch.Hidden)
                    ? "Bring it online, let it ask for an update, restart it once, and look again."
                    : "Read both again on the phone. If it stays so, plan the lock anew.",
                plan.ClosesLock ? Station.Plan : Station.FindOut
            ),
            _ when fact == FactName.DeviceStatus || fact == FactName.UpdateCheck => new(
                fact,
                "The phone does not take its software for its maker's, or does not take it all.",
                "Something custom stayed. Write full stock, then look again.",
                Station.Match
            ),
            _ when (fact == FactName.Root || fact == FactName.RootManager) && plan.KeepsRoot => new(
                fact,
                "Root did not survive: the part was patched with another version or lineage of the root manager.",
                "Have it patched by the version on the phone, and write that part.",
                Station.Match
            ),
            _ when fact == FactName.Root || fact == FactName.RootManager => new(
                fact,
                "A root manager is on a phone that was to have none: its app came back with the data, or boot was not written.",
                "Remove the app. If root works still, write full stock.",
                Station.Match
            ),
            _ when fact == FactName.Recovery => new(
                fact,
                "Its recovery is not its maker's: a system that started first may have put the old one back.",
                "Write recovery again, and enter it before the system starts.",
                Station.Plan
            ),
            _ when fact == FactName.HomeScreen && read == FactName.HomeScreen.Write(HomeScreenState.Own) => new(
                fact,
                "The data is still there, and was to be erased.",
                "Wipe it in recovery, as agreed, and check again.",
                Station.Plan
            ),
            _ when fact == FactName.HomeScreen || fact == FactName.AppCount || fact == FactName.Networks => new(
                fact,
                "Data that was to be kept is not as it was.",
                "Do not write again. Tell the owner; bring back what was saved, if anything was.",
                Station.HandBack
            ),
            _ when fact == FactName.Network => new(
                fact,
                "It finds no network: its radio does not go with its system, or the SIM is barred or not seated.",
                "Try another SIM. If it stays so, match a package with the radio of this phone’s region.",
                Station.Match
            ),
            _ when fact == FactName.IdentityNumbers => new(
                fact,
                "Its identity numbers are gone or others. Junctra never writes them, and nothing here brings them back.",
                "Stop. Write nothing more to it; its maker’s service has to see it.",
                Station.HandBack
            ),
            _ => new(fact, "It is not as the plan intended.", "Read it again; if it stays so, find out what is wrong.", Station.FindOut),
        };
    }
}

using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>One fact as it stood.</summary>
/// <param name="Name">Which fact.</param>
/// <param name="Value">Its most trusted value.</param>
/// <param name="Source">Where that came from.</param>
/// <param name="IsConflicting">Whether sources disagreed on it.</param>
public sealed record SnapshotFact(FactName Name, string Value, FactSource Source, bool IsConflicting);

/// <summary>
/// What was known of a phone before it was touched. What was not read before cannot be proved after, so what is missing is
/// kept too.
/// </summary>
/// <param name="Facts">The facts that were known.</param>
/// <param name="Missing">Those that belong to it and were not.</param>
public sealed record BeforeSnapshot(IReadOnlyList<SnapshotFact> Facts, IReadOnlyList<FactName> Missing)
{
    /// <summary>What a snapshot holds: status, fuse, builds, lock, and what proves afterwards that the data is still there.</summary>
    public static IReadOnlyList<FactName> Holds { get; } =
    [
        FactName.ModelCode,
        FactName.Serial,
        FactName.DeviceStatus,
        FactName.TamperFuse,
        FactName.Build,
        FactName.RadioBuild,
        FactName.BootloaderRevision,
        FactName.RollbackFloor,
        FactName.LockState,
        FactName.Recovery,
        FactName.Root,
        FactName.AppCount,
        FactName.HomeScreen,
        FactName.Networks,
    ];

    /// <summary>Takes a snapshot of a phone as it is known now.</summary>
    public static BeforeSnapshot Of(Phone phone)
    {
        var resolved = Holds.Select(name => phone[name]).ToList();
        return new BeforeSnapshot(
            [
                .. resolved
                    .Where(fact => fact.Best is not null)
                    .Select(fact => new SnapshotFact(fact.Name, fact.Value!, fact.Best!.Source, fact.State == FactState.Conflicting)),
            ],
            [.. resolved.Where(fact => fact.Best is null).Select(fact => fact.Name)]
        );
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// Hands answer the lock-change screen, whose question they have read: the same screen opens a closed lock. Where the lock is already as
/// it is wanted, they leave it.
/// </summary>
/// <param name="Closes">Whether the lock is closed; else it is opened.</param>
/// <param name="Partition">The user data partition that is erased by it; null where the data stay.</param>
/// <param name="Answer">What they press or choose.</param>
public sealed record ChangeLock(bool Closes, string? Partition, string Answer) : Act
{
    private const double HandsSeconds = 30;
    private const double SlowTimes = 3;
    private const long TapMs = 300;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override bool IsAtThePhone => true;

    /// <inheritdoc/>
    public override PhoneMode? In => PhoneMode.LockChange;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => Partition is null ? [] : [new(Partition, PartitionRole.UserData, true)];

    /// <inheritdoc/>
    public override bool TouchesAtOnce => true;

    /// <inheritdoc/>
    public override bool ChangesLock => true;

    /// <summary>The question that the screen must ask, in the words of the phone.</summary>
    public string Question => Closes ? "Lock the bootloader?" : "Unlock the bootloader?";

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"{(Closes ? "Close" : "Open")} the lock: {char.ToLowerInvariant(Answer[0])}{Answer[1..]}",
            $"Waiting for the lock to {(Closes ? "close" : "open")}",
            PhoneScreens.Of(PhoneMode.LockChange),
            Partition is null ? "It restarts." : "It erases what is on it, and restarts."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => new(HandsSeconds, HandsSeconds * SlowTimes);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        if (now.Stage != PhoneStage.LockChange)
            return [];
        var changes = now.Unlocked == Closes;
        if (scene.Twin.EntriesOf(now).FirstOrDefault(entry => (entry.Does == MenuEffect.ChangeLock) == changes) is { } chosen)
            return ChooseEntry.Choose(scene.Twin, now, chosen.Id);
        return KeyOf(scene.Twin.Family, changes) is { } key ? [new KeyDown(key), new TimePasses(TapMs), new KeyUp(key)] : [];
    }

    /// <summary>What hands do at a family's lock-change screen to change the lock, in words; null where nothing is known.</summary>
    public static string? AnswerOf(KeyFamily family, CommonWays common) =>
        common.MenuOf(family, PhoneStage.LockChange)?.Entries.FirstOrDefault(entry => entry.Does == MenuEffect.ChangeLock) is { } entry
            ? $"Choose “{entry.Label}”"
        : KeyOf(family, true) is { } key ? $"Press {family.Staves.First(stave => stave.Id == key).Name} shortly"
        : null;

    private static string? KeyOf(KeyFamily family, bool changes) =>
        family
            .Behaviour.Reactions.FirstOrDefault(reaction =>
                reaction.Tap is not null
                && reaction.In.Contains(PhoneStage.LockChange)
                && (reaction.Does == MenuEffect.ChangeLock) == changes
            )
            ?.Tap;
}

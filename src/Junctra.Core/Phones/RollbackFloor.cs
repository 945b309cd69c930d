namespace Junctra.Core.Phones;

/// <summary>
/// What is known of the phone's rollback floor. Only the link and the bootloader's own screen tell the floor itself; a
/// revision found anywhere else says no more than that the floor is at least that high.
/// </summary>
/// <param name="Exact">Every value claimed by the link or a bootloader screen; more than one is a conflict.</param>
/// <param name="AtLeast">The highest lower bound from any other source, or null.</param>
/// <param name="Facts">The facts behind both.</param>
public sealed record RollbackFloor(IReadOnlyList<int> Exact, int? AtLeast, IReadOnlyList<Fact> Facts)
{
    /// <summary>Reads the floor out of a phone's facts.</summary>
    public static RollbackFloor Of(Phone phone) => phone.Floor;

    internal static RollbackFloor Read(Phone phone)
    {
        var floor = phone.NewestOfEach(FactName.RollbackFloor);
        var revision = phone.NewestOfEach(FactName.BootloaderRevision);
        var exact = floor.Where(IsReadFromBootloader).ToList();
        // A fuse is never mended: a floor or a revision from before a write is a lower bound after it.
        var earlier = phone.Earlier.Where(fact => fact.Name == FactName.RollbackFloor || fact.Name == FactName.BootloaderRevision);
        var bounds = floor.Where(fact => !IsReadFromBootloader(fact)).Concat(revision).Concat(earlier).ToList();
        return new RollbackFloor(
            [.. exact.Select(Number).Distinct().Order()],
            bounds.Count > 0 ? bounds.Max(Number) : null,
            [.. exact, .. bounds]);
    }

    /// <summary>Whether the readings contradict each other: two floors, or a floor below a revision the phone has already run.</summary>
    public bool IsConflicting => Exact.Count > 1 || (Exact.Count == 1 && AtLeast > Exact[0]);

    private static bool IsReadFromBootloader(Fact fact) => fact.Source is FactSource.Link or FactSource.BootloaderScreen;

    private static int Number(Fact fact) => int.Parse(fact.Value);
}

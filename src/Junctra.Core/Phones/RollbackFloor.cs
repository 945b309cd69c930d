using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>
/// What is known of the phone's rollback floor. Only the link and the bootloader's own screen tell the floor itself; a revision found
/// anywhere else, of a build that ran on this very phone too, says no more than that the floor is at least that high.
/// </summary>
/// <param name="Exact">Every value claimed by the link or a bootloader screen since the last write, lowest first; more than one is a
/// conflict.</param>
/// <param name="AtLeast">The highest lower bound from anywhere else, or null.</param>
/// <param name="Facts">The facts behind both.</param>
/// <param name="Bound">The fact behind <paramref name="AtLeast"/>, or null.</param>
public sealed record RollbackFloor(IReadOnlyList<Revision> Exact, Revision? AtLeast, IReadOnlyList<Fact> Facts, Fact? Bound)
{
    /// <summary>Reads the floor out of a phone's facts.</summary>
    /// <param name="phone">The phone.</param>
    /// <param name="catalogue">Grammars, by which builds tell a revision.</param>
    public static RollbackFloor Of(Phone phone, ModelCatalogue catalogue) => phone.FloorBy(catalogue);

    internal static RollbackFloor Read(Phone phone, ModelCatalogue catalogue)
    {
        // A fuse is never mended: whatever was read before a write is a lower bound after it, and so is every reading that was lower or
        // higher than another.
        var exact = phone
            .All.Where(fact => fact.Name == FactName.RollbackFloor && IsReadFromBootloader(fact))
            .OrderByDescending(fact => fact.Source)
            .ThenByDescending(fact => fact.At)
            .ThenByDescending(Number)
            .ToList();
        var bounds = phone
            .Ever(FactName.RollbackFloor)
            .Except(exact)
            .Concat(phone.Ever(FactName.BootloaderRevision))
            .Select(fact => (Fact: fact, Number: Number(fact)))
            .Concat(
                phone
                    .Ever(FactName.Build)
                    .Concat(phone.Ever(FactName.LastGoodBuild))
                    .Select(fact => (Fact: fact, Number: catalogue.ReadBuild(fact.Value)?.Revision))
            )
            .Where(bound => bound.Number is not null)
            // Nothing depends on the order in which facts were given.
            .OrderByDescending(bound => bound.Number)
            .ThenByDescending(bound => bound.Fact.Source)
            .ThenByDescending(bound => bound.Fact.At)
            .ThenBy(bound => bound.Fact.Name.Value, StringComparer.Ordinal)
            .ThenBy(bound => bound.Fact.Value, StringComparer.Ordinal)
            .ThenBy(bound => bound.Fact.ParsedFrom, StringComparer.Ordinal)
            .ToList();
        return new RollbackFloor(
            [.. exact.Select(Number).OfType<Revision>().Distinct().Order()],
            bounds.Count > 0 ? bounds[0].Number : null,
            [.. exact.Concat(bounds.Select(bound => bound.Fact)).Distinct()],
            bounds.Count > 0 ? bounds[0].Fact : null
        );
    }

    /// <summary>The highest of all that is known, or null.</summary>
    public Revision? Highest =>
        Exact.Count == 0 ? AtLeast
        : AtLeast > Exact[^1] ? AtLeast
        : Exact[^1];

    /// <summary>Whether the readings contradict each other: two floors, or a floor below a revision the phone has already run.</summary>
    public bool IsConflicting => Exact.Count > 1 || (Exact.Count == 1 && AtLeast > Exact[0]);

    private static bool IsReadFromBootloader(Fact fact) => fact.Source is FactSource.Link or FactSource.BootloaderScreen;

    private static Revision? Number(Fact fact) => FactName.RollbackFloor.TryRead(fact.Value, out var revision) ? revision : null;
}

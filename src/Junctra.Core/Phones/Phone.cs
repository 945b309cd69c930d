using System.Collections.Concurrent;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Phones;

/// <summary>What the sources together say of one fact.</summary>
public enum FactState
{
    /// <summary>Nobody has said anything. Never treated as fine.</summary>
    Unknown,

    /// <summary>All sources that spoke agree.</summary>
    Known,

    /// <summary>Sources disagree; that is a finding of its own.</summary>
    Conflicting,
}

/// <summary>One fact with all that is claimed of it.</summary>
/// <param name="Name">Which fact.</param>
/// <param name="State">Whether the claims agree.</param>
/// <param name="Claims">The claims that count, most trusted first, then newest; one for each value of each source.</param>
/// <param name="Reason">How it came to this, in a sentence.</param>
public sealed record ResolvedFact(FactName Name, FactState State, IReadOnlyList<Fact> Claims, string Reason)
{
    /// <summary>The most trusted claim, or null when nothing is known.</summary>
    public Fact? Best => Claims.Count > 0 ? Claims[0] : null;

    /// <summary>
    /// The most trusted value, or null. Where <see cref="State"/> is conflicting, rules must look at <see cref="Values"/>.
    /// </summary>
    public string? Value => Best?.Value;

    /// <summary>Every claimed value, once.</summary>
    public IEnumerable<string> Values { get; } = [.. Claims.Select(claim => claim.Value).Distinct(StringComparer.OrdinalIgnoreCase)];
}

/// <summary>One fact with all that is claimed of it, by what the claims mean.</summary>
/// <param name="Fact">The claims.</param>
/// <param name="Of">What they mean.</param>
public readonly record struct Resolved<T>(ResolvedFact Fact, FactOf<T> Of)
{
    /// <summary>
    /// What every claim means. A claim that is no value of the fact, which nothing at the edges lets through, is left out.
    /// </summary>
    public IEnumerable<T> Values
    {
        get
        {
            foreach (var text in Fact.Values)
                if (Of.TryRead(text, out var value))
                    yield return value;
        }
    }

    /// <summary>Whether the most trusted claim means this.</summary>
    public bool Is(T value) => TryGet(out var best) && EqualityComparer<T>.Default.Equals(best, value);

    /// <summary>Whether any claim means this: what a careful rule asks where sources may disagree.</summary>
    public bool MayBe(T value) => Values.Contains(value);

    /// <summary>What the most trusted claim means.</summary>
    /// <returns>Whether anything is claimed.</returns>
    public bool TryGet(out T value)
    {
        value = default!;
        return Fact.Value is { } text && Of.TryRead(text, out value);
    }
}

/// <summary>What facts mean whose meanings are values.</summary>
public static class ResolvedFacts
{
    /// <summary>What the most trusted claim means, or null.</summary>
    public static T? Best<T>(this Resolved<T> fact)
        where T : struct => fact.TryGet(out var value) ? value : null;
}

/// <summary>
/// A phone as its facts. Several sources for one fact are normal; a weaker source never replaces a stronger, nor is it ignored: where it
/// disagrees, the fact is conflicting. Neither does a later claim replace an earlier one of the same source, but where the thing can have
/// changed in between (<see cref="FactDefinition.IsMomentary"/>, <see cref="FactDefinition.IsChangedByHand"/>): two labels with two codes
/// are a conflict in whatever order they came. What the logbook holds of things that a write changes is history, and counts for nothing but
/// the lower bound of the floor.
/// </summary>
public sealed class Phone
{
    private readonly ILookup<FactName, Fact> facts;

    // Facts do not change, and every rule asks for the same ones.
    private readonly ConcurrentDictionary<FactName, ResolvedFact> resolved = new();
    private readonly ConcurrentDictionary<IReadOnlyList<FactName>, IReadOnlyList<Fact>> claims = new(ReferenceEqualityComparer.Instance);
    private (ModelCatalogue Catalogue, RollbackFloor Floor)? floor;

    /// <summary>Takes a phone's facts.</summary>
    /// <param name="facts">Those that count: neither made void by a write nor withdrawn.</param>
    /// <param name="earlier">Those that a write made void. They say nothing of the phone as it is; but what can never go down
    /// is still at least what it was.</param>
    public Phone(IEnumerable<Fact> facts, IEnumerable<Fact>? earlier = null)
    {
        All = [.. facts];
        Earlier = [.. earlier ?? []];
        this.facts = All.ToLookup(fact => fact.Name);
    }

    /// <summary>All facts that count, in the order given.</summary>
    public IReadOnlyList<Fact> All { get; }

    /// <summary>Facts from before the last write.</summary>
    public IReadOnlyList<Fact> Earlier { get; }

    /// <summary>Names of all facts of which something is claimed, in the order in which they first appear.</summary>
    public IEnumerable<FactName> Names => facts.Select(group => group.Key);

    /// <summary>What is claimed of a fact, and whether the claims agree.</summary>
    public ResolvedFact this[FactName name] => resolved.GetOrAdd(name, Resolve);

    /// <summary>What is claimed of a fact, by what it means.</summary>
    public Resolved<T> Of<T>(FactOf<T> fact) => new(this[fact], fact);

    /// <summary>The phone as it would be known if a fact had one value and no other.</summary>
    /// <param name="name">The fact.</param>
    /// <param name="value">Its value.</param>
    public Phone Supposing(FactName name, string value) =>
        new(All.Where(fact => fact.Name != name).Append(new Fact(name, value, FactSource.Customer, default, "supposed")), Earlier);

    /// <summary>All that is claimed of some facts; the same list is answered for the same names.</summary>
    internal IReadOnlyList<Fact> ClaimsOf(IReadOnlyList<FactName> names) =>
        claims.GetOrAdd(names, wanted => [.. wanted.SelectMany(name => this[name].Claims)]);

    /// <summary>What is known of the rollback floor, by a catalogue's grammars.</summary>
    internal RollbackFloor FloorBy(ModelCatalogue catalogue)
    {
        if (floor is { } known && ReferenceEquals(known.Catalogue, catalogue))
            return known.Floor;
        var read = RollbackFloor.Read(this, catalogue);
        floor = (catalogue, read);
        return read;
    }

    /// <summary>Every claim of a fact, those that a write made void too.</summary>
    internal IEnumerable<Fact> Ever(FactName name) => facts[name].Concat(Earlier.Where(fact => fact.Name == name));

    private ResolvedFact Resolve(FactName name)
    {
        var all = facts[name].ToList();
        if (all.Count == 0)
            return new ResolvedFact(name, FactState.Unknown, [], "Nobody has said anything of it yet.");
        var definition = name.Definition;
        var counting = all.Where(fact => Counts(name, fact)).ToList();
        var standing =
            definition.IsMomentary ? Newest(counting)
            : definition.IsChangedByHand ? counting.GroupBy(fact => fact.Source).SelectMany(Newest)
            : name.IsReached ? counting.Where(fact => !counting.Any(other => other.At > fact.At && other.Source >= fact.Source))
            : counting;
        // The same, said twice by one source, is one claim; nothing depends on the order in which claims were given.
        Fact[] claims =
        [
            .. standing
                .GroupBy(fact => (fact.Source, Value: fact.Value.ToUpperInvariant()))
                .Select(same =>
                    same.OrderByDescending(fact => fact.At)
                        .ThenBy(fact => fact.ParsedFrom is not null)
                        .ThenBy(fact => fact.ParsedFrom, StringComparer.Ordinal)
                        .First()
                )
                .OrderByDescending(fact => fact.Source)
                .ThenByDescending(fact => fact.At)
                .ThenBy(fact => fact.Value, StringComparer.Ordinal),
        ];
        var distinct = claims.Select(claim => claim.Value).Distinct(StringComparer.OrdinalIgnoreCase).Count();
        var state = distinct switch
        {
            0 => FactState.Unknown,
            1 => FactState.Known,
            _ => FactState.Conflicting,
        };
        return new ResolvedFact(name, state, claims, Reasons.For(name, state, claims, all));
    }

    /// <summary>The newest of some claims; more than one where they were made at one moment.</summary>
    private static IEnumerable<Fact> Newest(IEnumerable<Fact> claims)
    {
        var all = claims.ToList();
        return all.Where(fact => fact.At == all.Max(other => other.At));
    }

    private static bool Counts(FactName name, Fact fact)
    {
        // A bound is no value: only the bootloader itself tells the floor.
        if (name == FactName.RollbackFloor)
            return fact.Source is FactSource.Link or FactSource.BootloaderScreen;
        return fact.Source != FactSource.Logbook || name.Definition.TouchedBy == WriteTouch.None;
    }
}

/// <summary>Says how a fact was resolved.</summary>
internal static class Reasons
{
    public static string For(FactName name, FactState state, IReadOnlyList<Fact> claims, IReadOnlyList<Fact> all)
    {
        if (state == FactState.Unknown)
        {
            var said = string.Join(", ", all.Select(fact => $"{fact.Value} ({fact.Source.Label()})").Distinct());
            return name == FactName.RollbackFloor
                ? $"At least {all.Max(fact => FactName.RollbackFloor.TryRead(fact.Value, out var bound) ? bound : new Revision(0))}: {said}. Only the bootloader tells the floor itself."
                : $"From an earlier visit: {said}. That says nothing of the phone as it is now.";
        }

        var best = claims[0];
        var parsed = best.ParsedFrom is { } from ? $", out of {from}" : "";
        if (state == FactState.Conflicting)
        {
            return $"{string.Join(", ", claims.Select(claim => $"{claim.Source.Label()}: {claim.Value}"))}. Most trusted: {best.Source.Label()}. No source is passed over: find out which is right.";
        }

        if (name.IsMomentary || name.IsReached)
            return all.Count > 1 ? "It changes by itself: the newest reading counts." : $"By {best.Source.Label()}{parsed}.";
        var replaced = all.Where(fact =>
                fact.Source == best.Source && fact.At < best.At && !fact.Value.Equals(best.Value, StringComparison.OrdinalIgnoreCase)
            )
            .MaxBy(fact => fact.At);
        var earlier = replaced is null ? "" : $" The same source had {replaced.Value} before.";
        return claims.Count == 1
            ? $"By {best.Source.Label()}{parsed}, and nothing speaks against it.{earlier}"
            : $"{string.Join(" and ", claims.Select(claim => claim.Source.Label()))} agree{parsed}.{earlier}";
    }
}

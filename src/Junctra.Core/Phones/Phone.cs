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
/// <param name="Claims">The claims that count, most trusted first, then newest; at most one for each source.</param>
public sealed record ResolvedFact(FactName Name, FactState State, IReadOnlyList<Fact> Claims)
{
    /// <summary>The most trusted claim, or null when nothing is known.</summary>
    public Fact? Best => Claims.Count > 0 ? Claims[0] : null;

    /// <summary>The most trusted value, or null. Where <see cref="State"/> is conflicting, rules must look at <see cref="Values"/>.</summary>
    public string? Value => Best?.Value;

    /// <summary>Every claimed value, once.</summary>
    public IEnumerable<string> Values => Claims.Select(claim => claim.Value).Distinct(StringComparer.OrdinalIgnoreCase);
}

/// <summary>
/// A phone as its facts. Several sources for one fact are normal. A later reading of one source replaces its earlier one;
/// a weaker source never replaces a stronger, nor is it ignored: where it disagrees, the fact is conflicting.
/// </summary>
public sealed class Phone
{
    private readonly ILookup<FactName, Fact> facts;

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
    public ResolvedFact this[FactName name]
    {
        get
        {
            var newestOfEach = facts[name].GroupBy(fact => fact.Source).Select(group => group.MaxBy(fact => fact.At)!);
            Fact[] claims = name.IsMomentary
                ? [.. newestOfEach.OrderByDescending(fact => fact.At).ThenByDescending(fact => fact.Source).Take(1)]
                : [.. newestOfEach.OrderByDescending(fact => fact.Source).ThenByDescending(fact => fact.At)];
            var distinct = claims.Select(claim => claim.Value).Distinct(StringComparer.OrdinalIgnoreCase).Count();
            return new ResolvedFact(name, distinct switch { 0 => FactState.Unknown, 1 => FactState.Known, _ => FactState.Conflicting }, claims);
        }
    }
}

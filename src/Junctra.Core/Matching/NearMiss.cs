using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Something that may turn out or be decided, after which the rules are asked again.</summary>
/// <param name="Settles">What it settles: a fact, a school, the goal or the wish. Two changes of one thing cannot both come true.</param>
/// <param name="Sentence">What a person does, and what would have to come of it.</param>
/// <param name="Minutes">Minutes of hands; 0 for a decision.</param>
public sealed record OpeningChange(string Settles, string Sentence, double Minutes)
{
    /// <summary>The fact that it settles, or null for a decision.</summary>
    public FactName? Fact { get; init; }

    /// <summary>The value that the fact would have to have, or null.</summary>
    public string? Value { get; init; }

    /// <summary>The school that is taken, or null.</summary>
    public SchoolChoice? School { get; init; }

    /// <summary>The policy after a decision.</summary>
    internal Func<MatchPolicy, MatchPolicy> Decide { get; init; } = policy => policy;

    /// <summary>
    /// The phone after a reading: a fact that is settled has this value alone; what said otherwise is withdrawn. A build that is read tells
    /// all that its maker's grammar reads in it.
    /// </summary>
    internal Phone Read(Phone phone, ModelCatalogue catalogue)
    {
        if (Fact is not { } name)
            return phone;
        var at = phone.All.Select(fact => fact.At).DefaultIfEmpty(DateTimeOffset.UnixEpoch).Max().AddSeconds(1);
        return new Phone(
            [.. phone.All.Where(fact => fact.Name != name), .. BuildFacts.With(new Fact(name, Value!, FactSource.Link, at, ""), catalogue)],
            phone.Earlier
        );
    }
}

/// <summary>A package that may not be written as things stand, and the least that would open it.</summary>
/// <param name="Report">What the rules say now.</param>
/// <param name="Changes">The smallest set of changes after which it may be chosen; empty where there is none.</param>
/// <param name="NoWay">Why nothing opens it, or null.</param>
public sealed record NearMiss(MatchReport Report, IReadOnlyList<OpeningChange> Changes, string? NoWay)
{
    /// <summary>Minutes of hands that the changes take together.</summary>
    public double Minutes => Changes.Sum(change => change.Minutes);

    /// <summary>Whether it opens only for another goal than the job's.</summary>
    public bool ChangesGoal => Changes.Any(change => change.Settles == GoalKey);

    internal const string GoalKey = "goal";
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;

namespace Junctra.Formats.MatchFiles;

/// <summary>A phone, and what was decided for it, as another program asks for a match.</summary>
/// <param name="Facts">What is known of the phone; several claims of one fact are normal.</param>
/// <param name="BeforeLastWrite">Facts that a write has made void since; a floor among them is a lower bound.</param>
/// <param name="Policy">What was decided; the shop's own rules where it is left out.</param>
/// <param name="Most">How many candidates to list, 1 to 1000; 50 where it is left out.</param>
public sealed record MatchRequest(
    IReadOnlyList<ClaimRequest>? Facts,
    IReadOnlyList<ClaimRequest>? BeforeLastWrite = null,
    PolicyRequest? Policy = null,
    int? Most = null
)
{
    private const int MaxClaims = 500;

    /// <summary>The phone and the policy that it asks for.</summary>
    /// <param name="catalogue">Grammars by which build strings are read.</param>
    /// <param name="shop">The shop's rules.</param>
    /// <param name="now">The time of claims that have none.</param>
    /// <param name="mistakes">Every mistake, with its place.</param>
    public (Phone Phone, MatchPolicy Policy, int Most) Read(
        ModelCatalogue catalogue,
        MatchPolicy shop,
        DateTimeOffset now,
        List<string> mistakes
    )
    {
        if (Facts is null)
            mistakes.Add("facts: a list of claims is missing.");
        if ((Facts?.Count ?? 0) + (BeforeLastWrite?.Count ?? 0) > MaxClaims)
            mistakes.Add($"facts: more than {MaxClaims} claims.");
        if (Most is < 1 or > 1000)
            mistakes.Add("most: must be from 1 to 1000.");
        var policy = Policy?.Read(shop, mistakes) ?? shop;
        if (mistakes.Count > 0)
            return (new Phone([]), policy, 0);
        return (new Phone(Claims(Facts!, "facts"), Claims(BeforeLastWrite ?? [], "beforeLastWrite")), policy, Most ?? 50);

        List<Fact> Claims(IReadOnlyList<ClaimRequest> claims, string place)
        {
            var facts = new List<Fact>();
            for (var i = 0; i < claims.Count; i++)
            {
                var claim = claims[i];
                if (FactName.Parse(claim?.Fact) is not { } name)
                    mistakes.Add($"{place}[{i}].fact: {claim?.Fact ?? "nothing"} is no fact.");
                else if (FactSources.Parse(claim!.Source) is not { } source)
                    mistakes.Add($"{place}[{i}].source: must be one of {string.Join(", ", FactSources.All.Select(known => known.Id()))}.");
                else if (name.Normalise(claim.Value) is not { } value)
                    mistakes.Add($"{place}[{i}].value: {claim.Value} is no value of {name}. {name.Definition.Form.Hint}");
                else
                    facts.AddRange(BuildFacts.With(new Fact(name, value, source, claim.At ?? now, "api"), catalogue));
            }

            return facts;
        }
    }
}

/// <summary>One claim of a fact.</summary>
/// <param name="Fact">The fact's name, for example <c>rollback-floor</c>.</param>
/// <param name="Value">The value.</param>
/// <param name="Source">Where it comes from: <c>link</c>, <c>bootloader-screen</c>, <c>settings</c>, <c>label</c>, <c>custom-system</c>,
/// <c>logbook</c> or <c>customer</c>.</param>
/// <param name="At">When it was read or said; now, where it is left out.</param>
public sealed record ClaimRequest(string? Fact, string? Value, string? Source, DateTimeOffset? At = null);

/// <summary>What was decided for a job; what is left out is as the shop has it.</summary>
/// <param name="Region"><c>own</c>, <c>group</c> or <c>any</c>.</param>
/// <param name="Revision"><c>never</c>, <c>stay</c> or <c>newest</c>.</param>
/// <param name="Origin"><c>official</c>, <c>known</c> or <c>any</c>.</param>
/// <param name="Digests"><c>refuse</c> or <c>warn</c>.</param>
/// <param name="Data"><c>keep</c> or <c>may-go</c>.</param>
/// <param name="Goal"><c>stock</c>, <c>update</c>, <c>keep-root</c> or <c>recovery</c>.</param>
/// <param name="Version"><c>none</c>, <c>newest</c>, <c>same-revision</c>, <c>exactly VERSION</c> or <c>not-above VERSION</c>.</param>
/// <param name="BoardRescue">Whether the finding is that the boot chain is gone.</param>
public sealed record PolicyRequest(
    string? Region = null,
    string? Revision = null,
    string? Origin = null,
    string? Digests = null,
    string? Data = null,
    string? Goal = null,
    string? Version = null,
    bool? BoardRescue = null
)
{
    internal MatchPolicy Read(MatchPolicy policy, List<string> mistakes)
    {
        foreach (var (id, text) in new[] { ("region", Region), ("revision", Revision), ("origin", Origin), ("digests", Digests) })
        {
            var question = Schools.Find(id)!;
            if (text is null)
                continue;
            if (question.Parse(text) is { } choice)
                policy = question.Apply(policy, choice);
            else
                mistakes.Add($"policy.{id}: must be one of {string.Join(", ", question.Choices.Select(known => known.Id))}.");
        }

        if (Data is not (null or "keep" or "may-go"))
            mistakes.Add("policy.data: must be keep or may-go.");
        if (Data is not null)
            policy = policy with { DataMayGo = Data == "may-go" };
        if (Goal is not null && GoalWords.ParseGoal(Goal) is null)
            mistakes.Add($"policy.goal: must be one of {string.Join(", ", Enum.GetValues<JobGoal>().Select(goal => goal.Id()))}.");
        if (GoalWords.ParseGoal(Goal) is { } wanted)
            policy = policy with { Goal = wanted };
        if (Version is not null && GoalWords.ReadWish(Version) is null)
            mistakes.Add("policy.version: must be none, newest, same-revision, exactly with a version, or not-above with a version.");
        if (Version is not null && GoalWords.ReadWish(Version) is { } wish)
            policy = policy with { Wish = wish };
        return BoardRescue is { } rescue ? policy with { NeedsBoardRescue = rescue } : policy;
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Everything a rule may look at.</summary>
/// <param name="Phone">The phone's facts.</param>
/// <param name="Package">The package.</param>
/// <param name="Catalogue">Makers and models.</param>
/// <param name="Policy">What shop and customer have decided.</param>
/// <param name="Around">What else lies in the library; null where nothing is known of it.</param>
public sealed record MatchCase(Phone Phone, Package Package, ModelCatalogue Catalogue, MatchPolicy Policy, Surroundings? Around = null)
{
    /// <summary>The catalogue's model for the most trusted model code, or null.</summary>
    public PhoneModel? Model => Catalogue.Model(Phone[FactName.ModelCode].Value);

    /// <summary>
    /// What the package says of itself. One that names no model, a single image for instance, says what that package says which is
    /// proved to be its maker's and in which it lies, byte for byte.
    /// </summary>
    public IReadOnlyList<string> Says(FactName name) => LiesIn?.Says(name) ?? Package.Says(name);

    /// <summary>The package that speaks for one that names no model; null where it speaks for itself, or nothing does.</summary>
    public Package? LiesIn =>
        Package.Says(FactName.ModelCode).Count == 0 && Around?.ProofOf(Package) is { } proof && proof.Says(FactName.ModelCode).Count > 0
            ? proof
            : null;

    /// <summary>Where this phone can still show a fact, and what that costs, as a sentence.</summary>
    public string HowToRead(FactName fact) => HowToRead(fact, Phone, Catalogue);

    /// <inheritdoc cref="HowToRead(FactName)"/>
    public static string HowToRead(FactName fact, Phone phone, ModelCatalogue catalogue)
    {
        if (catalogue.Guides.All(guide => guide.Fact != fact))
            return "Read it, and note it under Find out.";
        return WantedFacts.PlaceFor(fact, phone, catalogue) is { Place: { } place, Minutes: var minutes }
            ? $"Read it ({place.Where}): {minutes:0.#} min."
            : "This phone can show it nowhere as it is now; bring it into its write mode first.";
    }
}

/// <summary>What a rule answers, before its name is put to it.</summary>
/// <param name="Said">The row of the rule's table.</param>
/// <param name="Sentence">Why, filled in.</param>
/// <param name="Consequences">What somebody accepts who goes on.</param>
public readonly record struct Judgement(RuleSentence Said, string Sentence, IReadOnlyList<Consequence> Consequences)
{
    /// <summary>The verdict.</summary>
    public Verdict Verdict => Said.Verdict;

    /// <summary>Whether the package may only be written with the user data erased.</summary>
    public bool NeedsCleanWrite => Said.NeedsCleanWrite;

    /// <summary>Whether two say the same thing.</summary>
    public bool IsAs(Judgement other) => Said == other.Said && Sentence == other.Sentence;
}

/// <summary>
/// A rule of the match. A new rule is a new type, one line in <see cref="Matcher.Rules"/>, and its decision table in the tests.
/// </summary>
public interface IMatchRule
{
    /// <summary>Id, for example <c>M04</c>.</summary>
    RuleId Id { get; }

    /// <summary>Short name over the rule's column.</summary>
    string Title { get; }

    /// <summary>Every fact of the phone that it looks at; sizes of partitions besides, where it says so.</summary>
    IReadOnlyList<FactName> Needs { get; }

    /// <summary>
    /// What it looks at besides the claims that count for those facts: bounds, what a write made void, sizes of partitions.
    /// </summary>
    IEnumerable<Fact> Besides(MatchCase c) => [];

    /// <summary>Its verdict table: everything that it can say, besides what <see cref="Judging.Shared"/> has.</summary>
    IReadOnlyList<RuleSentence> Sentences { get; }

    /// <summary>Judges one case. Never throws on missing or conflicting facts.</summary>
    Judgement Judge(MatchCase c);
}

/// <summary>How rules deal with a fact that is unknown or on which sources disagree.</summary>
public static class Judging
{
    private static readonly RuleSentence Disputed = RuleSentence.Ask("{fact}: {claims}. Find out which is right, and withdraw the other.");

    /// <summary>What every rule can say.</summary>
    public static IReadOnlyList<RuleSentence> Shared { get; } = [Disputed];

    /// <summary>
    /// Judges every claimed value and takes the worst. Where the sources disagree the result is at least
    /// <see cref="Verdict.Ask"/>; where none spoke it is what <paramref name="unknown"/> says.
    /// </summary>
    public static Judgement Each(ResolvedFact fact, Func<Judgement> unknown, Func<string, Judgement> judge)
    {
        if (fact.State == FactState.Unknown)
            return unknown();
        var worst = fact.Values.Select(judge).MaxBy(judgement => judgement.Verdict);
        return fact.State == FactState.Conflicting ? AtLeastAsk(worst, () => Disagreement(fact)) : worst;
    }

    /// <summary>The same, by what the values mean. A value that means nothing is as good as none.</summary>
    public static Judgement Each<T>(Resolved<T> fact, Func<Judgement> unknown, Func<T, Judgement> judge) =>
        Each(fact.Fact, unknown, text => fact.Of.TryRead(text, out var value) ? judge(value) : unknown());

    /// <summary>Raises a verdict to ask, saying why.</summary>
    public static Judgement AtLeastAsk(Judgement judgement, Func<Judgement> why) => judgement.Verdict >= Verdict.Stop ? judgement : why();

    /// <summary>What is said of a conflicting fact: every claim with its source.</summary>
    public static Judgement Disagreement(ResolvedFact fact) =>
        Disputed.With(fact.Name.Label, string.Join(", ", fact.Claims.Select(claim => $"{claim.Value} ({claim.Source.Label()})")));

    /// <summary>A list in a sentence: <c>a or b</c>.</summary>
    internal static string Or(IEnumerable<string> values) => string.Join(" or ", values);
}

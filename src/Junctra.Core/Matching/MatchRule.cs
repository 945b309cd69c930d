using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>Everything a rule may look at.</summary>
/// <param name="Phone">The phone's facts.</param>
/// <param name="Package">The package.</param>
/// <param name="Catalogue">Makers and models.</param>
/// <param name="Policy">What shop and customer have decided.</param>
public sealed record MatchCase(Phone Phone, Package Package, ModelCatalogue Catalogue, MatchPolicy Policy)
{
    /// <summary>The catalogue's model for the most trusted model code, or null.</summary>
    public PhoneModel? Model => Catalogue.Model(Phone[FactName.ModelCode].Value);
}

/// <summary>What a rule answers, before its name is put to it.</summary>
/// <param name="Verdict">The verdict.</param>
/// <param name="Sentence">Why.</param>
/// <param name="NeedsCleanWrite">Whether the package may only be written with the user data erased.</param>
public readonly record struct Judgement(Verdict Verdict, string Sentence, bool NeedsCleanWrite = false)
{
    /// <summary>Nothing stands against it.</summary>
    public static Judgement Go(string sentence) => new(Verdict.Go, sentence);
    /// <summary>Allowed, at a named price.</summary>
    public static Judgement Care(string sentence, bool needsCleanWrite = false) => new(Verdict.Care, sentence, needsCleanWrite);
    /// <summary>A fact is missing; the sentence says where to read it.</summary>
    public static Judgement Ask(string sentence) => new(Verdict.Ask, sentence);
    /// <summary>Never.</summary>
    public static Judgement Stop(string sentence) => new(Verdict.Stop, sentence);
}

/// <summary>A rule of the match. A new rule is a new type, one line in <see cref="Matcher.Rules"/>, and its decision table in the tests.</summary>
public interface IMatchRule
{
    /// <summary>Id, for example <c>M04</c>.</summary>
    string Id { get; }

    /// <summary>Short name over the rule's column.</summary>
    string Title { get; }

    /// <summary>Facts of the phone that decide it.</summary>
    IReadOnlyList<FactName> Needs { get; }

    /// <summary>Judges one case. Never throws on missing or conflicting facts.</summary>
    Judgement Judge(MatchCase c);
}

/// <summary>How rules deal with a fact that is unknown or on which sources disagree.</summary>
public static class Judging
{
    /// <summary>
    /// Judges every claimed value and takes the worst. Where the sources disagree the result is at least
    /// <see cref="Verdict.Ask"/>; where none spoke it is <paramref name="unknown"/>.
    /// </summary>
    public static Judgement Each(ResolvedFact fact, Judgement unknown, Func<string, Judgement> judge)
    {
        if (fact.State == FactState.Unknown) return unknown;
        var worst = fact.Values.Select(judge).MaxBy(judgement => judgement.Verdict);
        return fact.State == FactState.Conflicting ? AtLeastAsk(worst, Disagreement(fact)) : worst;
    }

    /// <summary>Raises a verdict to ask, saying why.</summary>
    public static Judgement AtLeastAsk(Judgement judgement, string why) =>
        judgement.Verdict >= Verdict.Stop ? judgement : Judgement.Ask(why);

    /// <summary>The sentence for a conflicting fact: every claim with its source.</summary>
    public static string Disagreement(ResolvedFact fact) =>
        $"{fact.Name.Label}: {string.Join(", ", fact.Claims.Select(claim => $"{claim.Value} ({claim.Source.Label()})"))}. Find out which is right, and withdraw the other.";
}

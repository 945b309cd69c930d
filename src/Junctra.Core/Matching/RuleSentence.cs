using System.Text.RegularExpressions;

namespace Junctra.Core.Matching;

/// <summary>What somebody accepts who takes a package with care.</summary>
public enum ConsequenceKind
{
    /// <summary>The rollback floor rises and never falls again.</summary>
    OneWayRevision,

    /// <summary>The user data are erased.</summary>
    CleanWrite,

    /// <summary>The data may stay, and nobody promises it.</summary>
    DataNotPromised,

    /// <summary>Other preloaded apps and network settings.</summary>
    RegionApps,

    /// <summary>The tamper fuse, and what the maker still owes.</summary>
    Warranty,

    /// <summary>A damaged copy, or one of unknown origin, would not be noticed.</summary>
    NotProven,

    /// <summary>Root is lost.</summary>
    RootLost,

    /// <summary>The mobile network may be lost.</summary>
    Network,
}

/// <summary>A consequence in words, as a person accepts it.</summary>
/// <param name="Kind">What it concerns.</param>
/// <param name="Text">One sentence.</param>
public sealed record Consequence(ConsequenceKind Kind, string Text);

/// <summary>
/// One row of a rule's verdict table: a verdict, the sentence that goes with it, and what it costs. Rules say nothing else, so that the
/// documentation lists every sentence that anybody can be shown. Names in braces are filled in with what was judged.
/// </summary>
public sealed partial class RuleSentence
{
    private readonly List<string> names;
    private readonly Piece[] pieces;
    private readonly List<(ConsequenceKind Kind, string Text)> costs = [];
    private readonly List<(ConsequenceKind Kind, Piece[] Pieces)> costPieces = [];

    private RuleSentence(Verdict verdict, string text)
    {
        Verdict = verdict;
        Text = text;
        names = [.. Placeholder().Matches(text).Select(match => match.Groups[1].Value).Distinct()];
        pieces = [.. Cut(text)];
    }

    /// <summary>The verdict that goes with it.</summary>
    public Verdict Verdict { get; }

    /// <summary>The sentence, with names in braces.</summary>
    public string Text { get; }

    /// <summary>What it costs, with names in braces that the sentence has too.</summary>
    public IReadOnlyList<(ConsequenceKind Kind, string Text)> Costs => costs;

    /// <summary>Whether the package may only be written with the user data erased.</summary>
    public bool NeedsCleanWrite => costs.Any(cost => cost.Kind == ConsequenceKind.CleanWrite);

    /// <summary>Whether it says that the rule does not concern this package or phone.</summary>
    public bool IsIdle { get; private init; }

    /// <summary>Nothing stands against it.</summary>
    public static RuleSentence Go(string text) => new(Verdict.Go, text);

    /// <summary>The rule does not concern it.</summary>
    public static RuleSentence Idle(string text) => new(Verdict.Go, text) { IsIdle = true };

    /// <summary>Allowed, at a named price.</summary>
    public static RuleSentence Care(string text) => new(Verdict.Care, text);

    /// <summary>A fact is missing; the sentence says where to read it.</summary>
    public static RuleSentence Ask(string text) => new(Verdict.Ask, text);

    /// <summary>Never.</summary>
    public static RuleSentence Stop(string text) => new(Verdict.Stop, text);

    /// <summary>Adds what it costs.</summary>
    /// <exception cref="ArgumentException">The text names something that the sentence does not.</exception>
    public RuleSentence Costing(ConsequenceKind kind, string text)
    {
        var unknown = Placeholder().Matches(text).Select(match => match.Groups[1].Value).FirstOrDefault(name => !names.Contains(name));
        if (unknown is not null)
            throw new ArgumentException($"The sentence has no {unknown}.", nameof(text));
        costs.Add((kind, text));
        costPieces.Add((kind, [.. Cut(text)]));
        return this;
    }

    /// <summary>Says it of one case.</summary>
    /// <param name="values">A value for each name in braces, in the order in which the names first appear.</param>
    /// <exception cref="ArgumentException">There are more or fewer values than names.</exception>
    public Judgement With(params object[] values)
    {
        if (values.Length != names.Count)
            throw new ArgumentException($"The sentence has {names.Count} names: {Text}", nameof(values));
        return new Judgement(
            this,
            values.Length == 0 ? Text : Fill(pieces, values),
            costPieces.Count == 0 ? [] : [.. costPieces.Select(cost => new Consequence(cost.Kind, Fill(cost.Pieces, values)))]
        );
    }

    // Said many thousand times for one phone, so a sentence is cut once and put together again.
    private static string Fill(Piece[] pieces, object[] values) =>
        string.Concat(pieces.Select(piece => piece.Name < 0 ? piece.Text : values[piece.Name].ToString()));

    private IEnumerable<Piece> Cut(string text)
    {
        var at = 0;
        foreach (Match match in Placeholder().Matches(text))
        {
            if (match.Index > at)
                yield return new Piece(text[at..match.Index], -1);
            yield return new Piece("", names.IndexOf(match.Groups[1].Value));
            at = match.Index + match.Length;
        }

        if (at < text.Length)
            yield return new Piece(text[at..], -1);
    }

    /// <summary>A run of words, or the place of a name.</summary>
    private readonly record struct Piece(string Text, int Name);

    [GeneratedRegex(@"\{([a-z]+)\}")]
    private static partial Regex Placeholder();
}

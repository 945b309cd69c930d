using System.Text.RegularExpressions;

namespace Junctra.Core.Facts;

/// <summary>
/// A maker's grammar of build strings: a pattern with named groups, what each group holds, and the groups by which two builds of
/// one model are ordered. Patterns come from files that people edit, so they run without backtracking and are bounded in
/// size: no pattern and no input can make one run away.
/// </summary>
public sealed partial class BuildGrammar
{
    /// <summary>Longest text that is looked at; no build string is longer.</summary>
    public const int MaxCharacters = 120;

    /// <summary>Longest pattern that is taken.</summary>
    public const int MaxPatternCharacters = 400;

    // Counted repeats inside each other multiply the size of the machine that a pattern becomes.
    private const long MaxRepeats = 5_000;

    // Groups that mean the same with every maker, when a file says nothing of them.
    private static readonly Dictionary<string, GrammarField> Usual = new(StringComparer.Ordinal)
    {
        ["model"] = new GrammarField("model", FieldForm.Code, FactName.ModelCode),
        ["revision"] = new GrammarField("revision", FieldForm.Number, FactName.BootloaderRevision, 0, 999),
        ["os"] = new GrammarField("os", FieldForm.Version, FactName.OsVersion),
        ["region"] = new GrammarField("region", FieldForm.Code, FactName.Region),
    };

    private readonly Regex pattern;

    // What every string of this maker begins with. A string that is read is held against every maker's grammar, and most fail here.
    private readonly string beginning;
    private readonly Dictionary<string, GrammarField> fields;

    /// <summary>Builds a grammar.</summary>
    /// <param name="maker">The maker's name.</param>
    /// <param name="pattern">A pattern that matches a whole build string, with named groups.</param>
    /// <param name="order">Groups that order two builds of one model, most significant first.</param>
    /// <param name="fields">What the groups hold; a group that is not among them is what its name usually means, or a number where it
    /// orders, else a code.</param>
    /// <param name="format">How a string is put together again: the groups' names in braces, all else as it stands; null when nobody needs
    /// that.</param>
    /// <exception cref="ArgumentException">The pattern is no regular expression, needs backtracking, is too large, or lacks a group that is
    /// named in <paramref name="order"/>, <paramref name="fields"/> or <paramref name="format"/>, or the group <c>model</c>.</exception>
    public BuildGrammar(
        string maker,
        string pattern,
        IReadOnlyList<string> order,
        IReadOnlyList<GrammarField>? fields = null,
        string? format = null
    )
    {
        if (pattern.Length > MaxPatternCharacters)
            throw new ArgumentException($"The pattern is longer than {MaxPatternCharacters} characters.", nameof(pattern));
        if (Repeats(pattern) > MaxRepeats)
            throw new ArgumentException("The pattern repeats too much: write its counted repeats smaller.", nameof(pattern));
        try
        {
            this.pattern = new Regex(
                pattern,
                RegexOptions.NonBacktracking | RegexOptions.CultureInvariant | RegexOptions.IgnoreCase,
                TimeSpan.FromSeconds(1)
            );
        }
        catch (NotSupportedException error)
        {
            throw new ArgumentException(
                "The pattern uses look-around or back-references, or is too large; write it without them.",
                nameof(pattern),
                error
            );
        }

        string[] groups = [.. this.pattern.GetGroupNames().Where(name => !char.IsAsciiDigit(name[0]))];
        if (!groups.Contains("model"))
            throw new ArgumentException("The pattern has no group named model.", nameof(pattern));
        var named = (fields ?? [])
            .Select(field => field.Name)
            .Concat((fields ?? []).Select(field => field.Within).OfType<string>())
            .Concat(order);
        var missing = named.FirstOrDefault(name => !groups.Contains(name));
        if (missing is not null)
            throw new ArgumentException($"{missing} is named in fields or order, and is no group of the pattern.", nameof(order));
        this.fields = groups.ToDictionary(
            name => name,
            name =>
                (fields ?? []).FirstOrDefault(field => field.Name == name)
                ?? Usual.GetValueOrDefault(name)
                ?? new GrammarField(name, order.Contains(name) ? FieldForm.Number : FieldForm.Code),
            StringComparer.Ordinal
        );
        if (format is not null)
        {
            var used = Placeholder().Matches(format).Select(match => match.Groups[1].Value).ToList();
            if (used.Count != used.Distinct().Count() || !used.ToHashSet().SetEquals(groups))
                throw new ArgumentException(
                    $"The format must name every group of the pattern once: {string.Join(", ", groups)}.",
                    nameof(format)
                );
        }

        beginning = BeginningOf(pattern);
        Maker = maker;
        Order = order;
        Template = format;
    }

    /// <summary>The maker's name.</summary>
    public string Maker { get; }

    /// <summary>Groups that order two builds, most significant first.</summary>
    public IReadOnlyList<string> Order { get; }

    /// <summary>What each group holds, in the pattern's order.</summary>
    public IEnumerable<GrammarField> Fields => fields.Values;

    /// <summary>How a string is put together again, or null.</summary>
    public string? Template { get; }

    /// <summary>Reads a build string, or returns null when it is none of this maker's.</summary>
    public BuildReading? Read(string text)
    {
        var build = text.Trim();
        if (build.Length is 0 or > MaxCharacters || !build.StartsWith(beginning, StringComparison.OrdinalIgnoreCase))
            return null;
        Match match;
        try
        {
            match = pattern.Match(build);
        }
        catch (RegexMatchTimeoutException)
        {
            return null;
        }

        if (!match.Success || match.Length != build.Length)
            return null;
        var read = match
            .Groups.Values.Where(group => group.Success && !char.IsAsciiDigit(group.Name[0]))
            .ToDictionary(group => group.Name, group => group.Value, StringComparer.Ordinal);
        if (read.Any(pair => !fields[pair.Key].Accepts(pair.Value)))
            return null;
        return new BuildReading(build, Maker, read, [.. read.Select(Tell).OfType<(FactName, string)>()]);
    }

    /// <summary>Puts a build string together; the inverse of <see cref="Read"/>.</summary>
    /// <param name="values">A value for every group.</param>
    /// <exception cref="InvalidOperationException">This grammar has no format.</exception>
    /// <exception cref="ArgumentException">A value is missing, or what comes out is no build string of this grammar that reads back the
    /// same.</exception>
    public string Format(IReadOnlyDictionary<string, string> values)
    {
        if (Template is null)
            throw new InvalidOperationException($"The grammar of {Maker} has no format.");
        var text = Placeholder()
            .Replace(Template, match =>
                values.TryGetValue(match.Groups[1].Value, out var value)
                    ? value
                    : throw new ArgumentException($"There is no value for {match.Groups[1].Value}.")
            );
        var back = Read(text);
        return back is not null && back.Fields.All(pair => values[pair.Key] == pair.Value)
            ? text
            : throw new ArgumentException($"{text} does not read back as what it was made of.");
    }

    /// <summary>
    /// Orders two builds: below zero when <paramref name="left"/> is older. Null when they are not comparable;
    /// <see cref="WhyNotComparable"/> says why.
    /// </summary>
    public int? Compare(BuildReading left, BuildReading right) => Ordered(left, right).Order;

    /// <summary>Why two builds cannot be ordered, in one sentence, or null when they can.</summary>
    public string? WhyNotComparable(BuildReading left, BuildReading right) => Ordered(left, right).Why;

    private (int? Order, string? Why) Ordered(BuildReading left, BuildReading right)
    {
        if (left.Maker != Maker || right.Maker != Maker)
            return (null, "They are builds of different makers.");
        if (left.Model != right.Model)
            return (null, $"They are builds of different models, {left.Model} and {right.Model}.");
        if (Order.Count == 0)
            return (null, $"The grammar of {Maker} gives builds no order.");
        foreach (var name in Order)
        {
            if (!left.Fields.TryGetValue(name, out var a) || !right.Fields.TryGetValue(name, out var b))
                return (null, $"One of them has no {name}.");
            if (
                fields[name].Within is { } same
                && !string.Equals(
                    left.Fields.GetValueOrDefault(same),
                    right.Fields.GetValueOrDefault(same),
                    StringComparison.OrdinalIgnoreCase
                )
            )
            {
                return (null, $"Up to here they are the same, and the {name} counts only within one {same}.");
            }

            if (fields[name].Compare(a, b) is not { } order)
                return (null, $"Their {name} is not built alike: {a} and {b}.");
            if (order != 0)
                return (order, null);
        }

        return (0, null);
    }

    private (FactName, string)? Tell(KeyValuePair<string, string> pair)
    {
        if (fields[pair.Key] is not { Tells: { } fact } field)
            return null;
        var text = field.Reads is { Count: > 0 } reads ? reads[pair.Value.ToUpperInvariant()] : pair.Value;
        return fact.Normalise(text) is { } value ? (fact, value) : null;
    }

    /// <summary>The letters and digits with which a pattern begins, or nothing where that cannot be told at a glance.</summary>
    private static string BeginningOf(string pattern)
    {
        if (!pattern.StartsWith('^') || pattern.Contains('|'))
            return "";
        var at = Opening().Match(pattern).Length;
        var end = at;
        while (end < pattern.Length && char.IsAsciiLetterOrDigit(pattern[end]))
            end++;
        // A repeat after it counts for its last character, which may then be missing.
        if (end > at && end < pattern.Length && pattern[end] is '?' or '*' or '{')
            end--;
        return pattern[at..Math.Max(at, end)];
    }

    /// <summary>What the counted repeats of a pattern multiply to, at the worst.</summary>
    private static long Repeats(string pattern)
    {
        long product = 1;
        foreach (Match count in Counted().Matches(pattern))
        {
            var most = count.Groups[2].Success && count.Groups[2].Length > 0 ? count.Groups[2].Value : count.Groups[1].Value;
            if (!long.TryParse(most, out var times) || times > MaxRepeats)
                return long.MaxValue;
            // Repeats beside each other add up; only those above a handful can grow dangerous when nested.
            if (times > 10)
                product = Math.Min(product * times, long.MaxValue / MaxRepeats);
        }

        return product;
    }

    [GeneratedRegex(@"^\^(\(\?<[A-Za-z]+>)?")]
    private static partial Regex Opening();

    [GeneratedRegex(@"\{([a-z][a-z0-9]*)\}")]
    private static partial Regex Placeholder();

    [GeneratedRegex(@"\{([0-9]+),?([0-9]*)\}")]
    private static partial Regex Counted();
}

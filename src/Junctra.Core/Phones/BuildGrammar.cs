using System.Text.RegularExpressions;

namespace Junctra.Core.Phones;

/// <summary>A build string as its maker's grammar reads it. What the grammar leaves out is null: unknown, not empty.</summary>
/// <param name="Build">The whole string, trimmed.</param>
/// <param name="Maker">The maker whose grammar read it.</param>
/// <param name="Fields">The grammar's named groups and what they matched.</param>
public sealed record BuildReading(string Build, string Maker, IReadOnlyDictionary<string, string> Fields)
{
    /// <summary>Model code, upper case, or null.</summary>
    public string? Model => Fields.GetValueOrDefault("model")?.ToUpperInvariant();

    /// <summary>Bootloader revision, or null.</summary>
    public int? Revision => Fields.TryGetValue("revision", out var text) && int.TryParse(text, out var number) ? number : null;

    /// <summary>Major OS version, or null.</summary>
    public string? Os => Fields.GetValueOrDefault("os");

    /// <summary>Sales region, upper case, or null.</summary>
    public string? Region => Fields.GetValueOrDefault("region")?.ToUpperInvariant();

    /// <summary>The facts that the string tells besides itself.</summary>
    public IEnumerable<(FactName Name, string Value)> Facts
    {
        get
        {
            if (Model is not null) yield return (FactName.ModelCode, Model);
            if (Revision is { } revision) yield return (FactName.BootloaderRevision, revision.ToString());
            if (Os is not null) yield return (FactName.OsVersion, Os);
            if (Region is not null) yield return (FactName.Region, Region);
        }
    }
}

/// <summary>
/// A maker's grammar of build strings: a pattern with named groups, and the groups by which two builds of one model are
/// ordered. Patterns come from files that people edit, so they run without backtracking: no input can make one run away.
/// </summary>
public sealed class BuildGrammar
{
    /// <summary>Longest text that is looked at; no build string is longer.</summary>
    public const int MostCharacters = 120;

    private readonly Regex pattern;

    /// <summary>Builds a grammar.</summary>
    /// <param name="maker">The maker's name.</param>
    /// <param name="pattern">A pattern that matches a whole build string, with named groups.</param>
    /// <param name="order">Groups that order two builds of one model, most significant first; each matches digits only.</param>
    /// <exception cref="ArgumentException">The pattern is no regular expression, needs backtracking, or lacks a group named in
    /// <paramref name="order"/> or the group <c>model</c>.</exception>
    public BuildGrammar(string maker, string pattern, IReadOnlyList<string> order)
    {
        try
        {
            this.pattern = new Regex(pattern, RegexOptions.NonBacktracking | RegexOptions.CultureInvariant | RegexOptions.IgnoreCase);
        }
        catch (NotSupportedException error)
        {
            throw new ArgumentException("The pattern uses look-around or back-references; write it without them.", nameof(pattern), error);
        }

        var groups = this.pattern.GetGroupNames();
        if (!groups.Contains("model")) throw new ArgumentException("The pattern has no group named model.", nameof(pattern));
        var missing = order.FirstOrDefault(name => !groups.Contains(name));
        if (missing is not null) throw new ArgumentException($"The order names {missing}, which is no group of the pattern.", nameof(order));
        Maker = maker;
        Order = order;
    }

    /// <summary>The maker's name.</summary>
    public string Maker { get; }

    /// <summary>Groups that order two builds, most significant first.</summary>
    public IReadOnlyList<string> Order { get; }

    /// <summary>Reads a build string, or returns null when it is none of this maker's.</summary>
    public BuildReading? Read(string text)
    {
        var build = text.Trim();
        if (build.Length is 0 or > MostCharacters) return null;
        var match = pattern.Match(build);
        if (!match.Success || match.Length != build.Length) return null;
        var fields = match.Groups.Values
            .Where(group => group.Success && !char.IsAsciiDigit(group.Name[0]))
            .ToDictionary(group => group.Name, group => group.Value, StringComparer.Ordinal);
        return new BuildReading(build, Maker, fields);
    }

    /// <summary>
    /// Orders two builds: below zero when <paramref name="left"/> is older. Null when they are not comparable: another
    /// model or maker, or no order in this grammar.
    /// </summary>
    public int? Compare(BuildReading left, BuildReading right)
    {
        if (left.Maker != Maker || right.Maker != Maker || left.Model != right.Model || Order.Count == 0) return null;
        foreach (var name in Order)
        {
            if (!long.TryParse(left.Fields.GetValueOrDefault(name), out var a) || !long.TryParse(right.Fields.GetValueOrDefault(name), out var b)) return null;
            if (a != b) return a.CompareTo(b);
        }

        return 0;
    }
}

using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>How one fact is read over the bootloader's link of a maker's phones.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Variable">The bootloader's variable that answers for it.</param>
/// <param name="Reads">The variable's words and what they mean as a value of the fact; empty when they are the value.</param>
public sealed record LinkVariable(FactName Fact, string Variable, IReadOnlyDictionary<string, string> Reads)
{
    /// <summary>The fact's value for an answer of the phone, or null when the answer means nothing known.</summary>
    public string? Read(string answer)
    {
        var text = answer.Trim();
        if (text.Length == 0)
            return null;
        return Reads.Count == 0 ? text : Reads.GetValueOrDefault(text);
    }
}

/// <summary>What a maker's phones do with a radio build that is older than the one they have.</summary>
public enum OlderRadio
{
    /// <summary>They take it.</summary>
    Allowed,

    /// <summary>They may take it, and lose the network.</summary>
    Care,

    /// <summary>They refuse it half way.</summary>
    Refused,
}

/// <summary>What a maker says of its radios.</summary>
/// <param name="Grammar">How its radio builds read; a group that tells <c>region-group</c> says whose networks they serve.</param>
/// <param name="Older">What its phones do with an older one.</param>
public sealed record RadioRules(BuildGrammar Grammar, OlderRadio Older);

/// <summary>A loader that a chip takes in emergency mode.</summary>
/// <param name="Chip">Its chip family.</param>
/// <param name="HighestRevision">The highest bootloader revision that it supports.</param>
public sealed record EmergencyLoader(string Chip, Revision HighestRevision)
{
    /// <summary>Name of the file with it in the shop's folder of loaders; null where the shop has none.</summary>
    public string? File { get; init; }
}

/// <summary>A maker, and what is the same for all its models.</summary>
/// <param name="Name">The maker's name.</param>
/// <param name="HasRollbackFuses">Whether its phones keep the highest accepted bootloader revision in one-time fuses.</param>
/// <param name="ForbidsOlder">Whether its phones refuse a system older than the one they have.</param>
/// <param name="OneBuildForAllRegions">Whether one build serves all regions, so that none of them names one.</param>
/// <param name="Grammar">How its build strings read.</param>
/// <param name="LinkVariables">How facts are read over the bootloader's link.</param>
/// <param name="Models">Its models.</param>
/// <param name="Example">A build string of this maker.</param>
public sealed record Maker(
    string Name,
    bool HasRollbackFuses,
    bool ForbidsOlder,
    bool OneBuildForAllRegions,
    BuildGrammar Grammar,
    IReadOnlyList<LinkVariable> LinkVariables,
    IReadOnlyList<PhoneModel> Models,
    string Example = ""
)
{
    /// <summary>What it says of its radios, or null where they go back and forth and serve all regions.</summary>
    public RadioRules? Radio { get; init; }

    /// <summary>Loaders that its phones take in emergency mode, at most one for each chip family.</summary>
    public IReadOnlyList<EmergencyLoader> Loaders { get; init; } = [];
}

using Junctra.Core.Phones;

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
        if (text.Length == 0) return null;
        return Reads.Count == 0 ? text : Reads.GetValueOrDefault(text);
    }
}

/// <summary>A maker, and what is the same for all its models.</summary>
/// <param name="Name">The maker's name.</param>
/// <param name="HasRollbackFuses">Whether its phones keep the highest accepted bootloader revision in one-time fuses.</param>
/// <param name="ForbidsOlder">Whether its phones refuse a system older than the one they have.</param>
/// <param name="OneBuildForAllRegions">Whether one build serves all regions, so that none of them names one.</param>
/// <param name="Grammar">How its build strings read.</param>
/// <param name="LinkVariables">How facts are read over the bootloader's link.</param>
/// <param name="Models">Its models.</param>
public sealed record Maker(
    string Name,
    bool HasRollbackFuses,
    bool ForbidsOlder,
    bool OneBuildForAllRegions,
    BuildGrammar Grammar,
    IReadOnlyList<LinkVariable> LinkVariables,
    IReadOnlyList<PhoneModel> Models);

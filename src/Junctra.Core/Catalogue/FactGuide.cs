using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>When a fact matters for a job.</summary>
public enum MattersWhen
{
    /// <summary>With every job.</summary>
    Always,

    /// <summary>Where the maker's phones have rollback fuses.</summary>
    RollbackFuses,

    /// <summary>Where the model has a tamper fuse.</summary>
    TamperFuse,

    /// <summary>Where the maker's builds are made for single regions.</summary>
    RegionalBuilds,

    /// <summary>Where the data is wanted.</summary>
    DataKept,

    /// <summary>Where the data may go, or may have to.</summary>
    DataMayGo,

    /// <summary>Where one product name covers several variants.</summary>
    SharedName,

    /// <summary>Where the phone has root.</summary>
    RootKept,

    /// <summary>Where the model takes card updates, and a card is in the phone.</summary>
    CardUpdate,

    /// <summary>Only once it was written: it is a check, and decides nothing before.</summary>
    AfterWrite,
}

/// <summary>One place at which a fact can be read.</summary>
/// <param name="Where">The place, in words.</param>
/// <param name="In">Modes in which the phone shows it; empty where the phone need not show anything.</param>
/// <param name="Source">The source that a reading from there has.</param>
/// <param name="Minutes">Minutes of hands once the phone is in that mode, above zero.</param>
public sealed record FactPlace(string Where, IReadOnlyList<PhoneMode> In, FactSource Source, double Minutes);

/// <summary>What the catalogue knows about finding out one fact.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Decides">What it decides, as the end of a sentence that begins with "decides".</param>
/// <param name="Matters">When it matters.</param>
/// <param name="Places">Where it can be read.</param>
public sealed record FactGuide(FactName Fact, string Decides, MattersWhen Matters, IReadOnlyList<FactPlace> Places);

namespace Junctra.Core.Facts;

/// <summary>A build string as its maker's grammar reads it. What the grammar leaves out is null: unknown, not empty.</summary>
/// <param name="Build">The whole string, trimmed.</param>
/// <param name="Maker">The maker whose grammar read it.</param>
/// <param name="Fields">The grammar's named groups and what they matched.</param>
/// <param name="Facts">The facts that the string tells besides itself.</param>
public sealed record BuildReading(
    string Build,
    string Maker,
    IReadOnlyDictionary<string, string> Fields,
    IReadOnlyList<(FactName Name, string Value)> Facts
)
{
    /// <summary>Model code, upper case, or null.</summary>
    public string? Model => this[FactName.ModelCode];

    /// <summary>Bootloader revision, or null.</summary>
    public Revision? Revision =>
        this[FactName.BootloaderRevision] is { } text && FactName.BootloaderRevision.TryRead(text, out var revision) ? revision : null;

    /// <summary>Major OS version, or null.</summary>
    public string? Os => this[FactName.OsVersion];

    /// <summary>Sales region, upper case, or null.</summary>
    public string? Region => this[FactName.Region];

    private string? this[FactName name] => Facts.FirstOrDefault(fact => fact.Name == name).Value;
}

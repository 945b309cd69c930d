namespace Junctra.Core.Catalogue;

/// <summary>What a remedy changes, and what is to blame where it works.</summary>
public enum LinkThing
{
    /// <summary>Nothing that has a record.</summary>
    None,

    /// <summary>The cable.</summary>
    Cable,

    /// <summary>The computer's port.</summary>
    Port,

    /// <summary>The computer.</summary>
    Computer,
}

/// <summary>What the computer's list of phones looks like (specification: section 7.4 of the job).</summary>
/// <param name="Id">Id in the catalogue.</param>
/// <param name="Label">In a few words.</param>
/// <param name="Looks">How it looks.</param>
/// <param name="Means">What it means.</param>
/// <param name="IsWell">Whether nothing is wrong.</param>
public sealed record LinkSign(string Id, string Label, string Looks, string Means, bool IsWell);

/// <summary>Something that may mend a link.</summary>
/// <param name="Id">Id in the catalogue.</param>
/// <param name="Label">In a few words.</param>
/// <param name="Words">What to do.</param>
/// <param name="Minutes">Minutes of hands, above zero.</param>
/// <param name="About">What it changes.</param>
/// <param name="Chances">By sign: the chance that it mends that, 0 to 1, before anything was tried here. A sign that is left out is none
/// that it mends.</param>
public sealed record LinkRemedy(
    string Id,
    string Label,
    string Words,
    double Minutes,
    LinkThing About,
    IReadOnlyDictionary<string, double> Chances
);

/// <summary>The signs and remedies of a catalogue.</summary>
/// <param name="Signs">Signs.</param>
/// <param name="Remedies">Remedies.</param>
/// <param name="Weight">With how many tries of a shop's own its chances are outweighed, above zero.</param>
public sealed record LinkTables(IReadOnlyList<LinkSign> Signs, IReadOnlyList<LinkRemedy> Remedies, double Weight)
{
    /// <summary>Nothing.</summary>
    public static LinkTables Empty { get; } = new([], [], 8);

    /// <summary>The sign of that name, or null.</summary>
    public LinkSign? Sign(string? id) => Signs.FirstOrDefault(sign => sign.Id == id);

    /// <summary>The remedy of that name, or null.</summary>
    public LinkRemedy? Remedy(string? id) => Remedies.FirstOrDefault(remedy => remedy.Id == id);
}

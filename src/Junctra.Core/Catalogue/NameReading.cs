using Junctra.Core.Facts;

namespace Junctra.Core.Catalogue;

/// <summary>What the name of a file or folder says of a phone, by the catalogue.</summary>
/// <param name="Models">Codes of the models that are words of it.</param>
/// <param name="Regions">The regions whose codes are words of it, where no partition is called by that word.</param>
/// <param name="Build">The build string that it is, with or without an ending, or null.</param>
public sealed record NameReading(IReadOnlyList<string> Models, IReadOnlyList<Region> Regions, BuildReading? Build)
{
    private static readonly char[] Separators = ['-', '_', '.', ' ', '(', ')', '[', ']', '+', ','];

    /// <summary>Whether nothing in it is known.</summary>
    public bool SaysNothing => Models.Count == 0 && Regions.Count == 0 && Build is null;

    internal static NameReading Of(string name, ModelCatalogue catalogue)
    {
        var words = name.Split(Separators, StringSplitOptions.RemoveEmptyEntries);
        var withoutEnding = name.LastIndexOf('.') is > 0 and var dot ? name[..dot] : name;
        return new NameReading(
            [.. words.Select(catalogue.Model).OfType<PhoneModel>().Select(model => model.Code)],
            // A partition may be called as a region is, and then the word is the partition.
            [.. words.Where(word => catalogue.RoleOf(word.ToLowerInvariant()) is null).Select(catalogue.Region).OfType<Region>()],
            catalogue.ReadBuild(name) ?? catalogue.ReadBuild(withoutEnding)
        );
    }
}

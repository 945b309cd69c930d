namespace Junctra.Core.Matching;

/// <summary>The schools of which regions' software may be written to a phone.</summary>
public enum RegionSchool
{
    /// <summary>Only that of the phone's own region.</summary>
    Own,
    /// <summary>That of any region of its group, which shares hardware bands and a software branch.</summary>
    Group,
    /// <summary>That of any region for which this model is made.</summary>
    Any,
}

/// <summary>Words for schools.</summary>
public static class RegionSchools
{
    /// <summary>The school as files and forms write it: <c>own</c>, <c>group</c>, <c>any</c>.</summary>
    public static string Id(this RegionSchool school) => school.ToString().ToLowerInvariant();

    /// <summary>The school as a technician says it.</summary>
    public static string Label(this RegionSchool school) => school switch
    {
        RegionSchool.Own => "own region only",
        RegionSchool.Group => "same group",
        _ => "any for this model",
    };

    /// <summary>The school of that name, or null.</summary>
    public static RegionSchool? Parse(string? id) =>
        Enum.GetValues<RegionSchool>().Where(school => school.Id() == id).Select(school => (RegionSchool?)school).FirstOrDefault();
}

/// <summary>What a shop and a customer have decided and the rules must know.</summary>
/// <param name="Region">The region school that counts for this job.</param>
/// <param name="DataMayGo">Whether the customer has said that everything on the phone may be erased.</param>
public sealed record MatchPolicy(RegionSchool Region = RegionSchool.Own, bool DataMayGo = false)
{
    /// <summary>Own region only, and the data is wanted.</summary>
    public static MatchPolicy Careful { get; } = new();
}

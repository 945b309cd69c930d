using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M06: software of another sales region works only as far as the shop's school lets it, and never keeps the data: its region
/// pack brings other preloaded apps and network settings.
/// </summary>
public sealed class M06Region : IMatchRule
{
    /// <summary>What a package calls its region when it is made for all of them.</summary>
    private const string All = "ALL";

    /// <inheritdoc/>
    public string Id => "M06";

    /// <inheritdoc/>
    public string Title => "Region";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Region];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var regions = c.Package.Says(FactName.Region);
        var makers = c.Package.Says(FactName.ModelCode).Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (regions.Contains(All) || (regions.Count == 0 && makers.Count > 0 && makers.All(maker => maker is { OneBuildForAllRegions: true })))
            return Judgement.Go("One build for all regions.");
        if (regions.Count == 0) return Judgement.Ask("The package does not say its region. Ask its source.");
        return Judging.Each(c.Phone[FactName.Region],
            Judgement.Ask($"The package is for {string.Join(" or ", regions)}, and the phone's region is not known. Read it in the settings, or on the box: 2 min."),
            region => JudgeRegion(c, region, regions));
    }

    private static Judgement JudgeRegion(MatchCase c, string region, IReadOnlyList<string> regions)
    {
        if (regions.Contains(region)) return Judgement.Go($"For {region}, the phone's own region.");
        var group = c.Catalogue.Region(region)?.Group;
        var isGroup = group is not null && regions.Any(other => c.Catalogue.Region(other)?.Group == group);
        var isAllowed = c.Policy.Region == RegionSchool.Any || (c.Policy.Region == RegionSchool.Group && isGroup);
        return isAllowed
            ? Judgement.Care($"For {string.Join(" or ", regions)}, the phone is of {region}: other preloaded apps and network settings, and the data must be erased.", needsCleanWrite: true)
            : Judgement.Stop($"For {string.Join(" or ", regions)}, the phone is of {region}. Stopped by shop rule: {c.Policy.Region.Label()}.");
    }
}

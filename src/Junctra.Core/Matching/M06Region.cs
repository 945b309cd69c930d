using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M06: software of another sales region works only as far as the shop's school lets it: its region pack brings other preloaded apps and
/// network settings, and asks for a clean write. Some makers' builds tell the group of regions and no more; the exact region then stays
/// open.
/// </summary>
public sealed class M06Region : IMatchRule
{
    /// <summary>What a package calls its region when it is made for all of them.</summary>
    private const string All = "ALL";

    private static readonly RuleSentence ForAll = RuleSentence.Go("One build for all regions.");
    private static readonly RuleSentence Own = RuleSentence.Go("For {region}, the phone's own region.");
    private static readonly RuleSentence OwnBackup = RuleSentence.Idle("A backup brings the region back that it was taken with.");
    private static readonly RuleSentence Other = RuleSentence
        .Care("For {theirs}, the phone is of {ours}: other preloaded apps and network settings, and the data must be erased.")
        .Costing(ConsequenceKind.RegionApps, "Preloaded apps and network settings become those of {theirs}.")
        .Costing(ConsequenceKind.CleanWrite, "Everything on the phone is erased.");
    private static readonly RuleSentence OtherSingle = RuleSentence
        .Care(
            "For {theirs}, the phone is of {ours}: other preloaded apps and network settings. A single bundle has no clean pack: the data is not promised, and a wipe may follow."
        )
        .Costing(ConsequenceKind.RegionApps, "Preloaded apps and network settings become those of {theirs}.")
        .Costing(ConsequenceKind.DataNotPromised, "The data may have to be erased afterwards.");
    private static readonly RuleSentence SameGroup = RuleSentence
        .Care(
            "It says that it is for the group {group} and no more; the phone is of that group. Preloaded apps and network settings may be another region's."
        )
        .Costing(ConsequenceKind.RegionApps, "Preloaded apps and network settings may become those of another region of {group}.")
        .Costing(ConsequenceKind.DataNotPromised, "The data may have to be erased afterwards.");
    private static readonly RuleSentence Silent = RuleSentence.Ask("The package does not say its region. Ask its source.");
    private static readonly RuleSentence GroupOnly = RuleSentence.Ask(
        "It says that it is for the group {group}, to which the phone belongs, and no more; the shop rule is {school}. Ask its source for which region it was sent out."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask(
        "The package is for {theirs}, and the phone's region is not known. {how}"
    );
    private static readonly RuleSentence Doubt = RuleSentence.Ask(
        "The phone's region is noted as {region}, and its build is for the group {group}. Find out which is right: the board or the shell may be of another phone."
    );
    private static readonly RuleSentence NotByShop = RuleSentence.Stop(
        "For {theirs}, the phone is of {ours}. Stopped by shop rule: {school}."
    );
    private static readonly RuleSentence NotByShopOneLetter = RuleSentence.Stop(
        "For {theirs}, the phone is of {ours}: the codes differ in one letter only. Stopped by shop rule: {school}."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Region;

    /// <inheritdoc/>
    public string Title => "Region";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Region, FactName.RegionGroup];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [ForAll, Own, OwnBackup, Other, OtherSingle, SameGroup, Silent, GroupOnly, Unknown, Doubt, NotByShop, NotByShopOneLetter];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind.Traits().IsOfOnePhone)
            return OwnBackup.With();
        var regions = c.Says(FactName.Region);
        var groups = c.Says(FactName.RegionGroup);
        var makers = c.Says(FactName.ModelCode).Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (
            (regions.Count > 0 && regions.All(code => code == All))
            || (
                regions.Count == 0 && groups.Count == 0 && makers.Count > 0 && makers.All(maker => maker is { OneBuildForAllRegions: true })
            )
        )
            return ForAll.With();
        if (regions.Count == 0 && groups.Count == 0)
            return Silent.With();
        var region = c.Phone[FactName.Region];
        if (region.State == FactState.Unknown)
        {
            return Judging.Each(
                c.Phone[FactName.RegionGroup],
                () => Unknown.With(Judging.Or(regions.Count > 0 ? regions : groups), c.HowToRead(FactName.Region)),
                group => JudgeGroup(c, group, regions, groups)
            );
        }

        var judged = Judging.Each(
            region,
            () => Silent.With(),
            code => regions.Count > 0 ? JudgeRegion(c, code, regions) : JudgeGroups(c, c.Catalogue.Region(code)?.Group, code, groups)
        );
        var other = c.Phone[FactName.RegionGroup]
            .Values.FirstOrDefault(group =>
                region.Values.Any(code =>
                    c.Catalogue.Region(code) is { } known && !known.Group.Equals(group, StringComparison.OrdinalIgnoreCase)
                )
            );
        return other is null ? judged : Judging.AtLeastAsk(judged, () => Doubt.With(Judging.Or(region.Values), other));
    }

    private static Judgement JudgeRegion(MatchCase c, string region, IReadOnlyList<string> regions)
    {
        if (regions.Contains(region))
            return Own.With(region);
        var group = c.Catalogue.Region(region)?.Group;
        var isGroup = group is not null && regions.Any(other => c.Catalogue.Region(other)?.Group == group);
        return Beyond(
            c,
            Judging.Or(regions),
            region,
            isGroup,
            regions.Any(other => other.Length == region.Length && Codes.Distance(other, region) <= 1)
        );
    }

    /// <summary>The phone's region is known by its group alone.</summary>
    private static Judgement JudgeGroup(MatchCase c, string ours, IReadOnlyList<string> regions, IReadOnlyList<string> groups) =>
        regions.Count == 0 ? JudgeGroups(c, ours, ours, groups)
        : regions.Any(code => c.Catalogue.Region(code)?.Group == ours) ? Unknown.With(Judging.Or(regions), c.HowToRead(FactName.Region))
        : Beyond(c, Judging.Or(regions), ours, isGroup: false, isOneLetter: false);

    /// <summary>The package's region is known by its group alone.</summary>
    private static Judgement JudgeGroups(MatchCase c, string? ours, string phone, IReadOnlyList<string> groups)
    {
        var isOurs = ours is not null && groups.Contains(ours, StringComparer.OrdinalIgnoreCase);
        if (!isOurs)
            return Beyond(c, Judging.Or(groups), phone, isGroup: false, isOneLetter: false);
        return c.Policy.Region == RegionSchool.Own ? GroupOnly.With(ours!, c.Policy.Region.Label()) : SameGroup.With(ours!);
    }

    private static Judgement Beyond(MatchCase c, string theirs, string ours, bool isGroup, bool isOneLetter)
    {
        var isAllowed = c.Policy.Region == RegionSchool.Any || (c.Policy.Region == RegionSchool.Group && isGroup);
        if (isAllowed)
            return (c.Package.Kind.Traits() is { IsBundle: true, HasRegionPacks: false } ? OtherSingle : Other).With(theirs, ours);
        return (isOneLetter ? NotByShopOneLetter : NotByShop).With(theirs, ours, c.Policy.Region.Label());
    }
}

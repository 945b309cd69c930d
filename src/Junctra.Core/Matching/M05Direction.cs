using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M05: an older system cannot start on the data of a newer one, and some makers forbid going back at all. Compared are build
/// strings by the maker's own order, OS versions and patch levels; if any of them goes back, the package does.
/// </summary>
public sealed class M05Direction : IMatchRule
{
    /// <summary>How a package lies to what a phone has; worse is higher.</summary>
    private enum Direction
    {
        Same,
        Newer,
        Unclear,
        Older,
    }

    private static readonly RuleSentence Rewrite = RuleSentence.Go("The build that is on the phone already: a rewrite.");
    private static readonly RuleSentence Newer = RuleSentence.Go("Newer than what is on the phone.");
    private static readonly RuleSentence NotOlder = RuleSentence.Go("Not older than what is on the phone.");
    private static readonly RuleSentence OwnBackup = RuleSentence.Idle("A backup goes back by its nature, with the data of its day.");
    private static readonly RuleSentence CustomGoes = RuleSentence.Go(
        "What runs now is not the maker's, and goes with its data: there is no older or newer."
    );
    private static readonly RuleSentence CustomStays = RuleSentence
        .Care(
            "What runs now is not the maker's, so older or newer cannot be told: the phone may loop on the data that stays, and need a wipe."
        )
        .Costing(ConsequenceKind.DataNotPromised, "If the phone loops on the data that stayed, the data must be erased.");
    private static readonly RuleSentence NotTold = RuleSentence
        .Care("The phone does not tell its build, so older or newer cannot be told: it may loop on the data that stays, and need a wipe.")
        .Costing(ConsequenceKind.DataNotPromised, "If the phone loops on the data that stayed, the data must be erased.");
    private static readonly RuleSentence Older = RuleSentence
        .Care("Older than what is on the phone: it cannot start on data of a newer system, so the data must be erased.")
        .Costing(ConsequenceKind.CleanWrite, "Everything on the phone is erased.");
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "The package says neither its build nor its OS version. Ask its source, or look for its build line."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The build on the phone is not known. {how}");
    private static readonly RuleSentence Unread = RuleSentence.Ask(
        "The phone's build {build} is read by no maker's grammar, and whether its system is the maker's is not known for certain. {how}"
    );
    private static readonly RuleSentence MayBeForbidden = RuleSentence.Ask(
        "This maker's phones refuse an older system, and what this one has or had of its maker's is not known, so older or newer cannot be told. {how}"
    );
    private static readonly RuleSentence UnknownMaker = RuleSentence.Ask(
        "Whether its maker forbids going back is not known before its model code is. {how}"
    );
    private static readonly RuleSentence ForbiddenByBound = RuleSentence.Stop(
        "Older than {build}, which this phone has had, and this maker forbids going back."
    );
    private static readonly RuleSentence Forbidden = RuleSentence.Stop(
        "Older than what is on the phone, and this maker forbids going back."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Direction;

    /// <inheritdoc/>
    public string Title => "Direction";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [
        FactName.Build,
        FactName.OsVersion,
        FactName.SecurityPatch,
        FactName.DeviceStatus,
        FactName.ModelCode,
        FactName.Serial,
        FactName.LastGoodBuild,
    ];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) => c.Phone.Earlier.Where(fact => fact.Name == FactName.Build);

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        Rewrite,
        Newer,
        NotOlder,
        OwnBackup,
        CustomGoes,
        CustomStays,
        NotTold,
        Older,
        Silent,
        Unknown,
        Unread,
        MayBeForbidden,
        UnknownMaker,
        Forbidden,
        ForbiddenByBound,
    ];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind.Traits().IsOfOnePhone)
            return OwnBackup.With();
        var (build, os, patch) = (c.Phone[FactName.Build], c.Phone[FactName.OsVersion], c.Phone[FactName.SecurityPatch]);
        var byBuild = Worst(build, value => OfBuild(c, value));
        var byOs = Worst(os, value => Compare(c.Package.Says(FactName.OsVersion), value));
        var byPatch = Worst(patch, value => Compare(c.Package.Says(FactName.SecurityPatch), value));

        if (Forbids(c) && HadNewer(c) is { } had)
            return ForbiddenByBound.With(had);
        var judgement =
            byBuild == Direction.Older || byOs == Direction.Older || byPatch == Direction.Older ? JudgeOlder(c)
            : byBuild == Direction.Same ? Rewrite.With()
            : byBuild == Direction.Newer || byOs == Direction.Newer ? Newer.With()
            : byOs == Direction.Same && byPatch is Direction.Same or Direction.Newer ? NotOlder.With()
            : JudgeUnclear(c, build);
        var disputed = new[] { build, os, patch }.FirstOrDefault(fact => fact.State == FactState.Conflicting);
        return disputed is null ? judgement : Judging.AtLeastAsk(judgement, () => Judging.Disagreement(disputed));
    }

    private static Judgement JudgeOlder(MatchCase c) => Forbids(c) ? Forbidden.With() : Older.With();

    private static bool Forbids(MatchCase c) =>
        c.Phone[FactName.ModelCode].Values.Any(code => c.Catalogue.MakerOf(code) is { ForbidsOlder: true });

    /// <summary>
    /// A build that this phone had before, and that the package is older than; null where none is known. What a maker forbids is held
    /// against all that ever ran.
    /// </summary>
    private static string? HadNewer(MatchCase c) =>
        c
            .Phone.Ever(FactName.Build)
            .Concat(c.Phone.Ever(FactName.LastGoodBuild))
            .Select(fact => fact.Value)
            .FirstOrDefault(value => OfBuild(c, value) == Direction.Older);

    private static Judgement JudgeUnclear(MatchCase c, ResolvedFact build)
    {
        if (c.Package.Build is null && c.Package.Says(FactName.OsVersion).Count == 0)
            return Silent.With();
        // What data may go does not lift: a maker that forbids going back does so on a custom system too, and a phone that does not tell
        // has told nothing.
        if (c.Phone[FactName.ModelCode].Values.All(code => c.Catalogue.MakerOf(code) is null))
            return UnknownMaker.With(c.HowToRead(FactName.ModelCode));
        if (Forbids(c))
            return MayBeForbidden.With(c.HowToRead(FactName.Build));
        var unread = build.Claims.FirstOrDefault(claim => c.Catalogue.ReadBuild(claim.Value) is null);
        var status = c.Phone[FactName.DeviceStatus];
        // What the phone itself tells is no slip of somebody's pen: a build that is none of its maker's is somebody else's, unless it is
        // called official elsewhere.
        if (
            c.Phone.Of(FactName.DeviceStatus).MayBe(DeviceStatus.Custom)
            || status.State == FactState.Unknown && unread is { Source: FactSource.Link }
        )
            return c.Policy.DataMayGo ? CustomGoes.With() : CustomStays.With();

        if (unread is not null)
            return Unread.With(unread.Value, c.HowToRead(FactName.DeviceStatus));

        // A bootloader that was asked and does not tell has said all it can; nobody is sent to ask it again.
        var wasAsked = c.Phone[FactName.Serial].Claims.Any(fact => fact.Source == FactSource.Link);
        return wasAsked ? NotTold.With() : Unknown.With(c.HowToRead(FactName.Build));
    }

    private static Direction OfBuild(MatchCase c, string value)
    {
        if (c.Package.Build is not { } theirs || c.Catalogue.ReadBuild(value) is not { } ours)
            return Direction.Unclear;
        if (theirs.Build.Equals(ours.Build, StringComparison.OrdinalIgnoreCase))
            return Direction.Same;
        var order = c.Catalogue.Makers.First(maker => maker.Name == ours.Maker).Grammar.Compare(theirs, ours);
        return order switch
        {
            null => Direction.Unclear,
            < 0 => Direction.Older,
            _ => Direction.Newer,
        };
    }

    private static Direction Compare(IReadOnlyList<string> theirs, string ours) =>
        theirs.Count == 0
            ? Direction.Unclear
            : theirs
                // A boot header says “2” of what a build string calls 2.6.118: the same, and less.
                .Where(value => !theirs.Any(other => IsCoarser(value, other)))
                .Select(value =>
                    IsCoarser(value, ours)
                        ? Direction.Unclear
                        : VersionOrder.Compare(value, ours) switch
                        {
                            null => Direction.Unclear,
                            < 0 => Direction.Older,
                            0 => Direction.Same,
                            _ => Direction.Newer,
                        }
                )
                .Max();

    private static bool IsCoarser(string version, string than) => than.StartsWith(version + ".", StringComparison.OrdinalIgnoreCase);

    private static Direction Worst(ResolvedFact fact, Func<string, Direction> of) =>
        fact.State == FactState.Unknown ? Direction.Unclear : fact.Values.Select(of).Max();
}

using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M16: the version that the customer, or a later step, asks for.</summary>
public sealed class M16Wish : IMatchRule
{
    private static readonly RuleSentence NoWish = RuleSentence.Idle("No version was asked for.");
    private static readonly RuleSentence Newest = RuleSentence.Go("No newer build for this model and region lies in the library.");
    private static readonly RuleSentence Exact = RuleSentence.Go("It is {version}, as asked for.");
    private static readonly RuleSentence NotAbove = RuleSentence.Go("It is not above {version}, as asked for.");
    private static readonly RuleSentence Same = RuleSentence.Go("Revision {revision}, the one that the phone has, as asked for.");
    private static readonly RuleSentence NoFuses = RuleSentence.Idle(
        "This maker's phones have no rollback fuses; the revision does not matter."
    );
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "{version} was asked for, and the package does not say its {what}. Ask its source."
    );
    private static readonly RuleSentence NoLibrary = RuleSentence.Ask(
        "The newest was asked for, and what else there is was not looked at. Find out in the library."
    );
    private static readonly RuleSentence NoOrder = RuleSentence.Ask(
        "Nothing above {version} was asked for, and {build} cannot be put in order with it. Say the OS version, or a build of this model."
    );
    private static readonly RuleSentence UnknownRevision = RuleSentence.Ask(
        "The phone's own bootloader revision was asked for, and it is not known. {how}"
    );
    private static readonly RuleSentence NotNewest = RuleSentence.Stop("The newest was asked for, and {newer} is newer. Stopped by wish.");
    private static readonly RuleSentence NotExact = RuleSentence.Stop("{version} was asked for, and it is {build}. Stopped by wish.");
    private static readonly RuleSentence Above = RuleSentence.Stop(
        "Nothing above {version} was asked for, and it is {build}. Stopped by wish."
    );
    private static readonly RuleSentence OtherRevision = RuleSentence.Stop(
        "The phone's own bootloader revision, {ours}, was asked for, and it has {revision}. Stopped by wish."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Wish;

    /// <inheritdoc/>
    public string Title => "Wish";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [FactName.RollbackFloor, FactName.BootloaderRevision, FactName.ModelCode, FactName.Build, FactName.LastGoodBuild];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) =>
        c.Policy.Wish.Kind == WishKind.SameRevision ? RollbackFloor.Of(c.Phone, c.Catalogue).Facts : [];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        NoWish,
        Newest,
        Exact,
        NotAbove,
        Same,
        NoFuses,
        Silent,
        NoLibrary,
        NoOrder,
        UnknownRevision,
        NotNewest,
        NotExact,
        Above,
        OtherRevision,
    ];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c) =>
        c.Policy.Wish.Kind switch
        {
            WishKind.Newest => c.Package.Build is null ? Silent.With("The newest", "build")
            : c.Around is null ? NoLibrary.With()
            : c.Around.NewerThan(c.Package) is { } newer ? NotNewest.With(newer.Title)
            : Newest.With(),
            WishKind.Exactly => JudgeExactly(c, c.Policy.Wish.Version),
            WishKind.NotAbove => JudgeNotAbove(c, c.Policy.Wish.Version),
            WishKind.SameRevision => JudgeRevision(c),
            _ => NoWish.With(),
        };

    private static Judgement JudgeExactly(MatchCase c, string version)
    {
        if (c.Catalogue.ReadBuild(version) is { } wanted)
        {
            if (c.Package.Build is not { } build)
                return Silent.With(version, "build");
            return build.Build.Equals(wanted.Build, StringComparison.OrdinalIgnoreCase)
                ? Exact.With(version)
                : NotExact.With(version, build.Build);
        }

        var says = c.Package.Says(FactName.OsVersion);
        if (says.Count == 0)
            return Silent.With($"OS version {version}", "OS version");
        // 14 asks for any 14; 14.2 for that one.
        return says.All(os =>
            os.Equals(version, StringComparison.OrdinalIgnoreCase) || os.StartsWith(version + ".", StringComparison.OrdinalIgnoreCase)
        )
            ? Exact.With($"OS version {version}")
            : NotExact.With($"OS version {version}", Judging.Or(says));
    }

    private static Judgement JudgeNotAbove(MatchCase c, string version)
    {
        if (c.Catalogue.ReadBuild(version) is { } highest)
        {
            if (c.Package.Build is not { } build)
                return Silent.With(version, "build");
            var order = c.Catalogue.Makers.First(maker => maker.Name == highest.Maker).Grammar.Compare(build, highest);
            return order is null ? NoOrder.With(version, build.Build)
                : order > 0 ? Above.With(version, build.Build)
                : NotAbove.With(version);
        }

        var says = c.Package.Says(FactName.OsVersion);
        if (says.Count == 0)
            return Silent.With($"OS version {version}", "OS version");
        // A whole version takes in all that follows its point.
        var orders = says.Select(os =>
                os.StartsWith(version + ".", StringComparison.OrdinalIgnoreCase) ? 0 : VersionOrder.Compare(os, version)
            )
            .ToList();
        return orders.Any(order => order > 0) ? Above.With($"OS version {version}", Judging.Or(says))
            : orders.Any(order => order is null) ? NoOrder.With($"OS version {version}", Judging.Or(says))
            : NotAbove.With($"OS version {version}");
    }

    private static Judgement JudgeRevision(MatchCase c)
    {
        var makers = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (makers.Count > 0 && makers.All(maker => maker is { HasRollbackFuses: false }))
            return NoFuses.With();
        var revisions = c.Package.Revisions;
        if (revisions.Count == 0)
            return Silent.With("The phone's own bootloader revision", "revision");
        var floor = RollbackFloor.Of(c.Phone, c.Catalogue);
        // A lower bound shuts out what is below it; only a floor that was read says which revision is the phone's own.
        if (floor.AtLeast is { } bound && revisions.Any(revision => revision < bound))
            return OtherRevision.With($"at least {bound}", Judging.Or(revisions.Select(r => $"{r}")));
        if (floor.Exact.Count == 0)
            return UnknownRevision.With(c.HowToRead(FactName.RollbackFloor));
        var worst = floor
            .Exact.Select(ours =>
                revisions.All(revision => revision == ours)
                    ? Same.With(ours)
                    : OtherRevision.With(ours, Judging.Or(revisions.Select(r => $"{r}")))
            )
            .MaxBy(judgement => judgement.Verdict);
        return floor.IsConflicting ? Judging.AtLeastAsk(worst, () => UnknownRevision.With(c.HowToRead(FactName.RollbackFloor))) : worst;
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M04: a boot chain below the rollback floor is refused for ever; one above it raises the floor for ever. Only a floor
/// read from the bootloader allows a write; anything else is a lower bound that can forbid one.
/// </summary>
public sealed class M04Revision : IMatchRule
{
    private static readonly RuleSentence NoFuses = RuleSentence.Idle("Not applicable: this maker's phones have no rollback fuses.");
    private static readonly RuleSentence Same = RuleSentence.Go("Revision {revision}, the same as the floor.");
    private static readonly RuleSentence Raises = RuleSentence
        .Care("Raises the floor from {floor} to {revision} for ever: no older revision can be written after this.")
        .Costing(
            ConsequenceKind.OneWayRevision,
            "The lowest bootloader revision that the phone takes rises from {floor} to {revision}, and never falls again."
        );
    private static readonly RuleSentence RaisesDoubled = RuleSentence
        .Care(
            "Raises the floor from {floor} to {revision} for ever. {revision} reads like {floor} written twice: look at the build string once more before."
        )
        .Costing(
            ConsequenceKind.OneWayRevision,
            "The lowest bootloader revision that the phone takes rises from {floor} to {revision}, and never falls again."
        );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The rollback floor is not known. {how}");
    private static readonly RuleSentence BoundOnly = RuleSentence.Ask(
        "The floor is at least {bound}, but has not been read from the bootloader since the last write. {how}"
    );
    private static readonly RuleSentence Disagree = RuleSentence.Ask(
        "The readings of the floor disagree: {readings}. Read it again, and withdraw the wrong one."
    );
    private static readonly RuleSentence Silent = RuleSentence.Ask(
        "The package does not say its bootloader revision. Read it from the header of the boot chain, or from the requirement lines."
    );
    private static readonly RuleSentence Contradicts = RuleSentence.Ask(
        "The package contradicts itself on its revision: {revisions}. Do not write it before its source has said which."
    );
    private static readonly RuleSentence Below = RuleSentence.Stop(
        "Revision {revision} is below the floor {floor}. It would be refused half way, and the phone may not start."
    );
    private static readonly RuleSentence BelowBound = RuleSentence.Stop(
        "Revision {revision} is below {bound}, which this phone has had ({source}): the floor never falls. It would be refused half way, and the phone may not start."
    );
    private static readonly RuleSentence NotByShop = RuleSentence.Stop(
        "It would raise the floor from {floor} to {revision} for ever. Stopped by shop rule: {school}."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Revision;

    /// <inheritdoc/>
    public string Title => "Revision";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [FactName.RollbackFloor, FactName.BootloaderRevision, FactName.ModelCode, FactName.Build, FactName.LastGoodBuild];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) => RollbackFloor.Of(c.Phone, c.Catalogue).Facts;

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [NoFuses, Same, Raises, RaisesDoubled, Unknown, BoundOnly, Disagree, Silent, Contradicts, Below, BelowBound, NotByShop];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        // Whether fuses exist is known by the maker; where the model is open, it is assumed that they do.
        var makers = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (makers.Count > 0 && makers.All(maker => maker is { HasRollbackFuses: false }))
            return NoFuses.With();

        var revisions = c.Package.Revisions;
        if (revisions.Count == 0)
            return Silent.With();
        var floor = RollbackFloor.Of(c.Phone, c.Catalogue);
        var worst = revisions.Select(revision => JudgeRevision(c, revision, floor)).MaxBy(judgement => judgement.Verdict);
        if (revisions.Count > 1)
            worst = Judging.AtLeastAsk(worst, () => Contradicts.With(string.Join(" and ", revisions)));
        return floor.IsConflicting ? Judging.AtLeastAsk(worst, () => Disagree.With(Readings(floor))) : worst;
    }

    private static Judgement JudgeRevision(MatchCase c, Revision revision, RollbackFloor floor)
    {
        if (floor.Highest is not { } lowest)
            return Unknown.With(c.HowToRead(FactName.RollbackFloor));
        if (revision < lowest)
            return floor.Exact.Contains(lowest) ? Below.With(revision, lowest) : BelowBound.With(revision, lowest, Source(floor.Bound!));
        if (floor.Exact.Count == 0)
            return BoundOnly.With(lowest, c.HowToRead(FactName.RollbackFloor));
        if (revision == lowest)
            return Same.With(revision);
        if (c.Policy.Revision == RevisionSchool.Never)
            return NotByShop.With(lowest, revision, Schools.Find("revision")!.Of(c.Policy).Label);
        return (revision.ToString() == $"{lowest}{lowest}" ? RaisesDoubled : Raises).With(lowest, revision);
    }

    private static string Source(Fact bound) =>
        bound.Name == FactName.RollbackFloor || bound.Name == FactName.BootloaderRevision
            ? bound.Source.Label()
            : $"{bound.Name.LabelInText} {bound.Value}, {bound.Source.Label()}";

    private static string Readings(RollbackFloor floor) =>
        string.Join(", ", floor.Facts.Select(f => $"{f.Name.Label.ToLowerInvariant()} {f.Value} ({f.Source.Label()})"));
}

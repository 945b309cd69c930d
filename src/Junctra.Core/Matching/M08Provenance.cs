using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// M08: what the maker sent out is expected to start; a pre-release may, and what somebody changed is only for a phone that keeps its root.
/// </summary>
public sealed class M08Provenance : IMatchRule
{
    private static readonly RuleSentence Official = RuleSentence.Go(
        "It is as its publisher sent it out, by a digest from {by}, and nothing calls it a pre-release."
    );
    private static readonly RuleSentence Backup = RuleSentence.Idle("A backup is nobody's release; whose it is, the rule Backup judges.");
    private static readonly RuleSentence PreRelease = RuleSentence
        .Care("It calls itself a pre-release: it may work, and faults in it are nobody's promise.")
        .Costing(ConsequenceKind.NotProven, "Faults of a pre-release are nobody's promise.");
    private static readonly RuleSentence Unknown = RuleSentence
        .Care("No digest from a source that the shop trusts says whose it is; a list that came with it proves only that it is whole.")
        .Costing(ConsequenceKind.NotProven, "Whose package it is cannot be proved.");
    private static readonly RuleSentence Patched = RuleSentence
        .Care("Somebody changed it after the maker, so that root stays.")
        .Costing(
            ConsequenceKind.Warranty,
            "The phone goes on with changed software: its tamper mark, where it has one, is or will be set, and the maker may owe nothing more."
        );
    private static readonly RuleSentence PatchedOtherwise = RuleSentence.Stop(
        "Somebody changed it after the maker. It is only for an update that keeps root, and this job is for {goal}."
    );
    private static readonly RuleSentence Twin = RuleSentence.Ask(
        "Another file of this build, {other}, has other bytes for {images}: one of the two is not its maker's. Ask for a digest from a source that the shop trusts."
    );
    private static readonly RuleSentence Impostor = RuleSentence.Stop(
        "It calls itself the build of {other}, which is proved to be its maker's, and has other bytes for {images}."
    );
    private static readonly RuleSentence NoPreRelease = RuleSentence.Stop("It calls itself a pre-release. Stopped by shop rule: {school}.");
    private static readonly RuleSentence NoUnknown = RuleSentence.Stop("Whose it is cannot be proved. Stopped by shop rule: {school}.");

    /// <inheritdoc/>
    public RuleId Id => RuleId.Origin;

    /// <inheritdoc/>
    public string Title => "Origin";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [Official, Backup, PreRelease, Unknown, Patched, PatchedOtherwise, Twin, Impostor, NoPreRelease, NoUnknown];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Kind.Traits().IsOfOnePhone)
            return Backup.With();
        var school = Schools.Find("origin")!.Of(c.Policy).Label;
        if (c.Package.Provenance is Provenance.Unknown or Provenance.PreRelease && c.Around?.OtherOf(c.Package) is { } other)
        {
            var images = string.Join(", ", other.Images.Take(4));
            if (other.Package.Contents.IsProven)
                return Impostor.With(other.Package.FileName, images);
            return
                c.Policy.Origin == OriginSchool.Any
                || c.Package.Provenance == Provenance.PreRelease && c.Policy.Origin == OriginSchool.Known
                ? Twin.With(other.Package.FileName, images)
                : (c.Package.Provenance == Provenance.PreRelease ? NoPreRelease : NoUnknown).With(school);
        }

        return c.Package.Provenance switch
        {
            Provenance.Official => Official.With(c.Package.Contents.PublishedBy!),
            Provenance.Patched when c.Policy.Goal != JobGoal.KeepRoot => PatchedOtherwise.With(c.Policy.Goal.Label()),
            Provenance.Patched => Patched.With(),
            Provenance.PreRelease => c.Policy.Origin == OriginSchool.Official ? NoPreRelease.With(school) : PreRelease.With(),
            _ => c.Policy.Origin == OriginSchool.Any ? Unknown.With() : NoUnknown.With(school),
        };
    }
}

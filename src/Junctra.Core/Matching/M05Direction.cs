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

    /// <inheritdoc/>
    public string Id => "M05";

    /// <inheritdoc/>
    public string Title => "Direction";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Build, FactName.OsVersion, FactName.SecurityPatch, FactName.DeviceStatus];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var (build, os, patch) = (c.Phone[FactName.Build], c.Phone[FactName.OsVersion], c.Phone[FactName.SecurityPatch]);
        var byBuild = Worst(build, value => OfBuild(c, value));
        var byOs = Worst(os, value => Compare(c.Package.Says(FactName.OsVersion), value));
        var byPatch = Worst(patch, value => Compare(c.Package.Says(FactName.SecurityPatch), value));

        var judgement =
            byBuild == Direction.Older || byOs == Direction.Older || byPatch == Direction.Older ? JudgeOlder(c)
            : byBuild == Direction.Same ? Judgement.Go("The build that is on the phone already: a rewrite.")
            : byBuild == Direction.Newer || byOs == Direction.Newer ? Judgement.Go("Newer than what is on the phone.")
            : byOs == Direction.Same && byPatch is Direction.Same or Direction.Newer ? Judgement.Go("Not older than what is on the phone.")
            : JudgeUnclear(c, build);
        var disputed = new[] { build, os, patch }.FirstOrDefault(fact => fact.State == FactState.Conflicting);
        return disputed is null ? judgement : Judging.AtLeastAsk(judgement, Judging.Disagreement(disputed));
    }

    private static Judgement JudgeOlder(MatchCase c) =>
        c.Phone[FactName.ModelCode].Values.Any(code => c.Catalogue.MakerOf(code) is { ForbidsOlder: true })
            ? Judgement.Stop("Older than what is on the phone, and this maker forbids going back.")
            : Judgement.Care("Older than what is on the phone: it cannot start on data of a newer system, so the data must be erased.", needsCleanWrite: true);

    private static Judgement JudgeUnclear(MatchCase c, ResolvedFact build)
    {
        if (c.Package.Build is null && c.Package.Says(FactName.OsVersion).Count == 0)
            return Judgement.Ask("The package says neither its build nor its OS version. Ask its source, or look for its build line.");
        var isCustom = c.Phone[FactName.DeviceStatus].Values.Contains("custom") || build.Values.Any(value => c.Catalogue.ReadBuild(value) is null);
        if (isCustom)
        {
            return c.Policy.DataMayGo
                ? Judgement.Go("What runs now is not the maker's, and goes with its data: there is no older or newer.")
                : Judgement.Care("What runs now is not the maker's, so older or newer cannot be told: the phone may loop on the data that stays, and need a wipe.");
        }

        // A bootloader that was asked and does not tell has said all it can; nobody is sent to ask it again.
        var wasAsked = c.Phone[FactName.Serial].Claims.Any(fact => fact.Source == FactSource.Link);
        return wasAsked
            ? Judgement.Care("The phone does not tell its build, so older or newer cannot be told: it may loop on the data that stays, and need a wipe.")
            : Judgement.Ask("The build on the phone is not known. Read it over the link or in the settings: 1 min.");
    }

    private static Direction OfBuild(MatchCase c, string value)
    {
        if (c.Package.Build is not { } theirs || c.Catalogue.ReadBuild(value) is not { } ours) return Direction.Unclear;
        if (theirs.Build.Equals(ours.Build, StringComparison.OrdinalIgnoreCase)) return Direction.Same;
        var order = c.Catalogue.Makers.First(maker => maker.Name == ours.Maker).Grammar.Compare(theirs, ours);
        return order switch { null => Direction.Unclear, < 0 => Direction.Older, _ => Direction.Newer };
    }

    private static Direction Compare(IReadOnlyList<string> theirs, string ours) => theirs.Count == 0
        ? Direction.Unclear
        : theirs.Select(value => VersionOrder.Compare(value, ours) switch { null => Direction.Unclear, < 0 => Direction.Older, 0 => Direction.Same, _ => Direction.Newer }).Max();

    private static Direction Worst(ResolvedFact fact, Func<string, Direction> of) =>
        fact.State == FactState.Unknown ? Direction.Unclear : fact.Values.Select(of).Max();
}

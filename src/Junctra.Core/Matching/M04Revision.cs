using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M04: a boot chain below the rollback floor is refused for ever; one above it raises the floor for ever. Only a floor
/// read from the bootloader allows a write; anything else is a lower bound that can forbid one.
/// </summary>
public sealed class M04Revision : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M04";

    /// <inheritdoc/>
    public string Title => "Revision";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.RollbackFloor, FactName.BootloaderRevision];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        // Whether fuses exist is known by the maker; where the model is open, it is assumed that they do.
        var makers = c.Phone[FactName.ModelCode].Values.Select(code => c.Catalogue.MakerOf(code)).ToList();
        if (makers.Count > 0 && makers.All(maker => maker is { HasRollbackFuses: false }))
            return Judgement.Go("Not applicable: this maker's phones have no rollback fuses.");

        var revisions = c.Package.Revisions;
        if (revisions.Count == 0)
            return Judgement.Ask("The package does not say its bootloader revision. Read it from the header of the boot chain, or from the requirement lines.");

        var floor = RollbackFloor.Of(c.Phone);
        var worst = revisions.Select(revision => JudgeRevision(revision, floor)).MaxBy(judgement => judgement.Verdict);
        if (revisions.Count > 1) worst = Judging.AtLeastAsk(worst, $"The package contradicts itself on its revision: {string.Join(" and ", revisions)}. Do not write it before its source has said which.");
        return floor.IsConflicting ? Judging.AtLeastAsk(worst, Disagreement(floor)) : worst;
    }

    private static Judgement JudgeRevision(int revision, RollbackFloor floor)
    {
        var highest = floor.Exact.Count > 0 ? Math.Max(floor.Exact[^1], floor.AtLeast ?? 0) : floor.AtLeast;
        if (highest is null)
            return Judgement.Ask("The rollback floor is not known. Bring the phone into its bootloader and read it over the link: 2 min.");
        if (revision < highest)
            return Judgement.Stop($"Revision {revision} is below the floor {highest}. It would be refused half way, and the phone may not start.");
        if (floor.Exact.Count == 0)
            return Judgement.Ask($"The floor is at least {floor.AtLeast}, but has not been read from the bootloader since the last write. Read it over the link: 2 min.");
        return revision == highest
            ? Judgement.Go($"Revision {revision}, the same as the floor.")
            : Judgement.Care($"Raises the floor from {highest} to {revision} for ever: no older revision can be written after this.");
    }

    private static string Disagreement(RollbackFloor floor) =>
        $"The readings of the floor disagree: {string.Join(", ", floor.Facts.Select(f => $"{f.Name.Label.ToLowerInvariant()} {f.Value} ({f.Source.Label()})"))}. Read it again, and withdraw the wrong one.";
}

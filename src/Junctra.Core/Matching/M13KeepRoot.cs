using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// M13: an update that keeps root writes a part that the phone's own root manager patched in place of the maker's. The part must come from
/// the same build as the rest (by the digests of the images that both have), must have been patched by the manager's own version, and goes
/// with the keep-data region pack.
/// </summary>
public sealed class M13KeepRoot : IMatchRule
{
    private static readonly RuleSentence NotWanted = RuleSentence.Idle("Root is not to be kept.");
    private static readonly RuleSentence Derived = RuleSentence.Go(
        "Made from {rest} by root manager {version}, the one on the phone; it goes with the keep-data pack."
    );
    private static readonly RuleSentence TakesRoot = RuleSentence
        .Care("As it is, it takes root away. Have the root manager on the phone patch its system part first, and take that copy in.")
        .Costing(ConsequenceKind.RootLost, "Root is lost, unless a part that was patched on the phone is written instead.");
    private static readonly RuleSentence UnknownManager = RuleSentence.Ask(
        "It was patched by root manager {version}, and the version on the phone is not known. {how}"
    );
    private static readonly RuleSentence NoVersion = RuleSentence.Stop("It does not say which version of the root manager patched it.");
    private static readonly RuleSentence NoLineage = RuleSentence.Stop(
        "No bundle in the library shares an image with it, so from which build it was made cannot be proved."
    );
    private static readonly RuleSentence OtherVersion = RuleSentence.Stop(
        "It was patched by root manager {theirs}; the phone has {ours}. Patch it anew on the phone."
    );
    private static readonly RuleSentence NotWhole = RuleSentence.Stop(
        "The rest of its build, {rest}, is not whole: without every part of it nothing can go with the patched one."
    );
    private static readonly RuleSentence OtherImages = RuleSentence.Stop(
        "Its images for {images} are neither those of {rest} nor ones that a root manager patches: from where they come is not known."
    );
    private static readonly RuleSentence NoKeepPack = RuleSentence.Stop(
        "The rest of its build, {rest}, has no keep-data pack: root would be lost with the data."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.KeepRoot;

    /// <inheritdoc/>
    public string Title => "Root";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.RootManager];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [NotWanted, Derived, TakesRoot, UnknownManager, NoVersion, NoLineage, OtherVersion, NotWhole, OtherImages, NoKeepPack];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Policy.Goal != JobGoal.KeepRoot)
            return NotWanted.With();
        if (c.Package.Provenance != Provenance.Patched)
            return TakesRoot.With();
        if (c.Package.PatchedWith is not { } version)
            return NoVersion.With();
        if (c.Around?.OriginOf(c.Package) is not { } origin)
            return NoLineage.With();
        var foreign = origin
            .Changed.Where(partition =>
                c.Package.Image(partition)?.Role is not (Catalogue.PartitionRole.Boot or Catalogue.PartitionRole.Verification)
            )
            .ToList();
        if (foreign.Count > 0)
            return OtherImages.With(string.Join(", ", foreign), origin.Original.FileName);
        if (!Fits(origin, c))
            return NotWhole.With(origin.Original.FileName);
        if (origin.Original.Kind.Traits().HasRegionPacks && origin.Original.Parts.All(part => part.Kind != PartKind.KeepDataPack))
            return NoKeepPack.With(origin.Original.FileName);
        return Judging.Each(
            c.Phone[FactName.RootManager],
            () => UnknownManager.With(version, c.HowToRead(FactName.RootManager)),
            ours =>
                VersionOrder.Compare(ours, version) == 0
                    ? Derived.With(origin.Original.FileName, version)
                    : OtherVersion.With(version, ours)
        );
    }

    /// <summary>Whether the original brings all that the models it is for need.</summary>
    private static bool Fits(Derivation origin, MatchCase c) =>
        origin.Original.Says(FactName.ModelCode).Select(c.Catalogue.Model).OfType<Catalogue.PhoneModel>().ToList() is { Count: > 0 } models
        && models.All(model => !model.StockMissing(name => origin.Original.Image(name) is not null).Any());
}

using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Core.Matching;

/// <summary>
/// M07: the bytes are whole, agree with every digest that came with them, and are on this computer; what they say holds together.
/// </summary>
public sealed class M07Intact : IMatchRule
{
    private static readonly RuleSentence Published = RuleSentence.Go("Every image has the digest that came with it.");
    private static readonly RuleSentence PublishedFile = RuleSentence.Go(
        "The file has the digest that was published for it, or every member the one that came with it."
    );
    private static readonly RuleSentence Uncompared = RuleSentence
        .Care("Whole, but there is no published digest to compare with for {images}: a damaged copy would not be noticed.")
        .Costing(
            ConsequenceKind.NotProven,
            "A damaged copy would not be noticed before the phone refuses it: nobody published a digest for {images}."
        );
    private static readonly RuleSentence NotByShop = RuleSentence.Stop(
        "There is no published digest to compare with for {images}. Stopped by shop rule: {school}."
    );
    private static readonly RuleSentence Damaged = RuleSentence.Stop("{finding} Get it again.");
    private static readonly RuleSentence Contradicts = RuleSentence.Stop(
        "{finding} Nothing of it is written before its source has said what is right, and given out a package that says one thing."
    );
    private static readonly RuleSentence Doubtful = RuleSentence.Ask("{finding} Ask its source which is right.");
    private static readonly RuleSentence Locked = RuleSentence.Stop(
        "It is locked with a password: what is in it is not known before it is opened. Open it in the library."
    );
    private static readonly RuleSentence Empty = RuleSentence.Stop("The file holds no image.");

    /// <inheritdoc/>
    public RuleId Id => RuleId.Intact;

    /// <inheritdoc/>
    public string Title => "Intact";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [Published, PublishedFile, Uncompared, NotByShop, Damaged, Contradicts, Doubtful, Locked, Empty];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (Worst(FindingWeight.Fatal) is { } fatal)
            return Damaged.With(fatal.Text);
        if (Worst(FindingWeight.Contradiction) is { } two)
            return Contradicts.With(two.Text);
        if (c.Package.Contents.IsLocked)
            return Locked.With();
        // What changes a build in place holds no images to be compared one by one.
        var doubt = Worst(FindingWeight.Doubt);
        if (c.Package.BaseBuild is not null)
            return AtLeastDoubt(
                c.Package.Contents.IsAsPublished == true || c.Package.IsListed ? PublishedFile.With() : Without(c, "the file")
            );
        if (c.Package.Images.Count == 0)
            return Empty.With();
        var uncompared = c
            .Package.Images.Where(image => image.Digest == DigestState.NothingToCompare)
            .Select(image => image.Partition)
            .Distinct()
            .ToList();
        return AtLeastDoubt(uncompared.Count == 0 ? Published.With() : Without(c, string.Join(", ", uncompared)));

        PackageFinding? Worst(FindingWeight weight) => c.Package.Findings.FirstOrDefault(finding => finding.Weight == weight);
        Judgement AtLeastDoubt(Judgement judgement) =>
            doubt is null ? judgement : Judging.AtLeastAsk(judgement, () => Doubtful.With(doubt.Text));
    }

    private static Judgement Without(MatchCase c, string images) =>
        c.Policy.Digests == DigestSchool.Refuse
            ? NotByShop.With(images, Schools.Find("digests")!.Of(c.Policy).Label)
            : Uncompared.With(images);
}

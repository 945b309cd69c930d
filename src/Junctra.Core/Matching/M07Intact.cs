using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M07: the bytes are those that the publisher sent out, whole and on this computer.</summary>
public sealed class M07Intact : IMatchRule
{
    private static readonly RuleSentence Published = RuleSentence.Go("Every image has the digest that was published with it.");
    private static readonly RuleSentence PublishedFile = RuleSentence.Go("The file has the digest that was published for it.");
    private static readonly RuleSentence Uncompared = RuleSentence.Care("Whole, but there is no published digest to compare with for {images}: a damaged copy would not be noticed.")
        .Costing(ConsequenceKind.NotProven, "A damaged copy would not be noticed before the phone refuses it: nobody published a digest for {images}.");
    private static readonly RuleSentence NotByShop = RuleSentence.Stop("There is no published digest to compare with for {images}. Stopped by shop rule: {school}.");
    private static readonly RuleSentence Damaged = RuleSentence.Stop("{finding} Get it again.");
    private static readonly RuleSentence Locked = RuleSentence.Stop("It is locked with a password: what is in it is not known before it is opened. Open it in the library.");
    private static readonly RuleSentence Empty = RuleSentence.Stop("The file holds no image.");

    /// <inheritdoc/>
    public string Id => "M07";

    /// <inheritdoc/>
    public string Title => "Intact";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Published, PublishedFile, Uncompared, NotByShop, Damaged, Locked, Empty];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var fatal = c.Package.Findings.FirstOrDefault(finding => finding.Weight == FindingWeight.Fatal);
        if (fatal is not null) return Damaged.With(fatal.Text);
        if (c.Package.Contents.IsLocked) return Locked.With();
        // What changes a build in place holds no images to be compared one by one.
        if (c.Package.BaseBuild is not null) return c.Package.Contents.IsAsPublished == true ? PublishedFile.With() : Without(c, "the file");
        if (c.Package.Images.Count == 0) return Empty.With();
        var uncompared = c.Package.Images.Where(image => image.Digest == DigestState.NothingToCompare).Select(image => image.Partition).Distinct().ToList();
        return uncompared.Count == 0 ? Published.With() : Without(c, string.Join(", ", uncompared));
    }

    private static Judgement Without(MatchCase c, string images) =>
        c.Policy.Digests == DigestSchool.Refuse ? NotByShop.With(images, Schools.Find("digests")!.Of(c.Policy).Label) : Uncompared.With(images);
}

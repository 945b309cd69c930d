using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M07: the bytes are those that the publisher sent out, whole and on this computer.</summary>
public sealed class M07Intact : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M07";

    /// <inheritdoc/>
    public string Title => "Intact";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        var fatal = c.Package.Findings.FirstOrDefault(finding => finding.Weight == FindingWeight.Fatal);
        if (fatal is not null) return Judgement.Stop(fatal.Text + " Get it again.");
        var uncompared = c.Package.Images.Where(image => image.Digest == DigestState.NothingToCompare).Select(image => image.Partition).ToList();
        if (c.Package.Images.Count == 0) return Judgement.Stop("The file holds no image.");
        return uncompared.Count == 0
            ? Judgement.Go("Every image has the digest that was published with it.")
            : Judgement.Care($"Whole, but there is no published digest to compare with for {string.Join(", ", uncompared)}: a damaged copy would not be noticed.");
    }
}

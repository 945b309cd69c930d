using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M10: every image, expanded, fits a partition that this phone has. Sizes read from the phone count before the
/// catalogue's, which describe the model and not this one.
/// </summary>
public sealed class M10Fits : IMatchRule
{
    /// <inheritdoc/>
    public string Id => "M10";

    /// <inheritdoc/>
    public string Title => "Fits";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode, FactName.StorageSize];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.Images.Count == 0) return Judgement.Stop("It holds no image.");
        var parts = c.Package.Images.Select(image => JudgeImage(c, image)).Append(JudgeStorage(c)).ToList();
        var worst = parts.MaxBy(judgement => judgement.Verdict);
        return worst.Verdict == Verdict.Go
            ? Judgement.Go($"All {c.Package.Images.Count} images fit their partitions.")
            : worst;
    }

    private static Judgement JudgeImage(MatchCase c, PackageImage image)
    {
        var size = PartitionSize(c, image.Partition);
        if (size is null && c.Model is null && !c.Phone.Names.Any(name => name.IsPartitionSize))
            return Judgement.Ask("The layout is not known before the model code is. Read it over the link: 1 min.");
        if (size is null)
            return Judgement.Stop($"The image {image.Member.Name} has no partition on this phone.");
        return image.Body.ExpandedBytes <= size
            ? Judgement.Go($"{image.Partition} fits.")
            : Judgement.Stop($"The {image.Partition} image is {ByteSize.Text(image.Body.ExpandedBytes)} expanded; its partition holds {ByteSize.Text(size.Value)} ({ByteSize.Text(image.Body.ExpandedBytes - size.Value)} too many).");
    }

    private static Judgement JudgeStorage(MatchCase c)
    {
        var stated = c.Package.Says(FactName.StorageSize);
        if (stated.Count == 0) return Judgement.Go("The package states no storage size.");
        return Judging.Each(c.Phone[FactName.StorageSize],
            Judgement.Ask($"The package is for {string.Join(" or ", stated)} GB of storage, and this phone's is not known. Read it in the settings or on the SIM tray: 1 min."),
            size => stated.Contains(size)
                ? Judgement.Go($"For {size} GB of storage.")
                : Judgement.Stop($"The package is for {string.Join(" or ", stated)} GB of storage; this phone has {size} GB."));
    }

    /// <summary>The smallest size claimed for a partition of this phone, else the catalogue's for its model, else null.</summary>
    private static long? PartitionSize(MatchCase c, string partition)
    {
        var read = c.Phone[FactName.PartitionSize(partition)];
        return read.State == FactState.Unknown ? c.Model?.Partition(partition)?.SizeBytes : read.Values.Min(long.Parse);
    }
}

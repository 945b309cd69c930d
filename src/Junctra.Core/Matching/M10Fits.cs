using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M10: every image, expanded, fits a partition that this phone has. Sizes read from the phone count before the
/// catalogue's, which describe the model and not this one.
/// </summary>
public sealed class M10Fits : IMatchRule
{
    private static readonly RuleSentence Fits = RuleSentence.Go("All {count} images fit their partitions.");
    private static readonly RuleSentence InPlace = RuleSentence.Go("It changes in place what is there; recovery itself holds it against the partitions.");
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The layout is not known before the model code is. {how}");
    private static readonly RuleSentence UnknownStorage = RuleSentence.Ask("The package is for {stated} GB of storage, and this phone's is not known. {how}");
    private static readonly RuleSentence NoImage = RuleSentence.Stop("It holds no image.");
    private static readonly RuleSentence NoPartition = RuleSentence.Stop("The image {image} has no partition on this phone.");
    private static readonly RuleSentence TooLarge = RuleSentence.Stop("The {partition} image is {image} expanded; its partition holds {room} ({excess} too many).");
    private static readonly RuleSentence OtherStorage = RuleSentence.Stop("The package is for {stated} GB of storage; this phone has {size} GB.");

    /// <inheritdoc/>
    public string Id => "M10";

    /// <inheritdoc/>
    public string Title => "Fits";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode, FactName.StorageSize];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Fits, InPlace, Unknown, UnknownStorage, NoImage, NoPartition, TooLarge, OtherStorage];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.BaseBuild is null && c.Package.Images.Count == 0) return NoImage.With();
        var fine = c.Package.BaseBuild is null ? Fits.With(c.Package.Images.Count) : InPlace.With();
        var models = c.Phone[FactName.ModelCode].Values.Select(c.Catalogue.Model).ToList();
        var images = c.Package.BaseBuild is null ? c.Package.Images.Select(image => JudgeImage(c, image, models)).OfType<Judgement>() : [];
        return images.Append(JudgeStorage(c, fine)).MaxBy(judgement => judgement.Verdict);
    }

    /// <summary>What stands against an image, or null.</summary>
    private static Judgement? JudgeImage(MatchCase c, PackageImage image, List<PhoneModel?> models)
    {
        // Where the model is in doubt, the image must fit each of them.
        var size = PartitionSize(c, image.Partition, models, out var isKnown);
        if (!isKnown) return Unknown.With(c.HowToRead(FactName.ModelCode));
        if (size is null) return NoPartition.With(image.Member.Name);
        return image.Body.ExpandedBytes <= size ? null
            : TooLarge.With(image.Partition, ByteSize.Text(image.Body.ExpandedBytes), ByteSize.Text(size.Value), ByteSize.Text(image.Body.ExpandedBytes - size.Value));
    }

    private static Judgement JudgeStorage(MatchCase c, Judgement fine)
    {
        var stated = c.Package.Says(FactName.StorageSize);
        if (stated.Count == 0) return fine;
        return Judging.Each(c.Phone[FactName.StorageSize], () => UnknownStorage.With(Judging.Or(stated), c.HowToRead(FactName.StorageSize)),
            size => stated.Contains(size) ? fine : OtherStorage.With(Judging.Or(stated), size));
    }

    /// <summary>The smallest size claimed for a partition of this phone, else the smallest by the catalogue for any model it may be; null where one of them has none.</summary>
    private static long? PartitionSize(MatchCase c, string partition, List<PhoneModel?> models, out bool isKnown)
    {
        isKnown = true;
        var read = c.Phone[FactName.PartitionSize(partition)];
        if (read.State != FactState.Unknown) return read.Values.Min(long.Parse);
        if (models.Count == 0 || models.Any(model => model is null))
        {
            // A phone that told sizes of its own and not this one has no such partition.
            isKnown = c.Phone.Names.Any(name => name.IsPartitionSize);
            return null;
        }

        var sizes = models.Select(model => model!.Partition(partition)?.SizeBytes).ToList();
        return sizes.Any(size => size is null) ? null : sizes.Min();
    }
}

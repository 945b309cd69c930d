using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
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
    private static readonly RuleSentence InPlace = RuleSentence.Go(
        "It changes in place what is there; recovery itself holds it against the partitions."
    );
    private static readonly RuleSentence Unknown = RuleSentence.Ask("The layout is not known before the model code is. {how}");
    private static readonly RuleSentence UnknownStorage = RuleSentence.Ask(
        "The package is for {stated} GB of storage, and this phone's is not known. {how}"
    );
    private static readonly RuleSentence Unmet = RuleSentence.Ask(
        "It requires something of the phone that Junctra does not know: {lines}. Ask its source what that means, and whether this phone has it."
    );
    private static readonly RuleSentence LayoutStorage = RuleSentence.Ask(
        "It brings a layout, which is made for one size of storage, and this phone's is not known. {how}"
    );
    private static readonly RuleSentence LayoutUnstated = RuleSentence.Ask(
        "It brings a layout and does not say for which size of storage, and {model} is sold with {sizes} GB. Ask its source."
    );
    private static readonly RuleSentence LayoutLarger = RuleSentence.Stop(
        "Its layout takes {layout}; this phone has {size} GB of storage."
    );
    private static readonly RuleSentence NoImage = RuleSentence.Stop("It holds no image.");
    private static readonly RuleSentence NoPartition = RuleSentence.Stop("The image {image} has no partition on this phone.");
    private static readonly RuleSentence TooLarge = RuleSentence.Stop(
        "The {partition} image is {image} expanded; its partition holds {room} ({excess} too many)."
    );
    private static readonly RuleSentence OtherStorage = RuleSentence.Stop(
        "The package is for {stated} GB of storage; this phone has {size} GB."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Fits;

    /// <inheritdoc/>
    public string Title => "Fits";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.ModelCode, FactName.StorageSize];

    /// <inheritdoc/>
    public IEnumerable<Fact> Besides(MatchCase c) =>
        c.Package.Images.SelectMany(image => c.Phone[FactName.PartitionSize(image.Partition)].Claims);

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } =
    [
        Fits,
        InPlace,
        Unknown,
        UnknownStorage,
        Unmet,
        LayoutStorage,
        LayoutUnstated,
        NoImage,
        NoPartition,
        TooLarge,
        OtherStorage,
        LayoutLarger,
    ];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.BaseBuild is null && c.Package.Images.Count == 0)
            return NoImage.With();
        var fine = c.Package.BaseBuild is null ? Fits.With(c.Package.Images.Count) : InPlace.With();
        var models = c.Phone[FactName.ModelCode].Values.Select(c.Catalogue.Model).ToList();
        var images = c.Package.BaseBuild is null ? c.Package.Images.Select(image => JudgeImage(c, image, models)).OfType<Judgement>() : [];
        if (c.Package.Unmet.Count > 0)
            images = images.Append(Unmet.With(string.Join(", ", c.Package.Unmet.Take(4))));
        return images.Append(JudgeStorage(c, fine)).Append(JudgeLayout(c, models) ?? fine).MaxBy(judgement => judgement.Verdict);
    }

    /// <summary>What stands against an image, or null.</summary>
    private static Judgement? JudgeImage(MatchCase c, PackageImage image, List<PhoneModel?> models)
    {
        var sizes = c.Phone[FactName.PartitionSize(image.Partition)];
        if (sizes.State == FactState.Conflicting)
            return Judging.AtLeastAsk(JudgeSize(c, image, models) ?? Fits.With(1), () => Judging.Disagreement(sizes));
        return JudgeSize(c, image, models);
    }

    private static Judgement? JudgeSize(MatchCase c, PackageImage image, List<PhoneModel?> models)
    {
        // Those inside the large partition share its room.
        foreach (var model in models.OfType<PhoneModel>().Where(model => model.DynamicPartitions.Contains(image.Partition)))
        {
            var large = c.Phone.Of(FactName.PartitionSize(model.Large!.Name)).Values.ToList();
            var room = large.Count > 0 ? large.Min() : model.Large.SizeBytes;
            if (LayoutFit.Together(c.Package.Images, model, room) is { } bytes)
                return TooLarge.With(model.Large.Name, ByteSize.Text(bytes), ByteSize.Text(room), ByteSize.Text(bytes - room));
        }

        // Where the model is in doubt, the image must fit each of them.
        var size = PartitionSize(c, image.Partition, models, out var isKnown);
        if (!isKnown)
            return Unknown.With(c.HowToRead(FactName.ModelCode));
        if (size is null)
            return NoPartition.With(image.Member.Name);
        return image.Body.ExpandedBytes <= size
            ? null
            : TooLarge.With(
                image.Partition,
                ByteSize.Text(image.Body.ExpandedBytes),
                ByteSize.Text(size.Value),
                ByteSize.Text(image.Body.ExpandedBytes - size.Value)
            );
    }

    /// <summary>What stands against a layout that comes with it, or null. A layout is for one size of storage.</summary>
    private static Judgement? JudgeLayout(MatchCase c, List<PhoneModel?> models)
    {
        if (c.Package.Layout?.Image?.Inside?.Table is not { } table)
            return null;
        var bytes = table.Entries.Sum(entry => (decimal)entry.SizeBytes);
        if (
            c.Package.Says(FactName.StorageSize).Count == 0
            && models.OfType<PhoneModel>().FirstOrDefault(model => model.StorageSizesGb.Count > 1) is { } several
        )
            return LayoutUnstated.With(several.Code, Judging.Or(several.StorageSizesGb.Select(size => $"{size}")));
        return Judging.Each(
            c.Phone[FactName.StorageSize],
            () => LayoutStorage.With(c.HowToRead(FactName.StorageSize)),
            size =>
                bytes > decimal.Parse(size) * 1_000_000_000
                    ? LayoutLarger.With(ByteSize.Text((long)bytes), size)
                    : Fits.With(c.Package.Images.Count)
        );
    }

    private static Judgement JudgeStorage(MatchCase c, Judgement fine)
    {
        var stated = c.Package.Says(FactName.StorageSize);
        if (stated.Count == 0)
            return fine;
        return Judging.Each(
            c.Phone[FactName.StorageSize],
            () => UnknownStorage.With(Judging.Or(stated), c.HowToRead(FactName.StorageSize)),
            size => stated.Contains(size) ? fine : OtherStorage.With(Judging.Or(stated), size)
        );
    }

    /// <summary>
    /// The smallest size claimed for a partition of this phone, else the smallest by the catalogue for any model it may be; null where one
    /// of them has none.
    /// </summary>
    private static long? PartitionSize(MatchCase c, string partition, List<PhoneModel?> models, out bool isKnown)
    {
        isKnown = true;
        var read = c.Phone[FactName.PartitionSize(partition)];
        if (read.State != FactState.Unknown)
            return c.Phone.Of(FactName.PartitionSize(partition)).Values.Min();
        if (models.Count == 0 || models.Any(model => model is null))
        {
            // A phone that told sizes of its own and not this one has no such partition.
            isKnown = c.Phone.Names.Any(name => name.IsPartitionSize);
            return null;
        }

        var sizes = models.Select(model => model!.Place(partition)?.SizeBytes).ToList();
        return sizes.Any(size => size is null) ? null : sizes.Min();
    }
}

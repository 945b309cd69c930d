using Junctra.Core.Catalogue;
using Junctra.Core.Facts;

namespace Junctra.Core.Packages;

/// <summary>How an image fills its partition.</summary>
/// <param name="Image">The image.</param>
/// <param name="PartitionBytes">Size of the partition, or null where the model has none of that name.</param>
public sealed record ImageFit(PackageImage Image, long? PartitionBytes)
{
    /// <summary>The part of the partition that it fills; above 1 it does not fit, null where there is no partition.</summary>
    public double? Fill => PartitionBytes is { } bytes ? (double)Image.Body.ExpandedBytes / bytes : null;
}

/// <summary>Holds the images and the partition table of a package against the partitions of a model.</summary>
public static class LayoutFit
{
    /// <summary>How each image fills its partition.</summary>
    public static IReadOnlyList<ImageFit> Of(IEnumerable<PackageImage> images, PhoneModel model) =>
        [.. images.Select(image => new ImageFit(image, model.Place(image.Partition)?.SizeBytes))];

    /// <summary>
    /// Bytes of the images that lie inside the large partition, if they are more than it holds; null where they fit, or there are none.
    /// </summary>
    public static long? Together(IEnumerable<PackageImage> images, PhoneModel model, long? room = null) =>
        model.Large is { } large
        && images.Where(image => model.DynamicPartitions.Contains(image.Partition)).Sum(image => image.Body.ExpandedBytes) is var bytes
        && bytes > (room ?? large.SizeBytes)
            ? bytes
            : null;

    /// <summary>What does not fit the models that a package says it is for.</summary>
    internal static IEnumerable<PackageFinding> Findings(
        IReadOnlyList<PackageImage> images,
        PackageContents contents,
        IReadOnlyList<PhoneModel> models
    )
    {
        foreach (var model in models)
        {
            foreach (var fit in Of(images, model))
            {
                if (fit.PartitionBytes is null)
                    yield return Note($"{model.Code} has no partition {fit.Image.Partition}, for which {fit.Image.Member.Name} is.");
                else if (fit.Fill > 1)
                    yield return Note(
                        $"The {fit.Image.Partition} image is {ByteSize.Text(fit.Image.Body.ExpandedBytes)} expanded; {model.Code} has {ByteSize.Text(fit.PartitionBytes.Value)} for it."
                    );
            }

            if (Together(images, model) is { } together)
                yield return Note(
                    $"What lies inside {model.Large!.Name} is {ByteSize.Text(together)} expanded; {model.Code} has {ByteSize.Text(model.Large.SizeBytes)} for it."
                );
            foreach (var finding in images.SelectMany(image => Inner(image, model)))
                yield return finding;
            foreach (
                var finding in contents
                    .Members.Where(member => member.Image?.Inside?.Table is not null)
                    .SelectMany(member => Table(member, model))
            )
                yield return finding;
        }

        foreach (var member in contents.Members)
        {
            if (member.Image?.Inside?.Dynamic is { } inner && inner.SizeBytes < member.Image.ExpandedBytes)
                yield return Note(
                    $"{member.Name} is {ByteSize.Text(member.Image.ExpandedBytes)} expanded and says that it is for a partition of {ByteSize.Text(inner.SizeBytes)}."
                );
        }
    }

    private static IEnumerable<PackageFinding> Table(PackageMember member, PhoneModel model)
    {
        var entries = member.Image!.Inside!.Table!.Entries;
        var missing = model
            .Partitions.Where(partition => !entries.Any(entry => entry.Name == partition.Name))
            .Select(partition => partition.Name)
            .ToList();
        if (missing.Count > 0)
            yield return Contradiction(
                $"The layout {member.Name} has no {string.Join(", ", missing)}, which {model.Code} has: it is of another phone."
            );
        foreach (var entry in entries)
        {
            if (
                model.Partition(entry.Name) is { } partition
                && partition.SizeBytes != entry.SizeBytes
                && partition.Role != PartitionRole.UserData
            )
                yield return Note(
                    $"The layout {member.Name} gives {entry.Name} {ByteSize.Text(entry.SizeBytes)}; {model.Code} has {ByteSize.Text(partition.SizeBytes)}."
                );
        }
    }

    /// <summary>An image that holds partitions of its own says in its beginning which, and how large the one around them is.</summary>
    private static IEnumerable<PackageFinding> Inner(PackageImage image, PhoneModel model)
    {
        if (image.Body.Inside?.Dynamic is not { } inner || model.Partition(image.Partition) is not { } around)
            yield break;
        var names = inner.Entries.Select(entry => WithoutSlot(entry.Name)).ToHashSet(StringComparer.Ordinal);
        // Which partition of a model is the large one is known by what the catalogue says lies in it: the system does.
        var missing = around.Role == PartitionRole.System ? model.DynamicPartitions.Where(name => !names.Contains(name)).ToList() : [];
        if (around.Role != PartitionRole.System || model.DynamicPartitions.Count == 0)
            yield return Contradiction(
                $"{image.Member.Name} holds partitions of its own, and {model.Code} has none inside its {around.Name}: it is of another phone."
            );
        else if (missing.Count > 0)
            yield return Contradiction(
                $"{image.Member.Name} holds no {string.Join(", ", missing)}, which {model.Code} has inside its {around.Name}: it is of another phone."
            );
        if (inner.SizeBytes != around.SizeBytes)
            yield return new PackageFinding(
                inner.SizeBytes > around.SizeBytes ? FindingWeight.Contradiction : FindingWeight.Doubt,
                $"{image.Member.Name} says that it is for a partition of {ByteSize.Text(inner.SizeBytes)}; {model.Code} has {ByteSize.Text(around.SizeBytes)} for its {around.Name}."
            );
    }

    /// <summary>The name of a partition without the letter of its slot.</summary>
    private static string WithoutSlot(string name) =>
        name.EndsWith("_a", StringComparison.Ordinal) || name.EndsWith("_b", StringComparison.Ordinal) ? name[..^2] : name;

    private static PackageFinding Contradiction(string text) => new(FindingWeight.Contradiction, text);

    private static PackageFinding Note(string text) => new(FindingWeight.Note, text);
}

using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Formats.Inspection;

namespace Junctra.Link.Running;

/// <summary>
/// Where a write takes its images from: straight from the package file where they lie plainly in it, else from files they were unpacked to
/// before the phone was touched. Files that others use too are held against their digest, and every block of them against that reading;
/// files made for this write have no name, so nobody can change them and nothing is left behind.
/// </summary>
internal sealed class WriteSource(WriteOrder order) : IAsyncDisposable
{
    private readonly VerifiedFile file = new(order.PackagePath!);
    private readonly Package package = order.Package!;
    private bool isReady;
    private readonly Dictionary<PackageMember, Stream> unpacked = [];
    private readonly Dictionary<string, VerifiedFile> shared = new(StringComparer.Ordinal);

    /// <summary>
    /// Holds the package file against its digest, and unpacks of it what the plan sends and must be unpacked. Once for each time that a run
    /// is carried on: it may have waited hours for hands.
    /// </summary>
    /// <exception cref="PackageChangedException">The file is not the one that was checked.</exception>
    public async Task ReadyAsync(CancellationToken cancel)
    {
        if (isReady)
            return;
        if (await file.ReadThroughAsync(cancel).ConfigureAwait(false) != package.Contents.Sha256)
            throw new PackageChangedException("The package file is not the one that was checked: its digest has changed.");
        var packed = ImagesOf(order.Plan).Select(image => Find(package, image)).Where(image => image.Body.Offset is null).ToList();
        if (order.Unpack is { } unpack && packed.Count > 0)
            await ShareAsync(unpack, packed, cancel).ConfigureAwait(false);
        foreach (var image in packed.Where(image => !shared.ContainsKey(image.Body.Sha256)))
            unpacked[image.Member] = CreateNameless();
        if (unpacked.Count > 0)
            await PackageUnpacker.UnpackAsync(file.Whole, unpacked, cancel: cancel).ConfigureAwait(false);
        isReady = true;
    }

    /// <summary>An image as the phone is given it, seekable from position 0.</summary>
    public Stream Open(PackageImage image)
    {
        if (image.Body.Offset is { } offset)
            return file.Slice(offset, image.Body.Bytes);
        if (shared.TryGetValue(image.Body.Sha256, out var verified))
            return verified.Whole();
        var stream = unpacked[image.Member];
        stream.Position = 0;
        return new Formats.SlicedStream(stream, 0, stream.Length);
    }

    public async ValueTask DisposeAsync()
    {
        file.Dispose();
        foreach (var verified in shared.Values)
            verified.Dispose();
        foreach (var stream in unpacked.Values)
            await stream.DisposeAsync().ConfigureAwait(false);
    }

    /// <summary>Takes the shared files that are what they should be; one that is not is unpacked for this write alone.</summary>
    private async Task ShareAsync(UnpackImages from, List<PackageImage> images, CancellationToken cancel)
    {
        foreach (var (digest, path) in await from(package, order.PackagePath!, images, cancel).ConfigureAwait(false))
        {
            var verified = new VerifiedFile(path);
            if (await verified.ReadThroughAsync(cancel).ConfigureAwait(false) == digest)
                shared[digest] = verified;
            else
                verified.Dispose();
        }
    }

    /// <summary>All images that a plan sends.</summary>
    private static IEnumerable<PlannedImage> ImagesOf(Plan plan) =>
        plan.Steps.SelectMany(step =>
            step.Act switch
            {
                WriteImage write => [write.Image],
                SendBundle bundle => bundle.Images,
                _ => (IEnumerable<PlannedImage>)[],
            }
        );

    /// <summary>The image of a package that a plan means: two packs of a bundle hold one for the same partition.</summary>
    /// <exception cref="InvalidDataException">The package as it is read now has no such image.</exception>
    public static PackageImage Find(Package package, PlannedImage planned) =>
        package.Images.FirstOrDefault(image => image.Partition == planned.Partition && image.Body.Sha256 == planned.Sha256)
        ?? throw new InvalidDataException($"The package has no image for {planned.Partition} that is the one of the plan.");

    private FileStream CreateNameless()
    {
        var workFolder = order.WorkFolder ?? Path.GetTempPath();
        Directory.CreateDirectory(workFolder);
        var path = Path.Combine(workFolder, Path.GetRandomFileName());
        var stream = new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.Delete, 1 << 16, FileOptions.Asynchronous);
        File.Delete(path);
        return stream;
    }
}

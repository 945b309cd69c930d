using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Formats.Inspection;

namespace Junctra.Link.Running;

/// <summary>
/// Where a write takes the images of one package from: straight from its file where they lie plainly in it, else from files they were
/// unpacked to before the phone was touched. Files that others use too are held against their digest, and every block of them against
/// that reading; files made for this write have no name, so nobody can change them and nothing is left behind.
/// </summary>
internal sealed class PackageSource(WriteOrder order, PackageFile from) : IAsyncDisposable
{
    private readonly VerifiedFile file = new(from.Path);
    private readonly Package package = from.Package;
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
        var packed = order
            .Plan.Steps.SelectMany(step => step.Act.Sends)
            .Select(Find)
            .OfType<PackageImage>()
            .Where(image => image.Body.Offset is null)
            .ToList();
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

    /// <summary>The package file itself; held against its digest by <see cref="ReadyAsync"/>.</summary>
    public Stream OpenWhole() => file.Whole();

    public async ValueTask DisposeAsync()
    {
        file.Dispose();
        foreach (var verified in shared.Values)
            verified.Dispose();
        foreach (var stream in unpacked.Values)
            await stream.DisposeAsync().ConfigureAwait(false);
    }

    /// <summary>Takes the shared files that are what they should be; one that is not is unpacked for this write alone.</summary>
    private async Task ShareAsync(UnpackImages unpack, List<PackageImage> images, CancellationToken cancel)
    {
        foreach (var (digest, path) in await unpack(package, from.Path, images, cancel).ConfigureAwait(false))
        {
            var verified = new VerifiedFile(path);
            if (await verified.ReadThroughAsync(cancel).ConfigureAwait(false) == digest)
                shared[digest] = verified;
            else
                verified.Dispose();
        }
    }

    /// <summary>
    /// The image of the package that a plan means; null where it is none of it. Two packs of a bundle hold one for the same
    /// partition.
    /// </summary>
    public PackageImage? Find(PlannedImage planned) =>
        package.Images.FirstOrDefault(image => image.Partition == planned.Partition && image.Body.Sha256 == planned.Sha256);

    /// <summary>Copies an archive that lies in the package file, as it lies there.</summary>
    /// <exception cref="InvalidDataException">It does not lie in it as a file of its own.</exception>
    public async Task<FileStream> CopyArchiveAsync(string name, CancellationToken cancel)
    {
        var copy = CreateNameless();
        await MemberExtractor.ExtractAsync(file.Whole, name, copy, cancel).ConfigureAwait(false);
        return copy;
    }

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

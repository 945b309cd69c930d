using Junctra.Core.Packages;
using Junctra.Formats.Inspection;

namespace Junctra.Link.Running;

/// <summary>
/// Where a write takes its images from: straight from the package file where they lie plainly in it, else from files they were unpacked to
/// before the phone was touched. Files that others use too are held against their digest, and every block of them against that reading;
/// files made for this write have no name, so nobody can change them and nothing is left behind.
/// </summary>
internal sealed class WriteSource(string packagePath, UnpackImages? unpack, string workFolder) : IAsyncDisposable
{
    private readonly VerifiedFile file = new(packagePath);
    private readonly Dictionary<PackageMember, Stream> unpacked = [];
    private readonly Dictionary<string, VerifiedFile> shared = new(StringComparer.Ordinal);

    /// <summary>Reads the package's digest, and unpacks what must be unpacked.</summary>
    /// <exception cref="WriteRefusedException">The file is not the one that was checked.</exception>
    public async Task PrepareAsync(Package package, IEnumerable<PackageImage> images, CancellationToken cancel)
    {
        if (await file.ReadThroughAsync(cancel).ConfigureAwait(false) != package.Contents.Sha256)
            throw new WriteRefusedException(
                "The package file is not the one that was checked: its digest has changed.",
                "Nothing was written. Get the package again, let the library look at it, and match again."
            );
        var packed = images.Where(image => image.Body.Offset is null).ToList();
        if (unpack is not null && packed.Count > 0)
            await ShareAsync(unpack, package, packed, cancel).ConfigureAwait(false);
        foreach (var image in packed.Where(image => !shared.ContainsKey(image.Body.Sha256)))
            unpacked[image.Member] = CreateNameless();
        if (unpacked.Count > 0)
            await PackageUnpacker.UnpackAsync(file.Whole, unpacked, cancel: cancel).ConfigureAwait(false);
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
    private async Task ShareAsync(UnpackImages from, Package package, List<PackageImage> images, CancellationToken cancel)
    {
        foreach (var (digest, path) in await from(package, packagePath, images, cancel).ConfigureAwait(false))
        {
            var verified = new VerifiedFile(path);
            if (await verified.ReadThroughAsync(cancel).ConfigureAwait(false) == digest)
                shared[digest] = verified;
            else
                verified.Dispose();
        }
    }

    private FileStream CreateNameless()
    {
        Directory.CreateDirectory(workFolder);
        var path = Path.Combine(workFolder, Path.GetRandomFileName());
        var stream = new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.Delete, 1 << 16, FileOptions.Asynchronous);
        File.Delete(path);
        return stream;
    }
}

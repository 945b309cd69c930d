using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Store.Files;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>
/// Images that had to be unpacked, each once: whatever package, run or repacked bundle wants one takes the same file. What is here can be
/// unpacked again at any time, so any of it may be swept away.
/// </summary>
public sealed class UnpackedImageCache(IDbContextFactory<JunctraDb> databases, ContentStore store, TimeProvider time)
{
    private const long KeptFree = 256 << 20;

    // Bytes that others are unpacking at this moment: room that is free once is not promised twice.
    private long promised;

    /// <summary>Unpacks what is not unpacked yet.</summary>
    /// <param name="package">The package.</param>
    /// <param name="packagePath">Where its file lies.</param>
    /// <param name="images">Which of its images.</param>
    /// <param name="cancel">Cancels; nothing half unpacked stays.</param>
    /// <returns>Where each lies, by the digest of the image as a phone is given it.</returns>
    /// <exception cref="InvalidDataException">An image is no longer what the inspection found.</exception>
    /// <exception cref="IOException">There is no room.</exception>
    public async Task<IReadOnlyDictionary<string, string>> EnsureAsync(
        Package package,
        string packagePath,
        IEnumerable<PackageImage> images,
        CancellationToken cancel
    )
    {
        var wanted = images.DistinctBy(image => image.Body.Sha256).ToList();
        await using var db = await databases.CreateDbContextAsync(cancel);
        var missing = wanted.Where(image => !store.Has(image.Body.Sha256)).ToList();
        if (missing.Count > 0)
        {
            // Kept free for what is on its way: a download of an archive must not fill the disk under a write.
            var needed = missing.Sum(image => image.Body.Bytes);
            var free = store.FreeBytes() - KeptFree - Interlocked.Add(ref promised, needed) + needed;
            try
            {
                if (needed > free)
                    throw new IOException(
                        $"{ByteSize.Text(needed)} must be unpacked, and {ByteSize.Text(Math.Max(0, free))} are free. Make room first."
                    );
                var password = await db.Packages.Where(p => p.Id == package.Id).Select(p => p.Password).SingleOrDefaultAsync(cancel);
                await UnpackAsync(packagePath, missing, password, cancel);
            }
            finally
            {
                Interlocked.Add(ref promised, -needed);
            }
        }

        var now = time.GetUtcNow();
        foreach (var image in wanted)
        {
            if (await db.UnpackedImages.FindAsync([image.Body.Sha256], cancel) is { } row)
                row.LastUsedAt = now;
            else
                db.UnpackedImages.Add(
                    new UnpackedImageRow
                    {
                        Sha256 = image.Body.Sha256,
                        SizeBytes = image.Body.Bytes,
                        UnpackedAt = now,
                        LastUsedAt = now,
                    }
                );
        }

        try
        {
            await db.SaveChangesAsync(cancel);
        }
        catch (DbUpdateException)
        {
            // Somebody else unpacked the same image at the same time, and has noted it.
        }

        return wanted.ToDictionary(image => image.Body.Sha256, image => store.PathOf(image.Body.Sha256), StringComparer.Ordinal);
    }

    private async Task UnpackAsync(string packagePath, List<PackageImage> images, string? password, CancellationToken cancel)
    {
        var into = images.ToDictionary(image => image.Member, _ => $"unpack-{Guid.NewGuid():N}");
        var streams = new Dictionary<PackageMember, Stream>();
        try
        {
            foreach (var (member, name) in into)
                streams[member] = store.Begin(name);
            await PackageUnpacker.UnpackAsync(
                () =>
                    new FileStream(
                        packagePath,
                        FileMode.Open,
                        FileAccess.Read,
                        FileShare.ReadWrite | FileShare.Delete,
                        1,
                        FileOptions.SequentialScan
                    ),
                streams,
                password,
                cancel
            );
            foreach (var (member, stream) in streams)
            {
                await stream.DisposeAsync();
                store.Keep(into[member], member.Image!.Sha256);
                into.Remove(member);
            }
        }
        finally
        {
            foreach (var stream in streams.Values)
                await stream.DisposeAsync();
            foreach (var name in into.Values)
                store.Discard(name);
        }
    }
}

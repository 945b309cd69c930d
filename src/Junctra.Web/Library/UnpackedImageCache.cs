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

        await NoteUseAsync(db, wanted, cancel);
        return wanted.ToDictionary(image => image.Body.Sha256, image => store.PathOf(image.Body.Sha256), StringComparer.Ordinal);
    }

    // One statement, in the order of the digests: others note the same images at the same time, and whoever took them in another order
    // would wait for somebody who waits for them.
    private async Task NoteUseAsync(JunctraDb db, List<PackageImage> images, CancellationToken cancel)
    {
        var digests = images.Select(image => image.Body.Sha256).ToArray();
        var sizes = images.Select(image => image.Body.Bytes).ToArray();
        var now = time.GetUtcNow();
        await db.Database.ExecuteSqlAsync(
            $"""
            insert into unpacked_images (sha256, size_bytes, unpacked_at, last_used_at)
            select digest, bytes, {now}, {now} from unnest({digests}, {sizes}) as used(digest, bytes) order by digest
            on conflict (sha256) do update set last_used_at = greatest(unpacked_images.last_used_at, excluded.last_used_at)
            """,
            cancel
        );
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

using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Files;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library;

/// <summary>Something that can go to make room.</summary>
/// <param name="Sha256">The file in the store.</param>
/// <param name="Bytes">Its size.</param>
/// <param name="What">What it is.</param>
/// <param name="Why">Why it can go.</param>
public sealed record Sweepable(string Sha256, long Bytes, string What, string Why);

/// <summary>What lies on the disk for the library, and what of it can go.</summary>
/// <param name="FreeBytes">Free now.</param>
/// <param name="PackageBytes">Package files in the store.</param>
/// <param name="UnpackedBytes">Unpacked images.</param>
/// <param name="IncomingBytes">What is on its way.</param>
/// <param name="Sweepable">What can go, the largest first.</param>
public sealed record RoomReport(
    long FreeBytes,
    long PackageBytes,
    long UnpackedBytes,
    long IncomingBytes,
    IReadOnlyList<Sweepable> Sweepable
);

/// <summary>Counts who uses the files of the store, and sweeps those that nobody needs.</summary>
public sealed class LibraryCleanup(JunctraDb db, ContentStore store, TimeProvider time)
{
    /// <summary>Between a file's arrival under its name and its note in the database lies a moment; younger files are left alone.</summary>
    private static readonly TimeSpan LeftAlone = TimeSpan.FromMinutes(5);

    /// <summary>What lies there, and what can go.</summary>
    public async Task<RoomReport> LookAsync(CancellationToken cancel)
    {
        var packages = await db.Packages.Where(p => p.IsStored).Select(p => p.Id).ToHashSetAsync(cancel);
        var unpacked = await db.UnpackedImages.ToDictionaryAsync(i => i.Sha256, cancel);
        var files = store.All().ToList();
        var busy = await db.Runs.AnyAsync(
            r => r.Status == RunStatus.Queued || r.Status == RunStatus.Writing || r.Status == RunStatus.Waiting,
            cancel
        );
        var uses = await UsesAsync([.. unpacked.Keys], cancel);
        var now = time.GetUtcNow();
        var sweepable = new List<Sweepable>();
        foreach (var (sha256, bytes) in files.Where(file => !packages.Contains(file.Sha256)))
        {
            if (unpacked.TryGetValue(sha256, out var image))
            {
                // A run that goes on may be about to open it.
                if (busy && now - image.LastUsedAt < TimeSpan.FromHours(12))
                    continue;
                var count = uses.GetValueOrDefault(sha256);
                sweepable.Add(
                    new Sweepable(
                        sha256,
                        bytes,
                        "unpacked image",
                        count == 0
                            ? "no package has it any more"
                            : $"of {count} package{(count == 1 ? "" : "s")}; unpacked again when it is wanted"
                    )
                );
            }
            else if (now - File.GetLastWriteTimeUtc(store.PathOf(sha256)) > LeftAlone)
            {
                sweepable.Add(new Sweepable(sha256, bytes, "file of a package that was removed", "nothing in the library uses it"));
            }
        }

        return new RoomReport(
            store.FreeBytes(),
            files.Where(f => packages.Contains(f.Sha256)).Sum(f => f.Bytes),
            files.Where(f => unpacked.ContainsKey(f.Sha256) && !packages.Contains(f.Sha256)).Sum(f => f.Bytes),
            store.AllIncoming().Sum(f => f.Bytes),
            [.. sweepable.OrderByDescending(one => one.Bytes)]
        );
    }

    /// <summary>Sweeps what was shown, as far as it may still go.</summary>
    /// <returns>Bytes that became free.</returns>
    public async Task<long> SweepAsync(IReadOnlySet<string> chosen, string by, CancellationToken cancel)
    {
        long freed = 0;
        foreach (var one in (await LookAsync(cancel)).Sweepable.Where(one => chosen.Contains(one.Sha256)))
        {
            await db.UnpackedImages.Where(i => i.Sha256 == one.Sha256).ExecuteDeleteAsync(cancel);
            freed += store.Remove(one.Sha256);
        }

        if (freed > 0)
        {
            db.Audit.Add(
                new AuditRow
                {
                    At = time.GetUtcNow(),
                    By = by,
                    Act = $"Made room: {Core.Facts.ByteSize.Text(freed)} freed.",
                }
            );
            await db.SaveChangesAsync(cancel);
        }

        return freed;
    }

    /// <summary>Takes a package out of the library: its file, and what was unpacked of it alone.</summary>
    /// <returns>Why not, or null.</returns>
    public async Task<string?> RemoveAsync(string id, string by, CancellationToken cancel)
    {
        if (await db.Packages.SingleOrDefaultAsync(p => p.Id == id, cancel) is not { } row)
            return "That package is no longer in the library.";
        if (
            await db.Runs.AnyAsync(
                r => r.PackageId == id && (r.Status == RunStatus.Queued || r.Status == RunStatus.Writing || r.Status == RunStatus.Waiting),
                cancel
            )
        )
            return "It is being written. Wait until that has ended.";
        if (row.Path is not null && File.Exists(row.Path))
            return $"Its file lies in the watched folder: {row.Path}. Take it away there.";
        var images = await db.UnpackedImages.Where(i => row.ImageDigests.Contains(i.Sha256)).Select(i => i.Sha256).ToListAsync(cancel);
        db.Packages.Remove(row);
        db.Audit.Add(
            new AuditRow
            {
                At = time.GetUtcNow(),
                By = by,
                Act = $"Took {row.Title} ({row.FileName}) out of the library.",
            }
        );
        await db.SaveChangesAsync(cancel);
        store.Remove(id);
        var uses = await UsesAsync(images, cancel);
        foreach (var image in images.Where(image => uses.GetValueOrDefault(image) == 0))
        {
            await db.UnpackedImages.Where(i => i.Sha256 == image).ExecuteDeleteAsync(cancel);
            store.Remove(image);
        }

        return null;
    }

    /// <summary>How many packages have each image.</summary>
    private async Task<IReadOnlyDictionary<string, int>> UsesAsync(IReadOnlyList<string> images, CancellationToken cancel)
    {
        var uses = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var image in images)
            uses[image] = await db.Packages.CountAsync(p => p.ImageDigests.Contains(image), cancel);
        return uses;
    }
}

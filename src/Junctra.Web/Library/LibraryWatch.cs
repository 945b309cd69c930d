using Junctra.Core;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Store.Operation;
using Junctra.Web.Operation;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library;

/// <summary>
/// Keeps the library's index true to its folder and to the store. Looks at start and when asked; a file whose size and time are known is
/// not read again, everything else is inspected. A file that went away leaves the index. When the catalogue changed, what was found is read
/// anew by it.
/// </summary>
public sealed class LibraryWatch(
    IDbContextFactory<JunctraDb> databases,
    ContentStore store,
    ModelCatalogue catalogue,
    IOptions<JunctraOptions> options,
    Ownership owners,
    TimeProvider time,
    ILogger<LibraryWatch> log
) : BackgroundService
{
    private const int RowsAtOnce = 100;
    private const string Turn = "library";
    private readonly SemaphoreSlim wanted = new(1);

    /// <summary>What is being looked at, or null when all was seen.</summary>
    public LibraryProgress? Progress { get; private set; }

    /// <summary>Names of files in the folder that are still arriving; they are looked at once they are whole.</summary>
    public IReadOnlyList<string> Arriving { get; private set; } = [];

    /// <summary>Names of what lies in the folder and cannot be looked into, with the reason.</summary>
    public IReadOnlyList<(string Name, string Why)> Unreadable { get; private set; } = [];

    /// <summary>Asks for another look.</summary>
    public void LookAgain()
    {
        if (wanted.CurrentCount == 0)
            wanted.Release();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (true)
        {
            try
            {
                await wanted.WaitAsync(stoppingToken);
                // Of several web processes on one library one looks at a time; the next finds nearly everything known.
                await owners.InTurnAsync(Turn, LookAsync, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
                return;
            }
            catch (OperationCanceledException error)
            {
                log.LogWarning(error, "The turn to look through the library was lost; it is looked through again");
                LookAgain();
                await Task.Delay(TimeSpan.FromSeconds(1), time, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            }
            catch (Exception error)
            {
                // Whatever was given up meanwhile, a wait that ran out among it, ends this look and not the program.
                log.LogError(error, "The library could not be looked through");
            }
            finally
            {
                Progress = null;
            }
        }
    }

    /// <summary>A file to look into, and the row it has so far.</summary>
    private sealed record Waiting(string Path, string FileName, long Bytes, PublishedFor Published, string? Password, string? StoredAs);

    private async Task LookAsync(CancellationToken cancel)
    {
        using var marked = HouseMeter.Work.StartActivity("look through the library");
        Directory.CreateDirectory(options.Value.Library);
        var folder = LibraryFolder.Read(options.Value.Library);
        Arriving = [.. folder.Arriving.Select(file => file.Name)];
        var unreadable = folder
            .PassedOver.Select(name =>
                (
                    ShownText.Of(name),
                    "It is no file that can be read: a pipe, a device, a link that leads nowhere, or a name that cannot be written down."
                )
            )
            .ToList();
        await using var db = await databases.CreateDbContextAsync(cancel);
        var paths = folder.Packages.Select(file => file.FullName).ToList();
        await db.Packages.Where(p => p.Path != null && !paths.Contains(p.Path) && !p.IsStored).ExecuteDeleteAsync(cancel);
        await db
            .Packages.Where(p => p.Path != null && !paths.Contains(p.Path))
            .ExecuteUpdateAsync(set => set.SetProperty(p => p.Path, (string?)null), cancel);
        var lists = await PublishedLists.ReadAsync(db, folder, cancel);
        var known = await db
            .Packages.AsNoTracking()
            .Select(p => new
            {
                p.Id,
                p.Path,
                p.IsStored,
                p.FileName,
                p.SizeBytes,
                p.FileChangedAt,
                p.InspectorVersion,
                p.PublishedDigest,
                p.PublishedBy,
                p.PublishedNote,
                p.Password,
            })
            .ToListAsync(cancel);
        var byPath = known.Where(p => p.Path is not null).ToDictionary(p => p.Path!, StringComparer.Ordinal);
        var waiting = new List<Waiting>();
        foreach (var file in folder.Packages)
        {
            var row = byPath.GetValueOrDefault(file.FullName);
            try
            {
                var isSame =
                    row is not null
                    && row.SizeBytes == file.Length
                    && Math.Abs((row.FileChangedAt - file.LastWriteTimeUtc).TotalMilliseconds) < 1;
                var published = lists.For(file.Name, isSame ? row!.Id : null, null, null, isInFolder: true);
                if (
                    !isSame
                    || row!.InspectorVersion != PackageInspector.Version
                    || row.PublishedDigest != published.Digest
                    || row.PublishedBy != published.By
                    || row.PublishedNote != published.Note
                )
                    waiting.Add(new Waiting(file.FullName, file.Name, file.Length, published, row?.Password, null));
            }
            catch (IOException)
            {
                // It went away since the folder was read; the next look sees that.
            }
        }

        foreach (var row in known.Where(p => p is { IsStored: true, Path: null } && store.Has(p.Id)))
        {
            var published = lists.For(row.FileName, row.Id, row.PublishedDigest, row.PublishedBy, isInFolder: false);
            if (
                row.InspectorVersion != PackageInspector.Version
                || published.Digest != row.PublishedDigest
                || published.By != row.PublishedBy
            )
                waiting.Add(new Waiting(store.PathOf(row.Id), row.FileName, row.SizeBytes, published, row.Password, row.Id));
        }

        for (var i = 0; i < waiting.Count; i++)
        {
            try
            {
                if (await InspectAsync(waiting[i], lists, waiting.Count - i - 1, cancel) is { } why)
                    unreadable.Add((waiting[i].FileName, why));
            }
            catch (Exception error) when (error is not OperationCanceledException || !cancel.IsCancellationRequested)
            {
                // Whatever it is, it is about this file: the others are looked into all the same.
                log.LogError(error, "{File} could not be looked into", waiting[i].FileName);
                unreadable.Add((waiting[i].FileName, "It could not be looked into because of a fault here; the log has more."));
            }
        }

        Unreadable = unreadable;
        await DescribeAnewAsync(cancel);
    }

    /// <returns>Null, or why it could not be read.</returns>
    private async Task<string?> InspectAsync(Waiting file, PublishedLists lists, int left, CancellationToken cancel)
    {
        PackageContents contents;
        var changedAt = new DateTimeOffset(File.GetLastWriteTimeUtc(file.Path));
        try
        {
            Progress = new LibraryProgress(file.FileName, 0, file.Bytes, left);
            contents = await PackageInspector.InspectFileAsync(
                file.Path,
                file.Published.Digest,
                file.Password,
                new Tell(read => Progress = new LibraryProgress(file.FileName, read, file.Bytes, left)),
                cancel
            );
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            log.LogWarning(error, "{File} cannot be read", file.FileName);
            return error is FileNotFoundException or DirectoryNotFoundException
                ? null
                : "It cannot be read here: it may be of another user, or the disk is at fault.";
        }

        // Only now is it known by its digest, which says more than its name.
        var published =
            file.Published.Digest is null || file.Published.By is null
                ? lists.For(file.FileName, contents.Sha256, file.Published.Digest, file.Published.By, file.StoredAs is null)
                : file.Published;
        contents = contents with
        {
            PublishedDigest = published.Digest,
            PublishedBy = published.By,
            Findings = [.. contents.Findings, .. published.Findings],
        };

        await using var db = await databases.CreateDbContextAsync(cancel);
        if (file.StoredAs is { } id && contents.Sha256 != id)
        {
            // Nobody but this program writes there: the disk, or somebody, changed a file under its name.
            log.LogError("{File} in the store is no longer what its name says", id);
            contents = contents with
            {
                Sha256 = id,
                Findings =
                [
                    new PackageFinding(FindingWeight.Fatal, "The file in the store is no longer what it was. Get it again."),
                    .. contents.Findings,
                ],
            };
        }

        if (file.StoredAs is null)
            await db.Packages.Where(p => p.Path == file.Path && p.Id != contents.Sha256 && !p.IsStored).ExecuteDeleteAsync(cancel);
        if (file.StoredAs is null)
            await db
                .Packages.Where(p => p.Path == file.Path && p.Id != contents.Sha256)
                .ExecuteUpdateAsync(set => set.SetProperty(p => p.Path, (string?)null), cancel);
        var row = await db.Packages.FindAsync([contents.Sha256], cancel);
        if (row is null)
            db.Packages.Add(
                row = new PackageRow
                {
                    Id = contents.Sha256,
                    FileName = file.FileName,
                    Contents = contents,
                    AddedAt = time.GetUtcNow(),
                }
            );
        (
            row.Contents,
            row.SizeBytes,
            row.InspectedAt,
            row.InspectorVersion,
            row.PublishedDigest,
            row.PublishedBy,
            row.PublishedNote,
            row.Password
        ) = (
            contents,
            contents.SizeBytes,
            time.GetUtcNow(),
            PackageInspector.Version,
            published.Digest,
            published.By,
            published.Note,
            file.Password
        );
        if (file.StoredAs is null)
            (row.Path, row.FileName, row.FileChangedAt) = (file.Path, file.FileName, changedAt);
        row.Describe(PackageReader.Read(row.FileName, contents, catalogue), catalogue.Stamp);
        await db.SaveChangesAsync(cancel);
        return null;
    }

    private async Task DescribeAnewAsync(CancellationToken cancel)
    {
        while (true)
        {
            await using var db = await databases.CreateDbContextAsync(cancel);
            var rows = await db
                .Packages.Where(p => p.ReadWith != catalogue.Stamp && p.InspectorVersion == PackageInspector.Version)
                .OrderBy(p => p.Id)
                .Take(RowsAtOnce)
                .ToListAsync(cancel);
            if (rows.Count == 0)
                return;
            foreach (var row in rows)
                row.Describe(PackageReader.Read(row.FileName, row.Contents, catalogue), catalogue.Stamp);
            await db.SaveChangesAsync(cancel);
        }
    }

    private sealed class Tell(Action<long> tell) : IProgress<long>
    {
        public void Report(long value) => tell(value);
    }
}

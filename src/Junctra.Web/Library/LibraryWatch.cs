using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Library;

/// <summary>How far the look through the library has come.</summary>
/// <param name="FileName">The file at hand.</param>
/// <param name="BytesRead">Bytes of it that were read.</param>
/// <param name="SizeBytes">Its size.</param>
/// <param name="Left">Files that wait after it.</param>
public sealed record LibraryProgress(string FileName, long BytesRead, long SizeBytes, int Left);

/// <summary>
/// Keeps the library's index true to its folder. Looks at start and when asked; a file whose size and time are known is not
/// read again, everything else is inspected. A file that went away leaves the index.
/// </summary>
public sealed class LibraryWatch(IDbContextFactory<JunctraDb> databases, IOptions<JunctraOptions> options, TimeProvider time, ILogger<LibraryWatch> log) : BackgroundService
{
    private readonly SemaphoreSlim wanted = new(1);

    /// <summary>What is being looked at, or null when all was seen.</summary>
    public LibraryProgress? Progress { get; private set; }

    /// <summary>Names of files in the folder that are still arriving; they are looked at once they are whole.</summary>
    public IReadOnlyList<string> Arriving { get; private set; } = [];

    /// <summary>Asks for another look.</summary>
    public void LookAgain()
    {
        if (wanted.CurrentCount == 0) wanted.Release();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (true)
        {
            await wanted.WaitAsync(stoppingToken);
            try
            {
                await LookAsync(stoppingToken);
            }
            catch (Exception error) when (error is not OperationCanceledException)
            {
                log.LogError(error, "The library could not be looked through");
            }
            finally
            {
                Progress = null;
            }
        }
    }

    private async Task LookAsync(CancellationToken cancel)
    {
        Directory.CreateDirectory(options.Value.Library);
        var folder = LibraryFolder.Read(options.Value.Library);
        var (files, published) = (folder.Packages, folder.Published);
        Arriving = [.. folder.Arriving.Select(file => file.Name)];
        await using var db = await databases.CreateDbContextAsync(cancel);
        var known = await db.Packages.ToListAsync(cancel);
        db.Packages.RemoveRange(known.Where(row => !files.Any(file => file.FullName == row.Path)));
        await db.SaveChangesAsync(cancel);
        var waiting = files.Where(file => !known.Any(row => row.Path == file.FullName && row.SizeBytes == file.Length && row.InspectorVersion == PackageInspector.Version
            && Math.Abs((row.FileChangedAt - file.LastWriteTimeUtc).TotalMilliseconds) < 1
            && row.Contents.PublishedSha256 == published.GetValueOrDefault(file.Name))).ToList();
        for (var i = 0; i < waiting.Count; i++)
        {
            var left = waiting.Count - i - 1;
            await InspectAsync(waiting[i], published.GetValueOrDefault(waiting[i].Name), left, cancel);
        }
    }

    private async Task InspectAsync(FileInfo file, string? publishedSha256, int left, CancellationToken cancel)
    {
        PackageContents contents;
        var changedAt = new DateTimeOffset(file.LastWriteTimeUtc);
        try
        {
            Progress = new LibraryProgress(file.Name, 0, file.Length, left);
            contents = await PackageInspector.InspectFileAsync(file.FullName, publishedSha256,
                new Tell(read => Progress = new LibraryProgress(file.Name, read, file.Length, left)), cancel);
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            log.LogWarning(error, "{File} cannot be read", file.Name);
            return;
        }

        await using var db = await databases.CreateDbContextAsync(cancel);
        await db.Packages.Where(row => row.Path == file.FullName || row.Id == contents.Sha256).ExecuteDeleteAsync(cancel);
        db.Packages.Add(new PackageRow
        {
            Id = contents.Sha256,
            FileName = file.Name,
            Path = file.FullName,
            SizeBytes = contents.SizeBytes,
            FileChangedAt = changedAt,
            InspectedAt = time.GetUtcNow(),
            InspectorVersion = PackageInspector.Version,
            Contents = contents,
        });
        await db.SaveChangesAsync(cancel);
    }

    private sealed class Tell(Action<long> tell) : IProgress<long>
    {
        public void Report(long value) => tell(value);
    }
}

using System.Threading.Channels;
using Junctra.Core;
using Junctra.Store;
using Junctra.Store.Exchange;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Logbook;

/// <summary>A logbook that is taken in, or was.</summary>
/// <param name="fileName">Name of the file.</param>
/// <param name="by">Who brought it.</param>
/// <param name="bytes">Its size.</param>
public sealed class TakingIn(string fileName, string by, long bytes)
{
    private long bytesRead;

    /// <summary>Name of the file.</summary>
    public string FileName => fileName;

    /// <summary>Who brought it.</summary>
    public string By => by;

    /// <summary>What became of it so far.</summary>
    public ImportReport Report { get; } = new();

    /// <summary>How much of the file was read, 0 to 1.</summary>
    public double Share => bytes == 0 ? 1 : Math.Min(1, (double)Volatile.Read(ref bytesRead) / bytes);

    /// <summary>When it was over; null while it goes on.</summary>
    public DateTimeOffset? EndedAt { get; internal set; }

    /// <summary>Why it came to an early end; null where it did not.</summary>
    public string? Problem { get; internal set; }

    internal void Read(long position) => Volatile.Write(ref bytesRead, position);
}

/// <summary>
/// Takes logbooks in beside the pages, one at a time: whoever brought one may go on working. A program that is stopped meanwhile leaves
/// whole jobs behind, and the same file taken in once more goes on with the others.
/// </summary>
public sealed class LogbookTakeIn(IDbContextFactory<JunctraDb> databases, TimeProvider time, ILogger<LogbookTakeIn> log) : BackgroundService
{
    private const int MaxName = 80;

    private readonly Channel<(TakingIn What, string Path)> waiting = Channel.CreateUnbounded<(TakingIn, string)>();
    private TakingIn? latest;

    /// <summary>The one that is at work or was last; null where none was since the program began.</summary>
    public TakingIn? Latest => Volatile.Read(ref latest);

    /// <summary>Begins to take a file in.</summary>
    /// <param name="file">The file; it is copied first.</param>
    /// <param name="fileName">Its name, for people.</param>
    /// <param name="by">Who brought it.</param>
    /// <param name="cancel">Cancels the copying.</param>
    /// <returns>Whether it began; not while another one is at work.</returns>
    public async Task<bool> BeginAsync(Stream file, string fileName, string by, CancellationToken cancel)
    {
        var before = Latest;
        if (before is { EndedAt: null })
            return false;
        var path = Path.GetTempFileName();
        var isBegun = false;
        try
        {
            await using (var copy = File.Create(path))
                await file.CopyToAsync(copy, cancel);
            var what = new TakingIn(ShownText.Of(fileName, MaxName), by, new FileInfo(path).Length);
            isBegun = Interlocked.CompareExchange(ref latest, what, before) == before;
            return isBegun && waiting.Writer.TryWrite((what, path));
        }
        finally
        {
            if (!isBegun)
                File.Delete(path);
        }
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await foreach (var (what, path) in waiting.Reader.ReadAllAsync(stoppingToken))
        {
            try
            {
                await TakeInAsync(what, path, stoppingToken);
            }
            catch (ExchangeException error)
            {
                what.Problem = error.Message;
            }
            catch (Exception error) when (!stoppingToken.IsCancellationRequested)
            {
                // Whatever it is, it must not end the program.
                log.LogWarning(error, "A logbook could not be taken in.");
                what.Problem = "It could not be read or stored any further; the program's log says why.";
            }
            finally
            {
                File.Delete(path);
            }

            what.EndedAt = time.GetUtcNow();
            await NoteAsync(what, stoppingToken);
        }
    }

    private async Task TakeInAsync(TakingIn what, string path, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var file = File.OpenRead(path);
        var jobs = new LogbookFile(new ExchangeTables(db)).JobsAsync(file, cancel);
        await new LogbookImport(databases, time).TakeInAsync(Watched(), what.By, what.Report, cancel);

        async IAsyncEnumerable<(string Where, ExchangedJob Job)> Watched()
        {
            await foreach (var job in jobs)
            {
                what.Read(file.Position);
                yield return job;
            }
        }
    }

    // What came into the shop in one piece is written down, as what leaves it is.
    private async Task NoteAsync(TakingIn what, CancellationToken cancel)
    {
        try
        {
            await using var db = await databases.CreateDbContextAsync(cancel);
            var report = what.Report;
            db.Audit.Add(
                new AuditRow
                {
                    At = time.GetUtcNow(),
                    By = what.By,
                    Act =
                        $"Took the logbook {what.FileName} in: {report.Taken} jobs taken in, {report.Known} here already, {report.Refused} refused.",
                }
            );
            await db.SaveChangesAsync(cancel);
        }
        catch (Exception error) when (error is DbUpdateException or Npgsql.NpgsqlException)
        {
            log.LogWarning(error, "That a logbook was taken in could not be written down.");
        }
    }
}

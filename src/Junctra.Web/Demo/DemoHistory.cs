using System.IO.Compression;
using Junctra.Store;
using Junctra.Store.Exchange;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Options;

namespace Junctra.Web.Demo;

/// <summary>
/// Takes the demo shop's history in: ten weeks that end the day before, whenever the demo is first started. It comes beside the pages,
/// which
/// are there at once; where it is here already nothing happens.
/// </summary>
internal sealed class DemoHistory(
    IDbContextFactory<JunctraDb> databases,
    IOptions<JunctraOptions> options,
    TimeProvider time,
    ILogger<DemoHistory> log
) : BackgroundService
{
    private const string By = "demo";

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (options.Value is not { IsDemo: true, DemoHistory: { Length: > 0 } path } || !File.Exists(path))
            return;
        try
        {
            // Where it ends decides by how much later all of it is to have been.
            var jobs = await ReadAsync(path, stoppingToken);
            await using (var db = await databases.CreateDbContextAsync(stoppingToken))
            {
                var key = Guid.Parse(jobs[0].Job.Job["key"]!.GetValue<string>());
                if (await db.Jobs.AnyAsync(job => job.Key == key, stoppingToken))
                    return;
            }

            var last = jobs.Max(one => DateTimeOffset.Parse(one.Job.Job["handedBackAt"]!.GetValue<string>()));
            var days = (time.GetUtcNow().Date - last.UtcDateTime.Date).Days - 1;
            var import = new LogbookImport(databases, time) { Later = TimeSpan.FromDays(days) };
            var report = await import.TakeInAsync(jobs.ToAsyncEnumerable(), By, stoppingToken);
            log.LogInformation("The demo shop's history: {Taken} jobs, {Refused} refused.", report.Taken, report.Refused);
        }
        catch (Exception error) when (error is ExchangeException or IOException or InvalidDataException or DbUpdateException)
        {
            // The demo works without a past.
            log.LogWarning(error, "The demo shop's history could not be taken in.");
        }
    }

    private async Task<List<(string Where, ExchangedJob Job)>> ReadAsync(string path, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var file = File.OpenRead(path);
        await using var packed = new GZipStream(file, CompressionMode.Decompress);
        using var plain = new MemoryStream();
        await packed.CopyToAsync(plain, cancel);
        plain.Position = 0;
        return await new LogbookFile(new ExchangeTables(db)).JobsAsync(plain, cancel).ToListAsync(cancel);
    }
}

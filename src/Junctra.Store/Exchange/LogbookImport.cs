using System.Globalization;
using System.Text.Json.Nodes;
using Junctra.Core.Catalogue;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Store.Exchange;

/// <summary>What became of a file that was taken in.</summary>
public sealed class ImportReport
{
    // More are counted, and not told one by one.
    private const int MaxTold = 50;

    /// <summary>Jobs that were taken in.</summary>
    public int Taken { get; internal set; }

    /// <summary>Jobs that are here already, each told by its key.</summary>
    public int Known { get; internal set; }

    /// <summary>Jobs that were not taken in.</summary>
    public int Refused { get; private set; }

    /// <summary>Tickets that somebody here has already, with the ones that were given instead.</summary>
    public List<(string Old, string New)> Renamed { get; } = [];

    /// <summary>Where and why jobs were not taken in, the first of them.</summary>
    public List<string> Problems { get; } = [];

    internal void Refuse(string where, string why)
    {
        Refused++;
        if (Problems.Count < MaxTold)
            Problems.Add($"{where}: {why}");
    }
}

/// <summary>
/// Takes records in that were written out before, here or at another bench. A job comes whole or not at all; one that is here already is
/// left as it is; a ticket that another job has here gets a number. Nothing of it is ever written to a phone: a run that was going on when
/// it was written out has ended early.
/// </summary>
public sealed class LogbookImport(IDbContextFactory<JunctraDb> databases, TimeProvider time)
{
    private const int MaxRows = 500_000,
        AtOnce = 20;

    private readonly Dictionary<(LinkThing Kind, string Label), int> things = [];

    /// <summary>By how much later all of it is to have been: a demo shop's history ends yesterday, whenever it is shown.</summary>
    public TimeSpan Later { get; init; }

    /// <summary>Takes jobs in.</summary>
    /// <param name="jobs">The jobs, each with where it stands, for messages.</param>
    /// <param name="by">Who does it.</param>
    /// <param name="cancel">Cancels; jobs that were taken in stay.</param>
    public async Task<ImportReport> TakeInAsync(
        IAsyncEnumerable<(string Where, ExchangedJob Job)> jobs,
        string by,
        CancellationToken cancel
    )
    {
        var report = new ImportReport();
        await TakeInAsync(jobs, by, report, cancel);
        return report;
    }

    /// <summary>The same with a report that somebody watches meanwhile.</summary>
    public async Task TakeInAsync(
        IAsyncEnumerable<(string Where, ExchangedJob Job)> jobs,
        string by,
        ImportReport report,
        CancellationToken cancel
    )
    {
        var batch = new List<(string Where, ExchangedJob Job)>();
        await foreach (var one in jobs.WithCancellation(cancel))
        {
            batch.Add(one);
            if (batch.Count < AtOnce)
                continue;
            await TakeInAsync(batch, by, report, cancel);
            batch.Clear();
        }

        await TakeInAsync(batch, by, report, cancel);
    }

    /// <summary>Several in one go, because that is many times as fast; where one of them cannot be taken in, each by itself.</summary>
    private async Task TakeInAsync(List<(string Where, ExchangedJob Job)> batch, string by, ImportReport report, CancellationToken cancel)
    {
        if (batch.Count == 0)
            return;
        try
        {
            await StoreAsync([.. batch.Select(one => one.Job)], by, report, cancel);
        }
        catch (Exception error) when (IsRefusal(error) && batch.Count > 1)
        {
            foreach (var one in batch)
                await TakeInAsync([one], by, report, cancel);
        }
        catch (Exception error) when (IsRefusal(error))
        {
            report.Refuse(batch[0].Where, (error.InnerException as PostgresException)?.MessageText ?? error.Message);
        }
    }

    // Rows that contradict each other are refused by the database, or already where they are gathered for it.
    private static bool IsRefusal(Exception error) =>
        error is ExchangeException or InvalidOperationException or DbUpdateException { InnerException: PostgresException };

    private async Task StoreAsync(IReadOnlyList<ExchangedJob> batch, string by, ImportReport report, CancellationToken cancel)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        var tables = new ExchangeTables(db);
        var incoming = new List<(IncomingJob Parts, JobRow Job, string Asked)>();
        var read = batch.Select(written => (Written: written, Job: Read(tables, written))).ToList();
        var keys = read.ConvertAll(one => one.Job.Key);
        var known = (await db.Jobs.Where(job => keys.Contains(job.Key)).Select(job => job.Key).ToListAsync(cancel)).ToHashSet();
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        // A job that comes twice in one file is known the second time.
        foreach (var (written, job) in read.Where(one => known.Add(one.Job.Key)))
        {
            var asked = job.Ticket;
            job.Ticket = await FreeAsync(db, asked, cancel);
            db.Jobs.Add(job);
            incoming.Add((new IncomingJob(db, tables, written, job, this), job, asked));
        }

        await db.SaveChangesAsync(cancel);
        foreach (var (parts, _, _) in incoming)
            parts.AddFirst();
        await db.SaveChangesAsync(cancel);
        foreach (var (parts, job, asked) in incoming)
        {
            await parts.AddRestAsync(cancel);
            if (job.Ticket != asked)
                db.Audit.Add(
                    new AuditRow
                    {
                        JobId = job.Id,
                        At = time.GetUtcNow(),
                        By = by,
                        Act = $"Taken in from a file; its ticket {asked} is another job's here.",
                    }
                );
        }

        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        report.Taken += incoming.Count;
        report.Known += batch.Count - incoming.Count;
        report.Renamed.AddRange(incoming.Where(one => one.Job.Ticket != one.Asked).Select(one => (one.Asked, one.Job.Ticket)));
    }

    private JobRow Read(ExchangeTables tables, ExchangedJob written)
    {
        if (written.Problem is { } problem)
            throw new ExchangeException(problem);
        if (written.Job[LogbookExport.KeyColumn] is null)
            throw new ExchangeException("It has no key, by which it would be known again.");
        if (written.Parts.Values.Sum(rows => rows.Count) > MaxRows)
            throw new ExchangeException($"It has more than {MaxRows} rows.");
        var job = (JobRow)tables.Job.Read(written.Job, Later);
        return string.IsNullOrWhiteSpace(job.Ticket) ? throw new ExchangeException("It has no ticket.") : job;
    }

    internal DateTimeOffset Now => time.GetUtcNow();

    /// <summary>
    /// The cable or computer of a label. One that nobody has here comes along, out of use: it is in use where it came from.
    /// </summary>
    internal async Task<int?> ThingAsync(LinkThing kind, JsonNode? label, CancellationToken cancel)
    {
        if (label is not JsonValue value || !value.TryGetValue<string>(out var text) || text.Length == 0)
            return null;
        if (text.Length > LinkHistory.MaxCharacters)
            throw new ExchangeException($"A label is at most {LinkHistory.MaxCharacters} characters.");
        if (things.TryGetValue((kind, text), out var id))
            return id;
        // Stored by itself: it stays, whatever becomes of the job that names it.
        await using var db = await databases.CreateDbContextAsync(cancel);
        if (await db.BenchThings.FirstOrDefaultAsync(thing => thing.Kind == kind && thing.Label == text, cancel) is { } known)
            return things[(kind, text)] = known.Id;
        var thing = new BenchThingRow
        {
            Kind = kind,
            Label = text,
            RetiredAt = Now,
        };
        db.Add(thing);
        await db.SaveChangesAsync(cancel);
        return things[(kind, text)] = thing.Id;
    }

    /// <summary>A ticket that nobody has here: the one that was asked for, or the same with the lowest number behind it.</summary>
    private static async Task<string> FreeAsync(JunctraDb db, string ticket, CancellationToken cancel)
    {
        // Those that are on their way in with it are taken, too.
        const int maxTicket = 40;
        var asked = ticket.Trim().ToUpperInvariant();
        for (var number = 1; ; number++)
        {
            var end = number == 1 ? "" : string.Create(CultureInfo.InvariantCulture, $"-{number}");
            var one = asked[..Math.Min(asked.Length, maxTicket - end.Length)] + end;
            if (db.Jobs.Local.All(job => job.Ticket != one) && !await db.Jobs.AnyAsync(job => job.Ticket == one, cancel))
                return one;
        }
    }
}

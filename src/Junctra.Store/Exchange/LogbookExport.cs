using System.Globalization;
using System.IO.Compression;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsvHelper;
using Junctra.Store.Logbook;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Exchange;

/// <summary>
/// Writes the whole record of a shop out, in open forms (docs/formats.md): one line of JSON for each job, or an archive with a table of
/// comma-separated values for each kind of row. Either holds all of it, and either can be taken in again.
/// </summary>
public sealed class LogbookExport(JunctraDb db)
{
    /// <summary>Name of the form, in the first line and in the archive.</summary>
    public const string Format = "junctra-logbook";

    /// <summary>Version of the form.</summary>
    public const int Version = 1;

    /// <summary>Column of a table that says to which job a row belongs.</summary>
    public const string JobColumn = "job";

    /// <summary>Column of a try that names its cable, and its computer.</summary>
    public const string CableColumn = "cable",
        ComputerColumn = "computer";

    internal const string KeyColumn = "key";

    // So many jobs are held in memory at once.
    private const int AtOnce = 50;

    // Not escaped more than need be: people read it.
    private static readonly JsonSerializerOptions Plain = new()
    {
        Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
    };

    private readonly ExchangeTables tables = new(db);

    /// <summary>What stands in the first line of a file of lines, or beside the tables.</summary>
    public static JsonObject Head(DateTimeOffset at, string shop) =>
        new()
        {
            ["format"] = Format,
            ["version"] = Version,
            ["at"] = at,
            ["shop"] = shop,
        };

    /// <summary>The jobs, in the order in which they were taken in.</summary>
    public async IAsyncEnumerable<ExchangedJob> JobsAsync([EnumeratorCancellation] CancellationToken cancel)
    {
        var ids = await db.Jobs.OrderBy(job => job.Id).Select(job => job.Id).ToListAsync(cancel);
        foreach (var chunk in ids.Chunk(AtOnce))
        foreach (var record in await JobRecords.LoadAsync(db, chunk, cancel))
            yield return tables.Write(record);
    }

    /// <summary>Writes one line for each job, after a line that says what it is.</summary>
    public Task WriteLinesAsync(Stream to, JsonObject head, CancellationToken cancel) =>
        WriteLinesAsync(to, head, JobsAsync(cancel), cancel);

    /// <summary>The same of jobs that come from elsewhere.</summary>
    public static async Task WriteLinesAsync(Stream to, JsonObject head, IAsyncEnumerable<ExchangedJob> jobs, CancellationToken cancel)
    {
        await using var lines = new StreamWriter(to, new UTF8Encoding(false), leaveOpen: true) { NewLine = "\n" };
        await lines.WriteLineAsync(head.ToJsonString(Plain).AsMemory(), cancel);
        await foreach (var job in jobs)
        {
            var line = new JsonObject { [ExchangeTables.Jobs] = job.Job };
            foreach (var (name, rows) in job.Parts.Where(part => part.Value.Count > 0))
                line[name] = new JsonArray([.. rows]);
            await lines.WriteLineAsync(line.ToJsonString(Plain).AsMemory(), cancel);
        }
    }

    /// <summary>Writes an archive with a table for each kind of row.</summary>
    public async Task WriteTablesAsync(Stream to, JsonObject head, CancellationToken cancel)
    {
        // An archive is written one entry after the other, and jobs come one after the other: each table waits in a file of its own.
        var folder = Directory.CreateTempSubdirectory("junctra-export-").FullName;
        try
        {
            await using (var writers = new TableWriters(folder, tables))
                await foreach (var job in JobsAsync(cancel))
                {
                    var key = job.Job[KeyColumn]!.GetValue<string>();
                    await writers.AddAsync(ExchangeTables.Jobs, key, job.Job);
                    foreach (var (name, rows) in job.Parts)
                    foreach (var row in rows)
                        await writers.AddAsync(name, key, row);
                }

            await using var archive = await ZipArchive.CreateAsync(to, ZipArchiveMode.Create, leaveOpen: true, null, cancel);
            await using (var entry = await archive.CreateEntry($"{Format}.json").OpenAsync(cancel))
                await entry.WriteAsync(Encoding.UTF8.GetBytes(head.ToJsonString(Plain)), cancel);
            foreach (var file in Directory.EnumerateFiles(folder).Order(StringComparer.Ordinal))
            {
                await using var entry = await archive.CreateEntry(Path.GetFileName(file)).OpenAsync(cancel);
                await using var table = File.OpenRead(file);
                await table.CopyToAsync(entry, cancel);
            }
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    /// <summary>Columns of a table in an archive: those of its rows, and to which job each belongs.</summary>
    internal static IReadOnlyList<string> ColumnsOf(ExchangeTable table) =>
        table.Name switch
        {
            ExchangeTables.Jobs => table.Columns,
            ExchangeTables.Tries => [JobColumn, .. table.Columns, CableColumn, ComputerColumn],
            _ => [JobColumn, .. table.Columns],
        };

    private sealed class TableWriters : IAsyncDisposable
    {
        private readonly Dictionary<string, (CsvWriter Csv, IReadOnlyList<string> Columns)> writers = [];

        public TableWriters(string folder, ExchangeTables tables)
        {
            foreach (var table in tables.Parts.Prepend(tables.Job))
            {
                var csv = new CsvWriter(
                    new StreamWriter(Path.Combine(folder, $"{table.Name}.csv"), false, new UTF8Encoding(false)),
                    CultureInfo.InvariantCulture
                );
                var columns = ColumnsOf(table);
                foreach (var column in columns)
                    csv.WriteField(column);
                csv.NextRecord();
                writers[table.Name] = (csv, columns);
            }
        }

        public async Task AddAsync(string table, string job, JsonObject row)
        {
            var (csv, columns) = writers[table];
            foreach (var column in columns)
                csv.WriteField(column == JobColumn ? job : Field(row[column]));
            await csv.NextRecordAsync();
        }

        private static string Field(JsonNode? value) =>
            value is null ? ""
            : value.GetValueKind() == JsonValueKind.String ? value.GetValue<string>()
            : value.ToJsonString(Plain);

        public async ValueTask DisposeAsync()
        {
            foreach (var (csv, _) in writers.Values)
                await csv.DisposeAsync();
        }
    }
}

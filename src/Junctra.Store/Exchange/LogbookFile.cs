using System.Globalization;
using System.IO.Compression;
using System.Runtime.CompilerServices;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using CsvHelper;
using CsvHelper.Configuration;

namespace Junctra.Store.Exchange;

/// <summary>Reads what <see cref="LogbookExport"/> wrote, or somebody else in the same form. A file is a stranger's until it was read.</summary>
public sealed class LogbookFile(ExchangeTables tables)
{
    /// <summary>Longest line, and longest row, in characters.</summary>
    public const int MaxLine = 64 << 20;

    /// <summary>Most bytes that the tables of an archive unpack to.</summary>
    public const long MaxUnpacked = 1L << 30;

    /// <summary>The jobs of a file, each with where it stands.</summary>
    /// <param name="file">Lines of JSON, or an archive of tables; told by its first bytes. It must be seekable.</param>
    /// <param name="cancel">Cancels.</param>
    /// <exception cref="ExchangeException">It is no such file at all.</exception>
    public IAsyncEnumerable<(string Where, ExchangedJob Job)> JobsAsync(Stream file, CancellationToken cancel)
    {
        Span<byte> begin = stackalloc byte[2];
        var read = file.ReadAtLeast(begin, 2, throwOnEndOfStream: false);
        file.Position = 0;
        return read == 2 && begin[0] == 'P' && begin[1] == 'K' ? TablesAsync(file, cancel) : LinesAsync(file, cancel);
    }

    private static void CheckHead(JsonNode? head)
    {
        if (
            (head as JsonObject)?["format"] is not JsonValue format
            || !format.TryGetValue<string>(out var name)
            || name != LogbookExport.Format
        )
            throw new ExchangeException("This is no logbook: its first line does not say so.");
        if (
            head["version"] is not JsonValue version
            || !version.TryGetValue<int>(out var number)
            || number is < 1 or > LogbookExport.Version
        )
            throw new ExchangeException($"This logbook has a version that is not known here; versions to {LogbookExport.Version} are.");
    }

    private async IAsyncEnumerable<(string Where, ExchangedJob Job)> LinesAsync(
        Stream file,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        await Task.CompletedTask;
        using var lines = new StreamReader(file, Encoding.UTF8, leaveOpen: true);
        var (number, hasHead) = (0, false);
        while (Next(lines) is { } line)
        {
            cancel.ThrowIfCancellationRequested();
            number++;
            if (line.Length == 0)
                continue;
            JsonNode? node;
            string? problem = null;
            try
            {
                node = JsonNode.Parse(line, documentOptions: Strict);
            }
            catch (JsonException error) when (hasHead)
            {
                (node, problem) = (null, $"It is no JSON: {error.Message}");
            }
            catch (JsonException)
            {
                node = null;
            }

            if (!hasHead)
            {
                CheckHead(node);
                hasHead = true;
                continue;
            }

            yield return ($"Line {number}", problem is null ? Job(node as JsonObject) : Unreadable(problem));
        }

        if (!hasHead)
            throw new ExchangeException("The file is empty.");
    }

    // Where one line is spoilt the others are still read: it is refused where it would be taken in.
    private static ExchangedJob Unreadable(string problem) =>
        new([], new Dictionary<string, IReadOnlyList<JsonObject>>()) { Problem = problem };

    // Of two members of one name nobody can say which is meant.
    internal static readonly JsonDocumentOptions Strict = new() { AllowDuplicateProperties = false };

    private ExchangedJob Job(JsonObject? line)
    {
        if (line?[ExchangeTables.Jobs] is not JsonObject job)
            return Unreadable($"There is no “{ExchangeTables.Jobs}” in it.");
        var parts = new Dictionary<string, IReadOnlyList<JsonObject>>();
        foreach (var (name, rows) in line.Where(pair => pair.Key != ExchangeTables.Jobs))
        {
            if (tables.Part(name) is null)
                return Unreadable($"“{name}” is nothing that hangs on a job.");
            if (rows is not JsonArray array || array.Any(row => row is not JsonObject))
                return Unreadable($"“{name}” is no list of rows.");
            parts[name] = [.. array.Select(row => (JsonObject)row!)];
        }

        return new ExchangedJob(job, parts);
    }

    private static string? Next(StreamReader from)
    {
        // A line without an end must not fill the memory.
        var line = new StringBuilder();
        for (var c = from.Read(); c >= 0; c = from.Read())
        {
            if (c == '\n')
                return line.ToString().TrimEnd('\r');
            if (line.Append((char)c).Length > MaxLine)
                throw new ExchangeException($"A line is longer than {MaxLine} characters.");
        }

        return line.Length == 0 ? null : line.ToString();
    }

    private async IAsyncEnumerable<(string Where, ExchangedJob Job)> TablesAsync(
        Stream file,
        [EnumeratorCancellation] CancellationToken cancel
    )
    {
        ZipArchive archive;
        try
        {
            archive = await ZipArchive.CreateAsync(file, ZipArchiveMode.Read, leaveOpen: true, null, cancel);
        }
        catch (InvalidDataException)
        {
            throw new ExchangeException("This is no archive that can be read.");
        }

        await using (archive)
        {
            if (archive.Entries.Sum(entry => entry.Length) > MaxUnpacked)
                throw new ExchangeException("Its tables unpack to more than can be taken in at once. Write it out as lines instead.");
            CheckHead(await HeadAsync(archive, cancel));
            var jobs = await RowsAsync(archive, tables.Job, cancel);
            var parts = new Dictionary<string, ILookup<string, JsonObject>>();
            foreach (var table in tables.Parts)
                parts[table.Name] = (await RowsAsync(archive, table, cancel)).ToLookup(row => row.Job, row => row.Row);
            foreach (var (where, key, job) in jobs)
                yield return (
                    where,
                    new ExchangedJob(job, parts.ToDictionary(part => part.Key, part => (IReadOnlyList<JsonObject>)[.. part.Value[key]]))
                );
        }
    }

    private static async Task<JsonNode?> HeadAsync(ZipArchive archive, CancellationToken cancel)
    {
        if (archive.GetEntry($"{LogbookExport.Format}.json") is not { Length: < 1 << 16 } head)
            return null;
        await using var text = new UnpackedTable(head, await head.OpenAsync(cancel));
        try
        {
            return await JsonNode.ParseAsync(text, documentOptions: Strict, cancellationToken: cancel);
        }
        catch (JsonException)
        {
            return null;
        }
    }

    private static async Task<List<(string Where, string Job, JsonObject Row)>> RowsAsync(
        ZipArchive archive,
        ExchangeTable table,
        CancellationToken cancel
    )
    {
        var name = $"{table.Name}.csv";
        if (archive.GetEntry(name) is not { } entry)
            return table.Name == ExchangeTables.Jobs ? throw new ExchangeException($"There is no {name} in it.") : [];
        var rows = new List<(string, string, JsonObject)>();
        using var text = new StreamReader(new UnpackedTable(entry, await entry.OpenAsync(cancel)), Encoding.UTF8);
        using var csv = new CsvReader(
            text,
            new CsvConfiguration(CultureInfo.InvariantCulture)
            {
                MaxFieldSize = MaxLine,
                BadDataFound = null,
                MissingFieldFound = null,
            }
        );
        try
        {
            if (!await csv.ReadAsync() || !csv.ReadHeader())
                return rows;
            while (await csv.ReadAsync())
            {
                cancel.ThrowIfCancellationRequested();
                var row = new JsonObject();
                var job = "";
                foreach (var column in csv.HeaderRecord!)
                {
                    var field = csv.GetField(column) ?? "";
                    if (column == LogbookExport.JobColumn)
                        job = field;
                    else if (column is LogbookExport.CableColumn or LogbookExport.ComputerColumn && table.Name == ExchangeTables.Tries)
                        row[column] = field.Length > 0 ? JsonValue.Create(field) : null;
                    else if (table.FromField(column, field) is { } value)
                        row[column] = value;
                }

                if (table.Name == ExchangeTables.Jobs)
                    job = row[LogbookExport.KeyColumn]?.GetValue<string>() ?? "";
                rows.Add(($"{name}, line {csv.Parser.RawRow}", job, row));
            }
        }
        catch (InvalidDataException)
        {
            throw new ExchangeException($"{name} is damaged: it cannot be unpacked.");
        }
        catch (CsvHelperException error)
        {
            throw new ExchangeException($"{name}: {error.Message.Split('\n')[0]}");
        }
        catch (ExchangeException error)
        {
            throw new ExchangeException($"{name}, line {csv.Parser.RawRow}: {error.Message}");
        }

        return rows;
    }
}

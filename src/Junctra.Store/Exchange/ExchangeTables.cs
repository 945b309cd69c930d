using System.Text.Json;
using System.Text.Json.Nodes;
using Junctra.Store.Logbook;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Metadata;

namespace Junctra.Store.Exchange;

/// <summary>A table as it is written out: its name, its columns, and where its rows hang.</summary>
public sealed class ExchangeTable
{
    private readonly IReadOnlyList<IProperty> columns;

    internal ExchangeTable(string name, IEntityType type, params string[] left)
    {
        (Name, Type) = (name, type);
        columns =
        [
            .. type.GetProperties()
                .Where(property => property.PropertyInfo is not null && !property.IsConcurrencyToken && !left.Contains(property.Name)),
        ];
    }

    /// <summary>Its name: a list in a job's line, a file of its own in an archive of tables.</summary>
    public string Name { get; }

    internal IEntityType Type { get; }

    /// <summary>Names of its columns, in order.</summary>
    public IReadOnlyList<string> Columns => [.. columns.Select(NameOf)];

    private static string NameOf(IProperty property) => JsonNamingPolicy.CamelCase.ConvertName(property.Name);

    private bool IsKnown(string name) =>
        columns.Any(property => NameOf(property) == name)
        || Name == ExchangeTables.Tries && name is LogbookExport.CableColumn or LogbookExport.ComputerColumn;

    private static bool IsJson(IProperty property) => property.GetColumnType() == "jsonb";

    /// <summary>A row as it is written out.</summary>
    internal JsonObject Write(object row)
    {
        var written = new JsonObject();
        foreach (var property in columns)
            if (property.PropertyInfo!.GetValue(row) is { } value)
                written[NameOf(property)] =
                    IsJson(property) && property.GetTypeMapping().Converter is { } converter
                        ? JsonNode.Parse((string)converter.ConvertToProvider(value)!)
                        : JsonSerializer.SerializeToNode(value, property.ClrType, StoreJson.Options);
        return written;
    }

    /// <summary>
    /// A value of a column as a table of comma-separated values has it; null for an empty field of a column that may be empty.
    /// </summary>
    /// <exception cref="ExchangeException">There is no such column, or the field is none of its values.</exception>
    internal JsonNode? FromField(string column, string field)
    {
        var property = columns.FirstOrDefault(property => NameOf(property) == column)
            ?? throw new ExchangeException($"{Name}: there is no column “{column}”.");
        if (field.Length == 0)
            return property.ClrType == typeof(string) && !property.IsNullable ? JsonValue.Create("") : null;
        var type = Nullable.GetUnderlyingType(property.ClrType) ?? property.ClrType;
        if (!IsJson(property) && (type == typeof(string) || type == typeof(DateTimeOffset) || type == typeof(Guid) || type.IsEnum))
            return JsonValue.Create(field);
        try
        {
            return JsonNode.Parse(field, documentOptions: LogbookFile.Strict);
        }
        catch (JsonException)
        {
            throw new ExchangeException($"{Name}: “{field[..Math.Min(field.Length, 60)]}” is no value of {column}.");
        }
    }

    /// <summary>A row as it was written out, as an entity without a place yet. What it does not name stays as new rows have it.</summary>
    /// <param name="written">The row.</param>
    /// <param name="later">By how much later it is to have been.</param>
    /// <exception cref="ExchangeException">A value is none of its column, whatever the reader of such values says of it.</exception>
    internal object Read(JsonObject written, TimeSpan later)
    {
        if (written.Select(pair => pair.Key).FirstOrDefault(name => !IsKnown(name)) is { } unknown)
            throw new ExchangeException($"{Name}: there is no column “{unknown}”.");
        var row = Activator.CreateInstance(Type.ClrType)!;
        foreach (var property in columns)
        {
            if (!written.TryGetPropertyValue(NameOf(property), out var node) || node is null)
            {
                if (!property.IsNullable && property.ClrType == typeof(string) && property.PropertyInfo!.GetValue(row) is null)
                    throw new ExchangeException($"{Name}: there is no {NameOf(property)}.");
                continue;
            }

            try
            {
                var value =
                    IsJson(property) && property.GetTypeMapping().Converter is { } converter
                        ? converter.ConvertFromProvider(node.ToJsonString())
                        : node.Deserialize(property.ClrType, StoreJson.Options);
                if (IsJson(property) && Gaps.Find(value) is { } gap)
                    throw new ExchangeException($"{Name}: {NameOf(property)} cannot be read: there is no {gap}.");
                if (value is string text && (text.Contains('\0') || text.Length > (property.GetMaxLength() ?? int.MaxValue)))
                    throw new ExchangeException(
                        $"{Name}: {NameOf(property)} is longer than it may be, or holds a sign that cannot be kept."
                    );
                property.PropertyInfo!.SetValue(row, value is DateTimeOffset at ? at.ToUniversalTime() + later : value);
            }
            catch (Exception error) when (error is not ExchangeException)
            {
                throw new ExchangeException($"{Name}: {NameOf(property)} cannot be read: {error.Message}");
            }
        }

        return row;
    }
}

/// <summary>Something that was to be taken in cannot be; the message says what, for whoever brought it.</summary>
public sealed class ExchangeException(string message) : Exception(message);

/// <summary>
/// All tables that make the record of a shop, in the order in which they are taken in. Columns are those of the database: a new one is
/// written out and taken in without a line here. What tells rows apart only inside one database is left out, but for the three that other
/// rows point to.
/// </summary>
public sealed class ExchangeTables
{
    public const string Jobs = "jobs",
        Runs = "runs",
        Events = "runEvents",
        TriageAnswers = "triageAnswers",
        Facts = "facts",
        Tries = "linkTries",
        Audit = "audit";

    /// <summary>The tables of a database's model.</summary>
    public ExchangeTables(JunctraDb db)
    {
        IEntityType Of<T>() => db.Model.FindEntityType(typeof(T))!;
        const string id = "Id",
            jobId = "JobId";
        Job = new(Jobs, Of<JobRow>(), id);
        Parts =
        [
            new(TriageAnswers, Of<TriageAnswerRow>(), jobId),
            new(Facts, Of<FactRow>(), id, jobId),
            new("claims", Of<ClaimRow>(), id, jobId),
            new("consents", Of<ConsentRow>(), id, jobId),
            new("snapshots", Of<SnapshotRow>(), id, jobId),
            new("rescue", Of<RescueEventRow>(), id, jobId),
            new("promises", Of<PromiseRow>(), id, jobId),
            new("findings", Of<FindingRow>(), id, jobId),
            new("schools", Of<SchoolRow>(), id, jobId),
            new("gateAnswers", Of<GateAnswerRow>(), id, jobId),
            new(Runs, Of<RunRow>(), jobId, nameof(RunRow.ClaimedBy), nameof(RunRow.LeaseUntil)),
            new(Events, Of<RunEventRow>()),
            new(Tries, Of<LinkTryRow>(), id, jobId, nameof(LinkTryRow.CableId), nameof(LinkTryRow.ComputerId)),
            new(Audit, Of<AuditRow>(), id, jobId),
        ];
    }

    /// <summary>The jobs themselves.</summary>
    public ExchangeTable Job { get; }

    /// <summary>What hangs on a job.</summary>
    public IReadOnlyList<ExchangeTable> Parts { get; }

    /// <summary>A table that hangs on jobs, by its name; null where there is none.</summary>
    public ExchangeTable? Part(string name) => Parts.FirstOrDefault(part => part.Name == name);

    /// <summary>A record as it is written out.</summary>
    public ExchangedJob Write(JobRecord record)
    {
        var job = record.Job;
        return new ExchangedJob(
            Job.Write(job),
            Parts.ToDictionary(
                table => table.Name,
                table =>
                    (IReadOnlyList<JsonObject>)
                        [.. Rows(table.Name).Select(row => row is LabelledTry one ? Try(table, one) : table.Write(row))]
            )
        );

        IEnumerable<object> Rows(string name) =>
            name switch
            {
                TriageAnswers => job.TriageAnswers,
                Facts => job.Facts,
                "claims" => job.Claims,
                "consents" => job.Consents,
                "snapshots" => job.Snapshots,
                "rescue" => job.Rescue,
                "promises" => job.Promises,
                "findings" => job.Findings,
                "schools" => job.Schools,
                "gateAnswers" => job.Answers,
                Runs => job.Runs,
                Events => job.Runs.SelectMany(run =>
                    record
                        .Journal[run.Id]
                        .Select(entry => new RunEventRow
                        {
                            RunId = run.Id,
                            Seq = entry.Seq,
                            At = entry.At,
                            Event = entry.Event,
                        })
                ),
                Tries => record.Tries,
                Audit => record.Audit,
                _ => throw new InvalidOperationException($"It is not said what of a record goes into {name}."),
            };
    }

    private static JsonObject Try(ExchangeTable table, LabelledTry one)
    {
        var row = table.Write(one.Row);
        row[LogbookExport.CableColumn] = one.Cable;
        row[LogbookExport.ComputerColumn] = one.Computer;
        return row;
    }
}

/// <summary>A job with all that hangs on it, as it is written out.</summary>
/// <param name="Job">The job's own columns.</param>
/// <param name="Parts">By table, its rows in order.</param>
public sealed record ExchangedJob(JsonObject Job, IReadOnlyDictionary<string, IReadOnlyList<JsonObject>> Parts)
{
    /// <summary>Why it cannot even be read; null where it can.</summary>
    public string? Problem { get; init; }
}

using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Planning;
using Junctra.Core.Runs;

namespace Junctra.Store;

/// <summary>What may become of the customer's data, as said at intake.</summary>
public enum DataWish
{
    /// <summary>Not said; asked before a plan.</summary>
    NotSaid,
    /// <summary>Everything may go.</summary>
    MayGo,
    /// <summary>It should be kept if at all possible.</summary>
    Keep,
}

/// <summary>A job: one phone over the counter.</summary>
public sealed class JobRow
{
    public int Id { get; set; }
    public required string Ticket { get; set; }
    public required string Description { get; set; }
    public required string Complaint { get; set; }
    public DataWish DataWish { get; set; }
    public DateTimeOffset? PromisedAt { get; set; }
    public bool OwnershipStated { get; set; }
    public string? PortName { get; set; }
    public string? PackageId { get; set; }
    public bool ErasesData { get; set; }

    /// <summary>The region school of this job, or null for the shop's.</summary>
    public RegionSchool? RegionSchool { get; set; }
    public DateTimeOffset TakenInAt { get; set; }
    public DateTimeOffset? HandedBackAt { get; set; }

    /// <summary>PostgreSQL's row version: two people changing one job at once are told apart by it.</summary>
    public uint Version { get; set; }

    public List<FactRow> Facts { get; } = [];
    public List<GateAnswerRow> Answers { get; } = [];
    public List<RunRow> Runs { get; } = [];
}

/// <summary>A fact as recorded. Rows are never changed but for the two ways in which a fact stops to count.</summary>
public sealed class FactRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string Name { get; set; }
    public required string Value { get; set; }
    public FactSource Source { get; set; }
    public DateTimeOffset At { get; set; }
    public required string RecordedBy { get; set; }
    public string? ParsedFrom { get; set; }
    public DateTimeOffset? ExpiredAt { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }

    public bool Counts => ExpiredAt is null && WithdrawnAt is null;

    public static FactRow Of(Fact fact) => new()
    {
        Name = fact.Name.Value,
        Value = fact.Value,
        Source = fact.Source,
        At = fact.At,
        RecordedBy = fact.RecordedBy,
        ParsedFrom = fact.ParsedFrom,
    };

    public Fact ToFact() => new(new FactName(Name), Value, Source, At, RecordedBy, ParsedFrom);
}

/// <summary>A person's answer to a gate. It holds only for the plan it was given for.</summary>
public sealed class GateAnswerRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string PackageId { get; set; }
    public bool ErasesData { get; set; }
    public required string GateId { get; set; }
    public required string OptionId { get; set; }
    public required string Text { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }

    public GateAnswer ToAnswer() => new(GateId, OptionId, At, By);
}

/// <summary>A package file of the library and what was found in it.</summary>
public sealed class PackageRow
{
    /// <summary>SHA-256 of the file, lower-case hexadecimal.</summary>
    public required string Id { get; set; }
    public required string FileName { get; set; }
    public required string Path { get; set; }
    public long SizeBytes { get; set; }
    public DateTimeOffset FileChangedAt { get; set; }
    public DateTimeOffset InspectedAt { get; set; }

    /// <summary>Version of the inspection that found <see cref="Contents"/>; another one's findings are not read.</summary>
    public int InspectorVersion { get; set; }
    public required PackageContents Contents { get; set; }
}

/// <summary>A run: one plan carried out once.</summary>
public sealed class RunRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public JobRow Job { get; set; } = null!;
    public required string PackageId { get; set; }
    public required Plan Plan { get; set; }

    /// <summary>The match as it was judged when the run began.</summary>
    public required MatchReport Report { get; set; }
    public required string PortName { get; set; }
    public required string Address { get; set; }
    public RunStatus Status { get; set; }
    public string? ClaimedBy { get; set; }
    public DateTimeOffset? LeaseUntil { get; set; }
    public DateTimeOffset BegunAt { get; set; }
    public required string BegunBy { get; set; }
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>Who asked to stop after the image at hand, or null.</summary>
    public string? StopAskedBy { get; set; }
}

/// <summary>One event of a run's journal. Appended, never changed.</summary>
public sealed class RunEventRow
{
    public int RunId { get; set; }
    public long Seq { get; set; }
    public DateTimeOffset At { get; set; }
    public required RunEvent Event { get; set; }
}

/// <summary>A port of the bench, at which a phone's link answers.</summary>
public sealed class PortRow
{
    public required string Name { get; set; }
    public required string Address { get; set; }
    public string? LastSerial { get; set; }
    public DateTimeOffset? LastSeenAt { get; set; }
}

/// <summary>Something a person did that matters, with who and when.</summary>
public sealed class AuditRow
{
    public int Id { get; set; }
    public int? JobId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public required string Act { get; set; }
}

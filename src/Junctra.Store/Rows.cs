using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Store.Logbook;

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

    /// <summary>Tells it from every other job of every shop, so that a record that comes twice is known again.</summary>
    public Guid Key { get; set; } = Guid.NewGuid();
    public required string Ticket { get; set; }
    public required string Description { get; set; }
    public required string Complaint { get; set; }
    public DataWish DataWish { get; set; }
    public DateTimeOffset? PromisedAt { get; set; }
    public bool OwnershipStated { get; set; }

    /// <summary>State of the cell as seen at the counter; anything but sound stops the job there and then.</summary>
    public CellState Cell { get; set; }

    /// <summary>What came along with the phone, to go back with it.</summary>
    public string Accessories { get; set; } = "";

    /// <summary>The fault class that somebody took as the finding, or null.</summary>
    public string? FaultClassId { get; set; }
    public string? PortName { get; set; }
    public string? PackageId { get; set; }

    /// <summary>Letter of the path that somebody chose without a package, or null.</summary>
    public string? Path { get; set; }
    public bool ErasesData { get; set; }

    /// <summary>What the phone is to be written for, or null for what its intake says.</summary>
    public JobGoal? Goal { get; set; }
    public WishKind WishKind { get; set; }

    /// <summary>The build or OS version of the wish, for kinds that need one.</summary>
    public string WishVersion { get; set; } = "";

    /// <summary>Since when it has been on a known-good charger, or null.</summary>
    public DateTimeOffset? ChargeBeganAt { get; set; }

    /// <summary>The current that was measured there last, in milliamperes.</summary>
    public int? ChargeMilliamperes { get; set; }
    public DateTimeOffset TakenInAt { get; set; }
    public DateTimeOffset? HandedBackAt { get; set; }

    /// <summary>When the customer's words were removed by the shop's rule, or null.</summary>
    public DateTimeOffset? WordsRemovedAt { get; set; }

    /// <summary>PostgreSQL's row version: two people changing one job at once are told apart by it.</summary>
    public uint Version { get; set; }

    /// <summary>Where this job works by another school than the shop; the latest of a question counts.</summary>
    public List<SchoolRow> Schools { get; } = [];
    public List<FactRow> Facts { get; } = [];
    public List<TriageAnswerRow> TriageAnswers { get; } = [];
    public List<ClaimRow> Claims { get; } = [];
    public List<ConsentRow> Consents { get; } = [];
    public List<SnapshotRow> Snapshots { get; } = [];

    /// <summary>What happened at the opened phone; only appended.</summary>
    public List<RescueEventRow> Rescue { get; } = [];
    public List<PromiseRow> Promises { get; } = [];
    public List<GateAnswerRow> Answers { get; } = [];
    public List<RunRow> Runs { get; } = [];
    public List<FindingRow> Findings { get; } = [];
}

/// <summary>
/// A decision on a question on which practitioners disagree, of the shop or for one job. Rows are never changed; the latest counts, the
/// others are its history.
/// </summary>
public sealed class SchoolRow
{
    public int Id { get; set; }

    /// <summary>The job, or null for the whole shop.</summary>
    public int? JobId { get; set; }
    public required string Question { get; set; }

    /// <summary>The school, or null where it goes back to what holds without this.</summary>
    public string? Choice { get; set; }
    public required string Reason { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A token with which a program acts for somebody. Only its digest is kept.</summary>
public sealed class ApiTokenRow
{
    public int Id { get; set; }
    public int StaffId { get; set; }
    public required string Name { get; set; }

    /// <summary>SHA-256 of the token, lower-case hexadecimal.</summary>
    public required string Digest { get; set; }
    public DateTimeOffset CreatedAt { get; set; }
    public DateTimeOffset? LastUsedAt { get; set; }
    public DateTimeOffset? RevokedAt { get; set; }
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

    /// <summary>The answer of the triage that told it, or null; it is withdrawn with that answer.</summary>
    public int? TriageAnswerId { get; set; }
    public DateTimeOffset? ExpiredAt { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }

    public bool Counts => ExpiredAt is null && WithdrawnAt is null;

    public static FactRow Of(Fact fact) =>
        new()
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

/// <summary>What somebody answered to a check of the triage. Rows are never changed but by taking an answer back.</summary>
public sealed class TriageAnswerRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string CheckId { get; set; }
    public required string OutcomeId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }

    /// <summary>Stands for an outcome where somebody could not tell; the check is not offered again.</summary>
    public const string CannotTell = "cannot-tell";

    public Observation ToObservation() => new(CheckId, OutcomeId);
}

/// <summary>What somebody says of the phone or of a package: a claim with its source, never a fact.</summary>
public sealed class ClaimRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string Text { get; set; }
    public required string SaidBy { get; set; }
    public DateTimeOffset At { get; set; }
    public required string RecordedBy { get; set; }
}

/// <summary>
/// Something that was agreed to or waived, in the words that were said. Rows are never changed; what is taken back stays.
/// </summary>
public sealed class ConsentRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string ConsentId { get; set; }

    /// <summary>The words as they stood when they were agreed to.</summary>
    public required string Text { get; set; }

    /// <summary>Who agreed, and how: at the counter in writing, by telephone.</summary>
    public required string AgreedBy { get; set; }
    public DateTimeOffset At { get; set; }
    public required string RecordedBy { get; set; }
    public DateTimeOffset? WithdrawnAt { get; set; }
    public string? WithdrawnBy { get; set; }
}

/// <summary>What was known of the phone at one moment before it was touched; frozen.</summary>
public sealed class SnapshotRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
    public required BeforeSnapshot Before { get; set; }
}

/// <summary>A person's answer to a gate. It holds only for the plan it was given for.</summary>
public sealed class GateAnswerRow
{
    public int Id { get; set; }
    public int JobId { get; set; }

    /// <summary>Key of the plan; null in answers of before plans had keys, which hold for runs of that time only.</summary>
    public string? PlanKey { get; set; }

    /// <summary>Digest of the plan's package, or null.</summary>
    public string? PackageId { get; set; }
    public bool ErasesData { get; set; }
    public required string GateId { get; set; }
    public required string OptionId { get; set; }
    public required string Text { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }

    public GateAnswer ToAnswer() => new(new GateId(GateId), OptionId, At, By);
}

/// <summary>A run: one plan carried out once.</summary>
public sealed class RunRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public JobRow Job { get; set; } = null!;

    /// <summary>Digest of the plan's package, or null.</summary>
    public string? PackageId { get; set; }
    public required Plan Plan { get; set; }

    /// <summary>The match as it was judged when the run began; null for a plan without a package.</summary>
    public MatchReport? Report { get; set; }

    /// <summary>The port at which it is written; null for a plan that needs no link.</summary>
    public string? PortName { get; set; }

    /// <inheritdoc cref="PortName"/>
    public string? Address { get; set; }
    public RunStatus Status { get; set; }
    public string? ClaimedBy { get; set; }
    public DateTimeOffset? LeaseUntil { get; set; }
    public DateTimeOffset BegunAt { get; set; }

    /// <summary>Since when it waits for a writer, by the database's clock: since it began, or since hands went on with it.</summary>
    public DateTimeOffset QueuedAt { get; set; }
    public required string BegunBy { get; set; }
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>Title of the plan's package, for lists.</summary>
    public string PackageTitle { get; set; } = "";

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

using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using NpgsqlTypes;

namespace Junctra.Store.Logbook;

/// <summary>
/// A job as the logbook lists and finds it. Nothing stands here that does not stand elsewhere: the row is made anew whenever its job
/// changed (<see cref="LogbookIndex"/>).
/// </summary>
public sealed class LogbookRow
{
    public int JobId { get; set; }
    public required string Ticket { get; set; }
    public required string Description { get; set; }

    /// <summary>Model code, or empty.</summary>
    public string Model { get; set; } = "";

    /// <summary>Letter of the path that was carried out last, or that was chosen; empty without one.</summary>
    public string Path { get; set; } = "";

    /// <summary>Id of the fault class, or empty.</summary>
    public string Finding { get; set; } = "";
    public JobOutcome Outcome { get; set; }

    /// <summary>Title of the package that was written last, or empty.</summary>
    public string Package { get; set; } = "";

    /// <summary>Runs that were carried out, and runs that ended early.</summary>
    public int Finished { get; set; }

    /// <inheritdoc cref="Finished"/>
    public int EndedEarly { get; set; }
    public DateTimeOffset TakenInAt { get; set; }
    public DateTimeOffset? HandedBackAt { get; set; }

    /// <summary>When its first run began, and when its last one ended; null without one.</summary>
    public DateTimeOffset? BegunAt { get; set; }

    /// <inheritdoc cref="BegunAt"/>
    public DateTimeOffset? EndedAt { get; set; }

    /// <summary>When the last of its checks was read; null before.</summary>
    public DateTimeOffset? CheckedAt { get; set; }

    /// <summary>The phone's serial, or empty; by it a visit within 30 days is told to be of the same phone.</summary>
    public string Serial { get; set; } = "";

    /// <summary>The fault class that was taken first, with its chance then; empty and null where none was.</summary>
    public string FirstFinding { get; set; } = "";

    /// <inheritdoc cref="FirstFinding"/>
    public double? FirstChance { get; set; }

    /// <summary>Stamp of the catalogue whose words stand in it.</summary>
    public string ReadWith { get; set; } = "";

    /// <summary>Everything by the beginning of which it is found, as <see cref="Core.Logbook.SearchWords"/> cuts it.</summary>
    public NpgsqlTsVector Words { get; set; } = NpgsqlTsVector.Empty;
}

/// <summary>How long a step of a run took, beside what was said of it.</summary>
public sealed class StepTimeRow
{
    public long Id { get; set; }
    public int JobId { get; set; }
    public int RunId { get; set; }
    public int Step { get; set; }

    /// <summary>What took the time.</summary>
    public TimeKind Kind { get; set; }

    /// <summary>Model code.</summary>
    public required string Model { get; set; }

    /// <summary>The link, by the mode in which it writes; empty for what goes over none.</summary>
    public string Link { get; set; } = "";

    /// <summary>Label of the cable that was in use, or empty where nobody said.</summary>
    public string Cable { get; set; } = "";

    /// <summary>Name of the port, or empty.</summary>
    public string Port { get; set; } = "";

    /// <summary>Whose hands it were, or empty.</summary>
    public string By { get; set; } = "";

    /// <summary>What the figures of the catalogue say it takes, in seconds.</summary>
    public double Usual { get; set; }

    /// <summary>What its plan said, typical and slow, in seconds.</summary>
    public double Said { get; set; }

    /// <inheritdoc cref="Said"/>
    public double SaidSlow { get; set; }

    /// <summary>What it took, in seconds.</summary>
    public double Took { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>What was said of a run before it began, beside what became of it.</summary>
public sealed class RunResultRow
{
    public int RunId { get; set; }
    public int JobId { get; set; }
    public required string Model { get; set; }
    public required string Path { get; set; }
    public DateTimeOffset At { get; set; }

    /// <summary>Whether it was carried out and every check that was needed holds; null while that is not known.</summary>
    public bool? Went { get; set; }

    /// <summary>By rule, what each said of the package; empty for a plan without one.</summary>
    public required Dictionary<string, Verdict> Verdicts { get; set; }

    /// <summary>Of a run that broke off in a step: what the rehearsal said that would leave.</summary>
    public RiskKind? Risk { get; set; }

    /// <summary>Of such a run: whether the job came in order afterwards; null while it is not over.</summary>
    public bool? CameBack { get; set; }

    /// <summary>What happened, of a run that ended early; empty otherwise.</summary>
    public string What { get; set; } = "";
}

/// <summary>What somebody took as the finding of a job. Rows are only appended; the latest counts.</summary>
public sealed class FindingRow
{
    public int Id { get; set; }
    public int JobId { get; set; }
    public required string ClassId { get; set; }

    /// <summary>The chance that the observations gave it then, 0 to 1; null where they gave none.</summary>
    public double? Chance { get; set; }
    public DateTimeOffset At { get; set; }
    public required string By { get; set; }
}

/// <summary>For how long customers' words are kept after the hand-back. Rows are only appended; the latest counts.</summary>
public sealed class KeepRuleRow
{
    public int Id { get; set; }

    /// <summary>Days after the hand-back.</summary>
    public int Days { get; set; }
    public required string Reason { get; set; }
    public required string By { get; set; }
    public DateTimeOffset At { get; set; }
}

/// <summary>A word that stands in some record: what somebody may have meant who mistyped one.</summary>
public sealed class LogbookWordRow
{
    public required string Word { get; set; }
}

/// <summary>
/// A job whose row in the logbook is to be made anew. Written by the database itself, whoever changed the job; rows are only appended, so
/// that no change waits for another.
/// </summary>
public sealed class LogbookDueRow
{
    public long Id { get; set; }
    public int JobId { get; set; }
}

using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Insight;

/// <summary>A job as insight looks at it.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Finding">The fault class that counts in the end; empty where none was taken.</param>
/// <param name="FirstFinding">The one that was taken first; empty where none was.</param>
/// <param name="FirstChance">The chance that the observations gave that one then, 0 to 1; null where they gave none.</param>
/// <param name="Outcome">How it went out.</param>
/// <param name="Serial">The phone's serial; empty where nobody knows it.</param>
/// <param name="TakenInAt">When it was taken in.</param>
/// <param name="BegunAt">When its first run began, or null.</param>
/// <param name="EndedAt">When its last run ended, or null.</param>
/// <param name="CheckedAt">When the last check was read, or null.</param>
/// <param name="HandedBackAt">When it went back, or null.</param>
public sealed record LoggedJob(
    int Id,
    string Finding,
    string FirstFinding,
    double? FirstChance,
    JobOutcome Outcome,
    string Serial,
    DateTimeOffset TakenInAt,
    DateTimeOffset? BegunAt,
    DateTimeOffset? EndedAt,
    DateTimeOffset? CheckedAt,
    DateTimeOffset? HandedBackAt
);

/// <summary>A time that was said, and what it took.</summary>
/// <param name="Job">The job.</param>
/// <param name="Kind">What took the time.</param>
/// <param name="By">Whose hands; empty where nobody's.</param>
/// <param name="Said">The usual time that was said, in seconds.</param>
/// <param name="SaidSlow">The slow time that was said.</param>
/// <param name="Took">What it took.</param>
public sealed record SaidTime(int Job, TimeKind Kind, string By, double Said, double SaidSlow, double Took);

/// <summary>A run: what was said before, and what became of it.</summary>
/// <param name="Job">The job.</param>
/// <param name="Port">Where; empty without a link.</param>
/// <param name="Went">Whether it was carried out and its checks hold; null while nobody knows.</param>
/// <param name="Verdicts">By rule, what it said of the package; empty without one.</param>
/// <param name="Risk">Of one that broke off in a step: what the rehearsal said that would leave.</param>
/// <param name="CameBack">Of such a run: whether the job came in order; null while it is not over.</param>
/// <param name="What">What happened, of one that ended early; else empty.</param>
public sealed record LoggedRun(
    int Job,
    string Port,
    bool? Went,
    IReadOnlyDictionary<RuleId, Verdict> Verdicts,
    RiskKind? Risk,
    bool? CameBack,
    string What
);

/// <summary>A try to get a phone seen.</summary>
/// <param name="Job">The job, or null.</param>
/// <param name="Cable">The cable; empty where nobody said.</param>
/// <param name="Port">The port; empty where nobody said.</param>
/// <param name="Worked">Whether it worked.</param>
public sealed record LoggedTry(int? Job, string Cable, string Port, bool Worked);

/// <summary>A file that was fetched.</summary>
/// <param name="Source">Name of the mirror.</param>
/// <param name="IsSpoilt">Whether it came damaged, cut off, or as something else.</param>
/// <param name="IsThere">Whether it arrived in the end.</param>
public sealed record LoggedFetch(string Source, bool IsSpoilt, bool IsThere);

/// <summary>What a shop has written down, as insight looks at it.</summary>
public sealed record ShopLog(
    IReadOnlyList<LoggedJob> Jobs,
    IReadOnlyList<SaidTime> Times,
    IReadOnlyList<LoggedRun> Runs,
    IReadOnlyList<LoggedTry> Tries,
    IReadOnlyList<LoggedFetch> Fetches
)
{
    /// <summary>Promises that were given.</summary>
    public IReadOnlyList<LoggedPromise> Promises { get; init; } = [];
}

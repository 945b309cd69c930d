using Junctra.Core.Jobs;
using Junctra.Core.Logbook;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Logbook;

/// <summary>What is wanted of the logbook.</summary>
/// <param name="Question">Words that all must begin a word of the job's record; empty for all jobs.</param>
/// <param name="Model">Only this model code, or null.</param>
/// <param name="Finding">Only this fault class, or null.</param>
/// <param name="Path">Only this path, or null.</param>
/// <param name="Outcome">Only this outcome, or null.</param>
/// <param name="Before">Only jobs that stand after this one in the list: its id, the last of the page before; or null.</param>
public sealed record LogbookQuestion(
    string Question,
    string? Model = null,
    string? Finding = null,
    string? Path = null,
    JobOutcome? Outcome = null,
    int? Before = null
)
{
    /// <summary>Only these jobs, or null: those behind a figure.</summary>
    public IReadOnlyList<int>? Jobs { get; init; }
}

/// <summary>One choice of a filter.</summary>
/// <param name="Value">The value; empty for jobs that have none.</param>
/// <param name="Jobs">How many jobs it would show, with the other filters as they are.</param>
public sealed record FilterChoice(string Value, int Jobs);

/// <summary>What was found.</summary>
/// <param name="Jobs">The jobs of this page, the latest first.</param>
/// <param name="Count">How many jobs there are in all.</param>
/// <param name="HasMore">Whether another page follows.</param>
/// <param name="Filters">By the name of a filter, its choices, the most jobs first.</param>
/// <param name="Meant">Where nothing begins as it was asked: by the word that was asked, words that stand in records and look like it.</param>
public sealed record LogbookPage(
    IReadOnlyList<LogbookRow> Jobs,
    int Count,
    bool HasMore,
    IReadOnlyDictionary<string, IReadOnlyList<FilterChoice>> Filters,
    IReadOnlyDictionary<string, IReadOnlyList<string>> Meant
);

/// <summary>Searches the logbook, in PostgreSQL's full text search, with trigrams for what was mistyped.</summary>
public sealed class LogbookSearch(JunctraDb db)
{
    /// <summary>Jobs of one page.</summary>
    public const int PageSize = 50;

    /// <summary>Names of the filters, in the order in which they are shown.</summary>
    public static IReadOnlyList<string> FilterNames { get; } = [ModelFilter, FindingFilter, PathFilter, OutcomeFilter];

    public const string ModelFilter = "model",
        FindingFilter = "finding",
        PathFilter = "path",
        OutcomeFilter = "outcome";

    // Below this likeness two words share little more than a beginning.
    private const double LeastLikeness = 0.4;
    private const int MaxMeant = 6;

    /// <summary>A word of a question as the database asks for it: a beginning, or a single letter, taken as it is.</summary>
    internal static string Begins(string word) =>
        $"'{word.Replace("\\", "\\\\").Replace("'", "''")}'{(SearchWords.IsBeginning(word) ? ":*" : "")}";

    /// <summary>Searches.</summary>
    public async Task<LogbookPage> FindAsync(LogbookQuestion wanted, CancellationToken cancel)
    {
        var asked = SearchWords.Asked(wanted.Question);
        // A question of signs alone asks for nothing that stands anywhere.
        var isNothing = asked.Count == 0 && wanted.Question.Trim().Length > 0;
        var groups = isNothing ? [] : await GroupsAsync(asked, wanted.Jobs, cancel);
        var count = groups.Where(group => Fits(group, wanted, null)).Sum(group => group.Jobs);
        var meant =
            groups.Count == 0 && asked.Count > 0 ? await MeantAsync(asked, cancel) : new Dictionary<string, IReadOnlyList<string>>();
        var found = count == 0 ? [] : await ListAsync(asked, wanted, cancel);
        return new LogbookPage(
            [.. found.Take(PageSize)],
            count,
            found.Count > PageSize,
            FilterNames.ToDictionary(name => name, name => Choices(groups, wanted, name)),
            meant
        );
    }

    private IQueryable<LogbookRow> Matching(IReadOnlyList<string> asked, IReadOnlyList<int>? only)
    {
        var query = string.Join(" & ", asked.Select(Begins));
        var jobs =
            asked.Count == 0
                ? db.Logbook.AsNoTracking()
                : db.Logbook.FromSql($"select * from logbook where words @@ {query}::tsquery").AsNoTracking();
        return only is null ? jobs : jobs.Where(row => only.Contains(row.JobId));
    }

    private async Task<List<LogbookRow>> ListAsync(IReadOnlyList<string> asked, LogbookQuestion wanted, CancellationToken cancel)
    {
        var jobs = Matching(asked, wanted.Jobs);
        if (wanted.Model is { } model)
            jobs = jobs.Where(row => row.Model == model);
        if (wanted.Finding is { } finding)
            jobs = jobs.Where(row => row.Finding == finding);
        if (wanted.Path is { } path)
            jobs = jobs.Where(row => row.Path == path);
        if (wanted.Outcome is { } outcome)
            jobs = jobs.Where(row => row.Outcome == outcome);
        if (wanted.Before is { } before)
        {
            var last = await db
                .Logbook.Where(row => row.JobId == before)
                .Select(row => (DateTimeOffset?)row.TakenInAt)
                .FirstOrDefaultAsync(cancel);
            jobs = jobs.Where(row => row.TakenInAt < last || row.TakenInAt == last && row.JobId < before);
        }

        return await jobs.OrderByDescending(row => row.TakenInAt)
            .ThenByDescending(row => row.JobId)
            .Take(PageSize + 1)
            .Select(row => new LogbookRow
            {
                JobId = row.JobId,
                Ticket = row.Ticket,
                Description = row.Description,
                Model = row.Model,
                Path = row.Path,
                Finding = row.Finding,
                Outcome = row.Outcome,
                Package = row.Package,
                Finished = row.Finished,
                EndedEarly = row.EndedEarly,
                TakenInAt = row.TakenInAt,
                HandedBackAt = row.HandedBackAt,
            })
            .ToListAsync(cancel);
    }

    private sealed record Group(string Model, string Finding, string Path, JobOutcome Outcome, int Jobs);

    /// <summary>
    /// How many jobs a question finds, by everything that they can be filtered by: one look gives the counts of all filters.
    /// </summary>
    private async Task<List<Group>> GroupsAsync(IReadOnlyList<string> asked, IReadOnlyList<int>? only, CancellationToken cancel) =>
        await Matching(asked, only)
            .GroupBy(row => new
            {
                row.Model,
                row.Finding,
                row.Path,
                row.Outcome,
            })
            .Select(group => new Group(group.Key.Model, group.Key.Finding, group.Key.Path, group.Key.Outcome, group.Count()))
            .ToListAsync(cancel);

    private static bool Fits(Group group, LogbookQuestion wanted, string? but) =>
        (but == ModelFilter || wanted.Model is null || wanted.Model == group.Model)
        && (but == FindingFilter || wanted.Finding is null || wanted.Finding == group.Finding)
        && (but == PathFilter || wanted.Path is null || wanted.Path == group.Path)
        && (but == OutcomeFilter || wanted.Outcome is null || wanted.Outcome == group.Outcome);

    private static IReadOnlyList<FilterChoice> Choices(List<Group> groups, LogbookQuestion wanted, string name) =>
        [
            .. groups
                .Where(group => Fits(group, wanted, name))
                .GroupBy(group =>
                    name switch
                    {
                        ModelFilter => group.Model,
                        FindingFilter => group.Finding,
                        PathFilter => group.Path,
                        _ => EnumName(group.Outcome),
                    }
                )
                .Select(choice => new FilterChoice(choice.Key, choice.Sum(group => group.Jobs)))
                .OrderByDescending(choice => choice.Jobs)
                .ThenBy(choice => choice.Value, StringComparer.Ordinal),
        ];

    private static string EnumName(JobOutcome outcome) => Core.EnumNames.Of(outcome);

    /// <summary>For each word that begins no word of any record: words that look like it, the likest first.</summary>
    private async Task<IReadOnlyDictionary<string, IReadOnlyList<string>>> MeantAsync(IReadOnlyList<string> asked, CancellationToken cancel)
    {
        var meant = new Dictionary<string, IReadOnlyList<string>>();
        foreach (var word in asked)
        {
            var query = Begins(word);
            if (await db.Logbook.FromSql($"select * from logbook where words @@ {query}::tsquery").AnyAsync(cancel))
                continue;
            meant[word] = await db
                .Database.SqlQuery<string>(
                    $"""
                    select word as "Value" from logbook_words
                    where word % {word} and similarity(word, {word}) >= {LeastLikeness}
                    order by similarity(word, {word}) desc, word limit {MaxMeant}
                    """
                )
                .ToListAsync(cancel);
        }

        return meant;
    }
}

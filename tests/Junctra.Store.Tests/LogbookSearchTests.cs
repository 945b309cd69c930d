using Junctra.Core.Jobs;
using Junctra.Core.Logbook;
using Junctra.Store.Logbook;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

/// <summary>The logbook's search on the real server, held against a plain look at every record.</summary>
public sealed class LogbookSearchTests : IAsyncLifetime
{
    private const int Jobs = 400;
    private static readonly int Questions = Sampled.Of(2000, 500);

    private static readonly string[] Words =
    [
        "loop",
        "looping",
        "black",
        "blue",
        "case",
        "O'Hara's",
        "back\\slash",
        "Zoë",
        "100 %",
        "red, short",
        "no:command",
        "a&b",
        "(dead)",
        "!",
        "boot",
        "ferry-crew",
    ];
    private static readonly string[] Models = ["TN63E", "TN63W", "HX204", "OB17", ""];
    private TestDatabase database = null!;
    private LogbookIndex index = null!;

    public async ValueTask InitializeAsync()
    {
        database = await TestDatabase.CreateAsync();
        index = new LogbookIndex(database);
    }

    public ValueTask DisposeAsync() => database.DisposeAsync();

    private sealed record Made(LogbookRow Row, IReadOnlyList<string> Words);

    /// <summary>Jobs of a seed, stored and in the logbook.</summary>
    private async Task<Dictionary<int, Made>> MakeAsync(int jobs, Random random)
    {
        await using var db = database.CreateDbContext();
        var rows = Enumerable.Range(1, jobs).Select(i => NewJob($"{i:0000}")).ToList();
        db.Jobs.AddRange(rows);
        await db.SaveChangesAsync();
        var made = rows.ToDictionary(row => row.Id, row => Make(row, random));
        while (await RefreshAsync(made) > 0) { }
        return made;
    }

    private Task<int> RefreshAsync(Dictionary<int, Made> made) =>
        index.RefreshAsync(
            100,
            (_, ids, _) =>
                Task.FromResult<IReadOnlyList<LogbookEntry>>([
                    .. ids.Where(made.ContainsKey).Select(id => new LogbookEntry(made[id].Row, made[id].Words)),
                ]),
            TestContext.Current.CancellationToken
        );

    private static JobRow NewJob(string ticket) =>
        new()
        {
            Ticket = ticket,
            Description = "blue case",
            Complaint = "loops",
            TakenInAt = Sample.Noon,
        };

    private static Made Make(JobRow job, Random random)
    {
        var model = Models[random.Next(Models.Length)];
        var row = new LogbookRow
        {
            JobId = job.Id,
            Ticket = job.Ticket,
            Description = job.Description,
            Model = model,
            Finding = random.Next(3) == 0 ? "" : $"class-{random.Next(4)}",
            Path = "ABF"[random.Next(3)].ToString(),
            Outcome = (JobOutcome)random.Next(4),
            TakenInAt = job.TakenInAt,
        };
        var text = Enumerable.Range(0, random.Next(2, 9)).Select(_ => Words[random.Next(Words.Length)]);
        return new Made(row, SearchWords.Of([job.Ticket, $"{model}.{random.Next(4, 8)}.260{random.Next(1, 8)}.WHM1", .. text]));
    }

    private static string Question(IReadOnlyList<Made> made, Random random) =>
        string.Join(
            ' ',
            Enumerable
                .Range(0, random.Next(4))
                .Select(_ =>
                {
                    // A beginning of what stands somewhere, whole words, or what stands nowhere.
                    var words = made[random.Next(made.Count)].Words;
                    var word = words[random.Next(words.Count)];
                    return random.Next(5) switch
                    {
                        0 => word,
                        1 => "nowhere" + random.Next(9),
                        2 => Words[random.Next(Words.Length)],
                        _ => word[..random.Next(1, word.Length + 1)],
                    };
                })
        );

    [Fact]
    public async Task Whatever_is_asked_finds_what_a_plain_look_finds()
    {
        var random = new Random(20261129);
        var made = await MakeAsync(Jobs, random);
        var all = made.Values.ToList();
        await using var db = database.CreateDbContext();
        var search = new LogbookSearch(db);
        for (var i = 0; i < Questions; i++)
        {
            var question = new LogbookQuestion(
                Question(all, random),
                random.Next(4) == 0 ? Models[random.Next(Models.Length)] : null,
                random.Next(6) == 0 ? "class-1" : null,
                random.Next(6) == 0 ? "F" : null,
                random.Next(6) == 0 ? (JobOutcome)random.Next(4) : null
            );
            var asked = SearchWords.Asked(question.Question);
            var isNothing = asked.Count == 0 && question.Question.Trim().Length > 0;
            var plain = isNothing ? [] : all.Where(one => SearchWords.Finds(asked, one.Words)).ToList();
            var expected = plain.Where(one => Fits(one.Row, question, null)).OrderByDescending(one => one.Row.JobId).ToList();
            var found = await search.FindAsync(question, TestContext.Current.CancellationToken);
            Assert.Equal(expected.Count, found.Count);
            Assert.Equal(expected.Take(LogbookSearch.PageSize).Select(one => one.Row.JobId), found.Jobs.Select(row => row.JobId));
            Assert.Equal(
                plain
                    .Where(one => Fits(one.Row, question, LogbookSearch.ModelFilter))
                    .GroupBy(one => one.Row.Model)
                    .Select(group => new FilterChoice(group.Key, group.Count()))
                    .OrderByDescending(choice => choice.Jobs)
                    .ThenBy(choice => choice.Value, StringComparer.Ordinal),
                found.Filters[LogbookSearch.ModelFilter]
            );
        }
    }

    private static bool Fits(LogbookRow row, LogbookQuestion wanted, string? but) =>
        (but == LogbookSearch.ModelFilter || wanted.Model is null || wanted.Model == row.Model)
        && (wanted.Finding is null || wanted.Finding == row.Finding)
        && (wanted.Path is null || wanted.Path == row.Path)
        && (wanted.Outcome is null || wanted.Outcome == row.Outcome);

    [Fact]
    public async Task Pages_follow_each_other_without_gap_and_nothing_comes_twice()
    {
        var made = await MakeAsync(120, new Random(7));
        await using var db = database.CreateDbContext();
        var search = new LogbookSearch(db);
        var seen = new List<int>();
        int? before = null;
        while (true)
        {
            var page = await search.FindAsync(new LogbookQuestion("", Before: before), TestContext.Current.CancellationToken);
            seen.AddRange(page.Jobs.Select(job => job.JobId));
            if (!page.HasMore)
                break;
            before = seen[^1];
        }

        Assert.Equal(made.Keys.OrderDescending(), seen);
    }

    [Fact]
    public async Task What_was_mistyped_is_answered_with_words_that_stand_somewhere()
    {
        await MakeAsync(60, new Random(3));
        await using var db = database.CreateDbContext();
        var found = await new LogbookSearch(db).FindAsync(new LogbookQuestion("loopin tn63q"), TestContext.Current.CancellationToken);
        Assert.Equal(0, found.Count);
        Assert.DoesNotContain("loopin", found.Meant.Keys);
        Assert.Contains(found.Meant["tn63q"], word => word.StartsWith("tn63", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_word_that_left_the_last_record_is_offered_no_more()
    {
        var made = await MakeAsync(3, new Random(5));
        var (id, one) = made.First();
        made[id] = one with { Words = [.. one.Words.Append("wanderlust").Order(StringComparer.Ordinal)] };
        await TouchAsync(id);
        await RefreshAsync(made);
        await using var db = database.CreateDbContext();
        Assert.True(await db.LogbookWords.AnyAsync(word => word.Word == "wanderlust", TestContext.Current.CancellationToken));
        made[id] = one;
        await TouchAsync(id);
        await RefreshAsync(made);
        Assert.False(await db.LogbookWords.AnyAsync(word => word.Word == "wanderlust", TestContext.Current.CancellationToken));
    }

    private async Task TouchAsync(int id)
    {
        await using var db = database.CreateDbContext();
        await db
            .Jobs.Where(job => job.Id == id)
            .ExecuteUpdateAsync(set => set.SetProperty(job => job.Accessories, job => job.Accessories + "x"));
    }

    [Fact]
    public async Task Whatever_changes_of_a_job_is_noted_and_its_journal_only_at_its_end()
    {
        var time = new ManualTime(Sample.Noon);
        var journal = new RunJournal(database, time);
        await using var db = database.CreateDbContext();
        var job = NewJob("0001");
        var store = new JobStore(db, time);
        await ChangesAsync(() => store.TakeInAsync(job, "counter"));
        await ChangesAsync(() => store.AddFactsAsync(job, Sample.Cairn().All));
        await ChangesAsync(() => store.TakeSnapshotAsync(job, Sample.Cairn(), "bench"));
        await ChangesAsync(() =>
        {
            job.Findings.Add(
                new FindingRow
                {
                    ClassId = "boot-chain",
                    At = time.GetUtcNow(),
                    By = "bench",
                }
            );
            return db.SaveChangesAsync();
        });
        var plan = Planned.Plan();
        var run = new RunRow
        {
            JobId = job.Id,
            Plan = plan,
            Report = null,
            PortName = "A",
            Address = "tcp:127.0.0.1:1",
            BegunAt = time.GetUtcNow(),
            QueuedAt = time.GetUtcNow(),
            BegunBy = "bench",
        };
        await ChangesAsync(() => store.BeginAsync(run));
        await ChangesAsync(() => journal.ClaimAsync("pen"));
        await journal.AppendAsync(run.Id, "pen", new Core.Runs.StepStarted(1, "Verify"));
        Assert.Equal(0, await NotedAsync());
        await ChangesAsync(() => journal.AppendAsync(run.Id, "pen", new Core.Runs.RunFailed("the cable came out", "look")));

        async Task ChangesAsync(Func<Task> act)
        {
            await act();
            Assert.NotEqual(0, await NotedAsync());
            while (await RefreshAsync([]) > 0) { }
        }
    }

    private async Task<int> NotedAsync()
    {
        await using var db = database.CreateDbContext();
        return await db.LogbookDue.CountAsync();
    }
}

using System.Diagnostics;
using System.IO.Compression;
using Junctra.Core.Jobs;
using Junctra.Formats.CatalogueFiles;
using Junctra.Store;
using Junctra.Store.Exchange;
using Junctra.Store.Logbook;
using Junctra.Web.Logbook;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Bench;

/// <summary>
/// The logbook's search among 100,000 jobs: records like those of the demo shop's history, each with a ticket and a serial of its own.
/// </summary>
internal static class LogbookBench
{
    private const int Jobs = 100_000,
        Questions = 600,
        WarmUp = 60;
    private const double MaxMilliseconds = 50;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string database)
    {
        database = database.Replace("Database=junctra_bench", "Database=junctra_logbook");
        await FillAsync(root, database);
        var words = await WordsAsync(database);
        var random = new Random(16);
        var times = new List<(string Kind, double Ms)>();
        for (var i = -WarmUp; i < Questions; i++)
        {
            var (kind, question) = Question(words, random);
            await using var db = Context(database);
            var watch = Stopwatch.StartNew();
            await new LogbookSearch(db).FindAsync(question, CancellationToken.None);
            if (i >= 0)
                times.Add((kind, watch.Elapsed.TotalMilliseconds));
        }

        var all = times.Select(time => time.Ms).Order().ToList();
        var slow = all[(int)(all.Count * 0.95)];
        var kinds = times
            .GroupBy(time => time.Kind)
            .OrderBy(group => group.Key, StringComparer.Ordinal)
            .Select(group => $"{group.Key} {BenchRow.Median(group.Select(time => time.Ms)):0.0}");
        return
        [
            new BenchRow(
                $"search the logbook of {Jobs:N0} jobs with filters and their counts, 95th percentile",
                "",
                $"{slow:0.0} ms",
                $"medians in ms: {string.Join(" · ", kinds)}",
                $"{slow:0.0} ms",
                $"at most {MaxMilliseconds:0} ms",
                slow <= MaxMilliseconds
            ),
        ];
    }

    private static JunctraDb Context(string database)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, database);
        return new JunctraDb(options.Options);
    }

    private sealed class Contexts(string database) : IDbContextFactory<JunctraDb>
    {
        public JunctraDb CreateDbContext() => Context(database);
    }

    private static (string Kind, LogbookQuestion Question) Question(List<string> words, Random random)
    {
        string Word() => words[random.Next(words.Count)];
        return random.Next(8) switch
        {
            0 => ("a ticket", new($"{random.Next(Jobs)}")),
            1 => ("a serial", new($"sn{random.Next(Jobs):00000}x")),
            2 => ("a word", new(Word())),
            3 => ("two words", new($"{Word()} {Word()}")),
            4 => ("a beginning", new(Word() is var word ? word[..Math.Max(1, word.Length / 2)] : "")),
            5 => ("a filter", new("", Model: "TN63E", Outcome: JobOutcome.InOrder)),
            6 => ("mistyped", new("q" + Word())),
            _ => ("nothing asked", new("")),
        };
    }

    private static async Task<List<string>> WordsAsync(string database)
    {
        await using var db = Context(database);
        return await db
            .LogbookWords.Where(word => !word.Word.StartsWith("sn"))
            .Select(word => word.Word)
            .OrderBy(word => word)
            .ToListAsync();
    }

    private static async Task FillAsync(string root, string database)
    {
        await using var db = Context(database);
        await db.Database.EnsureDeletedAsync();
        await db.Database.MigrateAsync();
        Console.WriteLine("Logbook: the records that the others are made like ...");
        var contexts = new Contexts(database);
        using var plain = new MemoryStream();
        await using (var packed = new GZipStream(File.OpenRead(Path.Combine(root, "demo", "history.jsonl.gz")), CompressionMode.Decompress))
            await packed.CopyToAsync(plain);
        plain.Position = 0;
        await new LogbookImport(contexts, TimeProvider.System).TakeInAsync(
            new LogbookFile(new ExchangeTables(db)).JobsAsync(plain, CancellationToken.None),
            "bench",
            CancellationToken.None
        );
        var index = new LogbookIndex(contexts);
        var entries = new LogbookEntries(CatalogueReader.Read(Path.Combine(root, "catalogue")));
        while (await index.RefreshAsync(50, entries.OfAsync, CancellationToken.None) > 0) { }

        Console.WriteLine($"Logbook: {Jobs:N0} jobs ...");
        db.Database.SetCommandTimeout(TimeSpan.FromMinutes(20));
        await db.Database.ExecuteSqlAsync(
            $"""
            alter table jobs disable trigger user;
            create temp table pattern as select row_number() over (order by job_id) - 1 as n, * from logbook;
            insert into jobs (id, ticket, description, complaint, data_wish, ownership_stated, cell, accessories, erases_data, wish_kind,
                wish_version, taken_in_at, handed_back_at)
            select 1000 + g, 'Q' || g, 'blue case', 'loops', 'NotSaid', true, 'Sound', '', false, 'None', '',
                timestamptz '2026-01-01' + g * interval '5 minutes', timestamptz '2026-01-01' + g * interval '5 minutes'
            from generate_series(1, {Jobs}) g;
            insert into logbook (job_id, ticket, description, model, path, finding, outcome, package, finished, ended_early, taken_in_at,
                handed_back_at, serial, first_finding, read_with, words)
            select 1000 + g, 'Q' || g, p.description, p.model, p.path, p.finding, p.outcome, p.package, p.finished, p.ended_early,
                timestamptz '2026-01-01' + g * interval '5 minutes', null, '', '', '',
                array_to_tsvector(tsvector_to_array(p.words) || array['q' || g, g::text, 'sn' || to_char(g, 'FM00000') || 'x'])
            from generate_series(1, {Jobs}) g join pattern p on p.n = (g * 7919 + g / 160) % 160;
            insert into logbook_words (word) select 'sn' || to_char(g, 'FM00000') || 'x' from generate_series(1, {Jobs}) g;
            """
        );
        await db.Database.ExecuteSqlAsync($"vacuum analyze logbook");
        await db.Database.ExecuteSqlAsync($"vacuum analyze logbook_words");
    }
}

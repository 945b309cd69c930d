using System.Text.RegularExpressions;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>A bench's record, taken in by another.</summary>
[Trait("Turn", "10")]
public sealed partial class RecordElsewhereTests(HistoryBench bench) : IClassFixture<HistoryBench>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    // What tells rows apart inside one database, tokens, and how long ago a page was asked for.
    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*>|data-run=\"[0-9]+\"|moment-[0-9]+|before=[0-9]+|\\?v=[^\"]+")]
    private static partial Regex OfOneDatabase();

    private static string Plain(string html) => OfOneDatabase().Replace(html[html.IndexOf("<main", StringComparison.Ordinal)..], "");

    [Fact]
    public async Task A_record_that_is_taken_in_elsewhere_gives_the_same_pages()
    {
        await using var elsewhere = new WebWorld();
        await elsewhere.InitializeAsync();
        // The bench that joins brings nothing of its own.
        await using (var empty = elsewhere.Database.CreateDbContext())
            await empty.Database.ExecuteSqlRawAsync(
                "truncate jobs, facts, triage_answers, claims, logbook, logbook_words, audit, link_tries, bench_things cascade",
                Cancel
            );
        var (here, there) = (bench.Here.Client(), elsewhere.Client());
        await using var db = bench.Here.Database.CreateDbContext();
        var jobs = await db.Jobs.CountAsync(Cancel);
        foreach (var form in new[] { "jsonl", "zip" })
        {
            var file = await here.GetByteArrayAsync($"/records/logbook.{form}", Cancel);
            Assert.Contains(
                form == "jsonl" ? $"<b>{jobs}</b> taken in" : $"<b>{jobs}</b> here already",
                await HistoryBench.TakeInAsync(there, file)
            );
        }

        await HistoryBench.SettleAsync(elsewhere);
        string[] pages =
        [
            "/logbook",
            "/logbook?q=frayed",
            "/logbook?q=tn63e&outcome=in-order",
            "/insight",
            "/jobs/0256/story",
            "/jobs/0256/hand-back",
            "/jobs/0300/story",
            "/jobs/0300/hand-back",
            "/jobs/0412/story",
            "/jobs/0412/check",
            "/jobs/0421/story",
        ];
        foreach (var page in pages)
            Assert.Equal(Plain(await here.GetStringAsync(page, Cancel)), Plain(await there.GetStringAsync(page, Cancel)));
    }
}

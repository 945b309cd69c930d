using System.IO.Compression;
using System.Text;
using System.Text.Json.Nodes;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store.Exchange;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

/// <summary>Records that are written out and taken in again, here and elsewhere, in both forms.</summary>
public sealed partial class ExchangeTests : IAsyncLifetime
{
    private readonly ManualTime time = new(Sample.Noon);
    private TestDatabase here = null!,
        there = null!;

    public async ValueTask InitializeAsync() => (here, there) = (await TestDatabase.CreateAsync(), await TestDatabase.CreateAsync());

    public async ValueTask DisposeAsync()
    {
        await here.DisposeAsync();
        await there.DisposeAsync();
    }

    // Enough of the history for runs of every end.
    private const int Some = 30;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>Jobs of the demo shop's history as a file: a head, and a line for each.</summary>
    private static async Task<string> HistoryAsync(Func<IReadOnlyList<string>, IEnumerable<string>> which)
    {
        await using var packed = new GZipStream(
            File.OpenRead(Path.Combine(Repo.Root, "demo", "history.jsonl.gz")),
            CompressionMode.Decompress
        );
        using var plain = new MemoryStream();
        await packed.CopyToAsync(plain, Cancel);
        var lines = Text(plain.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
        return string.Join('\n', which(lines[1..]).Prepend(lines[0]));
    }

    private async Task<ImportReport> TakeInAsync(TestDatabase database, byte[] file)
    {
        await using var db = database.CreateDbContext();
        return await new LogbookImport(database, time).TakeInAsync(
            new LogbookFile(new ExchangeTables(db)).JobsAsync(new MemoryStream(file), Cancel),
            "lead",
            Cancel
        );
    }

    private Task<ImportReport> TakeInAsync(TestDatabase database, string lines) => TakeInAsync(database, Encoding.UTF8.GetBytes(lines));

    private static async Task<byte[]> WriteOutAsync(TestDatabase database, bool tables = false)
    {
        await using var db = database.CreateDbContext();
        using var to = new MemoryStream();
        var head = LogbookExport.Head(Sample.Noon, "Slipway Phone Repair");
        var export = new LogbookExport(db);
        await (tables ? export.WriteTablesAsync(to, head, Cancel) : export.WriteLinesAsync(to, head, Cancel));
        return to.ToArray();
    }

    private static string Text(byte[] file) => Encoding.UTF8.GetString(file);

    [Fact]
    public async Task A_whole_shop_goes_out_and_comes_in_elsewhere_in_both_forms_and_is_the_same()
    {
        // A third of its past in each run of the suite, the next commit another.
        var history = await HistoryAsync(all => Sampled.Share(all, 3));
        var jobs = history.Count(letter => letter == '\n');
        Assert.InRange(jobs, 50, 160);
        var report = await TakeInAsync(here, history);
        Assert.Equal((jobs, 0, 0), (report.Taken, report.Known, report.Refused));
        Assert.Empty(report.Problems);
        var lines = await WriteOutAsync(here);
        var tables = await WriteOutAsync(here, tables: true);

        Assert.Equal(jobs, (await TakeInAsync(there, lines)).Taken);
        Assert.Equal(Text(lines), Text(await WriteOutAsync(there)));

        await using var third = await TestDatabase.CreateAsync();
        report = await TakeInAsync(third, tables);
        Assert.Equal((jobs, ""), (report.Taken, string.Join(" ", report.Problems)));
        Assert.Equal(Text(lines), Text(await WriteOutAsync(third)));

        // The same once more, in either form: all of it is known.
        Assert.Equal((0, jobs), (await TakeInAsync(here, lines)) is var again ? (again.Taken, again.Known) : default);
        Assert.Equal((0, jobs), (await TakeInAsync(here, tables)) is var more ? (more.Taken, more.Known) : default);
        Assert.Equal(Text(lines), Text(await WriteOutAsync(here)));
    }

    private async Task<JobRow> StoreAsync(TestDatabase database, string ticket, Action<JobRow>? more = null)
    {
        await using var db = database.CreateDbContext();
        var job = new JobRow
        {
            Ticket = ticket,
            Description = "blue case",
            Complaint = "loops; said “Zoë, \"quoted\", \n two lines\", =1+1",
            TakenInAt = Sample.Noon,
        };
        more?.Invoke(job);
        db.Jobs.Add(job);
        await db.SaveChangesAsync(Cancel);
        return job;
    }

    [Fact]
    public async Task A_ticket_that_is_another_jobs_here_gets_a_number_and_the_record_says_so()
    {
        await StoreAsync(here, "0300");
        var out1 = await WriteOutAsync(here);
        await StoreAsync(there, "0300");
        await StoreAsync(there, "0300-2");
        var report = await TakeInAsync(there, out1);
        Assert.Equal([("0300", "0300-3")], report.Renamed);
        await using var db = there.CreateDbContext();
        var job = await db.Jobs.SingleAsync(job => job.Ticket == "0300-3", Cancel);
        Assert.Contains("\n two lines", job.Complaint);
        Assert.Contains("0300 is another job's", (await db.Audit.SingleAsync(line => line.JobId == job.Id, Cancel)).Act);
    }

    [Fact]
    public async Task A_run_that_was_going_on_has_ended_early_and_no_writer_ever_takes_it()
    {
        var job = await StoreAsync(here, "0301", row => row.Facts.AddRange(Sample.Cairn().All.Select(FactRow.Of)));
        await using (var db = here.CreateDbContext())
        {
            var run = new RunRow
            {
                JobId = job.Id,
                Plan = Planned.Plan(),
                PortName = "A",
                Address = "tcp:127.0.0.1:1",
                BegunAt = time.GetUtcNow(),
                QueuedAt = time.GetUtcNow(),
                BegunBy = "bench",
            };
            Assert.Null(await new JobStore(db, time).BeginAsync(run, Cancel));
        }

        Assert.Equal(1, (await TakeInAsync(there, await WriteOutAsync(here))).Taken);
        await using var other = there.CreateDbContext();
        var taken = await other.Runs.SingleAsync(Cancel);
        Assert.Equal(RunStatus.Failed, taken.Status);
        var journal = new RunJournal(there, time);
        Assert.Null(await journal.ClaimAsync("pen", cancel: Cancel));
        Assert.Equal(RunStatus.Failed, RunState.Of(taken.Plan, await journal.ReadAsync(taken.Id, cancel: Cancel)).Status);
    }

    [Fact]
    public async Task Answers_and_the_facts_that_they_told_stay_together()
    {
        await StoreAsync(here, "0302", row => row.TriageAnswers.Add(
                new TriageAnswerRow
                {
                    CheckId = "now",
                    OutcomeId = "loop",
                    At = Sample.Noon,
                    By = "bench",
                }
            ));
        await using (var db = here.CreateDbContext())
        {
            var answer = await db.TriageAnswers.SingleAsync(Cancel);
            var fact = FactRow.Of(new Fact(FactName.Mode, "boot-loop", FactSource.Seen, Sample.Noon, "bench"));
            (fact.JobId, fact.TriageAnswerId) = (answer.JobId, answer.Id);
            db.Facts.Add(fact);
            await db.SaveChangesAsync(Cancel);
        }

        // Elsewhere the ids are others.
        for (var i = 0; i < 3; i++)
            await StoreAsync(there, $"040{i}", row => row.TriageAnswers.Add(
                    new TriageAnswerRow
                    {
                        CheckId = "now",
                        OutcomeId = "logo",
                        At = Sample.Noon,
                        By = "x",
                    }
                ));
        Assert.Equal(1, (await TakeInAsync(there, await WriteOutAsync(here, tables: true))).Taken);
        await using var other = there.CreateDbContext();
        var told = await other.Facts.SingleAsync(Cancel);
        var given = await other.TriageAnswers.SingleAsync(one => one.Id == told.TriageAnswerId, Cancel);
        Assert.Equal((told.JobId, "loop"), (given.JobId, given.OutcomeId));
    }

    [Theory]
    [MemberData(nameof(BadLines))]
    public async Task A_line_that_is_spoilt_is_refused_by_its_place_and_the_others_come_in(string line, string why)
    {
        await StoreAsync(here, "0310");
        await StoreAsync(here, "0311");
        var good = Text(await WriteOutAsync(here)).Split('\n');
        var report = await TakeInAsync(there, string.Join('\n', good[0], good[1], line, "", good[2]));
        Assert.Equal((2, 1), (report.Taken, report.Refused));
        Assert.StartsWith("Line 3: ", Assert.Single(report.Problems));
        Assert.Contains(why, report.Problems[0]);
        await using var db = there.CreateDbContext();
        Assert.Equal(2, await db.Jobs.CountAsync(Cancel));
    }

    [Theory]
    [InlineData("", "empty")]
    [InlineData("ticket,model\n1,2", "no logbook")]
    [InlineData("{\"format\":\"other\"}\n", "no logbook")]
    [InlineData("{\"format\":\"junctra-logbook\",\"version\":7}\n", "version")]
    [InlineData("PK nothing", "no archive")]
    public async Task What_is_no_logbook_at_all_is_refused_whole(string file, string why) =>
        Assert.Contains(why, (await Assert.ThrowsAsync<ExchangeException>(() => TakeInAsync(there, file))).Message);

    [Fact]
    public async Task A_journal_with_two_entries_of_one_number_is_refused_and_the_other_jobs_come_in()
    {
        await TakeInAsync(here, await HistoryAsync(all => all.Take(Some)));
        var lines = Text(await WriteOutAsync(here)).Split('\n');
        var at = Array.FindIndex(lines, line => line.Contains("\"runEvents\""));
        var job = (JsonObject)JsonNode.Parse(lines[at])!;
        ((JsonArray)job["runEvents"]!).Add(job["runEvents"]![0]!.DeepClone());
        lines[at] = job.ToJsonString();
        var report = await TakeInAsync(there, string.Join('\n', lines));
        Assert.Equal((Some - 1, 1), (report.Taken, report.Refused));
        Assert.StartsWith($"Line {at + 1}: ", Assert.Single(report.Problems));
    }

    [Fact]
    public async Task Tables_that_somebody_has_sorted_or_cut_columns_of_come_in_and_a_wrong_value_is_told_with_its_line()
    {
        await StoreAsync(here, "0320", row => row.Complaint = "loops");
        await StoreAsync(here, "0321", row => row.Complaint = "loops");
        var tables = await WriteOutAsync(here, tables: true);
        Assert.Equal(2, (await TakeInAsync(there, Edited(tables, "jobs.csv", text => Sorted(text)))).Taken);
        var wrong = await Assert.ThrowsAsync<ExchangeException>(() =>
            TakeInAsync(there, Edited(tables, "jobs.csv", text => text.Replace("False", "perhaps").Replace("false", "perhaps")))
        );
        Assert.StartsWith("jobs.csv, line ", wrong.Message);
        Assert.Contains(
            "there is no column",
            (
                await Assert.ThrowsAsync<ExchangeException>(() =>
                    TakeInAsync(there, Edited(tables, "jobs.csv", text => text.Replace("complaint", "komplaint")))
                )
            ).Message
        );
        Assert.Contains(
            "no jobs.csv",
            (await Assert.ThrowsAsync<ExchangeException>(() => TakeInAsync(there, Edited(tables, "jobs.csv", null)))).Message
        );
    }

    // The last record first; the line with the columns stays where it is.
    private static string Sorted(string table)
    {
        var lines = table.TrimEnd().Split('\n');
        return string.Join('\n', lines.Take(1).Concat(lines.Skip(1).Reverse())) + "\n";
    }

    private static byte[] Edited(byte[] archive, string name, Func<string, string>? edit)
    {
        using var memory = new MemoryStream();
        memory.Write(archive);
        using (var zip = new ZipArchive(memory, ZipArchiveMode.Update, leaveOpen: true))
        {
            var entry = zip.GetEntry(name)!;
            string text;
            using (var reader = new StreamReader(entry.Open()))
                text = reader.ReadToEnd();
            entry.Delete();
            if (edit is not null)
            {
                using var writer = new StreamWriter(zip.CreateEntry(name).Open());
                writer.Write(edit(text));
            }
        }

        return memory.ToArray();
    }
}

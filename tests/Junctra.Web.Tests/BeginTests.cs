using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Between the page and the first byte: eight at once, and a begin together with what forbids it. Of two that exclude each other one wins,
/// and the other is told.
/// </summary>
[Trait("Turn", "9")]
public sealed partial class BeginTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient client = world.Client();

    private Task<HttpResponseMessage> PostAsync(string page, string? handler, params (string, string)[] fields) =>
        WebWorld.PostAsync(client, page, handler, fields);

    private async Task PlannedAsync(string ticket, string port)
    {
        await using var db = world.Database.CreateDbContext();
        var package = (
            await db.Packages.SingleAsync(row => row.FileName == (port == "C" ? "cairn-small-26w10.tar" : "cairn-stock-26w10.tar"))
        ).Id;
        await PostAsync(
            "/jobs/new",
            null,
            ("Form.Ticket", ticket),
            ("Form.Description", "test"),
            ("Form.Complaint", "test"),
            ("Form.DataWish", "MayGo"),
            ("Form.OwnershipStated", "true")
        );
        await AcceptedAsync(PostAsync($"/jobs/{ticket}/find-out", "Read", ("port", port)));
        await AcceptedAsync(PostAsync($"/jobs/{ticket}/match", null, ("package", package)));
    }

    private static async Task AcceptedAsync(Task<HttpResponseMessage> act)
    {
        var answer = await act;
        Assert.True(answer.StatusCode == HttpStatusCode.Redirect, $"{answer.StatusCode} {Told(await answer.Content.ReadAsStringAsync())}");
    }

    private Task<HttpResponseMessage> BeginAsync(string ticket) =>
        PostAsync($"/jobs/{ticket}/plan?gates=1", "Begin", [.. WebWorld.GatesAnswered, ("typed", ticket)]);

    /// <summary>The answers of the gates are kept beforehand, so that the beginning itself is all that is left to do.</summary>
    private Task AnsweredAsync(string ticket) =>
        AcceptedAsync(PostAsync($"/jobs/{ticket}/plan?gates=1", "Answers", WebWorld.GatesAnswered));

    /// <summary>The intake of a job, changed; as the form stood when it was shown.</summary>
    private async Task<HttpResponseMessage> IntakeAsync(string job, params (string, string)[] more)
    {
        var version = Regex.Match(
            await client.GetStringAsync($"/jobs/{job}/intake"),
            "name=\"Form.Version\"[^>]*value=\"(\\d+)\"|value=\"(\\d+)\"[^>]*name=\"Form.Version\""
        );
        Assert.True(version.Success);
        return await PostAsync(
            $"/jobs/{job}/intake",
            null,
            [
                ("Form.Version", version.Groups[1].Value + version.Groups[2].Value),
                ("Form.Ticket", job),
                ("Form.Description", "test"),
                ("Form.Complaint", "test"),
                ("Form.DataWish", "MayGo"),
                .. more,
            ]
        );
    }

    private async Task<List<RunRow>> RunsAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return await db.Runs.AsNoTracking().Where(run => run.Job.Ticket == ticket).ToListAsync();
    }

    private Task EndedAsync(string ticket) =>
        Until.TrueAsync(async () => (await RunsAsync(ticket)).All(run => !run.Status.IsOpen()), $"the write of {ticket} has ended");

    /// <summary>What a page says that went wrong.</summary>
    private static string Told(string page) =>
        string.Join(
            " ",
            Regex
                .Matches(WebUtility.HtmlDecode(page), "notice-stop.*?</div>", RegexOptions.Singleline)
                .Select(match => Regex.Replace(match.Value, @"<[^>]*>|\s+", " "))
        );

    /// <summary>
    /// Lets two acts come to a job's row in this order, and not before both stand there: the row is held until the first waits for it, and
    /// then the second. Rows are given in the order in which they were asked for.
    /// </summary>
    private async Task<(HttpResponseMessage First, HttpResponseMessage Second)> InOrderAsync(
        string ticket,
        Func<Task<HttpResponseMessage>> first,
        Func<Task<HttpResponseMessage>> second
    )
    {
        await using var holder = world.Database.CreateDbContext();
        await holder.Database.OpenConnectionAsync();
        await holder.Database.ExecuteSqlRawAsync("set idle_in_transaction_session_timeout = 0");
        await using var holding = await holder.Database.BeginTransactionAsync();
        await holder.Database.ExecuteSqlAsync($"select 1 from jobs where ticket = {ticket} for update");
        Task WaitingAsync(int count, params Task<HttpResponseMessage>[] acts) =>
            Until.TrueAsync(
                async () =>
                {
                    foreach (var act in acts.Where(act => act.IsCompleted))
                        Assert.Fail(
                            $"It did not wait for the job's row: {Regex.Replace(await (await act).Content.ReadAsStringAsync(), @"\s+", " ")}"
                        );
                    await using var db = world.Database.CreateDbContext();
                    return await db
                            .Database.SqlQueryRaw<int>(
                                "select count(*)::int as \"Value\" from pg_stat_activity where datname = current_database() and wait_event_type = 'Lock' and query like '%from jobs where id = any%'"
                            )
                            .SingleAsync() == count;
                },
                $"{count} wait for the job's row"
            );

        var one = first();
        await WaitingAsync(1, one);
        var other = second();
        await WaitingAsync(2, one, other);
        await holding.CommitAsync();
        return (await one, await other);
    }

    [Fact]
    public async Task Of_eight_who_begin_at_once_one_does()
    {
        await PlannedAsync("0801", "A");
        // Another phone answers there by now: the writer refuses it, and the phone stays as it is.
        await world.Phones.FaultAsync("A", new { product = "HX204C" });
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => BeginAsync("0801")));
        Assert.Single(answers, answer => answer.StatusCode == HttpStatusCode.Redirect);
        await EndedAsync("0801");
        Assert.Single(await RunsAsync("0801"));
        await world.Phones.FaultAsync("A", new { });
    }

    [Theory]
    [InlineData("0811", "ownership withdrawn")]
    [InlineData("0812", "swollen")]
    [InlineData("0813", "another model's label")]
    [InlineData("0814", "a higher floor")]
    public async Task A_begin_and_its_contrary_never_both_succeed(string ticket, string contrary)
    {
        Task<HttpResponseMessage> ForbidAsync(string job) =>
            contrary switch
            {
                "ownership withdrawn" => IntakeAsync(job),
                "swollen" => IntakeAsync(job, ("Form.OwnershipStated", "true"), ("Form.Cell", "Swollen")),
                "another model's label" => PostAsync(
                    $"/jobs/{job}/find-out",
                    "Note",
                    ("name", "model-code"),
                    ("value", "HX204C"),
                    ("source", "Label")
                ),
                _ => PostAsync($"/jobs/{job}/find-out", "Note", ("name", "rollback-floor"), ("value", "9"), ("source", "BootloaderScreen")),
            };

        foreach (var beginsFirst in new[] { true, false })
        {
            var job = $"{ticket}-{(beginsFirst ? 1 : 2)}";
            await world.Phones.FaultAsync("A", new { });
            await PlannedAsync(job, "A");
            await AnsweredAsync(job);
            await world.Phones.FaultAsync("A", new { product = "HX204C" });
            var (first, second) = beginsFirst
                ? await InOrderAsync(job, () => BeginAsync(job), () => ForbidAsync(job))
                : await InOrderAsync(job, () => ForbidAsync(job), () => BeginAsync(job));
            await EndedAsync(job);
            // The first holds, and the second is told on the page where it was tried.
            Assert.True(
                first.StatusCode == HttpStatusCode.Redirect,
                $"{contrary}, {beginsFirst}: {first.StatusCode} {Told(await first.Content.ReadAsStringAsync())}"
            );
            Assert.True(
                second.StatusCode is HttpStatusCode.UnprocessableEntity or HttpStatusCode.Conflict or HttpStatusCode.OK,
                $"{contrary}, {beginsFirst}: {second.StatusCode}"
            );
            Assert.Equal(beginsFirst ? 1 : 0, (await RunsAsync(job)).Count);
            var words = Regex.Replace(WebUtility.HtmlDecode(await second.Content.ReadAsStringAsync()), @"\s+", " ");
            Assert.Contains("notice-stop", words);
            Assert.DoesNotContain("Something went wrong", words);
        }

        await world.Phones.FaultAsync("A", new { });
    }

    [Fact]
    public async Task A_job_that_is_handed_back_meanwhile_is_not_written()
    {
        foreach (var beginsFirst in new[] { true, false })
        {
            var job = $"0821-{(beginsFirst ? 1 : 2)}";
            await world.Phones.FaultAsync("A", new { });
            await PlannedAsync(job, "A");
            await world.Phones.FaultAsync("A", new { product = "HX204C" });
            // A first try that the writer refuses leaves the phone as it came: now it may go back, or be tried again.
            Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync(job)).StatusCode);
            await EndedAsync(job);
            Task<HttpResponseMessage> AgainAsync() => BeginAsync(job);
            Task<HttpResponseMessage> BackAsync() => PostAsync($"/jobs/{job}/hand-back", null);
            var (first, second) = await InOrderAsync(job, beginsFirst ? AgainAsync : BackAsync, beginsFirst ? BackAsync : AgainAsync);
            await EndedAsync(job);
            Assert.Equal(HttpStatusCode.Redirect, first.StatusCode);
            Assert.NotEqual(HttpStatusCode.Redirect, second.StatusCode);
            await using var db = world.Database.CreateDbContext();
            var row = await db.Jobs.AsNoTracking().SingleAsync(one => one.Ticket == job);
            Assert.Equal((beginsFirst, beginsFirst ? 2 : 1), (row.HandedBackAt is null, (await RunsAsync(job)).Count));
        }

        await world.Phones.FaultAsync("A", new { });
    }

    [Fact]
    public async Task A_first_boot_is_not_noted_before_anything_was_written()
    {
        await PlannedAsync("0831", "A");
        foreach (
            var (handler, fields) in new (string, (string, string)[])[]
            {
                ("Shows", [("mode", "setup-wizard")]),
                ("Note", [("name", "mode"), ("value", "setup-wizard")]),
            }
        )
        {
            var answer = await PostAsync("/jobs/0831/check", handler, fields);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        }

        await using var db = world.Database.CreateDbContext();
        Assert.False(
            await db.Facts.AnyAsync(fact =>
                fact.Value == "setup-wizard" && db.Jobs.Any(job => job.Id == fact.JobId && job.Ticket == "0831")
            )
        );
    }

    [Fact]
    public async Task One_phone_behind_two_names_is_one_port()
    {
        await PlannedAsync("0841", "C");
        // No second port by another name of the same address; where one is left from before, a write at the first counts for it too.
        foreach (var host in new[] { "localhost", "127.0.0.2", "[::1]", "0.0.0.0" })
            Assert.Contains(
                "Port C leads there already",
                await (
                    await PostAsync("/ports", null, ("name", "TWO"), ("address", $"{host}:{world.Phones.C.Port}"))
                ).Content.ReadAsStringAsync()
            );
        await using (var db = world.Database.CreateDbContext())
        {
            db.Ports.Add(new PortRow { Name = "TWO", Address = $"localhost:{world.Phones.C.Port}" });
            await db.SaveChangesAsync();
        }

        await world.Phones.FaultAsync("C", new { bytesPerSecond = 1_500_000 });
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0841")).StatusCode);
        await PostAsync(
            "/jobs/new",
            null,
            ("Form.Ticket", "0842"),
            ("Form.Description", "test"),
            ("Form.Complaint", "test"),
            ("Form.OwnershipStated", "true")
        );
        var visit = await PostAsync("/jobs/0842/find-out", "Read", ("port", "TWO"));
        Assert.Contains("A write is going on", WebUtility.HtmlDecode(await visit.Content.ReadAsStringAsync()));
        await world.Phones.FaultAsync("C", new { });
        await EndedAsync("0841");
        Assert.Equal(RunStatus.Finished, (await RunsAsync("0841")).Single().Status);
    }
}

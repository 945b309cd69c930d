using System.Net;
using System.Text.RegularExpressions;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Between the page and the first byte: eight at once, and a begin together with what forbids it. Of two that exclude each other one wins, and the other is told.</summary>
public sealed class BeginTests(WebWorld world) : IClassFixture<WebWorld>
{
    private readonly HttpClient client = world.Client();

    private Task<HttpResponseMessage> PostAsync(string page, string? handler, params (string, string)[] fields) => WebWorld.PostAsync(client, page, handler, fields);

    private async Task<string> PlannedAsync(string ticket, string port)
    {
        await using var db = world.Database.CreateDbContext();
        var package = (await db.Packages.SingleAsync(row => row.FileName == (port == "C" ? "cairn-small-26w10.tar" : "cairn-stock-26w10.tar"))).Id;
        await PostAsync("/jobs/new", null, ("Form.Ticket", ticket), ("Form.Description", "test"), ("Form.Complaint", "test"), ("Form.DataWish", "MayGo"), ("Form.OwnershipStated", "true"));
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync($"/jobs/{ticket}/find-out", "Read", ("port", port))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await PostAsync($"/jobs/{ticket}/match", null, ("package", package))).StatusCode);
        return package;
    }

    private Task<HttpResponseMessage> BeginAsync(string ticket, string package) => PostAsync($"/jobs/{ticket}/plan?gates=1", "Begin",
        ("planFor", package + ":erase"), ("gate.backup", "waived"), ("gate.data-loss", "agreed"), ("gate.accounts", "owner-knows"), ("gate.modification", "agreed"),
        ("gate.program", "closed"), ("gate.cable", "steady"), ("typed", ticket));

    private async Task<List<RunRow>> RunsAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return await db.Runs.AsNoTracking().Where(run => run.Job.Ticket == ticket).ToListAsync();
    }

    private Task EndedAsync(string ticket) => Until.TrueAsync(async () => (await RunsAsync(ticket)).All(run => !run.Status.IsOpen()), $"the write of {ticket} has ended");

    [Fact]
    public async Task Of_eight_who_begin_at_once_one_does()
    {
        var package = await PlannedAsync("0801", "A");
        // Another phone answers there by now: the writer refuses it, and the phone stays as it is.
        await world.Phones.FaultAsync("A", new { product = "HX204C" });
        var answers = await Task.WhenAll(Enumerable.Range(0, 8).Select(_ => BeginAsync("0801", package)));
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
        Task<HttpResponseMessage> ForbidAsync(string job) => contrary switch
        {
            "ownership withdrawn" => PostAsync($"/jobs/{job}/intake", null, ("Form.Ticket", job), ("Form.Description", "test"), ("Form.Complaint", "test"), ("Form.DataWish", "MayGo")),
            "swollen" => PostAsync($"/jobs/{job}/intake", null, ("Form.Ticket", job), ("Form.Description", "test"), ("Form.Complaint", "test"), ("Form.DataWish", "MayGo"), ("Form.OwnershipStated", "true"), ("Form.Cell", "Swollen")),
            "another model's label" => PostAsync($"/jobs/{job}/find-out", "Note", ("name", "model-code"), ("value", "HX204C"), ("source", "Label")),
            _ => PostAsync($"/jobs/{job}/find-out", "Note", ("name", "rollback-floor"), ("value", "9"), ("source", "BootloaderScreen")),
        };

        for (var round = 0; round < 4; round++)
        {
            var job = $"{ticket}-{round}";
            await world.Phones.FaultAsync("A", new { });
            var package = await PlannedAsync(job, "A");
            await world.Phones.FaultAsync("A", new { product = "HX204C" });
            // Which of them comes first is tried both ways.
            var first = round % 2 == 0 ? BeginAsync(job, package) : ForbidAsync(job);
            var second = round % 2 == 0 ? ForbidAsync(job) : BeginAsync(job, package);
            var answers = await Task.WhenAll(first, second);
            await EndedAsync(job);
            var begun = (await RunsAsync(job)).Count;
            var words = await Task.WhenAll(answers.Select(async answer => Regex.Replace(WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), @"\s+", " ")));
            Assert.True(answers.Count(answer => answer.StatusCode == HttpStatusCode.Redirect) == 1, $"{contrary}, round {round}: {answers[0].StatusCode}, {answers[1].StatusCode}, {begun} runs");
            Assert.Equal(answers[round % 2].StatusCode == HttpStatusCode.Redirect ? 1 : 0, begun);
            Assert.DoesNotContain("Something went wrong", string.Join(" ", words));
        }

        await world.Phones.FaultAsync("A", new { });
    }

    [Fact]
    public async Task A_job_that_is_handed_back_meanwhile_is_not_written()
    {
        for (var round = 0; round < 4; round++)
        {
            var job = $"0821-{round}";
            await world.Phones.FaultAsync("A", new { });
            var package = await PlannedAsync(job, "A");
            await world.Phones.FaultAsync("A", new { product = "HX204C" });
            // A first try that the writer refuses leaves the phone as it came: now it may go back, or be tried again.
            Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync(job, package)).StatusCode);
            await EndedAsync(job);
            var answers = await Task.WhenAll(BeginAsync(job, package), PostAsync($"/jobs/{job}/hand-back", null));
            await EndedAsync(job);
            Assert.Single(answers, answer => answer.StatusCode == HttpStatusCode.Redirect);
            await using var db = world.Database.CreateDbContext();
            var row = await db.Jobs.AsNoTracking().SingleAsync(one => one.Ticket == job);
            Assert.Equal(row.HandedBackAt is null ? 2 : 1, (await RunsAsync(job)).Count);
        }

        await world.Phones.FaultAsync("A", new { });
    }

    [Fact]
    public async Task A_first_boot_is_not_noted_before_anything_was_written()
    {
        await PlannedAsync("0831", "C");
        foreach (var (handler, fields) in new (string, (string, string)[])[] { ("Shows", [("mode", "setup-wizard")]), ("Note", [("name", "mode"), ("value", "setup-wizard")]) })
        {
            var answer = await PostAsync("/jobs/0831/check", handler, fields);
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        }

        await using var db = world.Database.CreateDbContext();
        Assert.False(await db.Facts.AnyAsync(fact => fact.Value == "setup-wizard" && db.Jobs.Any(job => job.Id == fact.JobId && job.Ticket == "0831")));
    }

    [Fact]
    public async Task One_phone_behind_two_names_is_one_port()
    {
        var package = await PlannedAsync("0841", "C");
        // No second port by another name of the same address; where one is left from before, a write at the first counts for it too.
        foreach (var host in new[] { "localhost", "127.0.0.2", "[::1]", "0.0.0.0" })
            Assert.Contains("Port C leads there already", await (await PostAsync("/ports", null, ("name", "TWO"), ("address", $"{host}:{world.Phones.C.Port}"))).Content.ReadAsStringAsync());
        await using (var db = world.Database.CreateDbContext())
        {
            db.Ports.Add(new PortRow { Name = "TWO", Address = $"localhost:{world.Phones.C.Port}" });
            await db.SaveChangesAsync();
        }

        await world.Phones.FaultAsync("C", new { bytesPerSecond = 1_500_000 });
        Assert.Equal(HttpStatusCode.Redirect, (await BeginAsync("0841", package)).StatusCode);
        await PostAsync("/jobs/new", null, ("Form.Ticket", "0842"), ("Form.Description", "test"), ("Form.Complaint", "test"), ("Form.OwnershipStated", "true"));
        var visit = await PostAsync("/jobs/0842/find-out", "Read", ("port", "TWO"));
        Assert.Contains("A write is going on", WebUtility.HtmlDecode(await visit.Content.ReadAsStringAsync()));
        await world.Phones.FaultAsync("C", new { });
        await EndedAsync("0841");
        Assert.Equal(RunStatus.Finished, (await RunsAsync("0841")).Single().Status);
    }
}

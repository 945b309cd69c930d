using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Reading, judging, beginning and watching through the pages.</summary>
public sealed partial class PageTests
{
    [Fact]
    public async Task A_typed_build_string_brings_its_facts()
    {
        var ticket = await TakeInAsync("hx204/15.26w10-7.r3");
        var html = Text(await client.GetStringAsync($"/jobs/{ticket}/find-out"));
        Assert.Contains("HX204", html);
        Assert.Contains("Bootloader revision", html);
        Assert.Contains("Rollback floor", html);
    }

    [Fact]
    public async Task What_disagrees_with_the_phone_shows_as_conflicting()
    {
        await world.Phones.DoAsync("B", "hold-menu-keys");
        var ticket = await TakeInAsync("HX204C");
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "B"));
        var html = await client.GetStringAsync($"/jobs/{ticket}/find-out");
        Assert.Contains("conflicting", html);
        Assert.Contains("withdraw", html);
        Assert.Contains("Stop", await client.GetStringAsync($"/jobs/{ticket}/match"));
    }

    [Fact]
    public async Task A_second_phone_in_one_job_is_refused()
    {
        await world.Phones.DoAsync("B", "hold-menu-keys");
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "B"));
        Assert.Contains("another phone", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task A_port_where_nothing_answers_is_said_and_nothing_is_recorded()
    {
        await WebWorld.PostAsync(client, "/ports", null, ("name", "Z"), ("address", $"127.0.0.1:{StandInProcess.FreePorts(1)[0]}"));
        var ticket = await TakeInAsync(code: null);
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "Z"));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("Nothing answers", await answer.Content.ReadAsStringAsync());
    }

    [Fact]
    public async Task Every_package_is_judged_and_a_stop_cannot_be_chosen()
    {
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var html = Text(await client.GetStringAsync($"/jobs/{ticket}/match"));
        Assert.Contains("for this model and others of its name", html);
        Assert.Contains("can be written <small>4</small>", html);
        Assert.Contains("stopped <small>4</small>", html);
        Assert.Contains("Revision 2 is below the floor 3", html);
        Assert.Contains("Raises the floor from 3 to 4 for ever", html);
        Assert.Contains("Made for HX204C, not HX204", html);
        Assert.Contains("radio image is not what its publisher sent out", html);
        Assert.Contains("54.5 MB expanded; its partition holds 50.3 MB", html);

        var below = await PackageIdAsync("cairn-stock-25w40.tar");
        var answer = await WebWorld.PostAsync(client, $"/jobs/{ticket}/match", null, ("package", below));
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        Assert.Contains("No package is chosen", await client.GetStringAsync($"/jobs/{ticket}/plan"));
    }

    private async Task<string> PackageIdAsync(string file)
    {
        await using var db = world.Database.CreateDbContext();
        return (await db.Packages.SingleAsync(p => p.FileName == file)).Id;
    }

    [Fact]
    public async Task Nothing_is_written_while_a_gate_is_closed_or_the_ticket_is_wrong()
    {
        var ticket = await TakeInAsync();
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/find-out", "Read", ("port", "A"));
        var package = await PackageIdAsync("cairn-stock-26w10.tar");
        await WebWorld.PostAsync(client, $"/jobs/{ticket}/match", null, ("package", package));
        (string, string)[] answers =
        [
            ("gate.backup", "waived"),
            ("gate.data-loss", "agreed"),
            ("gate.accounts", "signed-out"),
            ("gate.modification", "agreed"),
            ("gate.program", "closed"),
            ("gate.cable", "steady"),
        ];
        var plan = $"/jobs/{ticket}/plan?gates=1";

        var closed = await WebWorld.PostAsync(client, plan, "Begin", [.. answers.Where(a => a.Item1 != "gate.cable"), ("typed", ticket)]);
        Assert.Contains("Still closed: Cable and place", Text(await closed.Content.ReadAsStringAsync()));
        var mistyped = await WebWorld.PostAsync(client, plan, "Begin", [.. answers, ("typed", "0000")]);
        Assert.Contains("is not the ticket of this phone", Text(await mistyped.Content.ReadAsStringAsync()));
        var swapped = await WebWorld.PostAsync(client, plan, "Begin", [.. answers, ("planFor", new string('0', 32)), ("typed", ticket)]);
        Assert.Contains("was changed meanwhile", Text(await swapped.Content.ReadAsStringAsync()));

        await using var db = world.Database.CreateDbContext();
        Assert.False(await db.Runs.AnyAsync(r => r.Job.Ticket == ticket));
        Assert.Equal(
            "custom-2.1",
            System.Text.RegularExpressions.Regex.Match(Text(await client.GetStringAsync($"/jobs/{ticket}/find-out")), "custom-2\\.1").Value
        );
    }

    [Theory]
    [InlineData("", "x")]
    [InlineData("A1", "127.0.0.1")]
    [InlineData("TOOLONG", "127.0.0.1:1")]
    public async Task A_port_that_is_none_is_refused(string name, string address) =>
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(client, "/ports", null, ("name", name), ("address", address))).StatusCode
        );

    [Fact]
    public async Task A_runs_events_resume_after_the_last_one_seen()
    {
        var ticket = await TakeInAsync();
        int runId;
        await using (var db = world.Database.CreateDbContext())
        {
            var job = await db.Jobs.SingleAsync(j => j.Ticket == ticket);
            var plan = Planned.Plan();
            var run = new RunRow
            {
                JobId = job.Id,
                PackageId = plan.Package!.Id,
                Plan = plan,
                Report = Core.Matching.Matcher.Match(Sample.Cairn(), Sample.Package(), Repo.Catalogue),
                PortName = "Q",
                Address = "127.0.0.1:1",
                Status = RunStatus.Failed,
                BegunAt = Sample.Noon,
                BegunBy = "bench",
                EndedAt = Sample.Noon,
            };
            db.Runs.Add(run);
            await db.SaveChangesAsync();
            runId = run.Id;
            RunEvent[] events =
            [
                new RunQueued("bench", "Q"),
                new RunStarted("w"),
                new StepStarted(1, "Verify the package"),
                new RunFailed("The link broke.", "Again."),
            ];
            db.RunEvents.AddRange(
                events.Select(
                    (e, i) =>
                        new RunEventRow
                        {
                            RunId = runId,
                            Seq = i + 1,
                            At = Sample.Noon,
                            Event = e,
                        }
                )
            );
            await db.SaveChangesAsync();
        }

        var all = await client.GetStringAsync($"/runs/{runId}/events");
        Assert.Contains("event: run\n", all);
        Assert.Contains("\nid: 4\n", all);
        Assert.Contains("Verify the package", all);
        using var resume = new HttpRequestMessage(HttpMethod.Get, $"/runs/{runId}/events");
        resume.Headers.Add("Last-Event-ID", "3");
        var rest = await (await client.SendAsync(resume)).Content.ReadAsStringAsync();
        Assert.DoesNotContain("Verify the package\"", rest);
        Assert.Contains("The link broke.", rest);
        Assert.Contains("Nothing was written: the phone is as it came", Text(await client.GetStringAsync($"/jobs/{ticket}/write")));
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/runs/999999/events")).StatusCode);
    }
}

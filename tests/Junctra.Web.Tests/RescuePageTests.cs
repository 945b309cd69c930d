using System.Net;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Rescue;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The branch to board rescue: who may act at it, and two people at one phone.</summary>
[Trait("Turn", "7")]
public sealed class RescuePageTests(WebWorld world) : IClassFixture<WebWorld>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    // A dead phone of which everything was asked, and that is worth opening.
    private async Task<string> DeadAsync(string ticket, string model = "TN63W")
    {
        await using var db = world.Database.CreateDbContext();
        var job = new JobRow
        {
            Ticket = ticket,
            Description = "gold",
            Complaint = "no reaction",
            TakenInAt = Sample.Noon,
            OwnershipStated = true,
            DataWish = DataWish.MayGo,
            FaultClassId = "boot-chain-gone",
        };
        foreach (
            var (name, value, source) in new[]
            {
                (FactName.ModelCode.Value, model, FactSource.Label),
                (FactName.RollbackFloor.Value, "6", FactSource.Logbook),
                (FactName.Mode.Value, "off", FactSource.Seen),
            }
        )
            job.Facts.Add(
                new FactRow
                {
                    Name = name,
                    Value = value,
                    Source = source,
                    At = Sample.Noon,
                    RecordedBy = "counter",
                }
            );
        foreach (
            var (check, outcome) in new[] { ("charge", "takes-none"), ("power-key", "dark"), ("vibrates", "no"), ("computer", "nothing") }
        )
            job.TriageAnswers.Add(
                new TriageAnswerRow
                {
                    CheckId = check,
                    OutcomeId = outcome,
                    At = Sample.Noon,
                    By = "bench",
                }
            );
        db.Jobs.Add(job);
        await db.SaveChangesAsync(Cancel);
        return $"/jobs/{ticket}/rescue";
    }

    private async Task<int> RowsAsync(string ticket)
    {
        await using var db = world.Database.CreateDbContext();
        return await db.RescueEvents.CountAsync(row => db.Jobs.Any(job => job.Id == row.JobId && job.Ticket == ticket), Cancel);
    }

    [Fact]
    public async Task Of_two_people_who_tick_the_same_step_one_does_and_the_other_is_told()
    {
        var path = await DeadAsync("0950");
        var page = await world.Client().GetStringAsync(path, Cancel);
        Assert.Contains("may be opened", page);
        var answers = await Task.WhenAll(
            Enumerable.Range(0, 6).Select(_ => WebWorld.PostAsync(world.Client(), path, "Step", ("step", "before")))
        );
        Assert.Equal(1, answers.Count(answer => answer.StatusCode == HttpStatusCode.Redirect));
        Assert.Equal(5, answers.Count(answer => answer.StatusCode == HttpStatusCode.UnprocessableEntity));
        Assert.Equal(1, await RowsAsync("0950"));
        foreach (var step in new[] { "tray", "warm" })
            Assert.Equal(HttpStatusCode.Redirect, (await WebWorld.PostAsync(world.Client(), path, "Step", ("step", step))).StatusCode);
        foreach (
            var (handler, fields) in new (string, (string, string)[])[]
            {
                ("Step", [("step", "ribbons")]),
                ("Step", [("step", "nonsense")]),
                ("Screw", [("screw", "Z9")]),
                ("Screw", [("screw", "A1"), ("length", "x")]),
                ("Needle", [("heard", "port")]),
                ("Needle", [("heard", "a bell")]),
                ("Loader", [("answered", "true")]),
                ("Rule", [("changed", "true"), ("computer", "")]),
                ("Read", [("at", "nowhere")]),
            }
        )
            Assert.False((await WebWorld.PostAsync(world.Client(), path, handler, fields)).IsSuccessStatusCode, handler);
        Assert.Contains(await RowsAsync("0950"), new[] { 3, 4 });
    }

    [Fact]
    public async Task Every_part_shows_whatever_its_address_says_and_a_model_without_a_file_says_so()
    {
        var path = await DeadAsync("0951");
        foreach (
            var query in new[]
            {
                "part=worth",
                "part=open",
                "part=close",
                "part=pad",
                "part=pad&side=back&turn=3&zoom=1",
                "part=pad&side=back&turn=1&zoom=99",
                "part=pad&zoom=-2",
                "part=pad&turn=-7&pad=999999",
                "part=nothing&side=above",
            }
        )
        {
            using var answer = await world.Client().GetAsync($"{path}?{query}", Cancel);
            Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        }

        path = await DeadAsync("0952", "TN63E");
        var page = await world.Client().GetStringAsync(path, Cancel);
        Assert.Contains("Nothing is known here of its board", page);
        Assert.Contains("Nothing is known of its inside", await world.Client().GetStringAsync(path + "?part=pad", Cancel));
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(world.Client(), path, "Step", ("step", "before"))).StatusCode
        );
    }

    // Opens a phone step by step, as far as a step.
    private async Task OpenAsync(string path, string? until = null)
    {
        foreach (var step in Repo.Catalogue.BoardOf("TN63W")!.Of(RescuePhase.Open))
        {
            foreach (var screw in step.Screws)
                await DidAsync(path, "Screw", ("screw", screw));
            await DidAsync(path, "Step", ("step", step.Id));
            if (step.Id == until)
                return;
        }
    }

    private async Task CloseAsync(string path)
    {
        foreach (var step in Repo.Catalogue.BoardOf("TN63W")!.Steps.Where(step => step.PutsScrewsIn))
        {
            foreach (var screw in step.Screws.Select(id => Repo.Catalogue.BoardOf("TN63W")!.Screw(id)!))
                await DidAsync(path, "Screw", ("screw", screw.Id), ("length", FormattableString.Invariant($"{screw.LengthMm}")));
            await DidAsync(path, "Step", ("step", step.Id));
        }
    }

    private async Task DidAsync(string path, string handler, params (string, string)[] fields)
    {
        using var answer = await WebWorld.PostAsync(world.Client(), path, handler, fields);
        Assert.True(answer.StatusCode == HttpStatusCode.Redirect, $"{handler} {string.Join(", ", fields)}");
    }

    private async Task<string> RefusedAsync(string path, string handler, params (string, string)[] fields)
    {
        using var answer = await WebWorld.PostAsync(world.Client(), path, handler, fields);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
        return WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync(Cancel));
    }

    private async Task<string> PageAsync(string path) => WebUtility.HtmlDecode(await world.Client().GetStringAsync(path, Cancel));

    [Fact]
    public async Task A_loader_that_stays_silent_on_a_good_port_ends_it_and_the_phone_goes_back_as_it_is()
    {
        var path = await DeadAsync("0953");
        await OpenAsync(path);
        for (var i = 0; i < 3; i++)
        {
            await DidAsync(path, "Needle", ("heard", "port"), ("port", "serial port 7"));
            await DidAsync(path, "Loader", ("answered", "false"));
        }

        Assert.Contains("It ends here", await RefusedAsync(path, "Needle", ("heard", "port")));
        var page = await PageAsync(path);
        Assert.Contains("Put it back together", page);
        // It stands so among what needs hands, which leads to the branch.
        Assert.Matches("<b>Put it back together</b>", await PageAsync("/"));
        Assert.Contains("href=\"/jobs/0953/rescue\"", await PageAsync("/"));
        Assert.Contains("Back together, as far as keys", page);
        Assert.DoesNotContain("Read the chip", await PageAsync(path + "?part=pad"));
        Assert.Contains("It ends here", await PageAsync(path + "?part=worth"));
        Assert.Contains("The phone is open", await PageAsync("/jobs/0953/hand-back"));
        // One entry was a slip of the finger.
        await DidAsync(path, "AttemptBack");
        Assert.DoesNotContain("It ends here", await PageAsync(path));
        await DidAsync(path, "Loader", ("answered", "false"));
        await CloseAsync(path);
        Assert.Contains("It goes back as it is", await PageAsync(path + "?part=close"));
        Assert.Matches("<b>Hand it back as it is</b>", await PageAsync("/"));
        var sheet = await PageAsync("/jobs/0953/hand-back");
        Assert.DoesNotContain("The phone is open", sheet);
        Assert.Contains("no loader ran on it. It ends here", sheet);
        Assert.DoesNotContain("It was not opened", sheet);
    }

    [Fact]
    public async Task Given_up_half_way_only_what_was_opened_is_put_back()
    {
        var path = await DeadAsync("0954");
        Assert.Contains("nothing to give up", await RefusedAsync(path, "GiveUp", ("up", "true"), ("why", "the cell is swollen")));
        await OpenAsync(path, until: "warm");
        Assert.Contains("3 to 200", await RefusedAsync(path, "GiveUp", ("up", "true"), ("why", " ")));
        await DidAsync(path, "GiveUp", ("up", "true"), ("why", "The back splintered."));
        var page = await PageAsync(path);
        Assert.Contains("It was given up: The back splintered.", page);
        Assert.DoesNotContain("The few screws", page);
        Assert.Contains("The phone is open: fresh adhesive, back on comes first", await PageAsync("/jobs/0954/hand-back"));
        await DidAsync(path, "Step", ("step", "adhesive"));
        await DidAsync(path, "Step", ("step", "tray-in"));
        Assert.Contains("It was given up: The back splintered.", await PageAsync("/jobs/0954/hand-back"));
        Assert.DoesNotContain("The phone is open", await PageAsync("/jobs/0954/hand-back"));
    }

    [Fact]
    public async Task What_is_not_worth_opening_is_refused_wherever_it_is_noted()
    {
        var path = await DeadAsync("0955");
        await using (var db = world.Database.CreateDbContext())
            await db
                .Jobs.Where(job => job.Ticket == "0955")
                .SelectMany(job => job.Facts)
                .Where(fact => fact.Name == FactName.RollbackFloor.Value)
                .ExecuteUpdateAsync(set => set.SetProperty(fact => fact.Value, "9"), Cancel);
        Assert.Contains("It is not worth opening", await RefusedAsync(path, "Step", ("step", "before")));
        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        var job = (await scope.ServiceProvider.GetRequiredService<JobLoader>().FindAsync("0955", Cancel))!;
        var noted = await scope.ServiceProvider.GetRequiredService<RescueService>().NoteAsync(job, new StepTicked("before"), "ada", Cancel);
        Assert.Contains("It is not worth opening", noted.Refusal);
        Assert.Equal(0, await RowsAsync("0955"));
    }
}

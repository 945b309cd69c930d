using System.Net;
using Junctra.Core.Facts;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>The branch to board rescue: who may act at it, and two people at one phone.</summary>
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
                "part=pad&side=back&turn=3&near=true",
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
}

using System.Net;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Web.Bench.Days;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The bench day: made of the jobs that are there, kept, drawn, and changed by whoever may.</summary>
[Trait("Turn", "5")]
public sealed class BenchDayTests(WebWorld world) : IClassFixture<WebWorld>
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private async Task<MadeDay> MadeAsync()
    {
        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        return (await scope.ServiceProvider.GetRequiredService<DayService>().KnownAsync(Cancel))!.Value.Made;
    }

    private async Task AlwaysOpenAsync(int people = 2)
    {
        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        var hours = new BenchHours(
            default,
            default,
            Enum.GetValues<DayOfWeek>(),
            [.. Enumerable.Range(1, people).Select(i => new BenchPerson($"bench {i}", default, default))],
            1
        );
        Assert.Null(await scope.ServiceProvider.GetRequiredService<DayService>().ChangeHoursAsync(hours, "lead", Cancel));
    }

    [Fact]
    public async Task The_day_of_the_demo_is_solved_kept_and_drawn_and_made_anew_when_it_changes()
    {
        await AlwaysOpenAsync();
        var keeper = world.Service<TimetableKeeper>();
        await keeper.KeepAsync(Cancel);
        var made = await MadeAsync();
        await using var db = world.Database.CreateDbContext();
        var open = await db
            .Jobs.Where(job => job.HandedBackAt == null && job.Cell == Core.Triage.CellState.Sound)
            .Select(job => job.Ticket)
            .ToListAsync(Cancel);
        Assert.Equal(open.Order(), made.Day.Jobs.Select(job => job.Ticket).Order());
        Assert.Equal(made.Day.Jobs.Sum(job => job.Tasks.Count), made.Timetable.Slots.Count);
        Assert.Equal(
            made.Timetable.Cost,
            Timetable.CostOf(made.Day, made.Timetable.Slots, null) with
            {
                Changes = made.Timetable.Cost.Changes,
            }
        );
        var page = WebUtility.HtmlDecode(await world.Client().GetStringAsync("/", Cancel));
        Assert.Contains("class=\"timetable\"", page);
        Assert.Contains(made.Timetable.Of("bench 1").First().Ticket, page);
        Assert.Equal(made.Day.Hands.Count, page.Split("next-hand\"").Length - 1);
        // A customer who comes in now is told a time at once.
        Assert.Matches("Ready by <b>[^<]+</b> in nine of ten", await world.Client().GetStringAsync("/jobs/new", Cancel));
        // Nothing has changed: it stands.
        Assert.False(await keeper.KeepAsync(Cancel));
        // One that another version kept is none, and made anew.
        await db.Timetables.ExecuteUpdateAsync(set => set.SetProperty(row => row.Made, "{\"day\": {}}"), Cancel);
        Assert.DoesNotContain("class=\"timetable\"", await world.Client().GetStringAsync("/", Cancel));
        Assert.True(await keeper.KeepAsync(Cancel));
        Assert.Contains("class=\"timetable\"", await world.Client().GetStringAsync("/", Cancel));
        var job = await db.Jobs.FirstAsync(one => one.HandedBackAt == null, Cancel);
        job.PromisedAt = DateTimeOffset.UtcNow.AddMinutes(5);
        await db.SaveChangesAsync(Cancel);
        Assert.True(await keeper.KeepAsync(Cancel));
        var anew = await MadeAsync();
        Assert.Equal(job.Ticket, anew.Advice?.Ticket);
        Assert.Contains($"{job.Ticket} breaks first", WebUtility.HtmlDecode(await world.Client().GetStringAsync("/", Cancel)));
    }

    [Fact]
    public async Task Whoever_stands_there_comes_first_and_what_was_promised_is_held_against_what_happens()
    {
        await AlwaysOpenAsync(1);
        var client = world.Client();
        using var taken = await WebWorld.PostAsync(
            client,
            "/jobs/new",
            null,
            ("Form.Ticket", "9801"),
            ("Form.Description", "grey, blue case"),
            ("Form.Complaint", "stays black"),
            ("Form.Promised", "+2h"),
            ("Form.Waits", "true")
        );
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        Assert.True(await world.Service<TimetableKeeper>().KeepAsync(Cancel));
        var made = await MadeAsync();
        Assert.True(made.Day.Jobs.Single(job => job.Ticket == "9801").Weight > 1);
        Assert.Contains("checked=\"checked\"", (await client.GetStringAsync("/jobs/9801/intake", Cancel)).Split("Form.Waits")[1][..80]);
        await using var db = world.Database.CreateDbContext();
        var promise = await db.Promises.SingleAsync(one => db.Jobs.Any(job => job.Id == one.JobId && job.Ticket == "9801"), Cancel);
        var chance = made.Chances.Single(one => one.Ticket == "9801");
        var said = chance.Reckoned;
        Assert.Equal(chance.Chance, promise.Chance);
        Assert.Equal(made.Day.Now.AddMinutes(said.Usual), promise.Usual);
        Assert.True(promise.Slow >= promise.Usual && promise.Waits);
        // What was said once of a promise is not said anew.
        promise.Chance = 0.123;
        (await db.Jobs.SingleAsync(job => job.Ticket == "9801", Cancel)).Accessories = "box";
        await db.SaveChangesAsync(Cancel);
        Assert.True(await world.Service<TimetableKeeper>().KeepAsync(Cancel));
        Assert.Equal(0.123, (await db.Promises.AsNoTracking().SingleAsync(one => one.Id == promise.Id, Cancel)).Chance);
    }

    [Fact]
    public async Task A_phone_for_which_nothing_is_here_waits_for_the_line_and_the_advice_knows_the_other_mirrors()
    {
        await AlwaysOpenAsync(1);
        var model = world.Service<Core.Catalogue.ModelCatalogue>().Models.First().Code;
        await using (var db = world.Database.CreateDbContext())
        {
            foreach (var (name, rate) in new[] { ("slow quay", 200_000.0), ("fast quay", 900_000.0) })
                db.Mirrors.Add(
                    new MirrorRow
                    {
                        Name = name,
                        BaseAddress = $"http://127.0.0.1:9/{name[..4]}/",
                        IndexForm = "json",
                        IndexPath = "index.json",
                        Rate = rate,
                        Files =
                        {
                            new MirrorFileRow
                            {
                                Path = "other-region.tar",
                                SizeBytes = 1_300_000_000,
                                ModelCode = model,
                            },
                        },
                    }
                );
            await db.SaveChangesAsync(Cancel);
        }

        using var taken = await WebWorld.PostAsync(
            world.Client(),
            "/jobs/new",
            null,
            ("Form.Ticket", "9802"),
            ("Form.Description", "grey"),
            ("Form.Complaint", "stays at the logo"),
            ("Form.Code", model),
            ("Form.Promised", "+30m")
        );
        Assert.Equal(HttpStatusCode.Redirect, taken.StatusCode);
        await using (var db = world.Database.CreateDbContext())
            await db.Packages.ExecuteUpdateAsync(
                set => set.SetProperty(package => package.Wholeness, Core.Packages.Wholeness.Damaged),
                Cancel
            );
        Assert.True(await world.Service<TimetableKeeper>().KeepAsync(Cancel));
        var line = (await MadeAsync()).Day.Jobs.Single(job => job.Ticket == "9802").Tasks.Single(task => task.Needs == Needs.Line);
        Assert.Equal("Fetch other-region.tar", line.Title);
        // Nobody knows yet whether it is to be written: it counts by that chance; the other mirror takes four and a half times as long.
        Assert.InRange(line.Minutes, 1, 30);
        Assert.Equal("Fetch its file from slow quay.", Assert.Single(line.Others).Words);
        Assert.InRange(line.Others[0].Minutes, 105, 112);
    }

    [Fact]
    public async Task A_screen_at_the_wall_shows_the_day_to_nobody_before_the_lead_says_so_and_no_customers_words_after()
    {
        await AlwaysOpenAsync(1);
        await world.Service<TimetableKeeper>().KeepAsync(Cancel);
        using var stranger = world.Stranger();
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync("/wall", Cancel)).StatusCode);
        (string, string)[] form = [("opens", "0:00"), ("closes", "0:00"), ("people", "ada\nben"), ("chargers", "1"), ("wall", "true")];
        using var changed = await WebWorld.PostAsync(
            world.Client(),
            "/bench-hours",
            null,
            [.. form, .. Enum.GetNames<DayOfWeek>().Select(day => ("on", day.ToLowerInvariant()))]
        );
        Assert.Equal(HttpStatusCode.Redirect, changed.StatusCode);
        Assert.True(await world.Service<TimetableKeeper>().KeepAsync(Cancel));
        var page = WebUtility.HtmlDecode(await stranger.GetStringAsync("/wall", Cancel));
        Assert.Contains("class=\"timetable\"", page);
        Assert.Contains("data-anew=\"60\"", page);
        Assert.Contains((await MadeAsync()).Day.Jobs[0].Ticket, page);
        Assert.DoesNotContain("/find?q=", page);
        await using var db = world.Database.CreateDbContext();
        foreach (var job in await db.Jobs.Where(job => job.HandedBackAt == null).ToListAsync(Cancel))
        {
            Assert.DoesNotContain(job.Complaint, page);
            Assert.DoesNotContain(job.Description, page);
        }
    }

    [Fact]
    public async Task A_bench_where_everybody_has_left_says_no_more_than_it_knows()
    {
        await AlwaysOpenAsync(1);
        await using (var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope())
        {
            // Open for so short that nothing fits.
            var hours = BenchHours.Usual with
            {
                Opens = new TimeOnly(9, 0),
                Closes = new TimeOnly(9, 1),
                BreakFrom = null,
                BreakTo = null,
            };
            Assert.Null(await scope.ServiceProvider.GetRequiredService<DayService>().ChangeHoursAsync(hours, "lead", Cancel));
        }

        Assert.True(await world.Service<TimetableKeeper>().KeepAsync(Cancel));
        Assert.Empty((await MadeAsync()).Timetable.Slots);
        Assert.Contains("nobody is at the bench", await world.Client().GetStringAsync("/", Cancel));
    }

    [Fact]
    public async Task Hours_are_the_leads_to_change_and_what_are_none_is_told()
    {
        (string, string)[] good =
        [
            ("opens", "8:30"),
            ("closes", "17:00"),
            ("breakFrom", "12:00"),
            ("breakTo", "12:30"),
            ("on", "monday"),
            ("on", "friday"),
            ("people", "ada 8:30-17:00\nben"),
            ("chargers", "2"),
        ];
        var lead = world.Client();
        Assert.Equal(HttpStatusCode.Redirect, (await WebWorld.PostAsync(lead, "/bench-hours", null, good)).StatusCode);
        await using (var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope())
        {
            var hours = await scope.ServiceProvider.GetRequiredService<DayService>().HoursAsync(Cancel);
            Assert.Equal([DayOfWeek.Monday, DayOfWeek.Friday], hours.Days);
            Assert.Equal(new BenchPerson("ben", new TimeOnly(8, 30), new TimeOnly(17, 0)), hours.People[1]);
        }

        foreach (
            var (field, value, says) in new[]
            {
                ("opens", "early", "when the shop opens"),
                ("people", "", "one to twelve"),
                ("people", "ada 9-x", "is no pair of hands"),
                ("people", "ada 9-10\nada 10-11", "same name"),
                ("chargers", "0", "chargers"),
                ("breakTo", "", "an end after it"),
                ("breakTo", "noon", "when the break begins"),
                ("on", "never", "which days"),
            }
        )
        {
            using var answer = await WebWorld.PostAsync(
                lead,
                "/bench-hours",
                null,
                [.. good.Where(one => one.Item1 != field), (field, value)]
            );
            Assert.Equal(HttpStatusCode.UnprocessableEntity, answer.StatusCode);
            Assert.Contains(says, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync(Cancel)));
        }
    }
}

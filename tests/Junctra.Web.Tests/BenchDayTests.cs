using System.Net;
using Junctra.Schedule;
using Junctra.Web.Bench.Days;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>The bench day: made of the jobs that are there, kept, drawn, and changed by whoever may.</summary>
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
        var job = await db.Jobs.FirstAsync(one => one.HandedBackAt == null, Cancel);
        job.PromisedAt = DateTimeOffset.UtcNow.AddMinutes(5);
        await db.SaveChangesAsync(Cancel);
        Assert.True(await keeper.KeepAsync(Cancel));
        var anew = await MadeAsync();
        Assert.Equal(job.Ticket, anew.Advice?.Ticket);
        Assert.Contains($"{job.Ticket} breaks first", WebUtility.HtmlDecode(await world.Client().GetStringAsync("/", Cancel)));
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

using Junctra.StandIns.Days;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>The chance of a promise, against what can be reckoned by hand and by plain counting.</summary>
public sealed class PromiseChanceTests
{
    private static readonly DateTimeOffset Now = new(2026, 11, 30, 9, 0, 0, TimeSpan.Zero);

    private static Day Of(params DayJob[] jobs) =>
        new(
            Now,
            [new BenchHands("ada", [new Stretch(0, 480), new Stretch(1440, 1920), new Stretch(2880, 3360)])],
            [new(0, 480), new(1440, 1920), new(2880, 3360)],
            2,
            1,
            jobs
        );

    private static DayJob Job(string ticket, int? promised, params WorkTask[] tasks) => new(ticket, 0, tasks, promised);

    [Fact]
    public void Half_of_all_times_lie_below_the_usual_one_and_nine_of_ten_below_the_slow_one()
    {
        var task = new WorkTask("1", "write", Needs.Shop, 100, 180);
        var random = new Random(1);
        var drawn = Enumerable.Range(0, 4000).Select(_ => PromiseChances.Drawn(task, random)).Order().ToList();
        Assert.InRange(drawn[2000], 95, 105);
        Assert.InRange(drawn[3600], 168, 192);
        var day = Of(Job("0001", 180, task));
        var chance = PromiseChances.Of(day, DispatchRule.MostPressed(day), draws: 4000).Single();
        Assert.InRange(chance.Chance, 0.88, 0.92);
        Assert.InRange(chance.Usual, 95, 105);
        Assert.InRange(chance.Slow, 168, 192);
    }

    [Fact]
    public void What_hands_are_late_with_comes_late_to_whoever_waits_for_them()
    {
        var sure = new WorkTask("1", "check", Needs.Hands | Needs.Shop, 10, 10);
        var unsure = new WorkTask("1", "find out", Needs.Hands | Needs.Shop, 60, 120);
        var day = Of(Job("0001", null, unsure), Job("0002", 80, sure) with { Came = 1 });
        var first = DispatchRule.FirstCome(day);
        Assert.InRange(PromiseChances.Of(day, first).Single(one => one.Ticket == "0002").Chance, 0.55, 0.8);
        // Turned round it holds for certain.
        Assert.Equal(1, PromiseChances.Of(day, DispatchRule.MostPressed(day)).Single(one => one.Ticket == "0002").Chance);
    }

    [Fact]
    public void What_comes_too_late_for_today_is_ready_tomorrow()
    {
        var day = Of(
            Job(
                "0001",
                470,
                new WorkTask("1", "look", Needs.Hands | Needs.Shop, 300, 301),
                new WorkTask("2", "check", Needs.Hands | Needs.Shop, 200, 201)
            )
        );
        var chance = PromiseChances.Of(day, DispatchRule.MostPressed(day)).Single();
        Assert.Equal(0, chance.Chance);
        Assert.InRange(chance.Usual, 1600, 1660);
    }

    [Fact]
    public void Played_with_usual_times_a_timetable_is_what_it_says()
    {
        foreach (var seed in Sampled.Seeds(10, 2))
        {
            var day = InventedDay.Of(seed, 8, 2);
            var sure = day with
            {
                Jobs = [.. day.Jobs.Select(job => job with { Tasks = [.. job.Tasks.Select(task => task with { Slow = task.Minutes })] })],
            };
            var made = TimetableSolver.Solve(sure, limit: new SolverLimit(0.5, 300, 1));
            foreach (var chance in PromiseChances.Of(sure, made, draws: 3))
            {
                var ready = made.ReadyAt(chance.Ticket)!.Value;
                // Whoever turns to something else meanwhile may be some minutes late for what was theirs.
                Assert.True(chance.Usual <= ready + 10, $"seed {seed}, {chance.Ticket}");
                Assert.True(chance.Promised is null || chance.Chance == (chance.Usual <= chance.Promised ? 1 : 0));
            }
        }
    }

    [Fact]
    public void What_is_promised_to_whoever_comes_in_now_holds_in_nine_of_ten_of_other_draws_and_costs_nobody_else_a_promise()
    {
        foreach (var seed in Sampled.Seeds(8, 4))
        {
            var day = InventedDay.Of(seed, 8, 2);
            var tasks = InventedDay.Of(seed + 100, 1).Jobs[0].Tasks;
            var promised = IntakePromise.Of(day, tasks)!.Value;
            var with = day with { Jobs = [.. day.Jobs, new DayJob("9999", 99, tasks, promised)] };
            var rule = DispatchRule.MostPressed(
                with with
                {
                    Jobs = [.. with.Jobs.Select(job => job.Ticket == "9999" ? job with { Promised = null } : job)],
                }
            );
            Assert.InRange(PromiseChances.Of(with, rule, draws: 400, seed: 77).Single(one => one.Ticket == "9999").Chance, 0.83, 0.97);
            Assert.True(promised >= tasks.Sum(task => task.Minutes));
        }
    }

    [Fact]
    public void A_promise_that_breaks_is_named_with_what_saves_it_and_nothing_that_does_not_help()
    {
        var long_ = Job("0001", null, new WorkTask("1", "open it", Needs.Hands | Needs.Shop, 50, 60)) with { Weight = 1 };
        var pressed = Job(
            "0002",
            60,
            new WorkTask("1", "connect", Needs.Hands | Needs.Port | Needs.Shop, 10, 14),
            new WorkTask("2", "write", Needs.Port | Needs.Shop, 10, 15)
        ) with
        {
            Came = 1,
        };
        var day = Of(long_, pressed);
        // First come, first served: the second waits behind the first.
        var made = DispatchRule.FirstCome(day);
        var advice = PromiseAdvice.Of(day, made, PromiseChances.Of(day, made))!;
        Assert.Equal("0002", advice.Ticket);
        Assert.True(advice.IsSaved);
        Assert.Contains(advice.Measures, one => one.Words.StartsWith("Take 0002", StringComparison.Ordinal));
        Assert.DoesNotContain(advice.Measures, one => one.Words.Contains("mirror", StringComparison.Ordinal));
        Assert.True(advice.Instead > 60);
        var solved = TimetableSolver.Solve(day, limit: new SolverLimit(0.5, 300, 1));
        Assert.Null(PromiseAdvice.Of(day, solved, PromiseChances.Of(day, solved)));
    }
}

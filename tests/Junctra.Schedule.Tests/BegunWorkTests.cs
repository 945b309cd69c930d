using Junctra.StandIns.Days;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>
/// What goes on when a timetable is made, however oddly: people at two phones, two files over one line, a phone in its port.
/// </summary>
public sealed class BegunWorkTests
{
    private const Needs ByHands = Needs.Hands | Needs.Shop,
        Plugged = Needs.Port | Needs.Shop;
    private static readonly SolverLimit Limit = new(0.3, 300, 1);

    private static Day Of(int ports, params DayJob[] jobs) =>
        new(DateTimeOffset.UnixEpoch, [new("ada", [new(0, 600)]), new("ben", [new(0, 600)])], [new(0, 600)], ports, 1, jobs);

    private static WorkTask Task(string id, Needs needs, int minutes, int? begun = null, string? by = null) =>
        new(id, id, needs, minutes, minutes * 2) { BegunAt = begun, By = by };

    [Fact]
    public void Somebody_who_is_at_two_phones_takes_no_third_before_both_are_done()
    {
        var day = Of(
            2,
            new DayJob("1", 0, [Task("look", ByHands, 20, -5, "ada")], 60),
            new DayJob("2", 1, [Task("look", ByHands, 30, -2, "ada")], 60),
            new DayJob("3", 2, [Task("look", ByHands, 10), Task("hand back", ByHands, 10)], 40)
        );
        var made = TimetableSolver.Solve(day, limit: Limit);
        Assert.True(made.IsProved);
        Assert.All(made.Slots.Where(slot => slot.Ticket == "3"), slot => Assert.True(slot.Hands == "ben" || slot.Start >= 28));
        Assert.Equal(20, made.ReadyAt("3"));
        Assert.All(PromiseChances.Of(day, made), chance => Assert.True(chance.Usual >= 1));
    }

    [Fact]
    public void Two_files_that_come_at_once_are_both_waited_for_by_a_third()
    {
        var day = Of(
            1,
            new DayJob("1", 0, [Task("fetch", Needs.Line, 20, 0)], null),
            new DayJob("2", 1, [Task("fetch", Needs.Line, 30, -10)], null),
            new DayJob("3", 2, [Task("fetch", Needs.Line, 10)], 60)
        );
        var made = TimetableSolver.Solve(day, limit: Limit);
        Assert.Equal(30, made.ReadyAt("3"));
        Assert.True(made.IsProved);
    }

    [Fact]
    public void A_phone_in_its_port_holds_it_until_hands_come()
    {
        var day = Of(
            1,
            new DayJob("1", 0, [Task("keys", ByHands | Plugged, 10), Task("write", Plugged, 20)], 300) { IsInPort = true },
            new DayJob("2", 1, [Task("connect", ByHands | Plugged, 5), Task("write", Plugged, 5)], 12)
        );
        foreach (var made in new[] { DispatchRule.MostPressed(day), TimetableSolver.Solve(day, limit: Limit) })
        {
            Assert.True(made.Slots.First(slot => slot.Ticket == "2").Start >= 30, $"{made.Maker}");
            Assert.Equal(0, PortStay.Lanes(day, made.Slots).Single()[0].From);
        }

        Assert.True(PromiseChances.Of(day, DispatchRule.MostPressed(day)).First(chance => chance.Ticket == "2").Chance < 0.05);
    }

    [Fact]
    public void Only_what_comes_first_of_a_job_can_have_begun()
    {
        var day = Of(1, new DayJob("1", 0, [Task("look", ByHands, 5), Task("boot", Needs.Shop, 5, -1)], null));
        Assert.Contains("only what comes first", day.WhyNot);
    }

    [Fact, Trait("Turn", "8")]
    public void No_timetable_is_less_late_than_is_proved_to_be_the_least()
    {
        var (late, days) = (0, Sampled.Of(10, 2));
        for (var seed = 0; seed < days; seed++)
        {
            // So many promises that most must break.
            var day = InventedDay.Of(seed, 12, 1 + seed % 2, pressure: 0.1);
            var rule = DispatchRule.MostPressed(day);
            var least = LeastLateness.Of(day, _ => 0);
            var solved = TimetableSolver.Solve(day, limit: Limit);
            late += least > 0 ? 1 : 0;
            Assert.True(least <= Math.Min(rule.Cost.Late, solved.Cost.Late), $"seed {seed}");
            Assert.True(LeastLateness.Broken(day) <= solved.Cost.Broken);
            Assert.True(solved.Cost.Late <= rule.Cost.Late && solved.Cost.Lateness <= rule.Cost.Lateness);
            Assert.True(solved.AtLeast!.Value.Lateness <= solved.Cost.Lateness);
        }

        Assert.True(2 * late >= days);
    }

    [Fact]
    public void Of_many_phones_an_order_is_found_that_is_much_less_late_than_the_rule()
    {
        var day = InventedDay.Of(2002, 40, 2, 6);
        var rule = DispatchRule.MostPressed(day);
        var found = OrderSearch.Better(day, null, rule, new SolverLimit(2, 300), CancellationToken.None);
        Assert.True(found.Cost.Late < rule.Cost.Late / 2);
        Assert.Same(rule, OrderSearch.Better(day, null, rule, new SolverLimit(0, 0), CancellationToken.None));
    }
}

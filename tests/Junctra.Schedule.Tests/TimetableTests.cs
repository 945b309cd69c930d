using Junctra.StandIns.Days;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>What every timetable keeps to, whatever the day.</summary>
public sealed class TimetableTests
{
    // One search at a time: the same whatever the machine.
    internal static readonly SolverLimit Short = new(0.15, 300, 1);

    // What holds of a timetable by plain counting, without a line of its makers.
    internal static void IsSound(Day day, Timetable made)
    {
        Assert.Equal(day.Jobs.Sum(job => job.Tasks.Count), made.Slots.Count);
        foreach (var job in day.Jobs)
        {
            var before = int.MinValue;
            var hasBegun = false;
            foreach (var task in job.Tasks)
            {
                var slot = made.Slots.Single(one => one.Ticket == job.Ticket && one.Task.Id == task.Id);
                Assert.True(slot.Start >= before, $"{job.Ticket} {task.Title} before its turn");
                Assert.True(
                    !task.AtOnce || slot.Start == before || task.BegunAt is not null || hasBegun,
                    $"{job.Ticket} {task.Title} waits"
                );
                Assert.Equal(task.Needs.HasFlag(Needs.Hands), slot.Hands is not null);
                if (task.BegunAt is { } begun)
                    Assert.Equal(begun, slot.Start);
                else
                {
                    Assert.Equal(task.Minutes, slot.End - slot.Start);
                    Assert.True(slot.Start >= 0);
                    Assert.True(!task.Needs.HasFlag(Needs.Shop) || day.Open.Any(open => open.Holds(slot.Start, slot.End)));
                    if (slot.Hands is { } name)
                        Assert.Contains(day.Hands.Single(hands => hands.Name == name).At, at => at.Holds(slot.Start, slot.End));
                }

                (before, hasBegun) = (slot.End, task.BegunAt is not null);
            }
        }

        AtMost(1, made.Slots.Where(slot => slot.Task.Needs.HasFlag(Needs.Line)).Select(slot => (slot.Start, slot.End)));
        AtMost(day.Chargers, made.Slots.Where(slot => slot.Task.Needs.HasFlag(Needs.Charger)).Select(slot => (slot.Start, slot.End)));
        foreach (var hands in day.Hands)
            AtMost(1, made.Of(hands.Name).Select(slot => (slot.Start, slot.End)));
        AtMost(
            day.Ports,
            day.Jobs.SelectMany(job =>
            {
                var own = made.Slots.Where(slot => slot.Ticket == job.Ticket).OrderBy(slot => slot.Start).ThenBy(slot => slot.End).ToList();
                var stays = new List<(int, int)>();
                for (var i = 0; i < own.Count; i++)
                    if (own[i].Task.Needs.HasFlag(Needs.Port))
                    {
                        var from = own[i].Start;
                        while (i + 1 < own.Count && own[i + 1].Task.Needs.HasFlag(Needs.Port))
                            i++;
                        stays.Add((from, own[i].End));
                    }

                return stays;
            })
        );
    }

    private static void AtMost(int most, IEnumerable<(int From, int To)> taken)
    {
        var all = taken.ToList();
        foreach (var (at, _) in all)
            Assert.True(all.Count(one => one.From <= at && at < one.To) <= most, $"minute {at}");
    }

    [Fact]
    public void Whatever_the_day_nothing_is_done_twice_at_once_and_everything_in_its_order()
    {
        foreach (var seed in Sampled.Seeds(20, 4))
        {
            var day = InventedDay.Of(seed, 4 + seed % 12, 1 + seed % 3, 1 + seed % 4, 0.6 + seed % 5 * 0.2);
            var rule = DispatchRule.MostPressed(day);
            IsSound(day, rule);
            IsSound(day, DispatchRule.FirstCome(day));
            var solved = TimetableSolver.Solve(day, limit: Short);
            IsSound(day, solved);
            Assert.True(solved.Cost <= rule.Cost, $"seed {seed}");
            Assert.True(solved.AtLeast <= solved.Cost);
            Assert.Equal(solved.Cost, Timetable.CostOf(day, solved.Slots, null));
        }
    }

    [Fact]
    public void The_same_day_gives_the_same_timetable()
    {
        var day = InventedDay.Of(7, 10, 2);
        Assert.Equal(TimetableSolver.Solve(day, limit: Short).Slots, TimetableSolver.Solve(day, limit: Short).Slots);
    }

    [Fact]
    public void Small_days_are_as_good_as_every_order_of_their_work_can_be()
    {
        foreach (var seed in Sampled.Seeds(8, 2))
        {
            var day = InventedDay.Of(seed, 4, pressure: 0.4);
            var solved = TimetableSolver.Solve(day, limit: new SolverLimit(2, 300, 1));
            Assert.True(solved.IsProved, $"seed {seed}");
            // Every order in which jobs may be preferred, by the rule that never leaves hands waiting: none is less late.
            foreach (var order in Orders(day.Jobs.Select(job => job.Ticket).ToList()))
            {
                var rule = DispatchRule.FirstCome(
                    day with
                    {
                        Jobs = [.. day.Jobs.Select(job => job with { Came = order.IndexOf(job.Ticket) })],
                    }
                );
                Assert.True(solved.Cost <= rule.Cost, $"seed {seed}, {string.Join(' ', order)}");
            }
        }
    }

    private static IEnumerable<List<string>> Orders(List<string> all) =>
        all.Count < 2
            ? [all]
            : all.SelectMany(first => Orders([.. all.Where(one => one != first)]).Select(rest => rest.Prepend(first).ToList()));

    [Fact]
    public void What_was_begun_stays_and_what_people_know_moves_as_little_as_it_can()
    {
        foreach (var seed in Sampled.Seeds(8, 2))
        {
            var day = InventedDay.Of(seed, 8, 2);
            var known = TimetableSolver.Solve(day, limit: Short);
            // Half an hour later: what was begun by then goes on, and takes longer than was said; what is over is gone.
            const int later = 30;
            var jobs = day
                .Jobs.Select(job =>
                    job with
                    {
                        Promised = job.Promised - later,
                        Tasks =
                        [
                            .. job
                                .Tasks.Select(task =>
                                    (task, slot: known.Slots.Single(one => one.Ticket == job.Ticket && one.Task.Id == task.Id))
                                )
                                .Where(one => one.slot.End > later)
                                .Select(one =>
                                    one.slot.Start < later
                                        ? one.task with
                                        {
                                            BegunAt = one.slot.Start - later,
                                            By = one.slot.Hands,
                                            Minutes = one.task.Minutes + 5,
                                            Slow = one.task.Slow + 5,
                                        }
                                        : one.task
                                ),
                        ],
                    }
                )
                .ToList();
            var now = day with
            {
                Jobs = jobs,
                Hands = [.. day.Hands.Select(hands => hands with { At = Moved(hands.At) })],
                Open = Moved(day.Open),
            };
            var anew = TimetableSolver.Solve(now, known.Later(later), Short);
            IsSound(now, anew);
            Assert.True(anew.Cost <= DispatchRule.MostPressed(now, known.Later(later)).Cost);
            // Nobody is told otherwise for nothing: without the old timetable more would have changed, or as much.
            var careless = TimetableSolver.Solve(now, null, Short);
            if (careless.Cost.Late == anew.Cost.Late && careless.Cost.HandsEnd == anew.Cost.HandsEnd)
                Assert.True(anew.Cost.Changes <= Timetable.Changes(careless.Slots, known.Later(later)).Count(), $"seed {seed}");
        }

        static IReadOnlyList<Stretch> Moved(IReadOnlyList<Stretch> at) =>
            [.. at.Select(stretch => new Stretch(Math.Max(0, stretch.From - 30), stretch.To - 30)).Where(stretch => stretch.Minutes > 0)];
    }

    [Fact]
    public void A_day_that_cannot_be_planned_says_why()
    {
        var day = InventedDay.Of(3, 3);
        Assert.Null(day.WhyNot);
        Assert.Equal("A ticket stands in it twice.", (day with { Jobs = [day.Jobs[0], day.Jobs[0]] }).WhyNot);
        var long_ = day.Jobs[0] with { Tasks = [new WorkTask("1", "solder", Needs.Hands | Needs.Shop, 400, 500)] };
        Assert.Contains("nobody is at the bench for 400 min together", (day with { Jobs = [long_] }).WhyNot);
        Assert.Contains(
            "a minute at least",
            (day with { Jobs = [long_ with { Tasks = [new WorkTask("1", "look", Needs.None, 0, 0)] }] }).WhyNot
        );
        Assert.Throws<ArgumentException>(() => TimetableSolver.Solve(day with { Hands = [] }));
        Assert.NotNull((InventedDay.Of(1, 9) with { Ports = 0 }).WhyNot);
        var empty = TimetableSolver.Solve(day with { Jobs = [] });
        Assert.Empty(empty.Slots);
        Assert.True(empty.IsProved);
    }

    [Fact]
    public void Without_time_the_simple_rule_stands_and_says_so()
    {
        var day = InventedDay.Of(5, 20, 2);
        var made = TimetableSolver.Solve(day, limit: new SolverLimit(0, 0));
        IsSound(day, made);
        Assert.False(made.IsProved);
        var stopped = TimetableSolver.Solve(day, cancel: new CancellationToken(true));
        IsSound(day, stopped);
    }
}

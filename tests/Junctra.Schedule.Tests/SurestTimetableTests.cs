using Junctra.StandIns.Days;

namespace Junctra.Schedule.Tests;

/// <summary>The timetable by which a bench works: sound, never later than the simple rule's, and with more room for promises.</summary>
[Trait("Turn", "4")]
public sealed class SurestTimetableTests
{
    private static long Exposed(Day day, Timetable made) => PromiseChances.Played(day, made, 60).Sum(ready => Exposure.Of(day, ready));

    [Fact]
    public void Whatever_the_day_it_is_sound_never_later_than_the_rule_and_leaves_promises_no_less_room_than_the_solvers()
    {
        var makers = new HashSet<TimetableMaker>();
        for (var seed = 0; seed < 5; seed++)
        {
            var day = InventedDay.Of(seed, 4 + seed % 9, 1 + seed % 3, 2 + seed % 3, 0.6 + seed % 5 * 0.2);
            var solved = TimetableSolver.Solve(day, limit: TimetableTests.Short);
            var surest = SurestTimetable.Of(day, limit: TimetableTests.Short);
            TimetableTests.IsSound(day, surest);
            Assert.Equal(surest.Cost, Timetable.CostOf(day, surest.Slots, null));
            Assert.True(surest.Cost.Late <= DispatchRule.MostPressed(day).Cost.Late, $"seed {seed}");
            // Whoever goes on with a phone may be at something else by then: a few draws end otherwise.
            Assert.True(Exposed(day, surest) <= Exposed(day, solved) * 1.05, $"seed {seed}");
            Assert.True(seed > 0 || surest.Slots.SequenceEqual(SurestTimetable.Of(day, limit: TimetableTests.Short).Slots));
            makers.Add(surest.Maker);
        }

        // Neither is always right.
        Assert.True(makers.Count > 1);
    }

    [Fact]
    public void A_phone_stays_with_whoever_began_it_and_what_people_know_stays_theirs()
    {
        WorkTask Task(string id, int minutes) => new(id, id, Needs.Hands, minutes, minutes);
        var open = new Stretch(0, 600);
        var day = new Day(
            new DateTimeOffset(2026, 11, 30, 9, 0, 0, TimeSpan.Zero),
            [new BenchHands("north", [open]), new BenchHands("south", [open])],
            [open],
            2,
            1,
            [new DayJob("1", 0, [Task("look", 10), Task("open", 20), Task("close", 20)], 300)]
        );
        Assert.Single(SurestTimetable.Of(day, limit: TimetableTests.Short).Slots.Select(slot => slot.Hands).Distinct());
        // Who was told that the second is theirs keeps it.
        Slot Slot(int task, int from, string hands) =>
            new("1", day.Jobs[0].Tasks[task], from, from + day.Jobs[0].Tasks[task].Minutes, hands);
        Slot[] slots = [Slot(0, 0, "north"), Slot(1, 10, "south"), Slot(2, 30, "north")];
        var known = new Timetable(slots, TimetableMaker.Solver, Timetable.CostOf(day, slots, null));
        Assert.Equal(["north", "south", "north"], Handovers.Fewer(day, known, known).Slots.Select(slot => slot.Hands));
        Assert.Equal(["north", "north", "north"], Handovers.Fewer(day, known, null).Slots.Select(slot => slot.Hands));
        // Nor does anybody do two things at once, or come for it on a day off.
        var busy = day with { Jobs = [.. day.Jobs, new DayJob("2", 1, [Task("write", 15)], 300)] };
        Slot[] others = [.. slots, new Slot("2", busy.Jobs[1].Tasks[0], 12, 27, "north")];
        Assert.Equal(
            ["north", "south", "south", "north"],
            Handovers.Fewer(busy, known with { Slots = others }, null).Slots.Select(slot => slot.Hands)
        );
        var away = day with { Hands = [new BenchHands("north", [new Stretch(0, 10)]), day.Hands[1]] };
        Assert.Equal(["north", "south", "south"], Handovers.Fewer(away, known, null).Slots.Select(slot => slot.Hands));
    }

    [Fact]
    public void What_people_know_is_kept_to_in_a_day_that_has_changed_and_nothing_is_done_out_of_turn()
    {
        for (var seed = 0; seed < 5; seed++)
        {
            var day = InventedDay.Of(seed, 8, 2);
            var known = DispatchRule.MostPressed(day);
            // Of every second phone a check turns up that comes before all else; of every third something is gone; one is new.
            var changed = day with
            {
                Jobs =
                [
                    .. day.Jobs.Select(
                        (job, i) =>
                            job with
                            {
                                Tasks =
                                [
                                    .. i % 2 == 0 ? [new WorkTask("Next", "what comes next", Needs.Hands, 4, 8)] : Array.Empty<WorkTask>(),
                                    .. job.Tasks.Skip(i % 3 == 0 ? 1 : 0).Select((task, t) => t == 0 ? task with { AtOnce = false } : task),
                                ],
                                IsInPort = false,
                            }
                    ),
                    InventedDay.Of(seed + 100, 1).Jobs[0] with
                    {
                        Ticket = "new",
                    },
                ],
            };
            TimetableTests.IsSound(changed, DispatchRule.AsKnown(changed, known));
            TimetableTests.IsSound(day, DispatchRule.AsKnown(day, known));
        }
    }

    [Fact]
    public void On_a_day_on_which_nothing_happens_people_are_not_told_otherwise_again_and_again()
    {
        foreach (var seed in new[] { 2, 5 })
        {
            var day = InventedDay.Of(seed, 9, 2);
            var known = SurestTimetable.Of(day, limit: TimetableTests.Short);
            // The second look may still find something that is clearly better.
            known = SurestTimetable.Of(day, known, TimetableTests.Short);
            Assert.Equal(0, SurestTimetable.Of(day, known, TimetableTests.Short).Cost.Changes);
        }
    }
}

using Junctra.StandIns.Days;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>
/// Days of the simulated shop, with every run through a twin and by hands that err: the timetable against the simple rules.
/// </summary>
[Trait("Turn", "6")]
public sealed class SimulatedWeekTests
{
    [Fact]
    public async Task Days_go_better_by_timetable_than_by_the_order_in_which_phones_came()
    {
        // One of them; both with JUNCTRA_EVERY_FAULT=1.
        var days = Sampled.Of(2, 1);
        var week = SimulatedWeek.Play(
            Repo.Catalogue,
            await DemoLibrary.ReadAllAsync(),
            seed: 4,
            new SolverLimit(0.05, 300, 1),
            days: days,
            perDay: 14,
            people: 1
        );
        foreach (var result in new[] { week.Solved, week.MostPressed, week.FirstCome })
        {
            Assert.Equal(14 * days, result.Phones);
            Assert.Equal(14 * days, result.Said.Count);
            Assert.True(result.Named <= result.Phones - result.Kept);
            Assert.Equal(result.Kept == result.Phones, result.LateMinutes == 0);
            Assert.All(result.Said, said => Assert.True(said.Took > 0 && said.Slow >= said.Usual));
        }

        Assert.True(week.Solved.Kept >= week.FirstCome.Kept);
        Assert.True(week.Solved.LateMinutes <= week.FirstCome.LateMinutes);
    }
}

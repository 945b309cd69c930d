using Junctra.StandIns.Days;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>
/// Days of the simulated shop, with every run through a twin and by hands that err: the timetable against the simple rules.
/// </summary>
public sealed class SimulatedWeekTests
{
    [Fact]
    public async Task Two_days_go_better_by_timetable_than_by_the_order_in_which_phones_came()
    {
        var week = await SimulatedWeek.PlayAsync(
            Repo.Catalogue,
            await DemoLibrary.AllFolderAsync(),
            seed: 4,
            new SolverLimit(0.05, 300, 1),
            days: 2,
            perDay: 14,
            people: 1
        );
        foreach (var result in new[] { week.Solved, week.MostPressed, week.FirstCome })
        {
            Assert.Equal(28, result.Phones);
            Assert.Equal(28, result.Said.Count);
            Assert.True(result.Named <= result.Phones - result.Kept);
            Assert.Equal(result.Kept == result.Phones, result.LateMinutes == 0);
            Assert.All(result.Said, said => Assert.True(said.Took > 0 && said.Slow >= said.Usual));
        }

        Assert.True(week.Solved.Kept >= week.FirstCome.Kept);
        Assert.True(week.Solved.LateMinutes <= week.FirstCome.LateMinutes);
    }
}

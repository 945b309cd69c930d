using Junctra.Testing;
using Junctra.Web.Operation;

namespace Junctra.Web.Tests;

/// <summary>What is made again and again leaves the machine to people.</summary>
public class WorkPaceTests
{
    [Theory]
    [InlineData(0.5, 4.5)]
    [InlineData(1.5, 13.5)]
    // On a slow machine nobody waits longer than the upper bound.
    [InlineData(40, 15)]
    public void It_rests_nine_times_as_long_as_the_work_took_and_not_beyond_the_bound(double took, double rest)
    {
        var time = new ManualTime(Sample.Noon);
        var pace = new WorkPace(time, rests: 9, maxRest: TimeSpan.FromSeconds(15));
        Assert.True(pace.IsRested);
        for (var round = 0; round < 3; round++)
        {
            var begun = time.GetTimestamp();
            time.Advance(TimeSpan.FromSeconds(took));
            pace.Done(begun);
            Assert.False(pace.IsRested);
            time.Advance(TimeSpan.FromSeconds(rest - 0.001));
            Assert.False(pace.IsRested);
            time.Advance(TimeSpan.FromSeconds(0.001));
            Assert.True(pace.IsRested);
        }
    }

    [Fact]
    public void What_changed_nothing_costs_no_rest()
    {
        var time = new ManualTime(Sample.Noon);
        var pace = new WorkPace(time, rests: 9, maxRest: TimeSpan.FromSeconds(15));
        pace.Done(time.GetTimestamp());
        Assert.True(pace.IsRested);
    }
}

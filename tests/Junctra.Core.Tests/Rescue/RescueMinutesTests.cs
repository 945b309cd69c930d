using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Rescue;
using Junctra.Testing;

namespace Junctra.Core.Tests.Rescue;

/// <summary>How long opening takes, learned from rescues.</summary>
public sealed class RescueMinutesTests
{
    private static readonly BoardGuide Guide = Repo.Catalogue.BoardOf("TN63W")!;

    private sealed class Others : IActTimes
    {
        public ActTime? Of(Act act) => new ActTime(new Band(1, 2), 9);
    }

    // A rescue that takes so many times the figures, step by step.
    private static (int, IEnumerable<RescueEntry>) Rescue(int job, double times)
    {
        var at = Sample.Noon.AddDays(job);
        var entries = new List<RescueEntry>();
        foreach (var step in Guide.Of(RescuePhase.Open))
        {
            foreach (var screw in step.Screws)
                entries.Add(new RescueEntry(at, "ada", new ScrewOut(screw)));
            at = at.AddMinutes(step.Minutes.Typical * times);
            entries.Add(new RescueEntry(at, "ada", new StepTicked(step.Id)));
        }

        return (job, entries);
    }

    [Fact]
    public void Below_three_rescues_the_guides_figures_stand_and_then_the_shops_own()
    {
        var two = new RescueMinutes(Guide, [Rescue(1, 2), Rescue(2, 2)], "");
        Assert.Null(two.Opening);
        Assert.All(Guide.Steps, step => Assert.Equal(step.Minutes, two.Of(step)));
        var many = new RescueMinutes(Guide, Enumerable.Range(1, 12).Select(job => Rescue(job, 2)), "");
        // Nothing comes before the first entry: its step is not measured by itself, only by the others.
        foreach (var step in Guide.Of(RescuePhase.Open).Skip(1))
            Assert.InRange(many.Of(step).Typical / step.Minutes.Typical, 1.9, 2.1);
        var opening = many.Opening!.Value;
        Assert.Equal(12, opening.Jobs);
        Assert.Equal(BoardRescue.OpeningOf(Guide, many.Of), opening.Seconds);
        Assert.InRange(opening.Seconds.Typical / BoardRescue.OpeningOf(Guide, step => step.Minutes).Typical, 1.7, 2.1);
    }

    [Fact]
    public void The_plan_takes_what_was_learned_of_the_opening_and_nothing_else_of_it()
    {
        var times = new RescueMinutes(Guide, Enumerable.Range(1, 5).Select(job => Rescue(job, 3)), "").Within(new Others());
        Assert.Equal(5, times.Of(new OpenToEmergency())!.Value.Jobs);
        Assert.Equal(9, times.Of(new RewriteLayout([]))!.Value.Jobs);
        Assert.Equal(9, new RescueMinutes(Guide, [], "").Within(new Others()).Of(new OpenToEmergency())!.Value.Jobs);
    }
}

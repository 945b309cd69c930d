using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Two plans for one phone side by side.</summary>
public class PlanComparisonTests
{
    private static Plan Bundle(string path, int revision = 3) =>
        PathWorld.Plan(
            PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download), WholePackage.Of(PathWorld.Model("TN63E"), revision), path != "A"),
            path
        );

    private static ComparedThing Of(PlanComparison comparison, string thing) =>
        comparison.Costs.Concat(comparison.Fates).Single(one => one.Thing == thing);

    [Fact]
    public void Two_ways_differ_in_what_they_cost_and_are_alike_in_the_rest()
    {
        var comparison = PlanComparison.Of(Bundle("A"), Bundle("B"));
        Assert.Equal(("kept if it starts", "erased"), (Of(comparison, "Data").Left, Of(comparison, "Data").Right));
        Assert.Equal(("the agreed wipe", "another plan"), (Of(comparison, "If it loops").Left, Of(comparison, "If it loops").Right));
        Assert.False(Of(comparison, "Package").Differs);
        Assert.False(Of(comparison, "Lock").Differs);
        Assert.Contains("Send the bundle", Of(comparison, "Must be finished once begun").Left);
    }

    [Fact]
    public void Two_packages_differ_in_the_floor_that_they_raise()
    {
        var comparison = PlanComparison.Of(Bundle("B"), Bundle("B", 4));
        Assert.Equal(("stays", "rises to 4 for ever"), (Of(comparison, "Floor").Left, Of(comparison, "Floor").Right));
        Assert.True(Of(comparison, "Package").Differs);
        Assert.Contains(comparison.Fates, fate => fate.Differs);
    }

    [Fact]
    public void What_only_one_of_them_touches_is_said_of_the_other()
    {
        var wipe = PathWorld.Plan(PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.BootLoop), null, true), "K");
        var comparison = PlanComparison.Of(wipe, Bundle("B"));
        Assert.Equal("none", Of(comparison, "Package").Left);
        Assert.Equal("0 bytes", Of(comparison, "Sent").Left);
        // The same things in the same order, none twice, nothing empty.
        Assert.Equal(comparison.Fates.Count, comparison.Fates.Select(fate => fate.Thing).Distinct().Count());
        Assert.All(comparison.Costs.Concat(comparison.Fates), one => Assert.False(one.Left.Length == 0 || one.Right.Length == 0));
        Assert.All(PlanComparison.Of(wipe, wipe).Costs, one => Assert.False(one.Differs));
    }
}

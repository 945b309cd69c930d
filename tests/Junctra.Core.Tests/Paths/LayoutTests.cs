using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>A bundle with its partition table (path E): by explicit choice, judged against model and storage.</summary>
public class LayoutTests
{
    public static TheoryData<string> TakeBundles => PathWorld.Codes(model => model.WriteMode == PhoneMode.Download);

    private static IEnumerable<TableEntry> Own(PhoneModel model) =>
        model.Partitions.Select(spec => new TableEntry(spec.Name, spec.SizeBytes));

    private static PathCase Case(
        string code,
        Func<TableEntry, TableEntry?>? change = null,
        string? storage = null,
        params (FactName Name, string? Value)[] more
    )
    {
        var model = PathWorld.Model(code);
        var layout = Own(model).Select(entry => change is null ? entry : change(entry)).OfType<TableEntry>();
        return PathWorld.Case(
            PathWorld.Phone(code, PhoneMode.Download, more),
            WholePackage.Of(model, layout: layout, storage: storage),
            true
        );
    }

    [Theory]
    [MemberData(nameof(TakeBundles))]
    public void A_layout_is_planned_for_every_model_and_ends_started(string code)
    {
        var plan = PathWorld.Plan(Case(code), "E");
        var layout = Assert.IsType<RewriteLayout>(plan.Steps.Single(step => step.Act is RewriteLayout).Act);
        Assert.Equal(PathWorld.Model(code).Partitions.Count, layout.Partitions.Count);
        Assert.DoesNotContain(layout.Touches, touch => touch.Role is PartitionRole.BootChain or PartitionRole.Identity);
        Assert.Contains($"{plan.Steps.Single(step => step.Act is RewriteLayout).Number} erases", PathWorld.Fate(plan, "Photos").Reason);
        // The layout is lost before anything lies in the new one: whatever breaks there is mended by beginning again.
        Assert.Equal(RiskKind.KeysBringItBack, plan.RiskOf(plan.Steps.Single(step => step.Act is RewriteLayout)).Risk);
    }

    [Fact]
    public void It_is_never_taken_unless_somebody_chooses_it()
    {
        Assert.NotEqual("E", PathList.Compile(Case("TN63E")).Plan?.Choice.Path);
        Assert.DoesNotContain(PathList.Compile(Case("TN63E")).Plan!.Steps, step => step.Act is RewriteLayout);
    }

    [Fact]
    public void What_is_wrong_with_a_layout_is_named()
    {
        Assert.Contains("no other layout", PathWorld.Refusal(Case("TN63E", more: (FactName.LockState, "locked")), "E"));
        Assert.Contains("has no recovery", PathWorld.Refusal(Case("TN63E", entry => entry.Name == "recovery" ? null : entry), "E"));
        Assert.Contains(
            "to system",
            PathWorld.Refusal(Case("TN63E", entry => entry.Name == "system" ? entry with { SizeBytes = 1 << 20 } : entry), "E")
        );
        Assert.Contains(
            "does not know",
            PathWorld.Refusal(Case("TN63E", entry => entry.Name == "radio" ? entry with { Name = "other" } : entry), "E")
        );
        Assert.Contains("for a storage of 64", PathWorld.Refusal(Case("TN63E", storage: "64", more: (FactName.StorageSize, "128")), "E"));
        Assert.NotNull(PathList.Compile(Case("TN63E", storage: "128", more: (FactName.StorageSize, "128")), "E").Plan);
        var without = PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download), WholePackage.Of(PathWorld.Model("TN63E")), true);
        Assert.Contains("brings a layout", PathWorld.Refusal(without, "E"));
    }

    [Fact]
    public void Room_that_is_left_over_for_the_data_differs_with_the_storage()
    {
        var more = Case("TN63E", entry => entry.Name == "userdata" ? entry with { SizeBytes = 2 * entry.SizeBytes } : entry);
        Assert.NotNull(PathList.Compile(more, "E").Plan);
    }
}

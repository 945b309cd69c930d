using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>The options of a write are those that the trade knows, each set by its path, with the reason.</summary>
public class PlanOptionTests
{
    private static readonly Catalogue.PhoneModel Tern = PathWorld.Model("TN63E");

    private static Package Bundle(bool hasCleanPack = true, bool hasLayout = false) =>
        WholePackage.Of(
            Tern,
            layout: hasLayout ? Tern.Partitions.Select(spec => new TableEntry(spec.Name, spec.SizeBytes)) : null,
            hasCleanPack: hasCleanPack
        );

    private static string Options(string path, Package package, bool held = false, string recovery = "stock")
    {
        var @case = PathWorld.Case(
            PathWorld.Phone("TN63E", PhoneMode.Download, (FactName.Recovery, recovery), (FactName.StorageSize, "64")),
            package,
            path != "A"
        ) with
        {
            Policy = PlanPolicy.Usual with { HoldsRestart = held },
        };
        return string.Join(", ", PlanOptions.Of(PathWorld.Plan(@case, path), package, Tern).Select(one => $"{one.Option} {one.Set}"));
    }

    [Fact]
    public void Each_path_sets_its_own()
    {
        Assert.Equal("Restart automatic, Region pack keep-data, User data not written", Options("A", Bundle()));
        Assert.Equal("Restart automatic, Region pack clean, User data erased", Options("B", Bundle()));
        Assert.Equal("Restart held back, Region pack keep-data, User data erased", Options("D", Bundle(hasCleanPack: false)));
        Assert.Equal("Restart held back, Region pack clean, User data erased", Options("B", Bundle(), held: true));
        Assert.Equal("Restart automatic, Region pack clean, User data erased, Layout left out", Options("B", Bundle(hasLayout: true)));
        Assert.Contains("Layout written", Options("E", Bundle(hasLayout: true)));
    }

    [Fact]
    public void A_slot_is_named_where_there_are_two_and_what_a_plan_has_no_use_for_is_not()
    {
        var two = Repo.Catalogue.Models.First(model => model.Slots > 1);
        var set = WholePackage.Of(two);
        var plan = PathWorld.Plan(PathWorld.Case(PathWorld.Phone(two.Code, PhoneMode.Fastboot), set, true), "F");
        Assert.Equal(["Restart", "User data", "Slot"], PlanOptions.Of(plan, set, two).Select(one => one.Option));
        Assert.All(PlanOptions.Of(plan, set, two), one => Assert.NotEmpty(one.Why));
        var wipe = PathWorld.Plan(PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.BootLoop), null, true), "K");
        Assert.Empty(PlanOptions.Of(wipe, null, Tern));
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Which gates stand before which way: each where it matters, and nowhere else.</summary>
public class GateTableTests
{
    private static PathCase Case(string letter) =>
        letter switch
        {
            "A" => Bundle(false),
            "B" or "D" => Bundle(true),
            "C" => Bundle(true, (FactName.Recovery, "custom")),
            "E" => PathWorld.Case(
                PathWorld.Phone("TN63E", PhoneMode.Download),
                WholePackage.Of(
                    PathWorld.Model("TN63E"),
                    layout: PathWorld.Model("TN63E").Partitions.Select(spec => new Core.Packages.TableEntry(spec.Name, spec.SizeBytes))
                ),
                true
            ),
            "F" => PathWorld.Case(PathWorld.Phone("HX204", PhoneMode.Fastboot), Sample.Package(), true),
            "G" => PathWorld.Case(
                PathWorld.Phone("OB17", PhoneMode.System, (FactName.Recovery, "stock")),
                WholePackage.CardUpdate(PathWorld.Model("OB17")),
                false
            ),
            "H" => PathWorld.Case(
                PathWorld.Phone("OB17", PhoneMode.CustomRecovery, (FactName.Recovery, "custom")),
                WholePackage.Backup(PathWorld.Model("OB17"), "SNOB17"),
                true
            ),
            "J" => PathWorld.Case(
                PathWorld.Phone("TN63E", PhoneMode.System, (FactName.DeviceStatus, "official"), (FactName.UnlockPermission, "greyed")),
                null,
                true
            ),
            "K" => PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.BootLoop), null, true),
            "L" => PathWorld.Case(PathWorld.Phone("TN63W", PhoneMode.Off), WholePackage.Of(PathWorld.Model("TN63W")), true) with
            {
                NeedsRescue = true,
            },
            "M" => PathWorld.Case(
                PathWorld.Phone("OB17", PhoneMode.Fastboot),
                WholePackage.Recovery(PathWorld.Model("OB17")),
                false,
                JobGoal.Recovery
            ),
            _ => PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.System, (FactName.UsbDebugging, "authorised")), null, false),
        };

    private static PathCase Bundle(bool erase, params (FactName Name, string? Value)[] more) =>
        PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download, more), WholePackage.Of(PathWorld.Model("TN63E")), erase);

    private static IReadOnlyList<Gate> GatesOf(string letter, PathCase @case, bool carries = true) =>
        Gates.Evaluate(
            new GateCase(
                PathWorld.Plan(@case, letter),
                @case.Package,
                @case.Phone,
                null,
                true,
                long.MaxValue,
                @case.Package?.Contents.SizeBytes,
                ["p1"],
                [],
                Repo.Catalogue.Figures
            )
            {
                Carries = _ => carries,
            }
        );

    [Theory]
    [InlineData("A", "ownership package target battery backup data-loss accounts modification program cable")]
    [InlineData("B", "ownership package target battery backup data-loss accounts modification program cable")]
    [InlineData("C", "ownership package target battery backup cards-out data-loss accounts modification program cable")]
    [InlineData("D", "ownership package target battery backup data-loss accounts modification program cable")]
    [InlineData("E", "ownership package target battery backup cards-out data-loss accounts modification program cable")]
    [InlineData("F", "ownership package target battery backup data-loss accounts modification program cable")]
    [InlineData("G", "ownership package battery backup room-there data-loss accounts modification")]
    [InlineData("H", "ownership package target battery backup own-backup accounts modification program cable")]
    [InlineData("J", "ownership battery backup proven-stock data-loss accounts")]
    [InlineData("K", "ownership battery backup data-loss accounts")]
    [InlineData("L", "ownership package target battery backup cards-out loader trained data-loss accounts modification program cable")]
    [InlineData("M", "ownership package target battery backup program cable")]
    [InlineData("N", "ownership target battery program cable")]
    public void The_gates_before_a_way_are_those_that_it_needs(string letter, string gates) =>
        Assert.Equal(gates, string.Join(' ', GatesOf(letter, Case(letter)).Select(gate => gate.Id.Value)));

    [Fact]
    public void Consent_to_the_loss_of_root_is_asked_only_where_there_may_be_some()
    {
        var stock = Bundle(false, (FactName.DeviceStatus, "official"), (FactName.Root, "none"));
        Assert.DoesNotContain(GatesOf("A", stock), gate => gate.Id == GateId.Modification);
        Assert.Contains(GatesOf("A", Bundle(false, (FactName.DeviceStatus, "official"), (FactName.Root, "present"))), gate =>
            gate.Id == GateId.Modification
        );
    }

    [Fact]
    public void What_nothing_here_carries_out_is_a_gate_that_nobody_can_answer()
    {
        var closed = GatesOf("A", Bundle(false), carries: false).Single(gate => gate.Id == GateId.Carried);
        Assert.Equal((false, 0), (closed.Holds, closed.Options.Count));
        Assert.Contains("Send the bundle with the keep-data pack", closed.Why);
    }

    [Fact]
    public void The_loader_is_judged_before_anything_is_opened()
    {
        var gate = GatesOf("L", Case("L")).Single(one => one.Id == GateId.Loader);
        Assert.True(gate.Holds);
        Assert.Contains("up to 6; the phone had 3", gate.Why);
    }
}

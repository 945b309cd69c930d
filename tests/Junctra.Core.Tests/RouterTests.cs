using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public partial class RouterTests
{
    private const string Computer = "bench 1";

    // Standard deviation of a moment, in seconds: one press in ten is off by more than six tenths.
    private const double Unsteady = 0.35;
    private static readonly PhoneMode[] Places = [.. Enum.GetValues<PhoneMode>().Where(mode => mode is not PhoneMode.Unknown)];

    public static TheoryData<string> Models() => [.. OtherCatalogue.WithAllKeyFamilies.Models.Select(model => model.Code)];

    [Theory, MemberData(nameof(Models))]
    public void From_every_mode_into_every_mode_there_is_a_route_or_a_named_reason(string code)
    {
        foreach (var (from, to) in Pairs())
        {
            var report = Find(code, from, to);
            Assert.True(report.Best is not null != report.WhyNone is not null, $"{from.Id()} to {to.Id()}");
            if (report.WhyNone is { } why)
                Assert.Matches(@"^\S.{8,}[.]$", why);
        }
    }

    [Theory, MemberData(nameof(Models))]
    public void Every_write_mode_is_reached_from_every_mode_that_is_no_dead_end(string code)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        foreach (var from in Places.Where(mode => Possible(model, mode) && mode != PhoneMode.Emergency))
            Assert.True(
                Find(code, from, model.WriteMode).Best is not null,
                $"{code} from {from.Id()}: {Find(code, from, model.WriteMode).WhyNone}"
            );
    }

    [Theory, MemberData(nameof(Models))]
    public void Every_route_played_by_hands_that_miss_nothing_arrives(string code)
    {
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var twin = new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies);
        foreach (var known in new[] { Nothing, Everything })
        foreach (var (from, to) in Pairs().Where(pair => Possible(model, pair.From)))
        {
            if (Find(code, from, to, known).Best is not { } route)
                continue;
            var state = Twin(model, from, route);
            foreach (var leg in route.Legs)
            {
                Assert.Equal(leg.From, state.Mode);
                state = Hands.Play(twin, state, leg.Score, Computer).End;
                Assert.True(
                    leg.To == state.Mode,
                    $"{code} {from.Id()} to {to.Id()}: {leg.Id} from {leg.From.Id()} leads to {state.Mode.Id()}, not {leg.To.Id()}"
                );
            }
        }
    }

    [Theory, MemberData(nameof(Models))]
    public void Hands_that_are_early_or_late_arrive_by_re_routing(string code)
    {
        var runs = Sampled.Of(100, 20);
        var model = OtherCatalogue.WithAllKeyFamilies.Model(code)!;
        var twin = new PhoneTwin(model, OtherCatalogue.WithAllKeyFamilies);
        foreach (var to in new[] { model.WriteMode, PhoneMode.StockRecovery })
        foreach (var from in Places.Where(mode => Possible(model, mode) && mode != to))
        {
            if (Find(code, from, to).Best is not { Legs.Count: > 0 } route)
                continue;
            var arrived = Enumerable.Range(0, runs).Count(seed => Arrives(twin, model, route, to, new Random(seed)));
            Assert.True(
                arrived * 100 >= runs * 95,
                $"{code} {from.Id()} to {to.Id()}: {arrived} of {runs} within three times {route.Minutes:0.0} min"
            );
        }
    }

    // ---- what the router chooses ----

    [Fact]
    public void A_looping_phone_has_keys_only()
    {
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
            Assert.All(Find(model.Code, PhoneMode.BootLoop, model.WriteMode, Everything).Best!.Legs, leg =>
                Assert.Equal(WayKind.Keys, leg.Kind == WayKind.Menu && leg.From == PhoneMode.BootMenu ? WayKind.Keys : leg.Kind)
            );
    }

    [Fact]
    public void Debugging_shortens_the_way_from_a_running_system_and_is_said_where_nobody_knows()
    {
        var unknown = Find("TN63E", PhoneMode.System, PhoneMode.Download);
        var opener = Assert.Single(unknown.Openers, opener => opener.Fact == FactName.UsbDebugging);
        Assert.False(opener.Known);
        Assert.True(opener.Minutes < unknown.Best!.Minutes);
        var known = Find("TN63E", PhoneMode.System, PhoneMode.Download, [(FactName.UsbDebugging, "authorised")]);
        Assert.Equal(WayKind.Command, known.Best!.Legs[0].Kind);
        Assert.Equal(opener.Minutes, known.Best.Minutes, 6);
        var off = Find("TN63E", PhoneMode.System, PhoneMode.Download, [(FactName.UsbDebugging, "off")]);
        Assert.True(Assert.Single(off.Openers, o => o.Fact == FactName.UsbDebugging).Known);
    }

    [Fact]
    public void The_screen_that_changes_the_lock_is_never_a_short_cut()
    {
        foreach (var model in OtherCatalogue.WithAllKeyFamilies.Models)
        foreach (var (from, to) in Pairs().Where(pair => pair.To != PhoneMode.LockChange))
        {
            var report = Find(model.Code, from, to, Everything);
            foreach (var route in report.Others.Append(report.Best).OfType<PlannedRoute>())
            {
                Assert.All(route.Legs, leg =>
                    Assert.True(leg.To != PhoneMode.LockChange && leg.Risk is null, $"{model.Code} {from.Id()} to {to.Id()} by {leg.Id}")
                );
                Assert.All(route.Next.Values, way => Assert.True(way.To != PhoneMode.LockChange));
            }
        }
    }

    [Fact]
    public void Where_it_is_wanted_it_names_what_it_needs()
    {
        var unknown = Find("TN63E", PhoneMode.Off, PhoneMode.LockChange);
        Assert.Null(unknown.Best);
        Assert.Contains(unknown.Openers, opener => opener.Fact == FactName.UnlockPermission);
        Assert.NotNull(Find("TN63E", PhoneMode.Off, PhoneMode.LockChange, [(FactName.UnlockPermission, "greyed")]).Best);
        Assert.Contains(
            "is not on or greyed",
            Find("TN63E", PhoneMode.Off, PhoneMode.LockChange, [(FactName.UnlockPermission, "off")]).WhyNone
        );
    }

    [Fact]
    public void Schools_decide_which_ways_are_used()
    {
        var everything = Facts(Everything);
        var model = OtherCatalogue.WithAllKeyFamilies.Model("TN63E")!;
        var none = Router.Find(
            everything,
            model,
            PhoneMode.System,
            PhoneMode.Download,
            OtherCatalogue.WithAllKeyFamilies,
            new RoutePolicy(Debugging: false, RootManager: false)
        );
        Assert.DoesNotContain(none.Best!.Legs, leg => leg.Kind is WayKind.Command or WayKind.RootManager);
        // What is not used by rule is not asked for either.
        Assert.DoesNotContain(
            Router
                .Find(
                    Facts(Nothing),
                    model,
                    PhoneMode.System,
                    PhoneMode.Download,
                    OtherCatalogue.WithAllKeyFamilies,
                    new RoutePolicy(Debugging: false, RootManager: false)
                )
                .Openers,
            opener => opener.Fact == FactName.UsbDebugging || opener.Fact == FactName.Root
        );
        var root = Router.Find(
            everything,
            model,
            PhoneMode.System,
            PhoneMode.Download,
            OtherCatalogue.WithAllKeyFamilies,
            new RoutePolicy(Debugging: false)
        );
        Assert.Equal(WayKind.RootManager, root.Best!.Legs[0].Kind);
        // Recovery's menu is slow: by rule it is left for where nothing else leads on, though it is always named.
        var keys = Router.Find(everything, model, PhoneMode.StockRecovery, PhoneMode.Download, OtherCatalogue.WithAllKeyFamilies);
        var menu = Router.Find(
            everything,
            model,
            PhoneMode.StockRecovery,
            PhoneMode.Download,
            OtherCatalogue.WithAllKeyFamilies,
            new RoutePolicy(Recovery: true)
        );
        Assert.DoesNotContain(keys.Best!.Legs, leg => leg.Id == "stock-recovery-write-mode");
        Assert.Contains(keys.Others, other => other.Legs[0].Id == "stock-recovery-write-mode");
        Assert.True(menu.Best!.Minutes <= keys.Best.Minutes);
    }

    [Fact]
    public void A_try_that_fails_is_priced_in()
    {
        var report = Find("TRB62", PhoneMode.Off, PhoneMode.Download);
        var way = Assert.Single(report.Best!.Legs);
        var unplug = Find("TRB62", PhoneMode.Charging, PhoneMode.Off).Best!;
        // It fails into the charging picture: pull the cable, and try again.
        var expected = (way.Minutes + way.FailChance * unplug.Minutes) / (1 - way.FailChance);
        Assert.Equal(expected, report.Best.Minutes, 4);
    }

    [Theory]
    [InlineData("HX204", PhoneMode.BootLoop, PhoneMode.Fastboot, "loop-to-bootloader")]
    [InlineData("HX204", PhoneMode.Off, PhoneMode.Fastboot, "off-to-bootloader")]
    [InlineData("HX204C", PhoneMode.NoCommand, PhoneMode.StockRecovery, "no-command-to-recovery")]
    [InlineData("HX204C", PhoneMode.NoCommand, PhoneMode.System, "no-command-to-recovery stock-recovery-restart")]
    [InlineData("TN63E", PhoneMode.BootLoop, PhoneMode.Download, "loop-to-warning warning-to-download")]
    [InlineData("TN41E", PhoneMode.BootLoop, PhoneMode.Download, "battery-out off-to-download warning-to-download")]
    [InlineData("TRB62", PhoneMode.Download, PhoneMode.System, "end-session")]
    [InlineData("OB17", PhoneMode.Off, PhoneMode.StockRecovery, "off-to-boot-menu boot-menu-recovery")]
    [InlineData("HX310", PhoneMode.Fastboot, PhoneMode.RecoveryCommands, "reboot-fastboot")]
    [InlineData("TN63E", PhoneMode.Download, PhoneMode.Download, "")]
    public void The_route_is(string code, PhoneMode from, PhoneMode to, string legs) =>
        Assert.Equal(legs, string.Join(' ', Find(code, from, to).Best!.Legs.Select(leg => leg.Id)));

    [Fact]
    public void Custom_recovery_is_reached_only_where_it_is_there()
    {
        Assert.Null(Find("OB17", PhoneMode.Off, PhoneMode.CustomRecovery).Best);
        Assert.NotNull(Find("OB17", PhoneMode.Off, PhoneMode.CustomRecovery, [(FactName.Recovery, "custom")]).Best);
        Assert.Contains(
            "Recovery is not stock",
            Find("OB17", PhoneMode.Off, PhoneMode.StockRecovery, [(FactName.Recovery, "custom")]).WhyNone
        );
        Assert.Equal(FactName.Recovery, Assert.Single(Find("OB17", PhoneMode.Off, PhoneMode.StockRecovery).Best!.Presumed).Fact);
    }

    [Fact]
    public void Emergency_mode_is_a_dead_end_and_says_so() =>
        Assert.Contains("board rescue", Find("TN63W", PhoneMode.Emergency, PhoneMode.Download).WhyNone);

    [Fact]
    public void Alternatives_begin_with_another_way_and_are_no_cheaper()
    {
        var report = Find("TN63E", PhoneMode.System, PhoneMode.Download, Everything);
        Assert.NotEmpty(report.Others);
        Assert.All(report.Others, other =>
            Assert.True(other.Minutes >= report.Best!.Minutes - 1e-6 && other.Legs[0] != report.Best.Legs[0])
        );
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Tests.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>What is looked at before a phone goes back, in which order, and where a difference leads.</summary>
public class LastLookTests
{
    private static Plan Keeping(string code, params (FactName Name, string? Value)[] more)
    {
        var model = PathWorld.Model(code);
        var mode = model.WriteMode;
        return PathWorld.Plan(
            PathWorld.Case(
                PathWorld.Phone(code, mode, [(FactName.DeviceStatus, "official"), (FactName.Recovery, "stock"), .. more]),
                WholePackage.Of(model),
                false
            ),
            mode == PhoneMode.Fastboot ? "F" : "A"
        );
    }

    private static Phone Seen(string code, PhoneMode mode) =>
        Sample.Phone(Sample.Fact(FactName.Mode, mode.Id(), FactSource.Seen), Sample.Fact(FactName.ModelCode, code, FactSource.Settings));

    private static IReadOnlyList<LookStop> Walk(Plan plan, PhoneMode mode) =>
        LastLook.Of(
            Checker.Compare(plan, Seen(plan.Target.ModelCode, mode)),
            Seen(plan.Target.ModelCode, mode),
            PathWorld.Model(plan.Target.ModelCode),
            Repo.Catalogue.Guides
        );

    private static Expectation Of(Plan plan, FactName fact) => plan.Rehearsal.Expectations.Single(expected => expected.Fact == fact);

    [Theory]
    [InlineData("TN63E")]
    [InlineData("HX204")]
    [InlineData("HX310")]
    public void Data_that_were_to_stay_are_held_against_what_was_read_before(string code)
    {
        var plan = Keeping(code, (FactName.AppCount, "61"), (FactName.Networks, "harbour"));
        Assert.Equal("61", Of(plan, FactName.AppCount).Value);
        Assert.Equal("harbour", Of(plan, FactName.Networks).Value);
        Assert.Equal("own", Of(plan, FactName.HomeScreen).Value);
        // What nobody counted before proves nothing afterwards.
        var blind = Keeping(code).Rehearsal.Expectations.Select(expected => expected.Fact).ToList();
        Assert.DoesNotContain(FactName.AppCount.Name, blind);
        Assert.DoesNotContain(FactName.Networks.Name, blind);
        Assert.Equal(
            "new",
            Of(
                PathWorld.Plan(PathWorld.Case(Bare(code), WholePackage.Of(PathWorld.Model(code)), true), code[..2] == "HX" ? "F" : "B"),
                FactName.HomeScreen
            ).Value
        );
    }

    private static Phone Bare(string code) => PathWorld.Phone(code, PathWorld.Model(code).WriteMode, (FactName.Recovery, "stock"));

    [Fact]
    public void A_newer_one_on_offer_and_no_card_at_hand_are_as_good_and_what_is_odd_is_not()
    {
        var plan = Keeping("TN63E");
        foreach (
            var (fact, good, bad) in new (FactName, string[], string[])[]
            {
                (FactName.UpdateCheck, ["up-to-date", "newer-offered"], ["odd"]),
                (FactName.Network, ["registers", "no-card"], ["does-not"]),
                (FactName.IdentityNumbers, ["unchanged"], ["missing", "differ"]),
            }
        )
        {
            Assert.All(good, value => Assert.Equal(CheckState.AsIntended, StateOf(plan, fact, value)));
            Assert.All(bad, value => Assert.Equal(CheckState.Differs, StateOf(plan, fact, value)));
        }
    }

    private static CheckState StateOf(Plan plan, FactName fact, string value) =>
        Checker
            .Compare(plan, Sample.Phone(Sample.Fact(fact, value, FactSource.Settings)))
            .Single(line => line.Expectation.Fact == fact)
            .State;

    [Theory]
    [InlineData("TN63E")]
    [InlineData("HX204")]
    [InlineData("OB17")]
    public void The_walk_begins_where_the_phone_is_and_asks_each_thing_once(string code)
    {
        var plan = code == "OB17" ? CardUpdate() : Keeping(code, (FactName.AppCount, "61"));
        var walk = Walk(plan, PhoneMode.System);
        Assert.Equal(PhoneMode.System, walk[0].In);
        // No mode is entered twice, and the one that is left for good comes last.
        Assert.Equal(walk.Count, walk.Select(stop => stop.In).Distinct().Count());
        Assert.DoesNotContain(walk.Skip(1), stop => stop.In == PhoneMode.System);
        var asked = walk.SelectMany(stop => stop.Lines).Select(line => line.Line.Expectation.Fact).ToList();
        Assert.Equal(asked.Count, asked.Distinct().Count());
        Assert.Equal(
            Checker
                .Compare(plan, Seen(code, PhoneMode.System))
                .Where(line => line.State == CheckState.NotRead && !line.Expectation.Fact.IsReached)
                .Select(line => line.Expectation.Fact)
                .ToHashSet(),
            asked.ToHashSet()
        );
        // Every fact that a check asks for has a place at which somebody is told to look.
        Assert.All(walk.SelectMany(stop => stop.Lines), line => Assert.NotNull(line.Place));
    }

    private static Plan CardUpdate() =>
        PathWorld.Plan(
            PathWorld.Case(
                PathWorld.Phone("OB17", PhoneMode.System, (FactName.Recovery, "stock"), (FactName.LockState, "locked")),
                WholePackage.CardUpdate(PathWorld.Model("OB17")),
                false
            ),
            "G"
        );

    [Fact]
    public void What_must_be_read_in_the_bootloader_takes_there_what_else_it_tells()
    {
        var walk = Walk(Keeping("HX204"), PhoneMode.SetupWizard);
        var last = walk[^1];
        Assert.Equal(PhoneMode.Fastboot, last.In);
        // The floor is told there alone; build and serial come with it at no cost.
        Assert.Superset(
            new HashSet<FactName> { FactName.RollbackFloor, FactName.Build, FactName.Serial },
            last.Lines.Select(line => line.Line.Expectation.Fact).ToHashSet()
        );
    }

    [Fact]
    public void A_value_has_the_source_of_the_place_where_it_was_read()
    {
        Assert.Equal(FactSource.Seen, LastLook.SourceAt(Place(FactName.HomeScreen)));
        Assert.Equal(FactSource.Settings, LastLook.SourceAt(Place(FactName.SecurityPatch)));
        // Nobody types what a link said.
        Assert.Equal(FactSource.BootloaderScreen, LastLook.SourceAt(Place(FactName.LockState)));
        Assert.Equal(FactSource.Settings, LastLook.SourceAt(null));
        FactPlace Place(FactName fact) => Repo.Catalogue.Guides.Single(guide => guide.Fact == fact).Places[0];
    }

    [Fact]
    public void A_phone_seen_at_its_set_up_after_it_had_run_was_reset()
    {
        Fact At(int minute, FactName name, string value, FactSource source = FactSource.Seen) => Sample.Fact(name, value, source, minute);
        Fact SetUp(int minute) => At(minute, FactName.Mode, "setup-wizard");
        Fact Runs(int minute) => At(minute, FactName.Mode, "system");
        Assert.Null(Checker.ResetAt([SetUp(1)]));
        Assert.Null(Checker.ResetAt([SetUp(1), SetUp(2), Runs(3)]));
        Assert.Equal(Sample.Noon.AddMinutes(4), Checker.ResetAt([Runs(2), SetUp(4)]));
        Assert.Equal(Sample.Noon.AddMinutes(4), Checker.ResetAt([SetUp(4), At(3, FactName.Build, "b", FactSource.Settings), SetUp(1)]));
        // Read at the link in between says nothing of whether it had run.
        Assert.Null(Checker.ResetAt([SetUp(1), At(2, FactName.LockState, "unlocked", FactSource.Link), SetUp(3)]));
        Assert.Equal(Sample.Noon.AddMinutes(7), Checker.ResetAt([Runs(2), SetUp(4), Runs(6), SetUp(7)]));
    }

    public static TheoryData<string, string, Station> Leads =>
        new()
        {
            { "serial", "OTHER", Station.FindOut },
            { "build", "TN63E.5.2601.WHM1", Station.Plan },
            { "bootloader-revision", "7", Station.Match },
            { "device-status", "custom", Station.Match },
            { "update-check", "odd", Station.Match },
            { "root", "present", Station.Match },
            { "recovery", "custom", Station.Plan },
            { "home-screen", "new", Station.HandBack },
            { "network", "does-not", Station.Match },
            { "identity-numbers", "missing", Station.HandBack },
            { "lock-state", "locked", Station.FindOut },
        };

    [Theory]
    [MemberData(nameof(Leads))]
    public void Each_difference_leads_somewhere(string fact, string read, Station station)
    {
        var plan = Keeping("TN63E");
        var lines = Checker.Compare(plan, Sample.Phone(Sample.Fact(FactName.Parse(fact)!.Value, read, FactSource.Settings)));
        var lead = Assert.Single(CheckLead.Of(lines, plan));
        Assert.Equal((fact, station), (lead.Fact.Value, lead.Station));
        Assert.EndsWith(".", lead.Do);
    }

    [Fact]
    public void What_is_as_intended_or_not_read_leads_nowhere()
    {
        var plan = Keeping("TN63E");
        Assert.Empty(CheckLead.Of(Checker.Compare(plan, Sample.Phone()), plan));
    }
}

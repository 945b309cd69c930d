using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class PlanTests
{
    private static Plan Compile(bool erase = true, Phone? phone = null, Package? package = null) =>
        Planned.Plan(phone ?? Sample.Cairn(), package ?? Sample.Package(), erase);

    [Fact]
    public void Steps_come_in_the_only_safe_order()
    {
        var steps = Compile()
            .Steps.Select(s => s.Partition() is { } partition ? $"{s.Act.GetType().Name} {partition}" : s.Act.GetType().Name);
        Assert.Equal(
            [
                "VerifyFiles",
                "ConfirmTarget",
                "WriteImage bootloader",
                "RestartInto",
                "WriteImage radio",
                "RestartInto",
                "WriteImage boot",
                "WriteImage overlay",
                "WriteImage verify",
                "WriteImage system",
                "WriteImage recovery",
                "ErasePartition userdata",
                "RestartInto",
                "AwaitStage",
                "CheckResult",
            ],
            steps
        );
    }

    [Fact]
    public void Without_erase_the_user_data_is_not_touched()
    {
        var plan = Compile(erase: false);
        Assert.DoesNotContain(plan.Steps, s => s.Partition() == "userdata");
        Assert.Contains(plan.Rehearsal.Fates, f => f.Thing.StartsWith("Photos", StringComparison.Ordinal) && f.Kind == FateKind.Unknown);
    }

    [Fact]
    public void The_order_of_the_archive_changes_nothing()
    {
        var titles = Compile().Steps.Select(s => s.Title).ToList();
        Gen.Shuffle(Sample.Package().Contents.Members.ToArray())
            .Sample(
                members =>
                {
                    var package = PackageReader.Read("x", Sample.Package().Contents with { Members = members }, Repo.Catalogue);
                    Assert.Equal(titles, Compile(package: package).Steps.Select(s => s.Title));
                },
                iter: Sampled.Of(100, 20)
            );
    }

    [Fact]
    public void Identity_and_user_data_are_never_written_even_when_a_package_brings_them()
    {
        var plan = Compile(package: Sample.Package(members: [Sample.Image("identity"), Sample.Image("userdata")]));
        Assert.DoesNotContain(plan.Steps, s => s.IsWrite() && s.Partition() is "identity" or "userdata" && s.IsWrite());
    }

    [Fact]
    public void Only_the_boot_chain_has_no_way_back()
    {
        var plan = Compile();
        Assert.Equal(["bootloader"], plan.Steps.Where(s => plan.RiskOf(s).IsNoReturn).Select(s => s.Partition()));
    }

    [Theory]
    [InlineData("system")]
    [InlineData("bootloader")]
    [InlineData("recovery")]
    public void A_set_that_lacks_a_stock_image_is_no_plan(string missing)
    {
        var outcome = Planned.Compile(Sample.Cairn(), Sample.Package(leaveOut: missing), true);
        Assert.Null(outcome.Plan);
        Assert.Contains(outcome.Refusals, r => r.Contains(missing));
    }

    [Fact]
    public void A_phone_that_was_not_read_over_the_link_is_no_plan()
    {
        var typed = new Phone(Sample.Cairn().All.Select(f => f with { Source = FactSource.BootloaderScreen }));
        var outcome = Planned.Compile(typed, Sample.Package(), true);
        Assert.Null(outcome.Plan);
        Assert.Contains(outcome.Refusals, r => r.Contains("over the link"));
    }

    [Fact]
    public void A_one_way_step_is_expected_and_said()
    {
        var plan = Compile(package: Sample.Package(revision: "4", build: "HX204/15.26w30-2.r4"));
        Assert.True(plan.RaisesFloor);
        Assert.Contains(plan.Rehearsal.Expectations, e => e.Fact == FactName.RollbackFloor && e.Value == "4");
        Assert.Contains(plan.Rehearsal.Fates, f => f.Kind == FateKind.OneWay);
    }

    [Fact]
    public void Times_are_bands_and_slow_is_never_better() =>
        Assert.All(Compile().Steps, s => Assert.True(s.Seconds.Slow >= s.Seconds.Typical && s.Seconds.Typical >= 0));

    [Fact]
    public void The_strip_shows_every_partition_once_within_its_width()
    {
        var plan = Compile();
        Gen.Int[300, 2000]
            .Sample(width =>
            {
                var strip = PartitionStrip.OfPlan(plan, Repo.Catalogue.Model("HX204")!, width);
                Assert.Equal(Repo.Catalogue.Model("HX204")!.Partitions.Select(p => p.Name), strip.Segments.Select(s => s.Name));
                for (var i = 1; i < strip.Segments.Count; i++)
                    Assert.True(strip.Segments[i].X >= strip.Segments[i - 1].X + strip.Segments[i - 1].Width);
                Assert.InRange(strip.Segments[^1].X + strip.Segments[^1].Width, 0, width + 0.01);
                foreach (var row in strip.Segments.Where(s => !s.LabelInside).GroupBy(s => s.LabelRow))
                {
                    var labels = row.OrderBy(s => s.LabelX).ToList();
                    for (var i = 1; i < labels.Count; i++)
                        Assert.True(labels[i].LabelX - labels[i - 1].LabelX > (labels[i].Name.Length + labels[i - 1].Name.Length) * 3.6);
                }
            });
    }

    private static IReadOnlyList<Gate> Evaluate(
        Plan plan,
        Phone phone,
        Package package,
        long? bytes = 5_000_000,
        string[]? ports = null,
        bool owned = true,
        GateAnswer[]? answers = null,
        long free = 1 << 30
    ) =>
        Gates.Evaluate(
            new GateCase(
                plan,
                package,
                phone,
                Matcher.Match(phone, package, Repo.Catalogue),
                owned,
                free,
                bytes,
                ports ?? ["port A"],
                answers ?? [],
                Repo.Catalogue.Figures
            )
        );

    private static GateAnswer[] AnswerAll(IEnumerable<Gate> gates) =>
        [.. gates.Where(g => g.Options.Count > 0).Select(g => new GateAnswer(g.Id, g.Options[0].Id, Sample.Noon, "bench"))];

    [Fact]
    public void Without_answers_every_asked_gate_is_closed_and_with_them_all_hold()
    {
        var (phone, package) = (Sample.Cairn(), Sample.Package());
        var plan = Compile();
        var closed = Evaluate(plan, phone, package);
        Assert.All(closed.Where(g => g.Options.Count > 0), g => Assert.False(g.Holds));
        Assert.All(Evaluate(plan, phone, package, answers: AnswerAll(closed)), g => Assert.True(g.Holds, g.Title));
    }

    [Fact]
    public void Each_computed_gate_closes_by_itself()
    {
        var (phone, package, plan) = (Sample.Cairn(), Sample.Package(), Compile());
        bool Holds(string id, IReadOnlyList<Gate> gates) => gates.Single(g => g.Id.Value == id).Holds;
        Assert.False(Holds("ownership", Evaluate(plan, phone, package, owned: false)));
        Assert.False(Holds("package", Evaluate(plan, phone, package, bytes: null)));
        Assert.False(Holds("package", Evaluate(plan, phone, package, bytes: 4_999_999)));
        Assert.False(Holds("target", Evaluate(plan, phone, package, ports: [])));
        Assert.False(Holds("target", Evaluate(plan, phone, package, ports: ["port A", "port B"])));
        Assert.False(Holds("match", Evaluate(plan, Sample.Cairn(lockState: "locked"), package)));
    }

    [Theory]
    [InlineData("49", false)]
    [InlineData("50", true)]
    public void The_battery_floor_is_kept(string percent, bool holds)
    {
        var phone = Sample.Cairn(more: Sample.Fact(FactName.BatteryPercent, percent, minute: 5));
        Assert.Equal(holds, Evaluate(Compile(), phone, Sample.Package()).Single(g => g.Id == GateId.Battery).Holds);
    }

    [Fact]
    public void A_battery_that_cannot_be_read_asks_for_the_charger()
    {
        var phone = new Phone(Sample.Cairn().All.Where(f => f.Name != FactName.BatteryPercent));
        Assert.Single(Evaluate(Compile(), phone, Sample.Package()).Single(g => g.Id == GateId.Battery).Options);
    }

    [Fact]
    public void An_answer_that_is_no_option_opens_nothing()
    {
        var gates = Evaluate(
            Compile(),
            Sample.Cairn(),
            Sample.Package(),
            answers: [new GateAnswer(GateId.DataLoss, "yes", Sample.Noon, "bench")]
        );
        Assert.False(gates.Single(g => g.Id == GateId.DataLoss).Holds);
    }

    [Fact]
    public void Every_care_of_the_match_is_a_gate_of_its_own()
    {
        var package = Sample.Package(revision: "4", build: "HX204/15.26w30-2.r4", withChecksums: false);
        var gates = Evaluate(Compile(package: package), Sample.Cairn(), package).Select(g => g.Id.Value).ToList();
        Assert.Contains("one-way", gates);
        Assert.Contains("care-M07", gates);
    }

    [Fact]
    public void A_wipe_may_follow_a_write_that_keeps_the_data_so_accounts_are_asked_for_either_way()
    {
        var (phone, package) = (Sample.Cairn(), Sample.Package());
        foreach (var erase in new[] { true, false })
            Assert.Contains(Evaluate(Planned.Plan(phone, package, erase), phone, package), gate => gate.Id == GateId.Accounts);
    }

    [Fact]
    public void What_must_be_unpacked_needs_room_on_this_computer()
    {
        var packed = Sample.Image("system", 40 << 20, offset: null);
        var package = Sample.Package(leaveOut: "system", members: [packed with { Name = "images/system.img" }]);
        var plan = Planned.Plan(Sample.Cairn(), package, true);
        Assert.False(Evaluate(plan, Sample.Cairn(), package, free: (40 << 20) - 1).Single(gate => gate.Id == GateId.Room).Holds);
        Assert.True(Evaluate(plan, Sample.Cairn(), package, free: 40 << 20).Single(gate => gate.Id == GateId.Room).Holds);
        Assert.DoesNotContain(Evaluate(Compile(), Sample.Cairn(), Sample.Package()), gate => gate.Id == GateId.Room);
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Which path stands first, which beside it, and why the others are missing.</summary>
public class PathChoiceTests
{
    /// <summary>
    /// The jobs of the demo world as they stand once they were read, with a package of its library: which path, or why none.
    /// </summary>
    public static TheoryData<string, string, string?, bool, JobGoal, string> Demo =>
        new()
        {
            // 0418: keep the data first; the wipe is agreed on beforehand.
            { "TN63E download custom", "TNH60418", "TN63E_WHM_r5_full.zip", false, JobGoal.Stock, "A" },
            { "TN63E download custom", "TNH60418", "TN63E_WHM_r5_full.zip", true, JobGoal.Stock, "B" },
            // 0421 and 0424: a factory set, erased for a sale, kept for the photos.
            { "HX204 fastboot custom", "HXA70421", "cairn-stock-26w10.tar", true, JobGoal.Stock, "F" },
            { "HX204 fastboot unknown", "HXA70424", "cairn-stock-26w10.tar", false, JobGoal.Stock, "F" },
            // 0420: its own backup; a stranger's never; then its recovery.
            { "OB17 custom-recovery custom", "OBF20117", "fell-own-backup.tar", true, JobGoal.Stock, "H" },
            { "OB17 custom-recovery custom", "OBF20117", "fell-backup-from-the-web.tar", true, JobGoal.Stock, "another phone" },
            { "OB17 fastboot custom", "OBF20117", "recovery.img", false, JobGoal.Recovery, "M" },
            // 0422: from the card.
            { "OB17 system stock", "OBF20422", "fell-full-2.6.118.zip", false, JobGoal.Update, "G" },
        };

    [Theory]
    [MemberData(nameof(Demo))]
    public async Task Jobs_of_the_demo_world_have_the_path_that_is_right_or_a_reason(
        string stands,
        string serial,
        string? file,
        bool erase,
        JobGoal goal,
        string expected
    )
    {
        var (model, mode, system) = (stands.Split(' ')[0], PhoneModes.Parse(stands.Split(' ')[1])!.Value, stands.Split(' ')[2]);
        (FactName, string?)[] whose = system switch
        {
            "custom" => [(FactName.DeviceStatus, "custom"), (FactName.Recovery, mode == PhoneMode.CustomRecovery ? "custom" : "stock")],
            "stock" => [(FactName.DeviceStatus, "official"), (FactName.Recovery, "stock"), (FactName.LockState, "locked")],
            _ => [],
        };
        var phone = PathWorld.Phone(model, mode, [(FactName.Serial, serial), .. whose]);
        var package = file is null ? null : await DemoLibrary.ReadAnyAsync(file);
        var outcome = PathList.Compile(PathWorld.Case(phone, package, erase, goal));
        if (expected.Length == 1)
        {
            Assert.True(outcome.Plan is not null, string.Join(" ", outcome.Refusals));
            Assert.Equal(expected, outcome.Plan!.Choice.Path);
        }
        else
            Assert.Contains(expected, string.Join(" ", outcome.Refusals));
    }

    private static PathOffers Offers(string code, bool erase, params (FactName Name, string? Value)[] more) =>
        PathOffers.Of(PathWorld.Case(PathWorld.Phone(code, PhoneMode.Download, more), WholePackage.Of(PathWorld.Model(code)), erase));

    [Fact]
    public void What_is_wanted_stands_first_and_the_others_say_what_they_cost_more()
    {
        var offers = Offers("TN63E", false, (FactName.DeviceStatus, "custom"), (FactName.Recovery, "stock"));
        var planned = offers.Offers.Where(offer => offer.Cost is not null).ToList();
        Assert.Equal(["A", "B", "D", "K"], planned.Select(offer => offer.Path.Letter));
        Assert.Contains("data erased", planned[1].Cost!.Beside(planned[0].Cost!));
        Assert.Contains(planned[2].Cost!.Beside(planned[0].Cost!), word => word.EndsWith("more steps for hands", StringComparison.Ordinal));
        Assert.Contains("root stays as it is", planned[3].Cost!.Beside(planned[0].Cost!));
        Assert.Empty(planned[0].Cost!.Beside(planned[0].Cost!));
        // Wiping first would be a way, if its recovery were another.
        var refused = offers.Offers.Single(offer => offer.Path.Letter == "C");
        Assert.Contains("formats no system", string.Join(" ", refused.Outcome.Refusals));
        Assert.Contains(offers.Missing, missing => missing.Path.Letter == "F" && missing.Why == "It takes a factory set.");
    }

    [Fact]
    public void Whoever_chose_a_way_that_keeps_the_data_has_it_although_they_may_go_and_never_the_other_way()
    {
        var model = PathWorld.Model("OB17");
        var phone = PathWorld.Phone("OB17", PhoneMode.System, (FactName.LockState, "locked"), (FactName.DeviceStatus, "official"));
        var mayGo = PathWorld.Case(phone, WholePackage.CardUpdate(model), true, JobGoal.Update);
        Assert.False(PathWorld.Plan(mayGo, "G").ErasesData);

        var wanted = PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.BootLoop), null, false);
        Assert.Contains("data, which are to be kept", PathWorld.Refusal(wanted, "K"));
    }

    [Fact]
    public void Every_path_is_offered_refused_or_missing_and_nothing_twice()
    {
        foreach (var model in Repo.Catalogue.Models)
        {
            foreach (var erase in new[] { false, true })
            {
                var phone = PathWorld.Phone(model.Code, model.WriteMode);
                var offers = PathOffers.Of(PathWorld.Case(phone, WholePackage.Of(model), erase));
                Assert.Equal(
                    PathList.All.Select(path => path.Letter).Order(),
                    offers
                        .Offers.Select(offer => offer.Path.Letter)
                        .Concat(offers.Missing.Select(one => one.Path.Letter))
                        .Distinct()
                        .Order()
                );
                Assert.Equal(offers.Offers.Count, offers.Offers.Select(offer => offer.Id).Distinct().Count());
                Assert.All(offers.Missing, missing => Assert.EndsWith(".", missing.Why));
                Assert.All(offers.Offers.Where(offer => offer.Outcome.Plan is null), offer => Assert.NotEmpty(offer.Outcome.Refusals));
            }
        }
    }

    [Fact]
    public void What_a_custom_system_left_behind_and_nobody_wants_is_wiped_before_its_recovery_is_gone()
    {
        Assert.Equal("C", First(true, "custom", "custom"));
        Assert.Equal("B", First(true, "custom", "stock"));
        Assert.Equal("B", First(true, "official", "custom"));
        Assert.Equal("A", First(false, "custom", "custom"));

        static string First(bool erase, string status, string recovery) =>
            Offers("TN63E", erase, (FactName.DeviceStatus, status), (FactName.Recovery, recovery)).Offers[0].Path.Letter;
    }

    [Fact]
    public void A_phone_without_any_reaction_is_offered_nothing_that_needs_it_to_react()
    {
        var phone = PathWorld.Phone("TN63W", PhoneMode.Off, (FactName.Serial, null));
        var offers = PathOffers.Of(PathWorld.Case(phone, WholePackage.Of(PathWorld.Model("TN63W")), true) with { NeedsRescue = true });
        Assert.Equal(["L"], offers.Offers.Where(offer => offer.Cost is not null).Select(offer => offer.Path.Letter));
        Assert.Contains(offers.Missing, missing => missing.Path.Letter == "K" && missing.Why.Contains("does not react"));
    }

    [Theory]
    [InlineData(JobGoal.Update, "official", "brings no newer build")]
    [InlineData(JobGoal.Recovery, "official", "leaves its recovery")]
    [InlineData(JobGoal.Stock, "custom", "leaves that on it")]
    public void A_wipe_is_no_way_for_a_phone_that_runs_and_is_here_for_more(JobGoal goal, string status, string why)
    {
        var phone = PathWorld.Phone("TN63E", PhoneMode.System, (FactName.DeviceStatus, status));
        Assert.Contains(why, PathWorld.Refusal(PathWorld.Case(phone, null, true, goal), "K"));
    }

    [Fact]
    public void A_wipe_does_not_mend_a_lock_that_is_closed_over_modified_software()
    {
        foreach (var (fact, value) in new[] { (FactName.Root.Name, "present"), (FactName.DeviceStatus.Name, "custom") })
        {
            var phone = PathWorld.Phone("TN41S", PhoneMode.StuckAtLogo, (FactName.LockState, "locked"), (fact, value));
            Assert.Contains("does not mend that", PathWorld.Refusal(PathWorld.Case(phone, null, true), "K"));
        }
    }

    [Fact]
    public void A_lock_is_not_closed_over_software_that_does_not_start()
    {
        var phone = PathWorld.Phone("HX204", PhoneMode.BootLoop, (FactName.DeviceStatus, "official"));
        Assert.Contains("It does not start", PathWorld.Refusal(PathWorld.Case(phone, null, true), "J"));
    }

    [Fact]
    public void A_plan_on_the_clock_says_when_hands_are_wanted_and_whether_the_promise_holds()
    {
        var plan = PathWorld.Plan(
            PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download), WholePackage.Of(PathWorld.Model("TN63E")), true),
            "D"
        );
        var clock = PlanClock.Of(plan, Sample.Noon, null);
        Assert.Equal(Sample.Noon.AddSeconds(plan.TotalSeconds.Typical), clock.Usual);
        Assert.Equal(Sample.Noon.AddSeconds(plan.TotalSeconds.Slow), clock.Slow);
        Assert.Equal(PromiseState.None, clock.Promise);
        // The send and the first boot run alone; keys and menus are one stretch, the check another.
        Assert.Equal(2, clock.Hands.Count);
        Assert.Equal(PromiseState.Holds, PlanClock.Of(plan, Sample.Noon, clock.Slow).Promise);
        Assert.Equal(PromiseState.Tight, PlanClock.Of(plan, Sample.Noon, clock.Usual).Promise);
        Assert.Equal(PromiseState.Breaks, PlanClock.Of(plan, Sample.Noon, clock.Usual.AddSeconds(-1)).Promise);
    }

    [Fact]
    public void The_risk_strip_has_a_bar_for_every_step_of_the_run_and_says_the_worst_in_words()
    {
        var @case = PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download), WholePackage.Of(PathWorld.Model("TN63E")), true);
        var plan = PathWorld.Plan(@case, "B");
        var strip = RiskStrip.Of(plan, 960);
        Assert.Equal(
            plan.Steps.Where(step => !step.Act.FollowsTheRun).Select(step => step.Number),
            strip.Segments.Select(segment => segment.Step).Distinct()
        );
        Assert.Equal(960, strip.Segments[^1].X + strip.Segments[^1].Width, 3);
        Assert.All(strip.Segments.Zip(strip.Segments.Skip(1)), pair => Assert.True(pair.First.X + pair.First.Width < pair.Second.X));
        Assert.Contains(strip.Labels, label => label is { Risk: RiskKind.OnlyEmergency, Text: "only emergency mode" });
        // Labels of a boot chain that is a narrow bar do not run into their neighbours; the worst stays.
        var set = PathWorld.Case(PathWorld.Phone("HX204", PhoneMode.Fastboot), WholePackage.Of(PathWorld.Model("HX204")), true);
        var labels = RiskStrip.Of(PathWorld.Plan(set, "F"), 960).Labels;
        Assert.Contains(labels, label => label.Risk == RiskKind.OnlyEmergency);
        Assert.All(labels.Zip(labels.Skip(1)), pair =>
            Assert.True(pair.Second.X - pair.First.X >= 3.6 * (pair.First.Text.Length + pair.Second.Text.Length))
        );
        // A step opened into its interruptions says no better than the strip.
        var send = plan.Steps.Single(step => step.Act is Core.Plans.Acts.SendBundle);
        var breaks = Rehearser.Interruptions(plan, @case, send.Number);
        Assert.Equal(plan.RiskOf(send).Risk, breaks[0].Risk);
        Assert.Contains(breaks, one => one.What == "the cable comes out");
        Assert.Empty(Rehearser.Interruptions(plan, @case, 99));
    }

    [Fact]
    public void Shop_rules_of_the_plan_decide_which_way_comes_first_and_what_is_asked()
    {
        var model = PathWorld.Model("TN63E");
        var package = WholePackage.Of(
            model,
            layout: model.Partitions.Select(spec => new Core.Packages.TableEntry(spec.Name, spec.SizeBytes))
        );
        PathCase With(PlanPolicy policy, bool erase, string recovery = "stock") =>
            PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.Download, (FactName.Recovery, recovery)), package, erase) with
            {
                Policy = policy,
            };
        string? First(PlanPolicy policy, bool erase, string recovery = "stock") =>
            PathList.Compile(With(policy, erase, recovery)).Plan?.Choice.Path;
        var usual = PlanPolicy.Usual;
        Assert.Equal("B", First(usual, true));
        Assert.Equal("D", First(usual with { Wipe = WipeSchool.Held }, true));
        Assert.Equal("C", First(usual with { Wipe = WipeSchool.Before }, true, "custom"));
        Assert.Equal("B", First(usual with { Wipe = WipeSchool.Before }, true, "stock"));
        Assert.Equal("E", First(usual with { Layout = LayoutSchool.Always }, true));
        Assert.Equal("A", First(usual with { Layout = LayoutSchool.Always, Wipe = WipeSchool.Held }, false));
        Assert.Contains("By shop rule", PathWorld.Refusal(With(usual with { Layout = LayoutSchool.Never }, true), "E"));
        Assert.Contains("By shop rule", PathWorld.Refusal(With(usual with { Wipe = WipeSchool.Always }, false), "A"));

        bool Asks(PlanPolicy policy, PathCase @case, string letter) =>
            Gates
                .Evaluate(
                    new GateCase(PathWorld.Plan(@case, letter), null, @case.Phone, null, true, 0, null, [], [], Repo.Catalogue.Figures)
                    {
                        Policy = policy,
                    }
                )
                .Any(gate => gate.Id == GateId.DataLoss);
        Assert.True(Asks(usual, With(usual, false), "A"));
        Assert.False(Asks(usual with { TrustsKeeping = true }, With(usual, false), "A"));
        Assert.True(Asks(usual with { TrustsKeeping = true }, With(usual, true), "B"));
        // A lock of a phone that keeps its data by the catalogue.
        var older = PathWorld.Case(PathWorld.Phone("OB17", PhoneMode.System, (FactName.DeviceStatus, "official")), null, true);
        Assert.True(Asks(usual, older, "J"));
        Assert.False(Asks(usual with { AssumesRelockErases = false }, older, "J"));
    }

    [Fact]
    public void The_reading_that_would_tell_most_is_named_first_and_what_is_known_is_not_asked_again()
    {
        IReadOnlyList<FactName> Open(bool erase, params (FactName, string?)[] facts)
        {
            var @case = PathWorld.Case(
                PathWorld.Phone("TN63E", PhoneMode.Download, facts),
                WholePackage.Of(PathWorld.Model("TN63E")),
                erase
            );
            return [.. PathWorld.Plan(@case, erase ? "B" : "A").Rehearsal.OpenFacts.Select(one => one.Fact)];
        }

        // Whether it comes from a custom system decides whether it loops on the data that were kept.
        Assert.Equal(FactName.DeviceStatus, Open(false)[0]);
        Assert.DoesNotContain(FactName.DeviceStatus.Name, Open(false, (FactName.DeviceStatus, "official")));
        // Erased, it loops on nothing; whether an account will be asked for is what is left.
        Assert.Equal(FactName.Account, Open(true)[0]);
    }

    [Fact]
    public void Every_question_of_the_plan_is_set_and_read_back_and_has_its_usual_choice_in_the_catalogue()
    {
        foreach (var question in Schools.OfPlans.Concat(Schools.OfWatching))
        {
            foreach (var choice in question.Choices)
                Assert.Equal(choice, question.Of(question.Apply(MatchPolicy.Careful, choice)));
            Assert.Equal(question.Usual, question.Of(MatchPolicy.Careful).Id);
            Assert.Equal(question.Usual, Repo.Catalogue.SchoolAnswers[question.Id]);
        }
    }
}

using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>
/// A phone on its way up after a write: how long it may take, what looks like the end, what is tried when it does not come.
/// </summary>
public sealed class WayUpTests
{
    private static readonly Plan Kept = Planned.Plan(erase: false);

    /// <summary>A run of a plan that has finished, and what somebody saw after so many minutes.</summary>
    private static RunState Finished(Plan plan, params (double Minute, RunEvent What)[] after)
    {
        long seq = 0;
        return RunState.Of(
            plan,
            [
                new JournalEntry(++seq, Sample.Noon, new RunQueued("lead", "4")),
                new JournalEntry(++seq, Sample.Noon, new RunFinished()),
                .. after.Select(one => new JournalEntry(++seq, Sample.Noon.AddMinutes(one.Minute), one.What)),
            ]
        );
    }

    private static StageClock Clock(Plan plan, double minute, params (double Minute, RunEvent What)[] after) =>
        StageClock.Of(Finished(plan, after), Repo.Catalogue.Figures, Sample.Noon.AddMinutes(minute))!;

    private static (double, RunEvent) Sees(double minute, PhoneMode mode) => (minute, new StageSeen("ada", mode.Id()));

    private static (double, RunEvent) Counts(double minute, int done, int of) =>
        (minute, new StageSeen("ada", PhoneMode.Starting.Id()) { Apps = done, OfApps = of });

    [Theory]
    [InlineData(0, StagePace.Usual)]
    [InlineData(1.9, StagePace.Usual)]
    [InlineData(4, StagePace.Slow)]
    [InlineData(9.9, StagePace.Slow)]
    [InlineData(10.1, StagePace.Stuck)]
    public void A_first_boot_is_usual_to_two_minutes_slow_to_ten_and_stuck_after_that(double minute, StagePace pace) =>
        Assert.Equal(pace, Clock(Kept, minute).Pace);

    [Fact]
    public void What_somebody_sees_goes_before_the_clock()
    {
        Assert.Equal(StagePace.Up, Clock(Kept, 30, Sees(3, PhoneMode.System)).Pace);
        Assert.Equal(StagePace.Hung, Clock(Kept, 2, Sees(1, PhoneMode.BootLoop)).Pace);
        // A look that was wrong is righted by the next one.
        Assert.Equal(StagePace.Usual, Clock(Kept, 1.5, Sees(1, PhoneMode.BootLoop), Sees(1.2, PhoneMode.Starting)).Pace);
    }

    [Fact]
    public void A_count_of_apps_that_moves_is_progress_however_late_and_one_that_stands_is_not()
    {
        var moves = Clock(Kept, 21, Counts(15, 20, 120), Counts(20, 70, 120));
        Assert.Equal((StagePace.Slow, (70, 120)), (moves.Pace, moves.Apps));
        // Ten apps a minute, and fifty are left.
        Assert.Contains("5 min more", moves.Words);
        Assert.Equal(StagePace.Slow, Clock(Kept, 24, Counts(15, 20, 120)).Pace);
        Assert.Equal(StagePace.Stuck, Clock(Kept, 26, Counts(15, 20, 120), Counts(25.5, 20, 120)).Pace);
    }

    [Theory]
    [InlineData(0, 1, true)]
    [InlineData(140, 140, true)]
    [InlineData(9, 4, false)]
    [InlineData(-1, 4, false)]
    [InlineData(1, 0, false)]
    [InlineData(1, 1_000_000, false)]
    [InlineData(null, 4, false)]
    [InlineData(4, null, false)]
    public void A_count_is_so_many_of_so_many(int? done, int? of, bool isOne) => Assert.Equal(isOne, StageClock.IsCount(done, of));

    [Fact]
    public void Two_restarts_are_normal_where_the_phone_puts_things_in_and_more_are_said()
    {
        var twice = WithFirst(Kept, new AwaitStage(OwnWork.InstallPhase));
        Assert.Equal((1, 2), (Clock(Kept, 1).NormalRestarts, Clock(twice, 1).NormalRestarts));
        var again = new[] { Sees(0.5, PhoneMode.Starting), Sees(1, PhoneMode.Starting) };
        Assert.Contains("restarted 2 times", Clock(Kept, 1.5, again).Words);
        Assert.DoesNotContain("restarted 2 times", Clock(twice, 1.5, again).Words);
        // Who counts apps has seen no restart.
        Assert.DoesNotContain("restarted", Clock(Kept, 1.8, Counts(0.5, 1, 9), Counts(1, 2, 9), Sees(1.5, PhoneMode.Starting)).Words);
        // What is put in first takes its own time.
        Assert.True(Clock(twice, 1).StuckMinutes > Clock(Kept, 1).StuckMinutes);
    }

    private static Plan WithFirst(Plan plan, Act act) =>
        plan with
        {
            Steps = [.. plan.Steps, new PlanStep(plan.Steps.Count + 1, act, act.Seconds(Repo.Catalogue.Figures), false)],
        };

    [Fact]
    public void A_run_that_goes_on_or_that_starts_nothing_has_no_such_clock()
    {
        Assert.Null(StageClock.Of(RunState.Of(Kept, []), Repo.Catalogue.Figures, Sample.Noon));
        Assert.Null(
            StageClock.Of(
                Finished(Kept with { Steps = [.. Kept.Steps.Where(step => step.Act is not AwaitStage)] }),
                Repo.Catalogue.Figures,
                Sample.Noon
            )
        );
    }

    [Fact]
    public void Signs_that_look_like_the_end_are_told_from_the_end()
    {
        var written = Finished(Kept);
        Assert.Equal(
            ["All sent", "All accepted", "Restarted"],
            Milestone.Of(written).Where(sign => sign.IsReached).Select(sign => sign.Title)
        );
        Assert.False(Milestone.Of(written)[^1].IsReached);
        Assert.True(Milestone.Of(Finished(Kept, Sees(3, PhoneMode.System)))[^1].IsReached);
        // With the restart held somebody must let it start: it is said who.
        var held = new PlanStep(90, new RestartByHands(PhoneMode.Download), default, false);
        var signs = Milestone.Of(RunState.Of(Kept with { Steps = [.. Kept.Steps, held] }, []));
        Assert.Contains(signs, sign => sign is { Title: "Let start by hand", IsReached: false });
        Assert.DoesNotContain(signs, sign => sign.Title == "Restarted");
    }

    private static PathCase Looping(PhoneMode mode = PhoneMode.BootLoop) =>
        new(
            new Phone([
                .. Sample.Cairn().All.Where(fact => fact.Name != FactName.Mode),
                Sample.Fact(FactName.Mode, mode.Id(), FactSource.BootloaderScreen),
            ]),
            null,
            true,
            Repo.Catalogue
        );

    private static BootLadder Ladder(Plan written, double minute, PathCase? @case = null, params Rung[] climbed) =>
        BootLadder.Of(written, climbed, Clock(written, minute, Sees(1, PhoneMode.BootLoop)), @case ?? Looping(), Repo.Catalogue.Figures);

    [Fact]
    public void What_costs_nothing_comes_first_and_each_rung_says_what_it_takes_and_costs()
    {
        var ladder = Ladder(Kept, 3);
        Assert.Equal(Rungs.All, ladder.Rungs.Select(rung => rung.Rung));
        Assert.Null(ladder.Rungs[1].WhyClosed);
        Assert.Equal((RungState.Here, Rung.Restart), (ladder.Rungs[0].State, ladder.Next!.Rung));
        Assert.All(ladder.Rungs, rung => Assert.True(rung.Minutes.Typical > 0 && rung.Minutes.Slow >= rung.Minutes.Typical));
        Assert.All(ladder.Rungs.Where(rung => rung.Rung.IsPlanned()), rung => Assert.NotNull(rung.Plan));
        Assert.All(ladder.Rungs.Where(rung => rung.Plan is not null), rung =>
            Assert.Equal(rung.Rung == Rung.WipeData, rung.Plan!.ErasesData)
        );
        // Waiting ends where it helps no more.
        Assert.Equal(RungState.Climbed, Ladder(Kept, 11).Rungs[0].State);
    }

    [Fact]
    public void It_goes_up_rung_by_rung_to_the_next_fault_and_what_was_left_out_says_so()
    {
        var next = new List<Rung>();
        var climbed = new List<Rung>();
        while (Ladder(Kept, 11, null, [.. climbed]).Next is { } rung)
        {
            next.Add(rung.Rung);
            climbed.Add(rung.Rung);
        }

        Assert.Equal(Rungs.All.Skip(1), next);
        var left = Ladder(Kept, 11, null, Rung.WipeCache).Rungs.Single(rung => rung.Rung == Rung.Restart);
        Assert.Equal((RungState.Closed, "Left out."), (left.State, left.WhyClosed));
    }

    [Fact]
    public void Data_that_were_erased_with_the_write_are_not_wiped_once_more()
    {
        var wipe = Ladder(Planned.Plan(erase: true), 3).Rungs.Single(rung => rung.Rung == Rung.WipeData);
        Assert.Equal(RungState.Closed, wipe.State);
        Assert.Contains("erased with the write", wipe.WhyClosed);
    }

    [Theory]
    [InlineData(PhoneMode.BootLoop)]
    [InlineData(PhoneMode.StuckAtLogo)]
    public void Rungs_that_hands_climb_are_plans_that_hands_are_led_through(PhoneMode mode)
    {
        foreach (var rung in Rungs.All.Where(rung => rung.IsPlanned()))
        {
            var plan = LadderPlans.Of(rung, Kept, Looping(mode)).Plan!;
            Assert.Equal((Kept.Key, rung, false), (plan.Follows, plan.Rung, plan.NeedsLink));
            Assert.All(plan.Steps.Where(step => step.Act.By == ActBy.Hands), step => Assert.True(HandsOrder.Leads(step.Act)));
            // What the write was to bring still is to be read.
            Assert.All(Kept.Rehearsal.Expectations, expected => Assert.Contains(expected, plan.Rehearsal.Expectations));
        }

        Assert.Equal(
            3,
            Rungs.All.Where(rung => rung.IsPlanned()).Select(rung => LadderPlans.Of(rung, Kept, Looping(mode)).Plan!.Key).Distinct().Count()
        );
    }

    [Fact]
    public void Of_every_model_a_phone_that_hangs_is_restarted_by_its_keys()
    {
        foreach (var model in Repo.Catalogue.Models.Where(model => model.KeyFamily.Length > 0))
        {
            var phone = Sample.Phone(Sample.Fact(FactName.ModelCode, model.Code), Sample.Fact(FactName.Mode, "boot-loop"));
            var way = ForceRestart.WayFrom(phone, model, PhoneMode.BootLoop, Repo.Catalogue);
            Assert.True(way is not null, model.Code);
            var waits = RunState.Of(
                Kept with
                {
                    Steps = [new PlanStep(1, new ForceRestart(PhoneMode.BootLoop), default, false)],
                },
                [new JournalEntry(1, Sample.Noon, new HandsWanted(1, "Force a restart", "boot-loop"))]
            );
            var order = HandsOrder.Of(waits, phone, model, Repo.Catalogue)!;
            Assert.NotEmpty(order.Words);
            Assert.Contains(order.Choices, choice => choice is { Shows: PhoneMode.Starting, Done: true });
        }
    }

    [Fact]
    public void Each_moment_of_a_write_has_the_clock_that_applies()
    {
        var figures = Repo.Catalogue.Figures;
        var image = Kept.Steps.First(step => step.Act is WriteImage);
        var partition = image.Act.Touches[0].Partition;
        RunClock? At(PlanStep step, params RunEvent[] then)
        {
            RunEvent[] all = [new RunStarted("w"), new StepStarted(step.Number, step.Title), .. then];
            return RunClock.Of(RunState.Of(Kept, all.Select((what, at) => new JournalEntry(at + 1, Sample.Noon, what))), figures);
        }

        Assert.Equal(("Transfer", 30d, 120d), Short(At(image, new BytesSent(image.Number, 1000))!));
        var commit = At(image, new BytesSent(image.Number, 1000), new WriteAsked(image.Number, 1, 1))!;
        Assert.Equal("Commit", commit.Name);
        Assert.Contains(partition, commit.Words);
        Assert.True(commit.FaultSeconds >= figures.CommitFaultFloorSeconds && commit.WarnSeconds <= commit.FaultSeconds);
        Assert.Equal("Transfer", At(image, new WriteAsked(image.Number, 1, 2), new PieceAccepted(image.Number, 1, 2, 9))!.Name);
        Assert.Null(At(Kept.Steps.First(step => step.Act.By == ActBy.Computer))!.FaultSeconds);
        Assert.Equal("Restart", At(Kept.Steps.Last(step => step.Act is RestartInto))!.Name);
        Assert.Null(RunClock.Of(Finished(Kept), figures));
        static (string, double, double) Short(RunClock clock) => (clock.Name, clock.WarnSeconds!.Value, clock.FaultSeconds!.Value);
    }
}

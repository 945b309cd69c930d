using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Schedule.Tests;

/// <summary>What is left of a job, by its plan, its run, or what it may turn out to need.</summary>
public sealed class RemainingWorkTests
{
    private static readonly ModelCatalogue Catalogue = Repo.Catalogue;
    private static readonly Plan Plan = Planned.Plan();

    private static WorkCase Case => new(Station.Plan, Catalogue.Figures, Sample.Noon) { IsFound = true };

    private static WayOut Way(Toll toll) => Catalogue.Triage.Classes.Select(one => one.WayOut).First(way => way.Toll == toll);

    [Fact]
    public void A_plan_is_its_hands_its_link_and_what_the_phone_does_alone()
    {
        var work = RemainingWork.Of(Case with { Plan = Plan });
        Assert.Contains(work, task => task.Needs.HasFlag(Needs.Port) && !task.Needs.HasFlag(Needs.Hands));
        Assert.True(work[^1].Needs.HasFlag(Needs.Hands) && work[^1].Id == "Hand back");
        Assert.Equal(work.Count, work.Select(task => task.Id).Distinct().Count());
        Assert.All(work, task => Assert.True(task.Minutes >= 1 && task.Slow >= task.Minutes && task.BegunAt is null));
        // All of its seconds are in it, whoever does them.
        var planned = Plan.Steps.Where(step => step.Act is not Core.Plans.Acts.CheckResult).Sum(step => step.Seconds.Typical) / 60;
        Assert.InRange(work.Sum(task => task.Minutes), planned, planned + 11 + 1.5 * work.Count);
        Assert.Null(new Day(Sample.Noon, [new("ada", [new(0, 600)])], [new(0, 600)], 1, 1, [new DayJob("1", 0, work, null)]).WhyNot);
    }

    [Fact]
    public void A_file_that_is_missing_is_fetched_over_the_line_before_a_package_is_chosen()
    {
        var file = new Fetch("tern-stock.tar", new Band(40, 70), false, [new OtherWay("Fetch its file from quay.", 20, 30)]);
        var work = RemainingWork.Of(Case with { Ways = [(Way(Toll.CleanWrite), 1)], Fetch = file });
        Assert.Equal(Needs.Line, work[0].Needs);
        Assert.Equal(40, work[0].Minutes);
        Assert.Null(work[0].BegunAt);
        Assert.Equal(file.Others, work[0].Others);
        Assert.DoesNotContain(work.Skip(1), task => task.Others.Count > 0);
        // On its way, what is left of it has begun; while nobody knows what is wrong, that is found out first.
        Assert.Equal(
            0,
            RemainingWork.Of(Case with { Ways = [(Way(Toll.CleanWrite), 1)], Fetch = file with { IsOnItsWay = true } })[0].BegunAt
        );
        var unknown = RemainingWork.Of(
            Case with
            {
                IsFound = false,
                Ways = [(Way(Toll.Keys), 0.5), (Way(Toll.CleanWrite), 0.5)],
                Fetch = file with { IsOnItsWay = true },
            }
        );
        Assert.True(unknown[0].Needs.HasFlag(Needs.Hands));
        // Half of the phones need it.
        Assert.Equal(20, unknown.Single(task => task.Needs == Needs.Line).Minutes);
        Assert.DoesNotContain(RemainingWork.Of(Case with { Plan = Plan, Fetch = file }), task => task.Needs == Needs.Line);
    }

    [Fact]
    public void What_a_run_has_done_is_gone_and_what_it_is_at_has_begun()
    {
        var entries = new List<JournalEntry>();
        void Add(RunEvent what, int minute) => entries.Add(new JournalEntry(entries.Count + 1, Sample.Noon.AddMinutes(minute), what));
        Add(new RunStarted("writer"), 0);
        Add(new StepStarted(Plan.Steps[0].Number, ""), 0);
        Add(new StepDone(Plan.Steps[0].Number), 1);
        Add(new StepStarted(Plan.Steps[1].Number, ""), 1);
        var run = RunState.Of(Plan, entries);
        var work = RemainingWork.Of(Case with { Plan = Plan, Run = run, Now = Sample.Noon.AddMinutes(4) });
        Assert.Equal(-3, work[0].BegunAt);
        Assert.True(work[0].Minutes >= 4);
        Assert.DoesNotContain(work, task => task.Title.Contains("gates", StringComparison.Ordinal));
    }

    [Fact]
    public void Before_a_plan_it_is_the_mix_of_what_it_may_need()
    {
        var keys = RemainingWork.Of(Case with { Ways = [(Way(Toll.Keys), 1)] });
        Assert.Equal(["Hand back"], keys.Select(task => task.Id));
        Assert.Equal(Needs.Hands | Needs.Shop, keys[0].Needs);
        var write = RemainingWork.Of(Case with { Ways = [(Way(Toll.CleanWrite), 1)] });
        var mixed = RemainingWork.Of(Case with { IsFound = false, Ways = [(Way(Toll.Keys), 0.5), (Way(Toll.CleanWrite), 0.5)] });
        Assert.True(mixed[0].Needs.HasFlag(Needs.Hands));
        Assert.InRange(
            mixed.Where(task => !task.Needs.HasFlag(Needs.Hands)).Sum(task => task.Minutes),
            1,
            write.Where(task => !task.Needs.HasFlag(Needs.Hands)).Sum(task => task.Minutes)
        );
        // What may not be needed at all strays more, against what it takes, than what is.
        var sure = write.Single(task => task.Title == "Write");
        var unsure = mixed.Single(task => task.Title == "Write");
        Assert.True(unsure.Slow / (double)unsure.Minutes > sure.Slow / (double)sure.Minutes);
    }

    [Fact]
    public void What_has_passed_only_goes_back()
    {
        var work = RemainingWork.Of(Case with { Plan = Plan, HasPassed = true });
        Assert.Equal("Hand back", Assert.Single(work).Title);
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Rescue;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class CheckAndLineTests
{
    private static readonly Plan Plan = Planned.Plan();

    private static Phone AsIntended => new(Plan.Rehearsal.Expectations.Where(e => e.IsNeeded).Select(e => Sample.Fact(e.Fact, e.Value)));

    [Fact]
    public void A_phone_that_is_as_intended_passes() => Assert.True(Checker.IsPassed(Checker.Compare(Plan, AsIntended)));

    [Fact]
    public void What_was_not_read_does_not_pass()
    {
        var lines = Checker.Compare(Plan, new Phone(AsIntended.All.Where(f => f.Name != FactName.RollbackFloor)));
        Assert.False(Checker.IsPassed(lines));
        Assert.Equal(CheckState.NotRead, lines.Single(l => l.Expectation.Fact == FactName.RollbackFloor).State);
    }

    [Fact]
    public void One_source_that_differs_is_enough_to_fail()
    {
        var lines = Checker.Compare(
            Plan,
            new Phone([.. AsIntended.All, Sample.Fact(FactName.Build, "HX204/15.26w30-2.r4", FactSource.Settings)])
        );
        Assert.Equal(CheckState.Differs, lines.Single(l => l.Expectation.Fact == FactName.Build).State);
        Assert.False(Checker.IsPassed(lines));
    }

    [Fact]
    public void A_build_string_does_not_prove_the_boot_chain_and_still_speaks_against_it()
    {
        Phone Read(string build) =>
            new([
                .. AsIntended.All.Where(fact => fact.Name != FactName.BootloaderRevision),
                .. BuildFacts.With(Sample.Fact(FactName.Build, build, FactSource.Settings), Repo.Catalogue),
            ]);
        CheckState Revision(Phone phone) =>
            Checker.Compare(Plan, phone).Single(line => line.Expectation.Fact == FactName.BootloaderRevision).State;
        Assert.Equal(CheckState.NotRead, Revision(Read("HX204/15.26w10-7.r3")));
        Assert.Equal(CheckState.Differs, Revision(Read("HX204/15.26w30-2.r4")));
        Assert.Equal(CheckState.AsIntended, Revision(new Phone([.. Read("HX204/15.26w10-7.r3").All, .. AsIntended.All])));
        // What it says of the phone itself is held against the phone too.
        Assert.Equal(
            CheckState.Differs,
            Checker.Compare(Plan, Read("HX204C/15.26w10-4.r3")).Single(line => line.Expectation.Fact == FactName.ModelCode).State
        );
    }

    [Fact]
    public void Something_that_need_not_be_read_still_fails_when_it_differs() =>
        Assert.False(
            Checker.IsPassed(
                Checker.Compare(Plan, new Phone([.. AsIntended.All, Sample.Fact(FactName.Root, "present", FactSource.Settings)]))
            )
        );

    private static JobStanding Stand(
        Phone phone,
        bool chosen = false,
        RunStatus? run = null,
        bool passed = false,
        bool back = false,
        bool hangs = false
    ) =>
        JobLine.Standing(
            new JobState(
                phone,
                chosen,
                run,
                run == RunStatus.Finished ? Checker.Compare(Plan, passed ? AsIntended : new Phone([])) : [],
                back,
                Hangs: hangs
            )
        );

    [Fact]
    public void The_line_follows_what_is_there()
    {
        Assert.Equal(Station.FindOut, Stand(Sample.Phone()).At);
        Assert.Equal(Station.Match, Stand(Sample.Cairn()).At);
        Assert.Equal(Station.Plan, Stand(Sample.Cairn(), chosen: true).At);
        Assert.Equal(Station.Route, Stand(Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204")), chosen: true).At);
        Assert.Equal(Station.Write, Stand(Sample.Cairn(), chosen: true, run: RunStatus.Writing).At);
        Assert.Equal(Station.Write, Stand(Sample.Cairn(), chosen: true, run: RunStatus.Failed).At);
        Assert.Equal(Station.Check, Stand(Sample.Phone(), chosen: true, run: RunStatus.Finished).At);
        Assert.Equal(Station.HandBack, Stand(Sample.Phone(), chosen: true, run: RunStatus.Finished, passed: true).At);
        Assert.True(Stand(Sample.Phone(), back: true).IsDone);
    }

    [Fact]
    public void What_takes_no_package_is_never_sent_to_choose_one()
    {
        JobState job = new(Sample.Cairn(), false, null, [], false);
        Assert.Equal(Station.Match, JobLine.Standing(job).At);
        Assert.Equal(
            (Station.Plan, "Plan closing its lock"),
            (JobLine.Standing(job with { Goal = JobGoal.Relock }).At, JobLine.Standing(job with { Goal = JobGoal.Relock }).Next)
        );
        var wipe = Repo.Catalogue.Triage.Classes.Single(fault => fault.Id == "stale-data").WayOut;
        Assert.Equal(
            (Station.Plan, wipe.Title),
            (JobLine.Standing(job with { Way = wipe }).At, JobLine.Standing(job with { Way = wipe }).Next)
        );
        // Every class that may end with the phone opened is looked at before, by whoever knows packages and loaders; the others are not.
        foreach (var fault in Repo.Catalogue.Triage.Classes.Where(fault => fault.WayOut.Paths.Count > 0))
            Assert.Equal(
                fault.WayOut.Toll >= Toll.EmergencyMode,
                JobLine.Standing(job with { Way = fault.WayOut }) is { At: Station.Match, Next: "Is it worth opening?" }
            );
        var rescue = Repo.Catalogue.Triage.Classes.First(fault => fault.WayOut is { Toll: >= Toll.EmergencyMode, Paths.Count: > 0 }).WayOut;
        // Once that is answered and a package chosen, it goes on as any other.
        Assert.Equal(Station.Plan, JobLine.Standing(job with { Way = rescue, PackageChosen = true, NeedsLink = false }).At);
        // What nobody has read of the lock is found out first.
        var unread = job with { Phone = Sample.Phone(Sample.Fact(FactName.ModelCode, "HX204")), Goal = JobGoal.Relock };
        Assert.Equal(Station.FindOut, JobLine.Standing(unread).At);
    }

    [Fact]
    public void A_run_that_left_the_phone_as_it_was_leads_on_to_what_is_written_and_saved_data_that_went_back_to_the_counter()
    {
        var left = new JobState(Sample.Cairn(), true, RunStatus.Finished, [], false, HasNothingToCheck: true);
        Assert.Equal((Station.Match, "Choose what is written now"), At(JobLine.Standing(left)));
        Assert.Equal(Station.HandBack, JobLine.Standing(left with { IsBroughtBack = true }).At);
        static (Station, string) At(JobStanding standing) => (standing.At, standing.Next);
    }

    [Fact]
    public void A_phone_that_loops_after_its_write_is_not_asked_to_be_read()
    {
        var looping = new Phone([
            .. Sample.Cairn().All.Where(fact => fact.Name != FactName.Mode),
            Sample.Fact(FactName.Mode, "boot-loop", FactSource.Settings),
        ]);
        Assert.Equal("It loops: go on from there", Stand(looping, chosen: true, run: RunStatus.Finished, hangs: true).Next);
        // What it did before that write says nothing of what it does since.
        Assert.NotEqual("It loops: go on from there", Stand(looping, chosen: true, run: RunStatus.Finished).Next);
    }

    [Fact]
    public void A_conflict_is_next_for_the_hands_before_anything_is_chosen()
    {
        var standing = Stand(Sample.Cairn(more: Sample.Fact(FactName.ModelCode, "HX204C", FactSource.Label)), chosen: true);
        Assert.Equal(Station.FindOut, standing.At);
        Assert.Contains("disagree", standing.Next);
    }

    public static TheoryData<string> Recipes => [.. Family.Recipes.Select(r => r.Id)];

    private static KeyFamily Family => Repo.Catalogue.KeyFamilyOf(Repo.Catalogue.Model("HX204")!);

    [Theory]
    [MemberData(nameof(Recipes))]
    public void A_score_lies_within_its_drawing_and_its_labels_do_not_overlap(string id)
    {
        var recipe = Family.Recipes.Single(r => r.Id == id);
        foreach (var width in new[] { 420.0, 760, 1400 })
        {
            var layout = KeyScoreLayout.Of(Family, recipe, width);
            Assert.All(layout.Bars, bar => Assert.InRange(bar.X + bar.Width, layout.Left, width));
            Assert.All(layout.Marks, mark => Assert.InRange(mark.LabelY, layout.StaveBottom, layout.Height));
            foreach (var row in layout.Marks.GroupBy(m => m.LabelY))
            {
                var labels = row.OrderBy(m => m.LabelX).ToList();
                for (var i = 1; i < labels.Count; i++)
                    Assert.True(labels[i].LabelX - labels[i - 1].LabelX >= (labels[i].Label.Length + labels[i - 1].Label.Length) * 3.8);
            }
        }
    }

    [Theory]
    [InlineData(RescueStanding.Open, null, Station.Write, "Go on at the opened phone")]
    [InlineData(RescueStanding.Open, RunStatus.Waiting, Station.Write, "Hands are wanted")]
    [InlineData(RescueStanding.Open, RunStatus.Failed, Station.Write, "The write ended early: look at it")]
    [InlineData(RescueStanding.EndedOpen, RunStatus.Failed, Station.Write, "Put it back together")]
    [InlineData(RescueStanding.EndedOpen, null, Station.Write, "Put it back together")]
    [InlineData(RescueStanding.Ended, RunStatus.Failed, Station.HandBack, "Hand it back as it is")]
    public void An_opened_phone_comes_before_whatever_else_is_next(RescueStanding rescue, RunStatus? run, Station at, string next)
    {
        var standing = JobLine.Standing(new JobState(Sample.Cairn(), true, run, [], false, Rescue: rescue));
        Assert.Equal((at, next), (standing.At, standing.Next));
    }

    [Fact]
    public void What_was_written_and_checked_is_closed_up_before_it_goes()
    {
        var job = new JobState(AsIntended, true, RunStatus.Finished, Checker.Compare(Plan, AsIntended), false, Rescue: RescueStanding.Open);
        Assert.Equal(new JobStanding(Station.HandBack, "Close it up", AtRescue: true), JobLine.Standing(job));
        Assert.Equal("Hand the phone back", JobLine.Standing(job with { Rescue = RescueStanding.None }).Next);
        var read = job with { RunStatus = null, Phone = AsIntended.Supposing(FactName.Mode, "emergency") };
        Assert.False(JobLine.Standing(read).AtRescue);
    }
}

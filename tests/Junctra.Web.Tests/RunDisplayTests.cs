using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;
using Junctra.Web.Writing;

namespace Junctra.Web.Tests;

/// <summary>What the write station says at each moment.</summary>
public class RunDisplayTests
{
    private static readonly Plan Plan = Planned.Plan();

    private static PlanStep Step(string title) => Plan.Steps.First(step => step.Title.StartsWith(title, StringComparison.Ordinal));

    private static RunDisplay After(params RunEvent[] events) =>
        RunDisplay.Of(
            RunState.Of(Plan, events.Select((e, i) => new JournalEntry(i + 1, Sample.Noon.AddSeconds(i), e))),
            Repo.Catalogue.Figures,
            Sample.Noon
        );

    private static StepStarted Begin(PlanStep step) => new(step.Number, step.Title);

    [Fact]
    public void Before_a_writer_took_it_hands_are_off_already() =>
        Assert.Equal(
            ("queued", "Waiting for the writer. Hands off."),
            (After(new RunQueued("bench", "A")).Status, After(new RunQueued("bench", "A")).Headline)
        );

    [Theory]
    [InlineData("Verify", "Verifying the package. Hands off.")]
    [InlineData("Read serial", "Reading the phone once more. Hands off.")]
    [InlineData("Write system", "Writing system. Hands off.")]
    [InlineData("Restart the bootloader", "Restarting the bootloader. Hands off.")]
    [InlineData("Erase", "Erasing the user data. Hands off.")]
    [InlineData("Restart into the system", "Restarting into the system. Hands off.")]
    public void Each_step_is_said_as_what_is_being_done(string title, string headline) =>
        Assert.Equal(headline, After(new RunStarted("w"), Begin(Step(title))).Headline);

    [Fact]
    public void While_the_boot_chain_is_written_the_danger_is_named()
    {
        var show = After(new RunStarted("w"), Begin(Step("Write bootloader")));
        Assert.True(show.NoReturn);
        Assert.Contains("emergency mode", show.IfBroken);
        Assert.False(After(new RunStarted("w"), Begin(Plan.Steps.First(step => step.Partition() == "boot"))).NoReturn);
    }

    [Fact]
    public void A_hang_is_told_by_silence_or_by_fixed_minutes_as_the_plan_was_made()
    {
        var system = Step("Write system");
        RunDisplay At(WatchRules? watch, double minutes) =>
            RunDisplay.Of(
                RunState.Of(
                    Plan with
                    {
                        Watch = watch,
                    },
                    [
                        new JournalEntry(1, Sample.Noon, new RunStarted("w")),
                        new JournalEntry(2, Sample.Noon, Begin(system)),
                        new JournalEntry(3, Sample.Noon.AddMinutes(minutes), new BytesSent(system.Number, 1)),
                    ]
                ),
                Repo.Catalogue.Figures,
                Sample.Noon.AddMinutes(minutes)
            );
        var silence = system.Act.QuietSeconds(Repo.Catalogue.Figures, system.Seconds);
        Assert.Equal(silence, At(null, 30).QuietSeconds);
        Assert.Contains("Nothing has moved", At(null, 30).QuietWords);
        var fixedMinutes = new WatchRules(false, HangSchool.SixMinutes);
        Assert.Equal(Math.Min(silence, 60), At(fixedMinutes, 5).QuietSeconds, 3);
        Assert.InRange(At(fixedMinutes, 7).QuietSeconds, 0.01, 1);
        Assert.Contains("6 min, which shop policy takes for a hang", At(fixedMinutes, 7).QuietWords);
    }

    [Fact]
    public void Progress_is_weighed_by_bytes()
    {
        var system = Step("Write system");
        var show = After(new RunStarted("w"), Begin(system), new BytesSent(system.Number, system.Bytes / 2));
        Assert.Equal((double)(system.Bytes / 2) / Plan.BytesToSend, show.Progress, 3);
        var part = show.Partitions.Single(p => p.Name == "system");
        Assert.Equal(("writing", 0.5), (part.Use, part.Fill));
    }

    [Fact]
    public void A_failed_run_says_what_the_phone_holds()
    {
        var show = After(
            new RunStarted("w"),
            Begin(Plan.Steps.First(step => step.Partition() == "boot")),
            new WriteAsked(Plan.Steps.First(step => step.Partition() == "boot").Number, 1, 1),
            new RunFailed("The link broke.", "Again.")
        );
        Assert.Equal("failed", show.Status);
        Assert.Contains("Perhaps half written: boot", show.Instruction);
        Assert.Empty(show.Band);
    }

    public static TheoryData<RunEvent, string?> Lines =>
        new()
        {
            { new RunQueued("bench", "A"), "begun by bench at port A" },
            { new RunStarted("w"), null },
            { new StepStarted(1, "Verify"), "Verify" },
            { new TargetConfirmed(new PlanTarget("S1", "HX204", 3, LockState.Unlocked)), "serial S1, HX204, floor 3, unlocked: as judged" },
            {
                new TargetConfirmed(new PlanTarget("S1", "OB17", null, LockState.Unlocked)),
                "serial S1, OB17, floor none, unlocked: as judged"
            },
            { new BytesSent(1, 5), null },
            { new PieceAccepted(1, 1, 1, 9), null },
            { new PieceAccepted(1, 2, 3, 4_200_000), "piece 2 of 3 accepted, 4.2 MB" },
            { new ImageAccepted(1, "boot", "ab"), "the phone accepted boot whole" },
            { new PartitionErased(1, "userdata"), "the phone erased userdata" },
            { new RestartAsked(1, true), "the phone restarts its bootloader" },
            { new PhoneBack(1, "S1"), "the phone is back: serial S1" },
            { new PhoneSaid("hm"), "the phone says: hm" },
            { new StepDone(1), null },
            { new RunFinished(), "finished: all of it is done" },
            { new RunFailed("It broke.", "x"), "It broke." },
        };

    [Theory]
    [MemberData(nameof(Lines))]
    public void Every_event_has_its_words_and_progress_has_none(RunEvent what, string? expected) =>
        Assert.Equal(expected, RunDisplay.Line(new JournalEntry(1, Sample.Noon, what))?.Text);
}

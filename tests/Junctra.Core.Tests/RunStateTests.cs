using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Core.Tests;

public class RunStateTests
{
    private static readonly Plan Plan = Planned.Plan();

    private static IEnumerable<RunEvent> Whole()
    {
        yield return new RunQueued("bench", "A");
        yield return new RunStarted("writer");
        foreach (var step in Plan.Steps.TakeWhile(s => !s.Act.FollowsTheRun))
        {
            yield return new StepStarted(step.Number, step.Title);
            if (step.IsWrite())
            {
                yield return new BytesSent(step.Number, step.Bytes / 2);
                yield return new WriteAsked(step.Number, 1, 1);
                yield return new PieceAccepted(step.Number, 1, 1, step.Bytes);
                yield return new ImageAccepted(step.Number, step.Partition()!, "00");
            }

            if (step.IsErase())
                yield return new PartitionErased(step.Number, step.Partition()!);
            yield return new StepDone(step.Number);
        }

        yield return new RunFinished();
    }

    private static RunState Fold(IEnumerable<RunEvent> events) =>
        RunState.Of(Plan, events.Select((e, i) => new JournalEntry(i + 1, Sample.Noon.AddSeconds(i), e)));

    [Fact]
    public void A_whole_journal_ends_finished_with_everything_accepted()
    {
        var state = Fold(Whole());
        Assert.Equal(RunStatus.Finished, state.Status);
        Assert.Equal(1, state.Progress);
        Assert.Equal(7, state.Accepted.Count);
        Assert.Contains("userdata", state.Erased);
    }

    [Fact]
    public void Whatever_its_length_a_journal_says_what_the_phone_holds() =>
        Gen.Int[0, Whole().Count()]
            .Sample(length =>
            {
                var events = Whole().Take(length).ToList();
                var state = Fold(events);
                Assert.Equal(
                    events.OfType<PieceAccepted>().Select(e => Plan.Steps[e.Step - 1].Partition()!).Order(),
                    state.Accepted.Keys.Order()
                );
                Assert.InRange(state.Progress, 0, 1);
                var touched = events.OfType<WriteAsked>().Any();
                Assert.Equal(touched, state.HasTouchedPhone);
                Assert.Equal(!touched, state.PhoneNow.StartsWith("Nothing was written", StringComparison.Ordinal));
            });

    [Fact]
    public void A_phone_may_be_unplugged_unless_a_write_has_begun_or_broke_off_in_its_boot_chain() =>
        Gen.Int[0, Whole().Count()]
            .Sample(length =>
            {
                var events = Whole().Take(length).ToList();
                var going = Fold(events);
                Assert.Equal(!going.Status.IsOpen(), Unplugging.Of(PhoneMode.Fastboot, going).May);
                if (!going.Status.IsOpen())
                    return;
                var broken = Fold([.. events, new RunFailed("The cable was pulled.", "Read it again.")]);
                var cut = broken.IsInDoubt && broken.Plan.RiskOf(broken.Step).IsNoReturn;
                var answer = Unplugging.Of(PhoneMode.Fastboot, broken);
                Assert.Equal(!cut, answer.May);
                if (cut)
                    Assert.Contains("Read it again.", answer.Why);
            });

    [Theory]
    [InlineData(PhoneMode.UpdateRunning, false)]
    [InlineData(PhoneMode.Download, true)]
    [InlineData(PhoneMode.System, true)]
    [InlineData(PhoneMode.Unknown, true)]
    public void Without_a_write_only_an_update_that_runs_keeps_the_cable_in(PhoneMode now, bool may) =>
        Assert.Equal(may, Unplugging.Of(now, null).May);

    [Fact]
    public void Progress_never_goes_back() =>
        Gen.Int[1, Whole().Count()]
            .Sample(length => Assert.True(Fold(Whole().Take(length)).Progress >= Fold(Whole().Take(length - 1)).Progress));

    [Fact]
    public void A_break_in_the_middle_of_an_image_names_it_as_perhaps_half_written()
    {
        var events = Whole()
            .TakeWhile(e => e is not PieceAccepted piece || Plan.Steps[piece.Step - 1].Partition() != "boot")
            .Append(new RunFailed("The link broke.", "Again."));
        var text = Fold(events).PhoneNow;
        Assert.Contains("Accepted whole: bootloader, radio.", text);
        Assert.Contains("Perhaps half written: boot.", text);
        Assert.Contains("Not begun: overlay", text);
        Assert.Contains("not erased", text);
    }

    [Fact]
    public void What_is_in_doubt_about_the_erase_is_said_to_be_in_doubt()
    {
        var erase = Plan.Steps.First(step => step.IsErase());
        var before = Whole().TakeWhile(e => e is not StepStarted started || started.Step != erase.Number).ToList();
        Assert.Contains("The user data was not erased.", Fold([.. before, new RunFailed("The link broke.", "Again.")]).PhoneNow);
        var during = Fold([.. before, new StepStarted(erase.Number, erase.Title), new RunFailed("The link broke.", "Again.")]).PhoneNow;
        Assert.Contains("Perhaps erased: the user data.", during);
        Assert.DoesNotContain("not erased", during);
        var after = Fold([
            .. before,
            new StepStarted(erase.Number, erase.Title),
            new PartitionErased(erase.Number, erase.Partition()!),
            new RunFailed("The link broke.", "Again."),
        ]).PhoneNow;
        Assert.DoesNotContain("erhaps erased", after);
        Assert.DoesNotContain("not erased", after);
    }

    [Fact]
    public void An_image_that_came_in_pieces_says_how_many_the_phone_took()
    {
        var system = Plan.Steps.First(step => step.Partition() == "system");
        var state = Fold([
            new RunQueued("bench", "A"),
            new RunStarted("w"),
            new StepStarted(system.Number, system.Title),
            new PieceAccepted(system.Number, 1, 4, 10),
            new PieceAccepted(system.Number, 2, 4, 10),
        ]);
        Assert.Contains("Written in part: system (2 of 4 pieces accepted).", state.PhoneNow);
        Assert.Contains(
            "Perhaps half written: system (2 of 4 pieces accepted).",
            state.After(new JournalEntry(99, Sample.Noon, new WriteAsked(system.Number, 3, 4))).PhoneNow
        );
    }

    [Fact]
    public void A_run_that_was_stopped_leaves_nothing_half_written_and_says_who_asked()
    {
        var radio = Plan.Steps.First(step => step.Partition() == "radio");
        var events = Whole()
            .TakeWhile(what => what is not StepStarted started || started.Step <= radio.Number)
            .Append(new RunStopped("bench", "Read it again."));
        var state = Fold(events);
        Assert.Equal((RunStatus.Stopped, true, false), (state.Status, state.Status.EndedEarly(), state.Status.IsOpen()));
        Assert.Contains("bench asked for it", state.WhatHappened);
        Assert.Equal("Read it again.", state.Next);
        Assert.DoesNotContain("half written", state.PhoneNow);
        Assert.Contains("Accepted whole: bootloader, radio.", state.PhoneNow);
    }

    [Fact]
    public void The_advice_follows_what_the_phone_was_told_to_do()
    {
        RunState Broken(string partition, bool asked)
        {
            var step = Plan.Steps.First(step => step.Partition() == partition);
            RunEvent[] events = [new RunStarted("w"), new StepStarted(step.Number, step.Title), new BytesSent(step.Number, 10)];
            return Fold(asked ? [.. events, new WriteAsked(step.Number, 1, 1)] : events);
        }

        Assert.Contains("Nothing was written", RunAdvice.Again(Broken("bootloader", false)));
        Assert.Contains("Do not switch the phone off", RunAdvice.Again(Broken("bootloader", true)));
        Assert.Contains("Do not switch the phone off", RunAdvice.AfterThisComputer(Broken("bootloader", true)));
        // Bytes that lay in the phone's memory only have left its boot chain as it was.
        Assert.DoesNotContain("Do not switch the phone off", RunAdvice.Again(Broken("bootloader", false)));
        Assert.Contains("another cable", RunAdvice.Again(Broken("system", true)));
        Assert.DoesNotContain("cable", RunAdvice.AfterThisComputer(Broken("system", true)));
    }
}

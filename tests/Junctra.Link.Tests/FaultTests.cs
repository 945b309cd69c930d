using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Writes that go wrong: afterwards the journal must say exactly what the phone accepted.</summary>
public sealed class FaultTests(PhoneBench bench) : WriteBench(bench)
{
    private static readonly LinkClocks Impatient = Clocks with { Transfer = TimeSpan.FromSeconds(3) };

    /// <summary>The program dies at this event: nothing more is written down, nor sent.</summary>
    private sealed class DeathException : Exception;

    private async Task<(RunState State, Plan Plan)> WriteAsync(
        object? faults = null,
        int dieAtEvent = int.MaxValue,
        Func<RunEvent, Task>? atEvent = null
    )
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        if (faults is not null)
            await Phones.FaultAsync("A", faults);
        try
        {
            return (
                await WriteAsync(
                    plan,
                    package,
                    Phones.A,
                    async what =>
                    {
                        if (Journal.Count > dieAtEvent)
                        {
                            Journal.RemoveAt(Journal.Count - 1);
                            throw new DeathException();
                        }

                        if (atEvent is not null)
                            await atEvent(what);
                    },
                    clocks: Impatient
                ),
                plan
            );
        }
        catch (DeathException)
        {
            // As after a kill: no last word in the journal.
            return (Fold(plan), plan);
        }
    }

    private async Task BackToBootloaderAsync()
    {
        await Phones.FaultAsync("A", new { });
        if (await Phones.ModeAsync("A") != "fastboot")
            await Phones.DoAsync("A", "hold-menu-keys");
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "fastboot", "the phone is in its bootloader");
    }

    [Fact]
    public async Task Killed_at_any_point_the_journal_never_says_more_than_the_phone_accepted_nor_misses_more_than_the_act_at_hand()
    {
        var (whole, _) = await WriteAsync();
        Assert.Equal(RunStatus.Finished, whole.Status);
        var events = Journal.Count;
        var random = new Random(Sampled.Seed + 20260903);
        for (var i = 0; i < Sampled.Of(30, 4); i++)
        {
            Sampled.Tried();
            await Until.TrueAsync(
                async () => await Phones.ModeAsync("A") is "fastboot" or "setup-wizard" or "boot-loop",
                "the phone has come to rest"
            );
            await BackToBootloaderAsync();
            var before = (await Phones.AcceptedAsync("A")).Count;
            var (state, plan) = await WriteAsync(dieAtEvent: random.Next(1, events));
            var told = Journalled(plan);
            var accepted = (await Phones.AcceptedAsync("A")).Skip(before).ToList();
            Assert.Equal(told, accepted.Take(told.Count));
            Assert.InRange(accepted.Count - told.Count, 0, 1);
            // The one act that may be missing is that of the step which the journal says was begun.
            if (accepted.Count > told.Count)
                Assert.EndsWith(" " + state.Step!.Partition()!, accepted[^1]);
        }
    }

    [Fact]
    public async Task A_cable_pulled_at_any_byte_ends_the_run_with_the_truth()
    {
        var random = new Random(Sampled.Seed + 7);
        for (var i = 0; i < Sampled.Of(30, 4); i++)
        {
            Sampled.Tried();
            await BackToBootloaderAsync();
            var before = (await Phones.AcceptedAsync("A")).Count;
            var (state, plan) = await WriteAsync(new { dropAtByte = random.NextInt64(1, 27_000_000) });
            Assert.Equal(RunStatus.Failed, state.Status);
            Assert.Contains("byte", state.WhatHappened);
            Assert.Equal((await Phones.AcceptedAsync("A")).Skip(before), Journalled(plan));
            // Bytes lie in the phone's memory until it is told to write them: a boot chain that was still on its way is untouched.
            Assert.False(state.IsInDoubt);
            Assert.Contains(state.HasTouchedPhone ? "write again from the start" : "Nothing was written", state.Next);
        }
    }

    [Fact]
    public async Task A_phone_that_takes_no_more_bytes_is_a_stall()
    {
        var (state, _) = await WriteAsync(new { stallAtByte = 5_000_000 });
        Assert.Contains("fell silent", state.WhatHappened);
        Assert.Equal(["bootloader"], state.Accepted.Keys);
    }

    [Fact]
    public async Task A_refusal_is_told_in_the_phones_own_words_and_nothing_follows_it()
    {
        var (state, _) = await WriteAsync(new { refuseWith = "not on my watch" });
        Assert.Contains("not on my watch", state.WhatHappened);
        Assert.Empty(state.Accepted);
        Assert.Empty(await Phones.AcceptedAsync("A"));
    }

    [Fact]
    public async Task A_failure_after_the_last_image_never_says_that_nothing_was_written()
    {
        // The restart command is answered with nonsense, after everything was accepted.
        var (state, _) = await WriteAsync(dieAtEvent: int.MaxValue, atEvent: what =>
            what is PartitionErased ? Phones.FaultAsync("A", new { answerWith = "MAYBE" }) : Task.CompletedTask
        );
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Equal(7, state.Accepted.Count);
        Assert.DoesNotContain("Nothing was written", state.Next);
        Assert.DoesNotContain("Nothing was written", state.PhoneNow);
    }

    [Fact]
    public async Task Another_product_at_the_port_is_noticed_before_a_byte_is_written()
    {
        var (state, _) = await WriteAsync(new { product = "HX204C" });
        Assert.False(state.HasTouchedPhone);
        Assert.Contains("model code is HX204C, judged was HX204", state.WhatHappened);
    }

    [Fact]
    public async Task Nonsense_and_absurd_lengths_end_the_run_and_not_the_program()
    {
        Assert.Contains("no sense", (await WriteAsync(new { answerWith = "MAYBE" })).State.WhatHappened);
        Assert.Contains("no sense", (await WriteAsync(new { announceLength = long.MaxValue })).State.WhatHappened);
        Assert.Contains("no sense", (await WriteAsync(new { announceLength = -1 })).State.WhatHappened);
        Assert.Empty(await Phones.AcceptedAsync("A"));
    }

    [Fact]
    public async Task However_slow_a_write_is_it_goes_on_while_bytes_move()
    {
        // The whole takes several times the stall time of three seconds.
        var (state, _) = await WriteAsync(new { bytesPerSecond = 4_000_000 });
        Assert.Equal(RunStatus.Finished, state.Status);
    }
}

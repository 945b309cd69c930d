using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Wires that break while the phone answers, phones that restart, and the two clocks of a write.</summary>
[Trait("Turn", "8")]
public sealed class BrokenWireTests(PhoneBench bench) : WriteBench(bench)
{
    private static readonly LinkClocks Short = Clocks with { Connect = TimeSpan.FromSeconds(2), Restart = TimeSpan.FromSeconds(2) };

    [Fact]
    public async Task A_wire_cut_at_any_byte_of_the_phones_answers_ends_the_run_with_the_truth()
    {
        var random = new Random(Sampled.Seed + 41);
        for (var i = 0; i < Sampled.Of(40, 3); i++)
        {
            Sampled.Tried();
            await Until.TrueAsync(
                async () => await Phones.ModeAsync("A") is "fastboot" or "setup-wizard" or "boot-loop",
                "the phone has come to rest"
            );
            if (await Phones.ModeAsync("A") != "fastboot")
                await Phones.DoAsync("A", "hold-menu-keys");
            var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
            await using var wire = new TcpProxy("127.0.0.1", Phones.A.Port);
            // A whole write is answered in about 1,400 bytes.
            wire.CutAfter(random.Next(0, 1300));
            var before = (await Phones.AcceptedAsync("A")).Count;
            var state = await WriteAsync(plan, package, new LinkAddress("127.0.0.1", wire.Port), clocks: Short);
            if (!wire.IsCut)
                continue;
            Assert.Equal(RunStatus.Failed, state.Status);
            Assert.NotEmpty(state.Next!);
            var told = Journalled(plan);
            await Until.TrueAsync(
                async () =>
                    (await Phones.AcceptedAsync("A")).Count - before is var count && (count == told.Count || count == told.Count + 1),
                "the phone has finished what it was told"
            );
            var accepted = (await Phones.AcceptedAsync("A")).Skip(before).ToList();
            Assert.Equal(told, accepted.Take(told.Count));
            // An answer that never arrived leaves one act in doubt, and the journal names its image as perhaps half written.
            if (accepted.Count > told.Count)
                Assert.EndsWith(" " + state.Step!.Partition()!, accepted[^1]);
        }
    }

    [Fact]
    public async Task A_phone_that_restarts_in_the_middle_keeps_what_it_accepted_and_is_written_again_by_a_person()
    {
        await using var own = await StandInProcess.StartAsync();
        Phones = own;
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        var state = await WriteAsync(plan, package, Phones.A, atEvent: async what =>
        {
            if (what is ImageAccepted { Partition: "boot" })
                await Phones.KillAsync();
        });
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Equal(["boot", "bootloader", "radio"], state.Accepted.Keys.Order());
        await using var again = await StandInProcess.StartAsync(Phones.Data);
        var (anew, _) = await PlanAsync(again.A, "cairn-stock-26w10.tar");
        Assert.Equal(RunStatus.Finished, (await WriteAsync(anew, package, again.A)).Status);
        await Until.TrueAsync(async () => await again.ModeAsync("A") == "setup-wizard", "the phone has booted");
    }

    [Fact]
    public async Task A_phone_that_takes_long_to_write_what_it_holds_is_not_taken_for_a_stalled_transfer()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        await Phones.FaultAsync("A", new { commitMilliseconds = 5500 });
        var state = await WriteAsync(
            plan,
            package,
            Phones.A,
            clocks: Clocks with
            {
                Transfer = TimeSpan.FromSeconds(4),
                Answer = TimeSpan.FromSeconds(5),
            }
        );
        Assert.Equal(RunStatus.Finished, state.Status);
    }

    [Fact]
    public async Task A_phone_that_never_finishes_writing_is_given_up_by_the_clock_for_that()
    {
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        await Phones.FaultAsync("A", new { commitMilliseconds = 600_000 });
        var state = await WriteAsync(plan, package, Phones.A, clocks: Clocks with { Commit = _ => TimeSpan.FromSeconds(2) });
        Assert.Contains("fell silent after the command to write bootloader", state.WhatHappened);
        Assert.Contains("Perhaps half written: bootloader", state.PhoneNow);
        Assert.Contains("Do not switch the phone off", state.Next);
    }

    [Fact]
    public async Task Another_phone_that_answers_after_a_restart_is_not_written()
    {
        // One wire whose far end is another phone after the first restart.
        var (plan, package) = await PlanAsync(Phones.A, "cairn-stock-26w10.tar");
        await Phones.DoAsync("B", "hold-menu-keys");
        var first = new TcpProxy("127.0.0.1", Phones.A.Port);
        var port = first.Port;
        TcpProxy? second = null;
        var state = await WriteAsync(plan, package, new LinkAddress("127.0.0.1", port), atEvent: async what =>
        {
            if (what is not RestartAsked || second is not null)
                return;
            await first.DisposeAsync();
            second = new TcpProxy("127.0.0.1", Phones.B.Port, port);
        });
        Assert.Contains("another phone answers: serial HXB70988", state.WhatHappened);
        Assert.Empty(await Phones.AcceptedAsync("B"));
        await second!.DisposeAsync();
    }
}

using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>
/// Runs over the links of recovery, download with a layout, a chip that answers alone, and debugging (files put on a card, data saved), of
/// which one end dies at a random entry of the journal: the writer, as if its program were killed, or the phone, as if its power were cut.
/// What the journal says was accepted lies in the phone, what it says was copied lies whole at the other end, nothing is written by itself,
/// and the same path, planned anew from where the phone was left, ends well.
/// </summary>
[Trait("Turn", "6")]
public class KilledLinkTests(PhoneBench bench) : HandsBench(bench)
{
    private sealed class DeathException : Exception;

    [Theory]
    [MemberData(nameof(ReadyPhone.Moments), 67, MemberType = typeof(ReadyPhone))]
    public async Task A_writer_that_dies_leaves_a_journal_that_never_says_more_than_the_phone_accepted(string path, int seed)
    {
        var (name, plan, files, phone) = await ReadyPhone.MakeAsync(Phones, path, anew: true);
        var left = new Random(Sampled.Seed + seed * 17 + path[0]).Next(1, ReadyPhone.EntriesOf(path));
        try
        {
            await CarryOutAsync(name, plan, files, phone, atEvent: () => --left == 0 ? throw new DeathException() : Task.CompletedTask);
        }
        catch (DeathException)
        {
            // As after a kill: no last word in the journal.
        }

        var state = RunState.Of(plan, Entries());
        var told = Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}").ToList();
        var accepted = await WrittenAsync(name);
        Assert.Equal(told, accepted.Take(told.Count));
        // The one that may be missing is the one of which the journal says that the phone was told to write it.
        Assert.InRange(accepted.Count - told.Count, 0, 1);
        if (accepted.Count > told.Count)
            Assert.EndsWith(" " + state.At, accepted[^1]);
        await HoldsAcceptedAsync(name, state, [.. files]);
        if (state.Status == RunStatus.Finished)
            return;
        Assert.NotEmpty(RunAdvice.AfterThisComputer(state));
        Assert.NotEmpty(state.PhoneNow);
        await EndsWellAsync(path, name, state);
        // Nothing was written between the death and the person who began again.
        Assert.Equal(accepted, (await WrittenAsync(name)).Take(accepted.Count));
    }

    [Theory]
    [MemberData(nameof(ReadyPhone.Moments), 67, MemberType = typeof(ReadyPhone))]
    public async Task A_phone_that_dies_holds_what_the_journal_says_it_accepted(string path, int seed)
    {
        await using var own = await StandInProcess.StartAsync();
        Phones = own;
        var (name, plan, files, phone) = await ReadyPhone.MakeAsync(Phones, path, anew: true);
        var left = new Random(Sampled.Seed + seed * 13 + path[0]).Next(1, ReadyPhone.EntriesOf(path) / 2);
        // While hands are at it there is no link that could break.
        try
        {
            await CarryOutAsync(
                name,
                plan,
                files,
                phone,
                atHands: _ => left <= 0 ? throw new DeathException() : Task.CompletedTask,
                atEvent: () => IsOfLink(Journal[^1]) && --left == 0 ? own.KillAsync() : Task.CompletedTask
            );
        }
        catch (DeathException)
        {
            // It died with the last that the link had to do: what is wanted now is hands.
        }

        var state = RunState.Of(plan, Entries());
        await using var again = await StandInProcess.StartAsync(own.Data);
        Phones = again;
        await HoldsAcceptedAsync(name, state, [.. files]);
        // With its last entry it may have been done with it all.
        if (state.Status is RunStatus.Finished or RunStatus.Waiting)
            return;
        Assert.NotEmpty(state.WhatHappened!);
        Assert.NotEmpty(state.Next!);
        await EndsWellAsync(path, name, state);
    }

    private static bool IsOfLink(RunEvent what) =>
        what is TargetConfirmed or BytesSent or WriteAsked or PieceAccepted or ImageAccepted or FileCopied;

    private async Task<List<string>> WrittenAsync(string name) =>
        [.. (await Phones.AcceptedAsync(name)).Where(line => line.StartsWith("write", StringComparison.Ordinal))];

    private async Task EndsWellAsync(string path, string name, RunState broken)
    {
        var mode = await Phones.ModeAsync(name);
        // Nobody had opened it yet.
        var isAsItCame = path == "L" && mode == "off" && !broken.HasTouchedPhone;
        if (path == "L" && mode == "download")
        {
            // Its chain is whole again, and it is a phone as any other.
            await BundleEndsWellAsync(name);
            return;
        }

        if (mode != ReadyPhone.ModeOf(path) && !isAsItCame)
        {
            // What had restarted by then is on its way up: the write was over.
            Assert.True(broken.Plan.Steps.Where(step => step.Bytes > 0).All(step => broken.Done.Contains(step.Number)), $"{name}: {mode}");
            return;
        }

        var (_, again, files, now) = await ReadyPhone.MakeAsync(Phones, path, anew: isAsItCame);
        var end = await CarryOutAsync(name, again, files, now);
        Assert.True(end.Status == RunStatus.Finished, $"{broken.WhatHappened}; again: {end.WhatHappened}");
    }

    private async Task BundleEndsWellAsync(string name)
    {
        var bundle = await PackageAsync("tern6_latest.zip");
        var phone = new Core.Phones.Phone((await ReadAsync(Phones[name])).Facts);
        var end = await CarryOutAsync(name, Compile(phone, bundle.Package, "B"), [bundle], phone);
        Assert.True(end.Status == RunStatus.Finished, end.WhatHappened);
    }
}

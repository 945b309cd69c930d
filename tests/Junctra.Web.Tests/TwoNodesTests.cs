using Junctra.Core.Runs;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Of two web processes, whichever is killed, at any moment, the other goes on with what can go on, and says of a write that broke off what
/// the phone holds. One that was suspended and comes back does nothing any more of what the other has taken from it.
/// </summary>
[Trait("Turn", "0")]
public sealed class TwoNodesTests : TwoNodesBench
{
    /// <summary>How a node is lost.</summary>
    private enum Loss
    {
        WriterKilled,

        /// <summary>Suspended for longer than its lease, and let go on.</summary>
        WriterHeld,

        OtherKilled,
    }

    [Fact]
    public async Task Whichever_is_killed_or_suspended_the_other_goes_on()
    {
        var random = new Random(Sampled.Seed + 20);
        for (var round = 0; round < Sampled.Of(30, 1); round++)
        {
            Sampled.Tried();
            // Begun at one, written by whichever takes it.
            await Write.BeginAsync(Nodes[round % 2], 20_000_000);
            await Write.UntilAsync(run => run.ClaimedBy is not null || !run.Status.IsOpen(), "a node has taken the run");
            var writer = NodeOf((await Write.RunAsync()).ClaimedBy!);
            var other = 1 - writer;
            // Whoever looks at the other sees it, with the sign-in and the form of the first.
            await using (await Nodes[other].WatchAsync((await Write.RunAsync()).Id))
                Assert.Contains("0421", await Nodes[other].GetAsync(DemoWrite.Job + "/write"));
            await Write.UntilAcceptedAsync(random.Next(0, 9));
            var what = (Loss)((round + Sampled.Turn) % 3);
            var gone = Nodes[what == Loss.OtherKilled ? other : writer];
            await (what == Loss.WriterHeld ? gone.HoldAsync() : gone.KillAsync());
            await Write.UntilAsync(run => !run.Status.IsOpen(), "the run has ended");
            var (told, accepted) = await Write.CheckAsync();
            if (what == Loss.OtherKilled)
                Assert.Equal((RunStatus.Finished, accepted.Count), ((await Write.RunAsync()).Status, told.Count));
            else if ((await Write.RunAsync()).Status == RunStatus.Failed)
            {
                // Ended by the other.
                Assert.Contains(
                    "The program that was writing stopped in the middle.",
                    await Nodes[other].GetAsync(DemoWrite.Job + "/write")
                );
                // And nothing is written again by itself.
                Assert.Equal(accepted.Count, (await Write.AcceptedAsync()).Count);
                Assert.False(await AskAsync(db => db.Runs.AnyAsync(run => run.Status == RunStatus.Writing, Cancel)));
            }

            if (what != Loss.WriterHeld)
            {
                await gone.StartAsync();
                continue;
            }

            // It goes on where it was held, and finds that the run is not its own any more: what the phone takes from now on is of the
            // write that a person begins at the other, and of no other.
            await gone.LetGoAsync();
            await Until.TrueAsync(gone.IsHealthyAsync, "it serves again");
            await Write.CheckAsync();
            await Write.BeginAsync(Nodes[other], 0);
            await Write.UntilAsync(run => !run.Status.IsOpen(), "the write has ended");
            Assert.Equal(RunStatus.Finished, (await Write.RunAsync()).Status);
            Assert.Equal(await Write.AcceptedAsync(), await Write.JournalledAsync());
        }

        // A person begins again, and the phone is whole.
        await Write.BeginAsync(Nodes[1], 0);
        await Write.UntilAsync(run => run.Status == RunStatus.Finished, "the write has finished");
        await Until.TrueAsync(async () => await Phones.ModeAsync("A") == "setup-wizard", "the phone has booted");
    }
}

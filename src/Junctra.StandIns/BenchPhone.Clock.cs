using System.Diagnostics;
using System.Net;
using System.Net.Sockets;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

/// <summary>The time of a stand-in, and the port that opens and closes as its phone wants.</summary>
internal sealed partial class BenchPhone
{
    /// <summary>Time goes on by itself: whatever is due happens when it is.</summary>
    private async Task RunClockAsync()
    {
        try
        {
            while (true)
            {
                await hands.WaitAsync(ending.Token);
                TimeSpan wait;
                try
                {
                    CatchUp();
                    await FollowAsync();
                    wait = Twin.NextDueMs(State) is { } due
                        ? TimeSpan.FromMilliseconds(Math.Min(Longest.TotalMilliseconds, due / Rate(State) + 1))
                        : Longest;
                }
                finally
                {
                    hands.Release();
                }

                await stirred.WaitAsync(wait, ending.Token);
            }
        }
        catch (OperationCanceledException)
        {
            // The program ends.
        }
    }

    /// <summary>Lets pass in the phone's time what passed in ours; its rate changes with what it does.</summary>
    private void CatchUp()
    {
        var now = Stopwatch.GetTimestamp();
        var left = Stopwatch.GetElapsedTime(lastTick, now).TotalMilliseconds;
        lastTick = now;
        while (left > 0)
        {
            var rate = Rate(State);
            var due = Twin.NextDueMs(State) ?? long.MaxValue;
            var step = Math.Min(due, (long)(left * rate));
            if (step <= 0 && due > 0)
                break;
            var before = State;
            State = Twin.Next(State, new TimePasses(Math.Max(step, 0)));
            if (before is { Stage: PhoneStage.UpdateRunning, Update: { } update } && State.Parts != before.Parts && State.Update is null)
                putIn = update;
            ForgetFilesOf(before);
            left -= Math.Max(step, 0) / rate;
            // A phone that loops changes for ever; what is worth keeping does not.
            if (before.Mode != State.Mode || before.Floor != State.Floor || before.Data != State.Data || before.Task != State.Task)
                Remember();
            if (before == State)
                break;
        }
    }

    private double Rate(TwinState state) =>
        state.Keys.Count > 0
            ? 1
            : state.Stage switch
            {
                PhoneStage.Booting => state.Loops == 0 ? pace.Long : pace.Passing,
                PhoneStage.Optimising or PhoneStage.UpdateRunning or PhoneStage.Charging or PhoneStage.Off => pace.Long,
                _ when state.Task is { Partition: null } => pace.Long,
                PhoneStage.Waking
                or PhoneStage.Dark
                or PhoneStage.PowerOn
                or PhoneStage.Logo
                or PhoneStage.RecoveryStarting
                or PhoneStage.SwitchingOff => pace.Passing,
                _ => 1,
            };

    /// <summary>Opens or closes the port, as the phone's link wants it. A restart closes it, and the connection with it.</summary>
    private async Task FollowAsync()
    {
        await PutInAsync();
        var link = Port == 0 ? null : PhoneTwin.LinkOf(State);
        if (link == openFor)
            return;
        await CloseAsync();
        openFor = link;
        if (link is null)
            return;
        open = new CancellationTokenSource();
        var listener = new TcpListener(IPAddress.Loopback, Port);
        LoopbackPort.Share(listener.Server);
        listener.Start();
        serving = ServeAsync(listener, link, open.Token);
    }

    private async Task CloseAsync()
    {
        openFor = null;
        if (open is null)
            return;
        await open.CancelAsync();
        await serving;
        open.Dispose();
        open = null;
    }

    private async Task ServeAsync(TcpListener listener, string link, CancellationToken closed)
    {
        // Not on the hands of whoever made the phone open its port.
        await Task.Yield();
        try
        {
            while (!closed.IsCancellationRequested)
            {
                using var tcp = await listener.AcceptTcpClientAsync(closed);
                // What it says goes out at once: short messages that wait for each other's receipt cost 40 ms each.
                tcp.NoDelay = true;
                try
                {
                    if (link == "fastboot")
                        await new FastbootSession(this, tcp.GetStream(), pace).RunAsync(closed);
                    else
                        await new PhoneSession(this, tcp.GetStream(), pace, Answer).RunAsync(closed);
                }
                catch (Exception error) when (error is IOException or InvalidDataException or SocketException)
                {
                    // EndOfStream among them: the computer let go of the cable, or talked nonsense: the phone waits for the next one.
                }
            }
        }
        catch (OperationCanceledException)
        {
            // The port closes.
        }
        finally
        {
            listener.Stop();
        }
    }
}

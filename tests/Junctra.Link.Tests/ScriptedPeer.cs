using System.Buffers.Binary;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Junctra.Link.Fastboot;

namespace Junctra.Link.Tests;

/// <summary>A peer that does with each connection what a test says, and then closes it.</summary>
internal sealed class ScriptedPeer : IAsyncDisposable
{
    private readonly TcpListener listener = new(IPAddress.Loopback, 0);
    private readonly CancellationTokenSource end = new();
    private readonly Task serving;

    public ScriptedPeer(Func<NetworkStream, Task> script, bool hold = false)
    {
        listener.Start();
        serving = ServeAsync(script, hold);
    }

    public LinkAddress Address => new("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port);

    /// <summary>Clocks short enough for tests of silence, long enough for a busy machine.</summary>
    public static LinkClocks Clocks { get; } =
        new(TimeSpan.FromSeconds(2), TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(5), _ =>
            TimeSpan.FromSeconds(5)
        );

    public static ScriptedPeer Answering(string answer) =>
        new(async stream =>
        {
            await GreetAsync(stream);
            await FastbootWire.ReceiveAsync(stream, 100, default);
            await stream.WriteAsync(Frame(answer));
        });

    public static byte[] Frame(string message)
    {
        var bytes = Encoding.UTF8.GetBytes(message);
        var frame = new byte[8 + bytes.Length];
        BinaryPrimitives.WriteInt64BigEndian(frame, bytes.Length);
        bytes.CopyTo(frame.AsSpan(8));
        return frame;
    }

    public static async Task GreetAsync(NetworkStream stream)
    {
        await stream.WriteAsync("FB01"u8.ToArray());
        await stream.ReadExactlyAsync(new byte[4]);
    }

    public async ValueTask DisposeAsync()
    {
        await end.CancelAsync();
        listener.Stop();
        await serving;
        end.Dispose();
    }

    private async Task ServeAsync(Func<NetworkStream, Task> script, bool hold)
    {
        try
        {
            while (!end.IsCancellationRequested)
            {
                using var tcp = await listener.AcceptTcpClientAsync(end.Token);
                try
                {
                    await script(tcp.GetStream());
                    if (hold)
                        await Task.Delay(Timeout.Infinite, end.Token);
                }
                catch (IOException)
                {
                    // The client let go first.
                }
            }
        }
        catch (Exception over)
            when (over is OperationCanceledException or SocketException || end.IsCancellationRequested && over is InvalidOperationException)
        {
            // The test is over; the listener may have stopped between the look at the token and the call.
        }
    }
}

using System.Net;
using System.Net.Sockets;
using Junctra.StandIns;

namespace Junctra.Testing;

/// <summary>A wire between a program and what it talks to, which a test can cut: at once, or after so many bytes of the answers.</summary>
public sealed class TcpProxy : IAsyncDisposable
{
    private readonly string host;
    private readonly int port;
    private readonly Lock changing = new();
    private readonly Socket reserved;
    private TcpListener? listener;
    private CancellationTokenSource connected = new();
    private long left = long.MaxValue;

    /// <summary>Lays a wire.</summary>
    /// <param name="host">Where it leads.</param>
    /// <param name="port">Where it leads.</param>
    /// <param name="at">Port at which it begins; any free one when 0.</param>
    public TcpProxy(string host, int port, int at = 0)
    {
        (this.host, this.port) = (host, port);
        reserved = LoopbackPort.Reserve(at);
        Port = ((IPEndPoint)reserved.LocalEndPoint!).Port;
        Serve();
    }

    /// <summary>Port at which the wire begins.</summary>
    public int Port { get; }

    /// <summary>Whether it was cut.</summary>
    public bool IsCut => listener is null;

    /// <summary>Cuts the wire when so many more bytes have come back.</summary>
    public void CutAfter(long bytes) => Interlocked.Exchange(ref left, bytes);

    /// <summary>Breaks every connection and takes no new one.</summary>
    public void Cut()
    {
        lock (changing)
        {
            listener?.Stop();
            listener = null;
            connected.Cancel();
        }
    }

    /// <summary>Takes connections again.</summary>
    public void Mend()
    {
        lock (changing)
        {
            Interlocked.Exchange(ref left, long.MaxValue);
            connected = new CancellationTokenSource();
            Serve();
        }
    }

    public ValueTask DisposeAsync()
    {
        Cut();
        reserved.Dispose();
        return ValueTask.CompletedTask;
    }

    private void Serve()
    {
        listener = new TcpListener(IPAddress.Loopback, Port);
        LoopbackPort.Share(listener.Server);
        listener.Start();
        _ = AcceptAsync(listener, connected.Token);
    }

    private async Task AcceptAsync(TcpListener on, CancellationToken end)
    {
        try
        {
            while (true)
            {
                var client = await on.AcceptTcpClientAsync(end);
                _ = JoinAsync(client, end);
            }
        }
        catch (Exception error) when (error is SocketException or OperationCanceledException or ObjectDisposedException)
        {
            // The wire is cut.
        }
    }

    private async Task JoinAsync(TcpClient client, CancellationToken end)
    {
        using var near = client;
        using var far = new TcpClient();
        try
        {
            await far.ConnectAsync(host, port, end);
            await Task.WhenAny(CopyAsync(near, far, counted: false, end), CopyAsync(far, near, counted: true, end));
        }
        catch (Exception error) when (error is IOException or SocketException or OperationCanceledException)
        {
            // One of the ends let go.
        }
    }

    private async Task CopyAsync(TcpClient from, TcpClient to, bool counted, CancellationToken end)
    {
        var buffer = new byte[64 << 10];
        try
        {
            for (int count; (count = await from.GetStream().ReadAsync(buffer, end)) > 0; )
            {
                if (counted)
                {
                    var allowed = (int)Math.Min(count, Interlocked.Read(ref left));
                    Interlocked.Add(ref left, -count);
                    await to.GetStream().WriteAsync(buffer.AsMemory(0, allowed), end);
                    if (allowed == count)
                        continue;
                    Cut();
                    return;
                }

                await to.GetStream().WriteAsync(buffer.AsMemory(0, count), end);
            }
        }
        catch (Exception error)
            when (error
                    is IOException
                        or SocketException
                        or OperationCanceledException
                        or ObjectDisposedException
                        or InvalidOperationException
            )
        {
            // One of the ends let go.
        }
    }
}

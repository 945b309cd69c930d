using System.Buffers.Binary;
using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Junctra.Link.Fastboot;

namespace Junctra.StandIns;

/// <summary>
/// A simulated phone's side of the open fastboot protocol over TCP. The port is open only while the phone is in fastboot
/// mode with the cable in; a restart closes the port, and the connection with it.
/// </summary>
internal sealed class FastbootServer(SimulatedPhone phone, int port, StandInPace pace) : IDisposable
{
    private readonly SemaphoreSlim hands = new(1, 1);
    private CancellationTokenSource? open;
    private Task serving = Task.CompletedTask;

    public int Port { get; } = port;

    public SimulatedPhone Phone => phone;

    /// <summary>What is to go wrong next.</summary>
    public StandInFaults Faults { get; set; } = new();

    /// <summary>What the phone accepted since its program started, in order.</summary>
    public ConcurrentQueue<Accepted> Log { get; } = new();

    /// <summary>What the screen shows in between, while the phone starts.</summary>
    public string? Passing { get; private set; }

    /// <summary>Opens or closes the port, as the phone's mode wants it.</summary>
    public void Follow()
    {
        if (phone.AnswersFastboot && open is null)
        {
            open = new CancellationTokenSource();
            var listener = new TcpListener(IPAddress.Loopback, Port);
            listener.Start();
            serving = ServeAsync(listener, open.Token);
        }
        else if (!phone.AnswersFastboot && open is not null)
        {
            open.Cancel();
            open.Dispose();
            open = null;
        }
    }

    /// <summary>Does something with the phone while nothing else does.</summary>
    public async Task WithHandsAsync(Func<Task> act)
    {
        await hands.WaitAsync();
        try
        {
            await act();
            Follow();
        }
        finally
        {
            hands.Release();
        }
    }

    /// <summary>Restarts the phone: dark, the port closed, then where its software leads.</summary>
    public async Task RestartAsync(bool toBootloader)
    {
        phone.Enter(Core.Modes.PhoneMode.Off);
        Follow();
        await serving;
        Passing = "dark, then the maker's picture";
        await Task.Delay(pace.Restart);
        phone.StartBootChain();
        if (phone.Memory.Mode != Core.Modes.PhoneMode.Unknown)
        {
            var to = toBootloader ? Core.Modes.PhoneMode.Fastboot : phone.BootsTo();
            if (!toBootloader)
            {
                Passing = "starting";
                await Task.Delay(pace.FirstBoot);
            }

            phone.Enter(to);
        }

        Passing = null;
        Follow();
    }

    public void Dispose()
    {
        open?.Cancel();
        open?.Dispose();
        hands.Dispose();
    }

    private async Task ServeAsync(TcpListener listener, CancellationToken closed)
    {
        try
        {
            while (!closed.IsCancellationRequested)
            {
                using var tcp = await listener.AcceptTcpClientAsync(closed);
                try
                {
                    await new FastbootSession(this, tcp.GetStream(), pace).RunAsync(closed);
                }
                catch (Exception error) when (error is IOException or InvalidDataException or SocketException)
                {
                    // The computer let go of the cable, or talked nonsense: the phone waits for the next one.
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

/// <summary>How fast a stand-in does things.</summary>
/// <param name="BytesPerSecond">Rate of a transfer; 0 for no limit.</param>
/// <param name="Restart">Length of a restart.</param>
/// <param name="FirstBoot">Length of a first boot.</param>
/// <param name="MostDownload">Largest download in bytes; small, so that larger images come in pieces.</param>
internal sealed record StandInPace(long BytesPerSecond, TimeSpan Restart, TimeSpan FirstBoot, int MostDownload);

/// <summary>One connection.</summary>
internal sealed class FastbootSession(FastbootServer server, NetworkStream stream, StandInPace pace)
{
    private const int MostAtOnce = 256 << 10;
    private readonly SimulatedPhone phone = server.Phone;
    private Memory<byte>? held;
    private byte[] room = [];

    public async Task RunAsync(CancellationToken closed)
    {
        await stream.WriteAsync(FastbootWire.Greeting.ToArray(), closed);
        var greeting = new byte[FastbootWire.Greeting.Length];
        await stream.ReadExactlyAsync(greeting, closed);
        if (!greeting.AsSpan().StartsWith("FB"u8)) return;
        while (true)
        {
            string command;
            try
            {
                command = Encoding.ASCII.GetString(await FastbootWire.ReceiveAsync(stream, FastbootWire.MostCommandBytes, closed));
            }
            catch (EndOfStreamException)
            {
                return;
            }

            try
            {
                if (command is "reboot" or "reboot-bootloader")
                {
                    await AnswerAsync("OKAY", closed);
                    // Leaves this connection first: the restart closes the port and with it whatever is connected.
                    _ = server.WithHandsAsync(() => server.RestartAsync(command == "reboot-bootloader"));
                    return;
                }

                await ObeyAsync(command, closed);
            }
            catch (PhoneRefusesException refusal)
            {
                await AnswerAsync("FAIL" + refusal.Message, closed);
            }
        }
    }

    private async Task ObeyAsync(string command, CancellationToken closed)
    {
        var colon = command.IndexOf(':', StringComparison.Ordinal);
        var (verb, subject) = colon < 0 ? (command, "") : (command[..colon], command[(colon + 1)..]);
        switch (verb)
        {
            case "getvar":
                var value = subject == "product" && server.Faults.Product is { } product ? product
                    : subject == "max-download-size" ? $"0x{pace.MostDownload:x}" : phone.Variable(subject);
                await AnswerAsync(value is null ? "FAILno such variable" : "OKAY" + value, closed);
                break;
            case "download":
                await DownloadAsync(subject, closed);
                break;
            case "flash":
                if (held is null) throw new PhoneRefusesException("nothing was downloaded");
                await AnswerAsync($"INFOwriting {subject}", closed);
                Refuse();
                await LingerAsync(closed);
                await phone.FlashAsync(subject, held.Value);
                server.Log.Enqueue(new Accepted("flash", subject, held.Value.Length));
                held = null;
                await AnswerAsync("OKAY", closed);
                break;
            case "erase":
                Refuse();
                await LingerAsync(closed);
                phone.Erase(subject);
                server.Log.Enqueue(new Accepted("erase", subject, 0));
                await AnswerAsync("OKAY", closed);
                break;
            default:
                throw new PhoneRefusesException("unknown command");
        }
    }

    private async Task DownloadAsync(string size, CancellationToken closed)
    {
        if (!int.TryParse(size, System.Globalization.NumberStyles.AllowHexSpecifier, null, out var bytes) || bytes <= 0 || bytes > pace.MostDownload)
            throw new PhoneRefusesException($"at most {pace.MostDownload} bytes at once");
        await AnswerAsync($"DATA{bytes:x8}", closed);
        if (room.Length < bytes) room = GC.AllocateUninitializedArray<byte>(bytes);
        var data = room;
        var taken = 0;
        while (taken < bytes)
        {
            // The data may come as one message or as several.
            var length = await FastbootWire.ReceiveLengthAsync(stream, closed);
            if (length < 0 || length > bytes - taken) throw new InvalidDataException("More data than was announced.");
            for (var end = taken + (int)length; taken < end;)
            {
                var part = await stream.ReadAsync(data.AsMemory(taken, Math.Min(server.Faults.BytesUntilStrike(MostAtOnce), end - taken)), closed);
                if (part == 0) throw new EndOfStreamException();
                taken += part;
                var rate = server.Faults.BytesPerSecond ?? pace.BytesPerSecond;
                if (rate > 0) await Task.Delay(TimeSpan.FromSeconds((double)part / rate), closed);
                await StrikeAsync(part, closed);
            }
        }

        held = data.AsMemory(0, bytes);
        await AnswerAsync("OKAY", closed);
    }

    /// <summary>Pulls the cable or falls silent when it is time to.</summary>
    private async Task StrikeAsync(int part, CancellationToken closed)
    {
        var faults = server.Faults;
        faults.BytesTaken += part;
        if (faults.BytesTaken >= faults.DropAtByte)
        {
            faults.DropAtByte = null;
            throw new IOException("The cable is pulled.");
        }

        if (faults.BytesTaken >= faults.StallAtByte)
        {
            faults.StallAtByte = null;
            await Task.Delay(Timeout.Infinite, closed);
        }
    }

    private async Task LingerAsync(CancellationToken closed)
    {
        if (server.Faults.CommitMilliseconds is not { } time) return;
        server.Faults.CommitMilliseconds = null;
        await Task.Delay(time, closed);
    }

    private void Refuse()
    {
        if (server.Faults.RefuseWith is not { } text) return;
        server.Faults.RefuseWith = null;
        throw new PhoneRefusesException(text);
    }

    private async ValueTask AnswerAsync(string text, CancellationToken closed)
    {
        if (server.Faults.AnnounceLength is { } length)
        {
            server.Faults.AnnounceLength = null;
            var head = new byte[FastbootWire.LengthBytes];
            BinaryPrimitives.WriteInt64BigEndian(head, length);
            await stream.WriteAsync(head, closed);
            return;
        }

        if (server.Faults.AnswerWith is { } other)
        {
            server.Faults.AnswerWith = null;
            text = other;
        }

        await FastbootWire.SendAsync(stream, Encoding.UTF8.GetBytes(text), closed);
    }
}

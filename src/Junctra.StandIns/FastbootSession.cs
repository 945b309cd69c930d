using System.Buffers.Binary;
using System.Net.Sockets;
using System.Text;
using Junctra.Core.Twin;
using Junctra.Link.Fastboot;

namespace Junctra.StandIns;

/// <summary>One connection of a simulated phone's side of the open fastboot protocol over TCP.</summary>
internal sealed class FastbootSession(BenchPhone phone, NetworkStream stream, StandInPace pace)
{
    private Memory<byte>? held;
    private byte[] room = [];

    public async Task RunAsync(CancellationToken closed)
    {
        await stream.WriteAsync(FastbootWire.Greeting.ToArray(), closed);
        var greeting = new byte[FastbootWire.Greeting.Length];
        await stream.ReadExactlyAsync(greeting, closed);
        if (!greeting.AsSpan().StartsWith("FB"u8))
            return;
        while (true)
        {
            string command;
            try
            {
                command = Encoding.ASCII.GetString(await FastbootWire.ReceiveAsync(stream, FastbootWire.MaxCommandBytes, closed));
            }
            catch (EndOfStreamException)
            {
                return;
            }

            try
            {
                if (command is "reboot" or "reboot-bootloader" or "reboot-recovery" or "reboot-fastboot")
                {
                    if (phone.Twin.Next(phone.State, new Command(command)).Stage == phone.State.Stage)
                        throw new PhoneRefusesException("unknown command");
                    await AnswerAsync("OKAY", closed);
                    // The restart closes the port, and this connection with it; until then nobody else is served.
                    _ = phone.DoAsync(new Command(command));
                    await Task.Delay(Timeout.Infinite, closed);
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
                var value = phone.Variable(subject);
                await AnswerAsync(value is null ? "FAILno such variable" : "OKAY" + value, closed);
                break;
            case "download":
                await DownloadAsync(subject, closed);
                break;
            case "flash":
                if (held is null)
                    throw new PhoneRefusesException("nothing was downloaded");
                await AnswerAsync($"INFOwriting {subject}", closed);
                FaultStriker.Refuse(phone.Faults);
                await FaultStriker.LingerAsync(phone.Faults, closed);
                await phone.FlashAsync(subject, held.Value, closed);
                phone.Log.Enqueue(new Accepted("flash", subject, held.Value.Length));
                held = null;
                await AnswerAsync("OKAY", closed);
                break;
            case "erase":
                FaultStriker.Refuse(phone.Faults);
                await FaultStriker.LingerAsync(phone.Faults, closed);
                await phone.EraseAsync(subject, closed);
                phone.Log.Enqueue(new Accepted("erase", subject, 0));
                await AnswerAsync("OKAY", closed);
                break;
            default:
                throw new PhoneRefusesException("unknown command");
        }
    }

    private async Task DownloadAsync(string size, CancellationToken closed)
    {
        if (
            !int.TryParse(size, System.Globalization.NumberStyles.AllowHexSpecifier, null, out var bytes)
            || bytes <= 0
            || bytes > pace.MaxDownload
        )
            throw new PhoneRefusesException($"at most {pace.MaxDownload} bytes at once");
        await AnswerAsync($"DATA{bytes:x8}", closed);
        if (room.Length < bytes)
            room = GC.AllocateUninitializedArray<byte>(bytes);
        var data = room;
        var taken = 0;
        while (taken < bytes)
        {
            // The data may come as one message or as several.
            var length = await FastbootWire.ReceiveLengthAsync(stream, closed);
            if (length < 0 || length > bytes - taken)
                throw new InvalidDataException("More data than was announced.");
            await FaultStriker.ReadAsync(stream, data.AsMemory(taken, (int)length), phone, pace, null, closed);
            taken += (int)length;
        }

        held = data.AsMemory(0, bytes);
        await AnswerAsync("OKAY", closed);
    }

    private async ValueTask AnswerAsync(string text, CancellationToken closed)
    {
        if (phone.Faults.AnnounceLength is { } length)
        {
            phone.Faults.AnnounceLength = null;
            var head = new byte[FastbootWire.LengthBytes];
            BinaryPrimitives.WriteInt64BigEndian(head, length);
            await stream.WriteAsync(head, closed);
            return;
        }

        if (phone.Faults.AnswerWith is { } other)
        {
            phone.Faults.AnswerWith = null;
            text = other;
        }

        await FastbootWire.SendAsync(stream, Encoding.UTF8.GetBytes(text), closed);
    }
}

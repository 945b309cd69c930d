using System.Text;
using Junctra.Link.Fastboot;

namespace Junctra.Link.Tests;

/// <summary>The protocol byte by byte, against a peer that is played here.</summary>
public class WireTests
{
    [Fact]
    public async Task A_question_is_framed_as_the_protocol_says()
    {
        var heard = new MemoryStream();
        await using var peer = new ScriptedPeer(async stream =>
        {
            await stream.WriteAsync("FB01"u8.ToArray());
            var bytes = new byte[4 + 8 + 14];
            await stream.ReadExactlyAsync(bytes);
            heard.Write(bytes);
            await stream.WriteAsync(ScriptedPeer.Frame("INFOone moment"));
            await stream.WriteAsync(ScriptedPeer.Frame("OKAYHX204"));
        });
        var said = new List<string>();
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        client.Said += said.Add;
        Assert.Equal("HX204", await client.GetVariableAsync("product"));
        Assert.Equal("FB01\0\0\0\0\0\0\0\u000egetvar:product", Encoding.ASCII.GetString(heard.ToArray()));
        Assert.Equal(["one moment"], said);
    }

    [Fact]
    public async Task Data_follow_their_announcement_in_one_framed_message()
    {
        var heard = "";
        var data = Enumerable.Range(0, 1000).Select(i => (byte)i).ToArray();
        await using var peer = new ScriptedPeer(async stream =>
        {
            await ScriptedPeer.GreetAsync(stream);
            heard = Encoding.ASCII.GetString(await FastbootWire.ReceiveAsync(stream, 100, default));
            await stream.WriteAsync(ScriptedPeer.Frame("DATA000003e8"));
            var frame = new byte[8 + 1000];
            await stream.ReadExactlyAsync(frame);
            await stream.WriteAsync(
                ScriptedPeer.Frame(frame[6] == 3 && frame[7] == 0xE8 && frame.AsSpan(8).SequenceEqual(data) ? "OKAY" : "FAILother bytes")
            );
        });
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        await client.DownloadAsync(1000, (stream, cancel) => stream.WriteAsync(data, cancel));
        Assert.Equal("download:000003e8", heard);
    }

    [Fact]
    public async Task A_variable_the_phone_does_not_have_is_null()
    {
        await using var peer = ScriptedPeer.Answering("FAILunknown variable");
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        Assert.Null(await client.GetVariableAsync("colour"));
    }

    [Fact]
    public async Task Nothing_at_the_address_is_said_at_once() =>
        Assert.Equal(
            LinkFault.NoAnswer,
            (
                await Assert.ThrowsAsync<LinkException>(() =>
                    FastbootClient.ConnectAsync(new LinkAddress("127.0.0.1", Testing.StandInProcess.FreePorts(1)[0]), ScriptedPeer.Clocks)
                )
            ).Fault
        );

    [Theory]
    [InlineData("HTTP/1.1 400 Bad Request\r\n", LinkFault.NotUnderstood)]
    [InlineData("FBxx", LinkFault.NotUnderstood)]
    [InlineData("FB00", LinkFault.NotUnderstood)]
    [InlineData("", LinkFault.Lost)]
    [InlineData("F", LinkFault.Lost)]
    public async Task A_peer_that_does_not_greet_is_named(string greeting, LinkFault fault)
    {
        await using var peer = new ScriptedPeer(async stream => await stream.WriteAsync(Encoding.ASCII.GetBytes(greeting)));
        Assert.Equal(
            fault,
            (await Assert.ThrowsAsync<LinkException>(() => FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks))).Fault
        );
    }

    [Fact]
    public async Task A_silent_peer_is_given_up()
    {
        await using var peer = new ScriptedPeer(stream => stream.ReadAsync(new byte[100]).AsTask(), hold: true);
        Assert.Equal(
            LinkFault.Silent,
            (await Assert.ThrowsAsync<LinkException>(() => FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks))).Fault
        );
    }

    [Theory]
    [InlineData(new byte[] { 0x7F, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF }, LinkFault.NotUnderstood)]
    [InlineData(new byte[] { 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF }, LinkFault.NotUnderstood)]
    [InlineData(new byte[] { 0, 0, 0, 0, 0, 0, 1, 1 }, LinkFault.NotUnderstood)]
    [InlineData(new byte[] { 0, 0, 0, 0, 0, 0, 0, 0 }, LinkFault.NotUnderstood)]
    [InlineData(new byte[] { 0, 0, 0, 0, 0, 0, 0, 4, 87, 72, 65, 84 }, LinkFault.NotUnderstood)]
    [InlineData(new byte[] { 0, 0, 0, 0, 0, 0, 0, 9, 79, 75 }, LinkFault.Lost)]
    public async Task An_absurd_answer_is_a_fault_and_not_a_crash(byte[] answer, LinkFault fault)
    {
        await using var peer = new ScriptedPeer(async stream =>
        {
            await ScriptedPeer.GreetAsync(stream);
            await FastbootWire.ReceiveAsync(stream, 100, default);
            await stream.WriteAsync(answer);
        });
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        Assert.Equal(fault, (await Assert.ThrowsAsync<LinkException>(() => client.GetVariableAsync("product"))).Fault);
    }

    [Fact]
    public async Task An_announcement_answered_with_another_size_is_not_trusted()
    {
        await using var peer = ScriptedPeer.Answering("DATA00000010");
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        Assert.Equal(
            LinkFault.NotUnderstood,
            (await Assert.ThrowsAsync<LinkException>(() => client.DownloadAsync(1000, (_, _) => ValueTask.CompletedTask))).Fault
        );
    }

    [Fact]
    public async Task A_phone_that_is_gone_before_it_answered_has_restarted()
    {
        await using var peer = new ScriptedPeer(async stream =>
        {
            await ScriptedPeer.GreetAsync(stream);
            await FastbootWire.ReceiveAsync(stream, 100, default);
        });
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        await client.RestartAsync("reboot");
    }

    [Fact]
    public async Task A_phone_that_refuses_to_restart_is_named()
    {
        await using var peer = ScriptedPeer.Answering("FAILnot now");
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        Assert.Contains("not now", (await Assert.ThrowsAsync<LinkException>(() => client.RestartAsync("reboot"))).Message);
    }

    /// <summary>What a phone says is shown, journalled and kept in the audit: it cannot break a line there, nor turn one round.</summary>
    [Theory]
    [InlineData("FAILno\r\nlead Handed back.")]
    [InlineData("FAILno\u202Etixe")]
    [InlineData("FAILno\u2028next\u0000\u200B")]
    public async Task A_phones_words_carry_no_line_breaks_and_no_direction_marks(string answer)
    {
        await using var peer = ScriptedPeer.Answering(answer);
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        var message = (await Assert.ThrowsAsync<LinkException>(() => client.RestartAsync("reboot"))).Message;
        Assert.Contains("no", message);
        Assert.True(Core.ShownText.IsFit(message), message);
        await using var telling = ScriptedPeer.Answering("OKAY" + answer[4..]);
        await using var other = await FastbootClient.ConnectAsync(telling.Address, ScriptedPeer.Clocks);
        Assert.True(Core.ShownText.IsFit((await other.GetVariableAsync("serialno"))!));
    }

    [Fact]
    public async Task A_peer_that_talks_for_ever_is_given_up()
    {
        await using var peer = new ScriptedPeer(async stream =>
        {
            await ScriptedPeer.GreetAsync(stream);
            await FastbootWire.ReceiveAsync(stream, 100, default);
            while (true)
                await stream.WriteAsync(ScriptedPeer.Frame("INFOnearly there"));
        });
        await using var client = await FastbootClient.ConnectAsync(peer.Address, ScriptedPeer.Clocks);
        Assert.Equal(LinkFault.NotUnderstood, (await Assert.ThrowsAsync<LinkException>(() => client.GetVariableAsync("product"))).Fault);
    }

    [Fact]
    public async Task Bytes_that_are_not_taken_are_a_stall_and_not_for_ever()
    {
        await using var peer = new ScriptedPeer(
            async stream =>
            {
                await ScriptedPeer.GreetAsync(stream);
                await FastbootWire.ReceiveAsync(stream, 100, default);
                await stream.WriteAsync(ScriptedPeer.Frame($"DATA{100_000_000:x8}"));
            },
            hold: true
        );
        await using var client = await FastbootClient.ConnectAsync(
            peer.Address,
            ScriptedPeer.Clocks with
            {
                Transfer = TimeSpan.FromMilliseconds(300),
            }
        );
        var error = await Assert.ThrowsAsync<LinkException>(() =>
            client.DownloadAsync(100_000_000, (stream, cancel) => stream.WriteAsync(new byte[100_000_000], cancel))
        );
        Assert.Equal(LinkFault.Silent, error.Fault);
    }

    [Theory]
    [InlineData("127.0.0.1:5554", "127.0.0.1", 5554)]
    [InlineData("[::1]:5554", "::1", 5554)]
    public void Addresses_are_read(string text, string host, int port) =>
        Assert.Equal(new LinkAddress(host, port), LinkAddress.Parse(text));

    [Theory]
    [InlineData("")]
    [InlineData("127.0.0.1")]
    [InlineData("127.0.0.1:0")]
    [InlineData("127.0.0.1:70000")]
    [InlineData("a b:80")]
    public void What_is_no_address_is_refused(string text) => Assert.Null(LinkAddress.Parse(text));
}

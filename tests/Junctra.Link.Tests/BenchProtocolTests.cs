using System.Net;
using System.Net.Sockets;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Link.Bench;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Junctra's own protocol, against the stand-ins and against peers that mean no good.</summary>
public sealed class BenchProtocolTests : IAsyncLifetime
{
    private static readonly LinkClocks Clocks = LinkClocks.From(Repo.Catalogue.Figures);
    private StandInProcess phones = null!;

    public async ValueTask InitializeAsync() => phones = await StandInProcess.BorrowAsync();

    public ValueTask DisposeAsync() => phones.GiveBackAsync();

    private Task<PhoneReading> ReadAsync(LinkAddress address) =>
        PhoneReader.ReadAsync(address, Clocks, Repo.Catalogue, Sample.Noon, "bench");

    [Fact]
    public async Task A_phone_in_download_mode_says_what_its_screen_shows()
    {
        var reading = await ReadAsync(phones.D);
        Assert.Equal(
            ("download", "TRB62", "TRD40551", "4", "4", "locked", "official", "77", "Dolan Minor"),
            (
                reading[FactName.Mode],
                reading[FactName.ModelCode],
                reading[FactName.Serial],
                reading[FactName.RollbackFloor],
                reading[FactName.BootloaderRevision],
                reading[FactName.LockState],
                reading[FactName.DeviceStatus],
                reading[FactName.BatteryPercent],
                reading[FactName.ChipFamily]
            )
        );
        Assert.Equal("yes", reading[FactName.Reached(PhoneMode.Download)]);
        Assert.Empty(reading.Remarks);
    }

    [Fact]
    public async Task A_command_brings_it_out_and_an_unknown_one_is_refused_in_its_own_words()
    {
        Assert.Contains("no such command here", await BenchClient.CommandAsync(phones.D, Clocks, "dance"));
        Assert.Null(await BenchClient.CommandAsync(phones.D, Clocks, "end-session"));
        await Until.TrueAsync(async () => await phones.ModeAsync("D") == "system", "the phone has started");
        var error = await Assert.ThrowsAsync<LinkException>(() => ReadAsync(phones.D));
        Assert.Equal(LinkFault.NoAnswer, error.Fault);
        // Over the debugging link it answers who it is before this computer is allowed, and no more.
        await phones.EventsAsync("D", [.. Enumerable.Repeat(new Choose("build-number"), 7), new Choose("debugging")]);
        var shy = await ReadAsync(phones.D);
        Assert.Equal(
            ("system", "on", "TRD40551", null),
            (shy[FactName.Mode], shy[FactName.UsbDebugging], shy[FactName.Serial], shy[FactName.ModelCode])
        );
        Assert.Contains("not allowed", await BenchClient.CommandAsync(phones.D, Clocks, "debugging-write-mode"));
        await phones.EventsAsync("D", new Choose("allow"));
        Assert.Equal(
            ("authorised", "TRB62-N-14c-04-20260311"),
            (await ReadAsync(phones.D) is var reading ? reading[FactName.UsbDebugging] : null, reading[FactName.Build])
        );
        Assert.Null(await BenchClient.CommandAsync(phones.D, Clocks, "debugging-write-mode"));
        await Until.TrueAsync(async () => await phones.ModeAsync("D") == "download", "the command brought it into its write mode");
    }

    [Fact]
    public async Task Recovery_and_emergency_mode_answer_for_themselves()
    {
        await phones.EventsAsync("C", new Command("reboot-recovery"));
        await Until.TrueAsync(async () => await phones.ModeAsync("C") == "no-command", "its idle picture shows");
        await phones.EventsAsync(
            "C",
            new KeyDown("power"),
            new TimePasses(500),
            new KeyDown("volume-up"),
            new TimePasses(1000),
            new KeyUp("volume-up"),
            new KeyUp("power")
        );
        var recovery = await ReadAsync(phones.C);
        Assert.Equal(
            ("stock-recovery", "stock", "HXC70112"),
            (recovery[FactName.Mode], recovery[FactName.Recovery], recovery[FactName.Serial])
        );
        await phones.EventsAsync("A", new ErasePart("bootloader"), new Command("reboot"), new TimePasses(60_000));
        var emergency = await ReadAsync(phones.A);
        Assert.Equal(
            ("emergency", "Dolan Major", null),
            (emergency[FactName.Mode], emergency[FactName.ChipFamily], emergency[FactName.Serial])
        );
    }

    [Fact]
    public async Task The_computers_list_has_two_phones_at_one_port_and_the_faults_that_are_set()
    {
        var listed = await BenchClient.ListAsync(phones.List, Clocks, "D");
        Assert.Equal(2, listed.Count);
        Assert.Equal((null, true), (listed[0].Serial, listed[0].HasWarning));
        Assert.Equal(
            ("TRD40551", PhoneMode.Download, false, true, phones.D.ToString()),
            (listed[1].Serial, listed[1].Mode, listed[1].HasWarning, listed[1].IsAllowed, listed[1].Address)
        );
        Assert.Equal("two-listed", ListReading.Of(listed, null, PhoneMode.Download).SignId);
        Assert.Equal(
            ("right", "TRD40551"),
            (ListReading.Of(listed, "trd40551", PhoneMode.Download) is var right ? right.SignId : "", right.Target!.Serial)
        );
        foreach (
            var (faults, sign) in new (object, string)[]
            {
                (new { unlisted = true }, "nothing"),
                (new { warning = true }, "warning"),
                (new { unauthorised = true }, "unauthorised"),
                (new { mode = "recovery-commands" }, "wrong-mode"),
                (new { other = "X" }, "two-listed"),
                (new { }, "right"),
            }
        )
        {
            await phones.ListFaultAsync("D", faults);
            Assert.Equal(
                sign,
                ListReading
                    .Of(
                        await BenchClient.ListAsync(phones.List, Clocks, "D"),
                        sign == "two-listed" ? "TR000000" : "TRD40551",
                        PhoneMode.Download
                    )
                    .SignId
            );
        }

        await phones.ListFaultAsync("D", new { flakyEvery = 2 });
        var looks = new List<int>();
        for (var i = 0; i < 4; i++)
            looks.Add((await BenchClient.ListAsync(phones.List, Clocks, "D")).Count);
        Assert.Equal([0, 0, 1, 1], looks.Order());
        Assert.Empty(await BenchClient.ListAsync(phones.List, Clocks, "nowhere"));
    }

    [Theory]
    [InlineData("JB02", new byte[] { 0xFF, 0xFF, 0xFF, 0xFF }, LinkFault.NotUnderstood)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 0 }, LinkFault.NotUnderstood)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 1, 0xFF }, LinkFault.NotUnderstood)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 2, 0x61, 0x41 }, LinkFault.NotUnderstood)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 9, 0xA1, 0x62, 0x6F, 0x6B }, LinkFault.Lost)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 5, 0xA1, 0x62, 0x6F, 0x6B, 0xF4 }, LinkFault.Refused)]
    [InlineData("JB02", new byte[] { 0, 0, 0, 5, 0xA1, 0x62, 0x6F, 0x6B, 0xF5 }, LinkFault.NotUnderstood)]
    [InlineData("JB", new byte[0], LinkFault.Lost)]
    [InlineData("HELO", new byte[0], LinkFault.NotUnderstood)]
    public async Task A_peer_that_talks_nonsense_is_a_named_fault(string greeting, byte[] answer, LinkFault fault)
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var peer = Task.Run(async () =>
        {
            using var tcp = await listener.AcceptTcpClientAsync();
            var stream = tcp.GetStream();
            await stream.WriteAsync(System.Text.Encoding.ASCII.GetBytes(greeting));
            if (greeting == "JB02")
                await BenchWire.ReceiveAsync(Skip(stream, 4), default);
            await stream.WriteAsync(answer);
            tcp.Client.Shutdown(SocketShutdown.Send);
            while (await stream.ReadAsync(new byte[64]) > 0) { }
        });
        var error = await Assert.ThrowsAsync<LinkException>(() =>
            BenchClient.ReadAsync(
                new LinkAddress("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port),
                Clocks,
                Repo.Catalogue,
                Sample.Noon,
                "bench"
            )
        );
        Assert.Equal(fault, error.Fault);
        Assert.Matches("^[^\n]{10,}[.”]$", error.Message);
        await peer;
    }

    /// <summary>A phone that says two things of itself, in its facts and in its build string, is read as saying both.</summary>
    [Fact]
    public async Task What_a_phones_build_says_against_its_other_answers_is_kept()
    {
        using var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        var peer = Task.Run(async () =>
        {
            using var tcp = await listener.AcceptTcpClientAsync();
            var stream = tcp.GetStream();
            await stream.WriteAsync("JB02"u8.ToArray());
            await BenchWire.ReceiveAsync(Skip(stream, 4), default);
            await BenchWire.SendAsync(
                stream,
                new Dictionary<string, object?>
                {
                    ["ok"] = true,
                    ["mode"] = "download",
                    ["facts"] = new Dictionary<string, object?>
                    {
                        ["model-code"] = "TN63E",
                        ["region"] = "SRV",
                        ["bootloader-revision"] = "5",
                        ["build"] = "TN63W.5.2608.WHM2",
                    },
                },
                default
            );
            while (await stream.ReadAsync(new byte[64]) > 0) { }
        });
        var reading = await BenchClient.ReadAsync(
            new LinkAddress("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port),
            Clocks,
            Repo.Catalogue,
            Sample.Noon,
            "bench"
        );
        var phone = new Phone(reading.Facts);
        Assert.Equal(FactState.Conflicting, phone[FactName.ModelCode].State);
        Assert.Equal(FactState.Conflicting, phone[FactName.Region].State);
        Assert.Equal(FactState.Known, phone[FactName.BootloaderRevision].State);
        await peer;
    }

    [Fact]
    public async Task A_message_reads_back_as_it_was_and_depth_and_length_have_an_end()
    {
        var message = new Dictionary<string, object?>
        {
            ["ask"] = "who",
            ["n"] = 5L,
            ["yes"] = true,
            ["none"] = null,
            ["list"] = new List<object?>
            {
                "a",
                -7L,
                new Dictionary<string, object?> { ["x"] = false },
            },
        };
        using var stream = new MemoryStream();
        await BenchWire.SendAsync(stream, message, default);
        var read = BenchWire.Read(stream.ToArray().AsMemory(4));
        Assert.Equal(message.Keys.Order(), read.Keys.Order());
        Assert.Equal(["a", -7L], ((List<object?>)read["list"]!).Take(2));
        Assert.Throws<InvalidDataException>(() =>
            BenchWire.Read(
                new byte[] { 0xA1, 0x61, 0x61 }
                    .Concat(Enumerable.Repeat((byte)0x81, 40))
                    .Append((byte)0xF6)
                    .ToArray()
            )
        );
        Assert.Throws<InvalidDataException>(() =>
            BenchWire.Read(
                new byte[] { 0xA1, 0x61, 0x61, 0x99, 0x07, 0xD0 }
                    .Concat(Enumerable.Repeat((byte)0xF6, 2000))
                    .ToArray()
            )
        );
        Assert.Throws<InvalidDataException>(() => BenchWire.Read(new byte[] { 0xA1, 0x61, 0x61, 0xFB, 0, 0, 0, 0, 0, 0, 0, 0 }));
        Assert.Throws<InvalidDataException>(() => BenchWire.Read(new byte[] { 0xA2, 0x61, 0x61, 0xF6, 0x61, 0x61, 0xF6 }));
    }

    private static NetworkStream Skip(NetworkStream stream, int bytes)
    {
        stream.ReadExactly(new byte[bytes]);
        return stream;
    }
}

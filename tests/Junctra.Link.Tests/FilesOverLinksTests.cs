using System.Net;
using System.Net.Sockets;
using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Link.Bench;
using Junctra.Testing;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

/// <summary>Files over a phone's links, and what peers do that mean no good or are merely older.</summary>
public class FilesOverLinksTests(PhoneBench bench) : HandsBench(bench)
{
    public static TheoryData<int> Breaks => [.. Enumerable.Range(0, Sampled.Of(40, 4))];

    /// <summary>Wherever the cable comes out, no file counts as saved that is not whole, and the next run saves them all.</summary>
    [Theory]
    [MemberData(nameof(Breaks))]
    public async Task Wherever_the_cable_comes_out_no_half_file_counts_as_saved(int seed)
    {
        await Phones.DoAsync("K", "renew");
        var phone = new Phone((await ReadAsync(Phones["K"])).Facts).Supposing(FactName.LockState, "unlocked");
        var plan = Compile(phone, null, "N", erases: false);
        var there = await Phones.FilesAsync("K", "storage");
        var at = new Random(Sampled.Seed + seed).NextInt64(1, 850_000);
        await Phones.FaultAsync("K", new { dropAtByte = at });
        var broken = await CarryOutAsync("K", plan, [], phone);
        Assert.Equal(RunStatus.Failed, broken.Status);
        Assert.False(broken.HasTouchedPhone);
        foreach (var copy in broken.Copied)
        {
            Assert.Equal(there[copy.Name], copy.Sha256);
            Assert.Equal(
                copy.Sha256,
                Convert.ToHexStringLower(SHA256.HashData(await File.ReadAllBytesAsync(Path.Combine(Kept, copy.Sha256))))
            );
        }

        await Phones.FaultAsync("K", new { });
        var again = await CarryOutAsync("K", plan, [], phone);
        Assert.True(again.Status == RunStatus.Finished, again.WhatHappened);
        Assert.Equal(there, again.Copied.ToDictionary(copy => copy.Name, copy => copy.Sha256));
    }

    [Theory]
    [InlineData("{\"answerWith\":\"dancing\"}", "was asked for its files and named none")]
    [InlineData("{\"announceLength\":2147483647}", "made no sense")]
    [InlineData("{\"announceLength\":-1}", "made no sense")]
    public async Task A_phone_that_talks_nonsense_ends_the_run_with_its_reason(string faults, string reason)
    {
        await Phones.DoAsync("K", "renew");
        var phone = new Phone((await ReadAsync(Phones["K"])).Facts).Supposing(FactName.LockState, "unlocked");
        var plan = Compile(phone, null, "N", erases: false);
        await Phones.FaultAsync("K", System.Text.Json.JsonSerializer.Deserialize<System.Text.Json.JsonElement>(faults));
        var state = await CarryOutAsync("K", plan, [], phone);
        Assert.Equal(RunStatus.Failed, state.Status);
        Assert.Contains(reason, state.WhatHappened);
        Assert.Empty(state.Copied);
    }

    [Theory]
    [InlineData("../outside")]
    [InlineData("/etc/passwd")]
    [InlineData("pictures//1.jpg")]
    [InlineData("a\\b")]
    [InlineData("line\nbreak")]
    [InlineData("")]
    public async Task A_phone_does_not_choose_where_a_copy_lies(string name)
    {
        await using var session = await BenchSession.ConnectAsync(Listing([Listed(name, new string('a', 64))]), Clocks);
        var error = await Assert.ThrowsAsync<LinkException>(() => session.ListAsync(PhonePlace.Storage));
        Assert.Equal(LinkFault.NotUnderstood, error.Fault);
        Assert.Contains("lists a file that is none", error.Message);
    }

    [Fact]
    public async Task A_list_that_never_ends_is_left()
    {
        await using var session = await BenchSession.ConnectAsync(Listing([], more: true), Clocks);
        var error = await Assert.ThrowsAsync<LinkException>(() => session.ListAsync(PhonePlace.Storage));
        Assert.Contains("never ends the list", error.Message);
    }

    [Theory]
    [InlineData("JB01", "an older version of the protocol")]
    [InlineData("JB00", "no phone that is understood here")]
    [InlineData("JBxx", "no phone that is understood here")]
    [InlineData("HTTP", "no phone that is understood here")]
    public async Task An_older_phone_is_not_written_to(string greeting, string said)
    {
        var error = await Assert.ThrowsAsync<LinkException>(() =>
            BenchSession.ConnectAsync(Serving(greeting, _ => Task.CompletedTask), Clocks)
        );
        Assert.Contains(said, error.Message);
    }

    [Fact]
    public async Task A_newer_phone_speaks_as_this_computer_does()
    {
        await using var session = await BenchSession.ConnectAsync(
            Listing([Listed("a.jpg", new string('a', 64))], greeting: "JB07"),
            Clocks
        );
        Assert.Equal([new PhoneFile("a.jpg", 3, new string('a', 64))], await session.ListAsync(PhonePlace.Storage));
    }

    [Theory]
    [InlineData("G", "system", "this computer is not allowed")]
    [InlineData("D", "download", "it gives no files here")]
    public async Task Files_are_given_only_where_the_phone_allows_it(string name, string mode, string why)
    {
        if (name != "D")
        {
            await Phones.DoAsync(name, "renew");
            await Phones.EventsAsync(
                name,
                [new CableIn("bench computer"), .. Enumerable.Repeat(new Choose("build-number"), 7), new Choose("debugging")]
            );
        }

        Assert.Equal(mode, await Phones.ModeAsync(name));
        await using var session = await BenchSession.ConnectAsync(Phones[name], Clocks);
        var error = await Assert.ThrowsAsync<LinkException>(() => session.ListAsync(PhonePlace.Storage));
        Assert.Equal(LinkFault.Refused, error.Fault);
        Assert.Contains(why, error.Message);
    }

    private static Dictionary<string, object?> Listed(string name, string digest) =>
        new()
        {
            ["name"] = name,
            ["bytes"] = 3L,
            ["sha256"] = digest,
        };

    /// <summary>A peer that lists such files, whatever it is asked.</summary>
    private static LinkAddress Listing(List<object?> files, bool more = false, string greeting = "JB02") =>
        Serving(greeting, async stream =>
        {
            while (true)
            {
                await BenchWire.ReceiveAsync(stream, default);
                await BenchWire.SendAsync(
                    stream,
                    new Dictionary<string, object?>
                    {
                        ["ok"] = true,
                        ["files"] = files,
                        ["more"] = more,
                    },
                    default
                );
            }
        });

    private static LinkAddress Serving(string greeting, Func<NetworkStream, Task> serve)
    {
        var listener = new TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        _ = Task.Run(async () =>
        {
            using var tcp = await listener.AcceptTcpClientAsync();
            listener.Stop();
            try
            {
                await tcp.GetStream().WriteAsync(System.Text.Encoding.ASCII.GetBytes(greeting));
                await tcp.GetStream().ReadExactlyAsync(new byte[4]);
                await serve(tcp.GetStream());
            }
            catch (Exception error) when (error is IOException or InvalidDataException)
            {
                // The computer let go.
            }
        });
        return new LinkAddress("127.0.0.1", ((IPEndPoint)listener.LocalEndpoint).Port);
    }
}

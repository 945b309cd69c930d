using System.Net.Sockets;
using System.Text;
using Junctra.Link.Bench;

namespace Junctra.Link.Tests;

/// <summary>Pieces of an image are held against a digest by both ends, by the quick one only where both know it.</summary>
public class PieceDigestTests(PhoneBench bench) : WriteBench(bench)
{
    private static readonly byte[] Piece = Encoding.ASCII.GetBytes("a piece of an image");

    // XXH3 with 128 bits, and SHA-256, of those bytes, by other programs (xxhsum -H2, sha256sum).
    private const string Xxh128 = "820f38d1950effe4e6bc5fd0a94266b4";
    private const string Sha256 = "05baa60556b014d9d17c07b9412033538f93d936aa0b095f1385f6ec16001cf0";

    [Theory]
    [InlineData("xxh128", Xxh128, true)]
    [InlineData("sha256", Sha256, true)]
    [InlineData("xxh128", Sha256, false)]
    [InlineData("xxh128", "00000000000000000000000000000000", false)]
    [InlineData("sha256", Xxh128, false)]
    [InlineData("md5", Sha256, false)]
    public async Task A_phone_holds_what_agrees_with_either_digest(string name, string digest, bool isHeld)
    {
        await Phones.DoAsync("H", "renew");
        await IntoDownloadAsync();
        using var tcp = new TcpClient(Phones.H.Host, Phones.H.Port);
        var stream = tcp.GetStream();
        await BenchWire.GreetAsync(stream, default);
        var begun = await AskAsync(
            stream,
            new()
            {
                ["ask"] = "begin",
                ["serial"] = "TNH60418",
                ["model-code"] = "TN63E",
                ["images"] = new List<object?>
                {
                    new Dictionary<string, object?> { ["partition"] = "boot", ["sha256"] = Sha256 },
                },
            }
        );
        Assert.Equal("xxh128", begun["piece-digest"]);
        await AskAsync(
            stream,
            new()
            {
                ["ask"] = "piece",
                ["partition"] = "boot",
                ["bytes"] = (long)Piece.Length,
            }
        );
        await stream.WriteAsync(Piece);
        var answer = await AskAsync(stream, new() { ["ask"] = "held", [name] = digest });
        Assert.Equal(isHeld, answer["ok"]);
        Assert.Equal(isHeld ? "held" : null, answer.GetValueOrDefault("state"));
    }

    [Theory]
    [InlineData(null, "sha256", Sha256)]
    [InlineData("xxh128", "xxh128", Xxh128)]
    [InlineData("crc9000", "sha256", Sha256)]
    public async Task A_computer_says_the_quick_digest_only_to_a_phone_that_names_it(string? named, string said, string digest)
    {
        IReadOnlyDictionary<string, object?>? held = null;
        await using var phone = new ScriptedPeer(async stream =>
        {
            await BenchWire.GreetAsync(stream, default);
            await BenchWire.ReceiveAsync(stream, default);
            var begun = new Dictionary<string, object?> { ["ok"] = true, ["piece-bytes"] = 1_000_000L };
            if (named is not null)
                begun["piece-digest"] = named;
            await BenchWire.SendAsync(stream, begun, default);
            await BenchWire.ReceiveAsync(stream, default);
            await BenchWire.SendAsync(stream, new Dictionary<string, object?> { ["ok"] = true }, default);
            await stream.ReadExactlyAsync(new byte[Piece.Length]);
            held = await BenchWire.ReceiveAsync(stream, default);
            await BenchWire.SendAsync(stream, new Dictionary<string, object?> { ["ok"] = true, ["state"] = "held" }, default);
        });
        await using var session = await BenchSession.ConnectAsync(phone.Address, Clocks);
        await session.BeginAsync(new BenchTarget("S", "M"), [new AnnouncedImage("boot", Sha256)]);
        await session.SendPieceAsync("boot", Piece.Length, async (stream, cancel) => await stream.WriteAsync(Piece, cancel));
        Assert.Equal(digest, held![said]);
        Assert.Equal(2, held.Count);
    }

    private static async Task<IReadOnlyDictionary<string, object?>> AskAsync(NetworkStream stream, Dictionary<string, object?> question)
    {
        await BenchWire.SendAsync(stream, question, default);
        return await BenchWire.ReceiveAsync(stream, default);
    }
}

using System.Net.Sockets;
using System.Text;
using Junctra.Testing;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>What never becomes a request for the program, sent byte by byte to a real server.</summary>
[Collection(nameof(DoorsWorld))]
public sealed class ServerRefusalTests(WebWorld world)
{
    private const string Host = "Host: junctra\r\n";

    private static readonly (string Request, string Status)[] Unreadable =
    [
        ($"GET /sign-in HTTP/1.1\r\n{Host}X-Name: a\0b\r\n\r\n", "400"),
        ($"GET /sign-in HTTP/1.1\r\n{Host}Cookie: a=\0\r\n\r\n", "400"),
        ($"POST /sign-in HTTP/1.1\r\n{Host}Content-Length: 1\0\r\n\r\n", "400"),
        ($"GET /sign-in HTTP/1.1\r\n{Host}X-Name: {new string('x', 40_000)}\r\n\r\n", "431"),
        ($"GET /sign-in HTTP/1.1\r\n{Host}{string.Concat(Enumerable.Repeat("X-Name: a\r\n", 200))}\r\n", "431"),
        ($"GET /jobs%00 HTTP/1.1\r\n{Host}\r\n", "400"),
        ($"GET /jo\0bs HTTP/1.1\r\n{Host}\r\n", "400"),
        ($"GET /{new string('x', 9_000)} HTTP/1.1\r\n{Host}\r\n", "414"),
        ("GET /sign-in HTTP/1.1\r\n\r\n", "400"),
        ($"GET /sign-in HTTP/9.9\r\n{Host}\r\n", "505"),
        ("what is this\r\n\r\n", "400"),
    ];

    [Fact]
    public async Task What_the_server_itself_refuses_is_refused_in_words_and_with_the_headers_of_every_answer()
    {
        await using var empty = await TestDatabase.CreateAsync();
        await using var shop = world.Shop(empty.Connection);
        shop.UseKestrel(0);
        shop.StartServer();
        var address = new Uri(shop.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.Single());
        foreach (var (request, status) in Unreadable)
        {
            using var socket = new TcpClient();
            await socket.ConnectAsync("127.0.0.1", address.Port);
            await socket.GetStream().WriteAsync(Encoding.Latin1.GetBytes(request));
            // To its end: the server closes what it cannot follow.
            var answer = await new StreamReader(socket.GetStream()).ReadToEndAsync().WaitAsync(TimeSpan.FromMinutes(5));
            var end = answer.IndexOf("\r\n\r\n", StringComparison.Ordinal);
            var (head, body) = (answer[..end], answer[(end + 4)..]);
            Assert.StartsWith($"HTTP/1.1 {status} ", head);
            Assert.Contains("Content-Security-Policy: default-src 'none'", head);
            Assert.Contains("X-Content-Type-Options: nosniff", head);
            Assert.Contains($"Content-Length: {Encoding.UTF8.GetByteCount(body)}", head);
            Assert.Matches(@"^[A-Z][a-z]+ .+\.\s*$", body);
            Assert.DoesNotContain("Exception", body);
        }
    }
}

using System.Collections.Concurrent;
using System.Text;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;

namespace Junctra.Web.Tests;

/// <summary>What a collector of traces is sent: routes and statements, and nothing of anybody.</summary>
[Collection(nameof(DoorsWorld))]
public sealed class TraceTests(WebWorld world)
{
    private const string Password = "a-password-of-hers";

    // Words that nothing but a visit can have brought there.
    private static readonly string[] Personal =
    [
        "quillfeather",
        "SN-7Q-41-KESTREL",
        "0977-wren",
        "Mrs Oriole Tansy",
        "Magpie/7.7",
        Password,
    ];

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>Takes what is sent to it over HTTP, as the collectors' own specification has it.</summary>
    private sealed class Collector : IAsyncDisposable
    {
        private readonly ConcurrentQueue<byte[]> sent = [];
        private readonly WebApplication application;

        private Collector()
        {
            var builder = WebApplication.CreateSlimBuilder();
            builder.WebHost.UseSetting("urls", "http://127.0.0.1:0");
            builder.Logging.ClearProviders();
            application = builder.Build();
            application.MapPost("/v1/traces", async (HttpRequest request) =>
            {
                using var body = new MemoryStream();
                await request.Body.CopyToAsync(body);
                sent.Enqueue(body.ToArray());
                return Results.Bytes([], "application/x-protobuf");
            });
        }

        /// <summary>Where it answers.</summary>
        public string Address =>
            application.Services.GetRequiredService<IServer>().Features.GetRequiredFeature<IServerAddressesFeature>().Addresses.Single();

        /// <summary>All that came, one letter a byte: what is text in it can be read.</summary>
        public string Text => string.Concat(sent.Select(Encoding.Latin1.GetString));

        public static async Task<Collector> StartAsync()
        {
            var collector = new Collector();
            await collector.application.StartAsync(Cancel);
            return collector;
        }

        public ValueTask DisposeAsync() => application.DisposeAsync();
    }

    [Fact]
    public async Task A_collector_is_sent_routes_and_statements_and_nothing_of_anybody()
    {
        await using var collector = await Collector.StartAsync();
        await using var empty = await TestDatabase.CreateAsync();
        await using (
            var shop = world.Shop(
                empty.Connection,
                ("urls", "http://127.0.0.1:0"),
                ("OTEL_EXPORTER_OTLP_ENDPOINT", collector.Address),
                ("OTEL_EXPORTER_OTLP_PROTOCOL", "http/protobuf")
            )
        )
        {
            shop.UseKestrel(0);
            shop.StartServer();
            using var client = shop.CreateClient();
            client.DefaultRequestHeaders.UserAgent.ParseAdd("Magpie/7.7");
            await using (var scope = shop.Services.CreateAsyncScope())
            {
                var staff = scope.ServiceProvider.GetRequiredService<UserManager<StaffRow>>();
                var row = new StaffRow { UserName = "quillfeather" };
                Assert.True((await staff.CreateAsync(row, Password)).Succeeded);
                await staff.AddToRolesAsync(row, StaffRoles.All);
            }

            await WebWorld.PostAsync(client, "/sign-in", null, ("Name", "quillfeather"), ("Password", "not " + Password));
            await WebWorld.PostAsync(client, "/sign-in", null, ("Name", "quillfeather"), ("Password", Password));
            var kept = await WebWorld.PostAsync(
                client,
                "/jobs/new",
                null,
                ("Form.Ticket", "0977-wren"),
                ("Form.Description", "for Mrs Oriole Tansy"),
                ("Form.Complaint", "of Mrs Oriole Tansy"),
                ("Form.DataWish", "MayGo"),
                ("Form.OwnershipStated", "true")
            );
            Assert.Contains("0977-wren", $"{kept.RequestMessage!.RequestUri}", StringComparison.OrdinalIgnoreCase);
            var noted = await WebWorld.PostAsync(
                client,
                "/jobs/0977-wren/find-out",
                "Note",
                ("name", "serial"),
                ("value", "SN-7Q-41-KESTREL"),
                ("source", "Label")
            );
            Assert.Contains("SN-7Q-41-KESTREL", await noted.Content.ReadAsStringAsync(Cancel));
            var found = await client.GetStringAsync("/find?q=SN-7Q-41-KESTREL", Cancel);
            Assert.Contains("0977-wren", found, StringComparison.OrdinalIgnoreCase);
            await client.GetAsync("/jobs/0977-nobody-knows-wren", Cancel);
        }

        // What it kept to send at once, it sends when it ends.
        var text = collector.Text;
        Assert.Contains("jobs/{ticket}/find-out", text, StringComparison.OrdinalIgnoreCase);
        Assert.Contains("insert into", text, StringComparison.OrdinalIgnoreCase);
        Assert.DoesNotContain("unknown_service", text);
        foreach (var word in Personal.Append("nobody-knows"))
            Assert.False(text.Contains(word, StringComparison.OrdinalIgnoreCase), $"“{word}” was sent to the collector");
    }
}

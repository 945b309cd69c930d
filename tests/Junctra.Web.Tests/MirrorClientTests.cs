using Junctra.Store;
using Junctra.Web.Library.Arrivals;
using Microsoft.AspNetCore.DataProtection;

namespace Junctra.Web.Tests;

/// <summary>Mirrors as strangers: what they answer is bounded in length and in time.</summary>
public sealed class MirrorClientTests
{
    /// <summary>Mirrors that give a little for ever: before the answer, within it, or while they are measured.</summary>
    [Theory]
    [InlineData("silent", "does not answer")]
    [InlineData("drips", "broke off")]
    [InlineData("endless", "longer than")]
    public async Task An_index_that_never_ends_is_given_up(string how, string problem)
    {
        await using var mirror = await ScriptedMirror.StartAsync(async http =>
        {
            if (how == "silent")
                await Task.Delay(Timeout.Infinite, http.RequestAborted);
            var piece = how == "drips" ? new byte[1] : new byte[1 << 20];
            while (!http.RequestAborted.IsCancellationRequested)
            {
                await http.Response.Body.WriteAsync(piece, http.RequestAborted);
                await http.Response.Body.FlushAsync(http.RequestAborted);
                if (how == "drips")
                    await Task.Delay(10, http.RequestAborted);
            }
        });
        var row = new MirrorRow
        {
            Name = "Drip",
            BaseAddress = mirror.Address + "/m",
            IndexForm = "json",
            IndexPath = "index.json",
        };
        using var http = MirrorClient.CreateHttp();
        var soon = TimeSpan.FromMilliseconds(300);
        // An answer that has begun may take longer than one that has not; each is given up by its own limit.
        var tickets = new MirrorTickets(new EphemeralDataProtectionProvider());
        var client = new MirrorClient(
            http,
            tickets,
            how switch
            {
                "silent" => MirrorPatience.Usual with { Answer = soon },
                "drips" => MirrorPatience.Usual with { Index = soon },
                _ => MirrorPatience.Usual,
            }
        );
        var error = await Assert.ThrowsAsync<SourceException>(() => client.IndexAsync(row, TestContext.Current.CancellationToken));
        Assert.Contains(problem, error.Message);
        if (how == "drips")
            Assert.InRange(
                await new MirrorClient(http, tickets, MirrorPatience.Usual with { Measure = soon }).MeasureAsync(
                    row,
                    "x.tar",
                    TestContext.Current.CancellationToken
                ),
                0.001,
                1_000_000
            );
    }
}

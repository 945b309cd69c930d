using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using System.Text.RegularExpressions;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>A bench with ten weeks of history.</summary>
public sealed partial class HistoryBench : IAsyncLifetime
{
    /// <summary>The bench.</summary>
    public WebWorld Here { get; } = new();

    /// <summary>The history of the demo shop, as lines.</summary>
    public byte[] History { get; private set; } = [];

    public async ValueTask InitializeAsync()
    {
        await Here.InitializeAsync();
        await using var packed = new GZipStream(
            File.OpenRead(Path.Combine(Repo.Root, "demo", "history.jsonl.gz")),
            CompressionMode.Decompress
        );
        using var plain = new MemoryStream();
        await packed.CopyToAsync(plain);
        History = plain.ToArray();
        Assert.Contains("<b>160</b> taken in", await TakeInAsync(Here.Client(), History));
        await SettleAsync(Here);
    }

    public ValueTask DisposeAsync() => Here.DisposeAsync();

    /// <summary>Waits until every job stands in the logbook as it is.</summary>
    public static Task SettleAsync(WebWorld world) =>
        Until.TrueAsync(
            async () =>
            {
                await using var db = world.Database.CreateDbContext();
                return !await db.LogbookDue.AnyAsync();
            },
            "the logbook is up to date"
        );

    /// <summary>Has a file taken in, and gives what the page says of it in the end.</summary>
    public static async Task<string> TakeInAsync(HttpClient client, byte[] file)
    {
        var page = await client.GetStringAsync("/records");
        using var form = new MultipartFormDataContent
        {
            { new StringContent(Token().Match(page).Groups[1].Value), "__RequestVerificationToken" },
        };
        var content = new ByteArrayContent(file);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        form.Add(content, "file", "logbook");
        using var answer = await client.PostAsync("/records?handler=TakeIn", form);
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        // It goes on beside the pages; the page asks for this part of it until it is done.
        var told = "";
        await Until.TrueAsync(
            async () =>
            {
                told = await client.GetStringAsync("/records?handler=TakingIn");
                return !told.Contains("data-moving", StringComparison.Ordinal);
            },
            "the file is taken in"
        );
        return told;
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\"[^>]*value=\"([^\"]+)\"")]
    private static partial Regex Token();
}

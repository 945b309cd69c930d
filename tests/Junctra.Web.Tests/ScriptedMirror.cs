using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.Extensions.Logging;

namespace Junctra.Web.Tests;

/// <summary>A mirror that does what a test says, good or bad.</summary>
internal sealed class ScriptedMirror : IAsyncDisposable
{
    private readonly WebApplication app;

    private ScriptedMirror(WebApplication app) => this.app = app;

    /// <summary>Answers every request.</summary>
    public required Func<HttpContext, Task> Answer { get; set; }

    /// <summary>What was asked for, in order: the path, and the range where there was one.</summary>
    public List<string> Asked { get; } = [];

    public string Address => app.Urls.First();

    public static async Task<ScriptedMirror> StartAsync(Func<HttpContext, Task> answer)
    {
        var builder = WebApplication.CreateSlimBuilder();
        builder.Logging.ClearProviders();
        builder.WebHost.UseUrls("http://127.0.0.1:0");
        var mirror = new ScriptedMirror(builder.Build()) { Answer = answer };
        mirror.app.Run(async http =>
        {
            lock (mirror.Asked)
                mirror.Asked.Add($"{http.Request.Path} {http.Request.Headers.Range}".Trim());
            await mirror.Answer(http);
        });
        await mirror.app.StartAsync();
        return mirror;
    }

    /// <summary>Gives bytes as a mirror with ranges does.</summary>
    /// <param name="http">The request.</param>
    /// <param name="bytes">The file.</param>
    /// <param name="tag">Its entity tag.</param>
    /// <param name="breakAfter">Bytes of this answer after which the line breaks, or null.</param>
    public static async Task GiveAsync(HttpContext http, byte[] bytes, string tag = "\"one\"", int? breakAfter = null)
    {
        var from = 0;
        var range = http.Request.GetTypedHeaders().Range?.Ranges.FirstOrDefault();
        if (
            range?.From is { } wanted
            && (http.Request.Headers.IfRange.Count == 0 || http.Request.Headers.IfRange == tag)
            && wanted < bytes.Length
        )
        {
            from = (int)wanted;
            http.Response.StatusCode = StatusCodes.Status206PartialContent;
            http.Response.Headers.ContentRange = $"bytes {from}-{bytes.Length - 1}/{bytes.Length}";
        }

        http.Response.Headers.ETag = tag;
        http.Response.ContentLength = bytes.Length - from;
        var count = Math.Min(breakAfter ?? int.MaxValue, bytes.Length - from);
        for (var at = 0; at < count; at += 64 << 10)
            await http.Response.Body.WriteAsync(bytes.AsMemory(from + at, Math.Min(64 << 10, count - at)));
        await http.Response.Body.FlushAsync();
        if (count < bytes.Length - from)
            http.Abort();
    }

    public async ValueTask DisposeAsync() => await app.DisposeAsync();
}

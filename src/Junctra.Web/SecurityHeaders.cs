namespace Junctra.Web;

/// <summary>
/// Headers of every answer. Scripts, styles and fonts come from this address only and never from within a page; no page
/// may be framed; nothing is sent elsewhere.
/// </summary>
internal sealed class SecurityHeaders(RequestDelegate next)
{
    private const string Policy =
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; "
        + "form-action 'self'; base-uri 'none'; frame-ancestors 'none'";

    public Task InvokeAsync(HttpContext context)
    {
        // At the last moment: a page of errors begins with headers that were cleared.
        context.Response.OnStarting(() =>
        {
            Set(context.Response.Headers);
            return Task.CompletedTask;
        });
        return next(context);
    }

    public static void Set(IHeaderDictionary headers)
    {
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        // What a shop knows of its customers stays in no cache; files that are everybody's say otherwise.
        if (headers.CacheControl.Count == 0)
            headers.CacheControl = "no-store";
    }
}

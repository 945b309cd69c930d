using Junctra.Web.Api;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace Junctra.Web;

/// <summary>
/// Refuses what no field here can mean before anything looks at it: characters that no database keeps, and texts longer than any field.
/// Whoever is not signed in sends no more than a sign-in needs.
/// </summary>
internal sealed class PlainInput(RequestDelegate next)
{
    /// <summary>Most bytes of a request from somebody who is not signed in.</summary>
    public const long MaxStrangersBytes = 32 << 10;

    private const int MaxQueryCharacters = 8 << 10;

    public Task InvokeAsync(HttpContext context)
    {
        var request = context.Request;
        if (
            request.Path.Value?.Contains('\0') == true
            || request.QueryString.Value is { } query
                && (query.Length > MaxQueryCharacters || query.Contains("%00", StringComparison.Ordinal))
        )
        {
            context.Response.StatusCode = StatusCodes.Status400BadRequest;
            return Task.CompletedTask;
        }

        // A program signs in by its token only when its endpoint asks for it, and has a limit of its own there. Elsewhere a token opens
        // nothing.
        var isProgram = request.Headers.Authorization.Count > 0 && request.Path.StartsWithSegments(MatchApi.Path);
        if (context.User.Identity?.IsAuthenticated != true && !isProgram)
        {
            if (request.ContentLength > MaxStrangersBytes)
            {
                context.Response.StatusCode = StatusCodes.Status413PayloadTooLarge;
                return Task.CompletedTask;
            }

            if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
                limit.MaxRequestBodySize = MaxStrangersBytes;
        }

        return next(context);
    }
}

/// <summary>The same for the fields of forms.</summary>
internal sealed class PlainFields : IAsyncPageFilter
{
    private const int MaxCharacters = 20_000;

    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        // The page that says so must not stumble over the same form.
        if (context.HandlerInstance is not Pages.ErrorModel && await HoldsUnfitAsync(context.HttpContext.Request))
            context.Result = new BadRequestResult();
        else
            await next();
    }

    private static async Task<bool> HoldsUnfitAsync(HttpRequest request)
    {
        if (!request.HasFormContentType)
            return false;
        try
        {
            return (await request.ReadFormAsync(request.HttpContext.RequestAborted)).Any(field =>
                IsUnfit(field.Key) || field.Value.Any(IsUnfit)
            );
        }
        catch (InvalidDataException)
        {
            return true;
        }
    }

    private static bool IsUnfit(string? text) => text is not null && (text.Length > MaxCharacters || text.Contains('\0'));
}

using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Formats.MatchFiles;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.OpenApi;

namespace Junctra.Web.Api;

/// <summary>What other programs ask: a phone's facts in, a match report out. Its shape is that of <c>junctra-cli match</c>.</summary>
internal static class MatchApi
{
    /// <summary>Path under which the first version lies.</summary>
    public const string Path = "/api/v1";

    /// <summary>A token where one is sent, else the sign-in of the browser.</summary>
    private const string EitherScheme = "token-or-browser";

    private const string DocumentName = "v1";
    private const long MaxRequestBytes = 256 * 1024;

    // A name that is mistyped must not be passed over: the phone would be judged without it.
    private static readonly JsonSerializerOptions Json = new(JsonSerializerDefaults.Web)
    {
        UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow,
    };

    public static void AddMatchApi(this IServiceCollection services)
    {
        services.AddScoped<Tokens>();
        services
            .AddAuthentication()
            .AddScheme<Microsoft.AspNetCore.Authentication.AuthenticationSchemeOptions, TokenSignIn>(TokenSignIn.SchemeName, null)
            .AddPolicyScheme(EitherScheme, null, scheme =>
                scheme.ForwardDefaultSelector = context =>
                    context.Request.Headers.Authorization.Count > 0 ? TokenSignIn.SchemeName : IdentityConstants.ApplicationScheme
            );
        services.AddOpenApi(DocumentName, options => options.AddDocumentTransformer(
                (document, _, _) =>
                {
                    document.Info = new OpenApiInfo
                    {
                        Title = "Junctra",
                        Version = "1",
                        Description = "May this package go on this phone, and why. Sign in with a personal token.",
                    };
                    document.Servers = [];
                    document.Components ??= new OpenApiComponents();
                    document.Components.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>
                    {
                        ["token"] = new OpenApiSecurityScheme { Type = SecuritySchemeType.Http, Scheme = "bearer" },
                    };
                    document.Security = [new OpenApiSecurityRequirement { [new OpenApiSecuritySchemeReference("token", document)] = [] }];
                    return Task.CompletedTask;
                }
            ));
    }

    public static void MapMatchApi(this IEndpointRouteBuilder endpoints)
    {
        endpoints
            .MapOpenApi(Path + "/openapi.json")
            .RequireAuthorization(policy => policy.AddAuthenticationSchemes(EitherScheme).RequireAuthenticatedUser());
        endpoints
            .MapPost(Path + "/match", MatchAsync)
            .RequireAuthorization(policy => policy.AddAuthenticationSchemes(TokenSignIn.SchemeName).RequireAuthenticatedUser())
            .WithName("match")
            .WithSummary("Judges the packages of the library for a phone")
            .AddOpenApiOperationTransformer(
                async (operation, context, cancel) =>
                {
                    // The body is read by hand, so that its mistakes are told with their places; it is described by hand as well.
                    var schema = await context.GetOrCreateSchemaAsync(typeof(MatchRequest), null, cancel);
                    context.Document!.AddComponent(nameof(MatchRequest), schema);
                    operation.RequestBody = new OpenApiRequestBody
                    {
                        Required = true,
                        Content = new Dictionary<string, OpenApiMediaType>
                        {
                            ["application/json"] = new() { Schema = new OpenApiSchemaReference(nameof(MatchRequest), context.Document) },
                        },
                    };
                }
            )
            .Produces<MatchReportFile>()
            .ProducesProblem(400)
            .ProducesProblem(401)
            .ProducesProblem(413)
            .ProducesProblem(415);
    }

    private static async Task<IResult> MatchAsync(
        HttpContext context,
        [FromServices] MatchService desk,
        [FromServices] LibraryWatch library,
        [FromServices] ModelCatalogue catalogue,
        [FromServices] TimeProvider time
    )
    {
        var cancel = context.RequestAborted;
        if (!context.Request.HasJsonContentType())
            return Problem(415, "Send JSON", ["The content type must be application/json."]);
        if (context.Request.ContentLength > MaxRequestBytes)
            return Problem(413, "Too large", [$"A request has at most {MaxRequestBytes} bytes."]);
        if (context.Features.Get<Microsoft.AspNetCore.Http.Features.IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = MaxRequestBytes;
        MatchRequest? request;
        try
        {
            request = await JsonSerializer.DeserializeAsync<MatchRequest>(context.Request.Body, Json, cancel);
        }
        catch (JsonException error)
        {
            return Problem(400, "That is no match request", [$"{error.Path ?? "$"}: {error.Message.Split(" Path:")[0]}"]);
        }
        catch (BadHttpRequestException error)
        {
            return Problem(error.StatusCode, "That could not be read", [error.Message]);
        }

        List<string> mistakes = [];
        if (request is null)
            return Problem(400, "That is no match request", ["The request is null."]);
        var (phone, policy, most) = request.Read(catalogue, await desk.ShopAsync(cancel), time.GetUtcNow(), mistakes);
        if (mistakes.Count > 0)
            return Problem(400, "That is no match request", mistakes);
        var judged = await desk.JudgeAsync(phone, policy, cancel);
        return Results.Json(MatchReportFile.Of(phone, policy, catalogue, judged.Ranked, library.Arriving, most, judged.IsCut), Json);
    }

    private static IResult Problem(int status, string title, IReadOnlyList<string> mistakes) =>
        Results.Problem(
            statusCode: status,
            title: title,
            detail: string.Join(" ", mistakes),
            extensions: new Dictionary<string, object?> { ["mistakes"] = mistakes }
        );
}

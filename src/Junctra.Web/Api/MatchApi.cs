using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Paths;
using Junctra.Formats.MatchFiles;
using Junctra.Formats.PlanFiles;
using Junctra.Link.Running;
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
    public const string EitherScheme = "token-or-browser";

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
                        Description =
                            "May this package go on this phone, and why; and every way of doing it. Sign in with a personal token.",
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
        endpoints.MapOpenApi(Path + "/openapi.json").RequireAuthorization(Policies.AnyoneOrProgram);
        Describe<MatchRequest>(endpoints.MapPost(Path + "/match", MatchAsync), "match", "Judges the packages of the library for a phone")
            .Produces<MatchReportFile>();
        Describe<PlanRequest>(
                endpoints.MapPost(Path + "/plan", PlanAsync),
                "plan",
                "Every way of doing a job, planned and rehearsed: what each costs and risks, and why the others are missing"
            )
            .Produces<WaysFile>();
    }

    private static RouteHandlerBuilder Describe<T>(RouteHandlerBuilder endpoint, string name, string summary) =>
        endpoint
            .RequireAuthorization(policy => policy.AddAuthenticationSchemes(TokenSignIn.SchemeName).RequireAuthenticatedUser())
            .WithName(name)
            .WithSummary(summary)
            .AddOpenApiOperationTransformer(
                async (operation, context, cancel) =>
                {
                    // The body is read by hand, so that its mistakes are told with their places; it is described by hand as well.
                    var schema = await context.GetOrCreateSchemaAsync(typeof(T), null, cancel);
                    context.Document!.AddComponent(typeof(T).Name, schema);
                    operation.RequestBody = new OpenApiRequestBody
                    {
                        Required = true,
                        Content = new Dictionary<string, OpenApiMediaType>
                        {
                            ["application/json"] = new() { Schema = new OpenApiSchemaReference(typeof(T).Name, context.Document) },
                        },
                    };
                }
            )
            .ProducesProblem(400)
            .ProducesProblem(401)
            .ProducesProblem(413)
            .ProducesProblem(415);

    private static async Task<IResult> MatchAsync(
        HttpContext context,
        [FromServices] MatchService desk,
        [FromServices] LibraryWatch library,
        [FromServices] ModelCatalogue catalogue,
        [FromServices] TimeProvider time
    )
    {
        var (request, problem) = await ReadAsync<MatchRequest>(context, "That is no match request");
        if (request is null)
            return problem!;
        var cancel = context.RequestAborted;
        List<string> mistakes = [];
        var (phone, policy, most) = request.Read(catalogue, await desk.ShopAsync(cancel), time.GetUtcNow(), mistakes);
        if (mistakes.Count > 0)
            return Problem(400, "That is no match request", mistakes);
        var judged = await desk.JudgeAsync(phone, policy, cancel);
        return Results.Json(MatchReportFile.Of(phone, policy, catalogue, judged.Ranked, library.Arriving, most, judged.IsCut), Json);
    }

    private static async Task<IResult> PlanAsync(
        HttpContext context,
        [FromServices] MatchService desk,
        [FromServices] PackageIndex packages,
        [FromServices] ModelCatalogue catalogue,
        [FromServices] TimeProvider time
    )
    {
        const string title = "That is no request for a plan";
        var (request, problem) = await ReadAsync<PlanRequest>(context, title);
        if (request is null)
            return problem!;
        var cancel = context.RequestAborted;
        List<string> mistakes = [];
        var (phone, policy, _) = request.Match.Read(catalogue, await desk.ShopAsync(cancel), time.GetUtcNow(), mistakes);
        var package = await packages.FindAsync(request.Package?.ToLowerInvariant(), cancel);
        if (request.Package is not null && package is null)
            mistakes.Add("package: no package of the library has that digest.");
        if (mistakes.Count > 0)
            return Problem(400, title, mistakes);
        var (report, original) = package is null ? (null, null) : await desk.ReportWithOriginalAsync(phone, policy, package, cancel);
        var @case = PathCase.Of(phone, package, package is null || policy.DataMayGo, catalogue, policy, report, original);
        var bytes = package is null ? null : await packages.BytesNowAsync(package.Id, cancel);
        return Results.Json(WaysFile.Of(@case, report, bytes, CarriedOut.Is), Json);
    }

    /// <summary>The body of a request, or what is wrong with it.</summary>
    private static async Task<(T? Request, IResult? Problem)> ReadAsync<T>(HttpContext context, string title)
        where T : class
    {
        if (!context.Request.HasJsonContentType())
            return (null, Problem(415, "Send JSON", ["The content type must be application/json."]));
        if (context.Request.ContentLength > MaxRequestBytes)
            return (null, Problem(413, "Too large", [$"A request has at most {MaxRequestBytes} bytes."]));
        if (context.Features.Get<Microsoft.AspNetCore.Http.Features.IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } limit)
            limit.MaxRequestBodySize = MaxRequestBytes;
        try
        {
            return await JsonSerializer.DeserializeAsync<T>(context.Request.Body, Json, context.RequestAborted) is { } request
                ? (request, null)
                : (null, Problem(400, title, ["The request is null."]));
        }
        catch (JsonException error)
        {
            return (null, Problem(400, title, [$"{error.Path ?? "$"}: {error.Message.Split(" Path:")[0]}"]));
        }
        catch (BadHttpRequestException error)
        {
            return (null, Problem(error.StatusCode, "That could not be read", [error.Message]));
        }
    }

    private static IResult Problem(int status, string title, IReadOnlyList<string> mistakes) =>
        Results.Problem(
            statusCode: status,
            title: title,
            detail: string.Join(" ", mistakes),
            extensions: new Dictionary<string, object?> { ["mistakes"] = mistakes }
        );
}

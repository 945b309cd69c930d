using System.Net;
using System.Text.RegularExpressions;
using Junctra.Testing;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Who may do what: the table of <c>docs/security.md</c> against the routes of the running program, and against what it answers.
/// </summary>
public sealed partial class AccessTests(WebWorld world) : IClassFixture<WebWorld>
{
    /// <summary>Something that answers.</summary>
    /// <param name="Route">Its route.</param>
    /// <param name="Method">Method of HTTP.</param>
    /// <param name="Handler">Handler of a page; empty for the page itself, and for what is no page.</param>
    private readonly record struct Door(string Route, string Method, string Handler)
    {
        public override string ToString() => $"{Method} {Route} {Handler}".TrimEnd();
    }

    private static readonly string[] People = ["", "counter", "bench", "lead"];

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    [GeneratedRegex(@"^\| `(?<route>[^`]+)` \| (?<method>[A-Z]+) \| (?<handlers>[^|]+) \| (?<who>[^|]+) \|$", RegexOptions.Multiline)]
    private static partial Regex Row();

    [GeneratedRegex(@"\{(?<name>\w+)[^{}/]*(\([^/]*\))?[^{}/]*\}")]
    private static partial Regex RouteValue();

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex FormToken();

    private static Dictionary<Door, string> Table() =>
        Row()
            .Matches(File.ReadAllText(Path.Combine(Repo.Root, "docs", "security.md")))
            .SelectMany(row =>
                row.Groups["handlers"]
                    .Value.Split(", ")
                    .Select(handler =>
                        (
                            Door: new Door(row.Groups["route"].Value, row.Groups["method"].Value, handler == "(page)" ? "" : handler),
                            Who: row.Groups["who"].Value
                        )
                    )
            )
            .ToDictionary(one => one.Door, one => one.Who);

    private async Task<IReadOnlySet<Door>> DoorsAsync()
    {
        var loader = world.Service<PageLoader>();
        var doors = new HashSet<Door>();
        foreach (var endpoint in world.Service<IEnumerable<EndpointDataSource>>().SelectMany(source => source.Endpoints))
        {
            if (
                endpoint is not RouteEndpoint { RoutePattern.RawText: { } raw }
                || endpoint.Metadata.GetMetadata<ISuppressMatchingMetadata>() is not null
            )
                continue;
            var route = "/" + raw.TrimStart('/');
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is { } page)
            {
                // A page without a word for GET shows itself.
                doors.Add(new Door(route, "GET", ""));
                var compiled = await loader.LoadAsync(page, endpoint.Metadata);
                foreach (var handler in compiled.HandlerMethods)
                    doors.Add(new Door(route, handler.HttpMethod.ToUpperInvariant(), handler.Name ?? ""));
                continue;
            }

            foreach (var method in endpoint.Metadata.GetMetadata<IHttpMethodMetadata>()?.HttpMethods ?? ["GET"])
                doors.Add(new Door(route, method, ""));
        }

        // The bench answers at its name too.
        return doors.Where(door => door.Route != "/Index").ToHashSet();
    }

    [Fact]
    public async Task Every_route_stands_in_the_table_and_nothing_else_does()
    {
        var (table, doors) = (Table(), await DoorsAsync());
        Assert.True(table.Count > 100, $"{table.Count} rows were read");
        var wrong = doors
            .Except(table.Keys)
            .Select(door => $"{door} is not in docs/security.md")
            .Concat(table.Keys.Except(doors).Select(door => $"{door} is no route"));
        Assert.True(!wrong.Any(), string.Join('\n', wrong.Order()));
    }

    [Fact]
    public async Task Whatever_answers_answers_only_those_whom_the_table_names()
    {
        await using var db = world.Database.CreateDbContext();
        var package = await db.Packages.OrderBy(row => row.Id).Select(row => row.Id).FirstAsync(Cancel);
        var wrong = new List<string>();
        var doors = Table();
        // Signing out comes last: whoever has gone is asked nothing more.
        foreach (var person in People)
        {
            using var client = person.Length == 0 ? world.Stranger() : await world.ClientAsync(person);
            var token = FormToken()
                .Match(await client.GetStringAsync(person.Length == 0 ? "/sign-in" : "/account", Cancel))
                .Groups[1]
                .Value;
            foreach (var (door, who) in doors.OrderBy(one => Ends(one.Key)))
            {
                if (Ends(door) && person.Length > 0)
                    await WebWorld.SignInAsync(client, person);
                using var request = new HttpRequestMessage(new HttpMethod(door.Method), PathOf(door, package));
                if (door.Method == "POST")
                    request.Content = new FormUrlEncodedContent([KeyValuePair.Create("__RequestVerificationToken", token)]);
                using var answer = await client.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, Cancel);
                var isRefused =
                    answer.StatusCode is HttpStatusCode.Unauthorized or HttpStatusCode.Forbidden
                    || answer.Headers.Location?.OriginalString.Contains("/sign-in?to=", StringComparison.Ordinal) == true;
                if (isRefused == IsFor(who, person) || (int)answer.StatusCode >= 500)
                    wrong.Add($"{(person.Length == 0 ? "nobody" : person)} at {door} ({who}): {answer.StatusCode}");
            }
        }

        Assert.True(wrong.Count == 0, string.Join('\n', wrong));
    }

    private static bool Ends(Door door) => door is { Route: "/account", Handler: "SignOut" or "Everywhere" };

    private static bool IsFor(string who, string person) =>
        who switch
        {
            "everybody" => true,
            // A sign-in is none for programs.
            "token" => false,
            "staff" => person.Length > 0,
            _ => person == "lead" || who.Split(" or ").Contains(person),
        };

    private static string PathOf(Door door, string package) =>
        RouteValue()
            .Replace(door.Route, value => value.Groups["name"].Value switch
                {
                    "ticket" => "0421",
                    "code" => "HX204",
                    "form" => "tar",
                    _ when door.Route.StartsWith("/packages/", StringComparison.Ordinal) => package,
                    _ => "1",
                }) + (door.Handler.Length > 0 ? $"?handler={door.Handler}" : "");
}

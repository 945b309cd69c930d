using System.Net;
using Junctra.Core;
using Junctra.Core.Facts;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// What strangers and people type: no field, query or path ends in a fault of the program, and nothing typed changes what the audit looks
/// like.
/// </summary>
[Collection(nameof(DoorsWorld))]
[Trait("Turn", "9")]
public sealed class DoorTests(WebWorld world)
{
    private readonly HttpClient lead = world.Client();

    private static void IsPlain(HttpResponseMessage answer, string what)
    {
        HttpStatusCode[] plain =
        [
            HttpStatusCode.OK,
            HttpStatusCode.Redirect,
            HttpStatusCode.BadRequest,
            HttpStatusCode.Unauthorized,
            HttpStatusCode.NotFound,
            HttpStatusCode.MethodNotAllowed,
            HttpStatusCode.Conflict,
            HttpStatusCode.RequestEntityTooLarge,
            HttpStatusCode.UnprocessableEntity,
        ];
        Assert.True(plain.Contains(answer.StatusCode), $"{what}: {answer.StatusCode}");
        foreach (
            var header in new[] { "Content-Security-Policy", "X-Content-Type-Options", "Referrer-Policy", "Cross-Origin-Opener-Policy" }
        )
            Assert.True(answer.Headers.Contains(header), $"{what}: no {header}");
    }

    public static TheoryData<string, string, string> Fields =>
        new()
        {
            { "/jobs/0421/find-out", "Note", "value" },
            { "/jobs/0421/find-out", "Note", "name" },
            { "/jobs/0421/find-out", "Answer", "check" },
            { "/jobs/0421/find-out", "Read", "port" },
            { "/jobs/0425/intake", "Claim", "text" },
            { "/jobs/0425/intake", "Claim", "saidBy" },
            { "/jobs/0425/intake", "", "Form.Description" },
            { "/jobs/new", "", "Form.Ticket" },
            { "/jobs/new", "", "Form.Code" },
            { "/jobs/0421/match", "", "package" },
            { "/jobs/0421/match", "School", "reason" },
            { "/jobs/0421/plan", "Begin", "typed" },
            { "/jobs/0421/route/link", "Mark", "serial" },
            { "/ports", "", "name" },
            { "/ports", "", "address" },
            { "/staff", "Add", "name" },
            { "/account", "Token", "tokenName" },
            { "/sources", "Bring", "path" },
            { "/sources", "Ticket", "ticket" },
            { "/packages/room", "", "sweep" },
        };

    [Theory]
    [MemberData(nameof(Fields))]
    public async Task Any_text_in_any_field_ends_in_a_plain_answer(string page, string handler, string field)
    {
        foreach (
            var text in new[]
            {
                "a\0b",
                new string('x', 5_000),
                new string('ä', 60_000),
                "\ud800",
                "‮gnp.exe",
                "line\r\nbreak",
                "%00",
                "'; drop table jobs; --",
            }
        )
        {
            var answer = await WebWorld.PostAsync(lead, page, handler.Length == 0 ? null : handler, (field, text));
            IsPlain(answer, $"{page} {handler} {field}");
            if (answer.StatusCode == HttpStatusCode.Redirect)
                continue;
            // Somebody is told something, in words, and nothing of how the program is made.
            var body = await answer.Content.ReadAsStringAsync();
            Assert.Matches("[A-Z][a-z]+ [a-z]+", body);
            Assert.DoesNotContain("Exception", body);
            Assert.DoesNotContain("   at ", body);
        }
    }

    [Theory]
    [InlineData("/packages?q=%00")]
    [InlineData("/packages?model=a%00b")]
    [InlineData("/jobs?q=%ED%A0%80")]
    [InlineData("/logbook?q=%00")]
    [InlineData("/packages/%F0%9F%98%80")]
    [InlineData("/uploads/%E2%80%AE")]
    [InlineData("/sign-in?to=%00")]
    [InlineData("/first-lead?token=%00")]
    public async Task A_path_or_query_that_nothing_can_mean_is_refused_before_and_after_sign_in(string path)
    {
        using var stranger = world.Stranger();
        foreach (var client in new[] { stranger, lead })
            IsPlain(await client.GetAsync(path), path);
        IsPlain(await lead.GetAsync("/packages?q=" + new string('q', 7_000)), "a long query");
    }

    [Fact]
    public async Task Who_is_not_signed_in_sends_little_and_gets_the_same_headers()
    {
        using var stranger = world.Stranger();
        foreach (var name in new[] { "a\0b", new string('x', 10_000), "‮nib" })
            IsPlain(await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", name), ("Password", "x\0")), "sign-in");
        foreach (
            var (path, token) in new[]
            {
                ("/sign-in", null),
                ("/uploads", null),
                ("/api/v1/match", null),
                ("/jobs/new", null),
                ("/sign-in", "Bearer nothing"),
                ("/first-lead", "Bearer nothing"),
                ("/api/v1/match", "Bearer nothing"),
            }
        )
        {
            var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = new ByteArrayContent(new byte[200_000]) };
            if (token is not null)
                request.Headers.TryAddWithoutValidation("Authorization", token);
            var answer = await stranger.SendAsync(request);
            IsPlain(answer, path);
            // A token opens nothing but the interface for programs, and there only one that is known.
            Assert.Equal(
                token is not null && path.StartsWith("/api", StringComparison.Ordinal)
                    ? HttpStatusCode.Unauthorized
                    : HttpStatusCode.RequestEntityTooLarge,
                answer.StatusCode
            );
        }

        foreach (
            var (path, status) in new[]
            {
                ("/nowhere", HttpStatusCode.Unauthorized),
                ("/sign-in", HttpStatusCode.OK),
                ("/error?status=500", HttpStatusCode.OK),
                ("/healthz", HttpStatusCode.OK),
                ("/jobs/0418/plan", HttpStatusCode.Unauthorized),
            }
        )
        {
            var answer = await stranger.GetAsync(path);
            IsPlain(answer, path);
            Assert.Equal((path, status), (path, answer.StatusCode));
        }
    }

    [Fact]
    public async Task Labels_cannot_carry_line_breaks_or_direction_marks_into_the_audit()
    {
        var cooked = "Quay\r\nlead Handed back.‮ new";
        await WebWorld.PostAsync(lead, "/account", "Token", ("tokenName", cooked));
        await WebWorld.PostAsync(lead, "/ports", null, ("name", "X‮\nY"), ("address", "127.0.0.1:1"));
        await WebWorld.PostAsync(lead, "/jobs/0425/intake", "Claim", ("text", cooked), ("saidBy", cooked));
        await using var db = world.Database.CreateDbContext();
        Assert.All(await db.Audit.Select(line => line.By + line.Act).ToListAsync(), line => Assert.True(ShownText.IsFit(line), line));
        Assert.All(await db.ApiTokens.Select(token => token.Name).ToListAsync(), name => Assert.True(ShownText.IsFit(name), name));
        Assert.All(await db.Ports.Select(port => port.Name).ToListAsync(), name => Assert.True(ShownText.IsFit(name), name));
    }

    [Fact]
    public async Task The_look_through_the_library_has_its_role()
    {
        using var counter = await world.ClientAsync("counter");
        Assert.Equal(HttpStatusCode.Forbidden, (await WebWorld.PostAsync(counter, "/packages", null)).StatusCode);
    }

    [Fact]
    public async Task Keys_that_protect_data_are_not_readable_in_the_database()
    {
        await using var db = world.Database.CreateDbContext();
        var keys = await db.DataProtectionKeys.Select(key => key.Xml).ToListAsync();
        Assert.NotEmpty(keys);
        Assert.All(keys, xml =>
        {
            Assert.Contains("encryptedSecret", xml);
            Assert.DoesNotContain("<masterKey", xml);
        });
    }

    [Fact]
    public async Task A_transaction_that_hangs_is_ended_by_the_server_and_lets_others_go_on()
    {
        await using var hanging = world.Database.CreateDbContext();
        await hanging.Database.OpenConnectionAsync();
        var limit = await hanging
            .Database.SqlQueryRaw<string>("select current_setting('idle_in_transaction_session_timeout') as \"Value\"")
            .SingleAsync();
        Assert.Matches(@"^[1-9]\d*m?s$", limit);
        // The same with less patience: the row that it holds is free again without its doing anything.
        await hanging.Database.ExecuteSqlRawAsync("set idle_in_transaction_session_timeout = '200ms'");
        await using var transaction = await hanging.Database.BeginTransactionAsync();
        await hanging.Database.ExecuteSqlRawAsync("select 1 from jobs where ticket = '0421' for update");
        await using var other = world.Database.CreateDbContext();
        other.Database.SetCommandTimeout(TimeSpan.FromMinutes(5));
        await other.Database.ExecuteSqlRawAsync("select 1 from jobs where ticket = '0421' for update");
        await Assert.ThrowsAnyAsync<Exception>(() => hanging.Database.ExecuteSqlRawAsync("select 1"));
    }
}

using System.Net;
using System.Net.Http.Headers;
using System.Text.RegularExpressions;
using Junctra.Store;
using Junctra.Store.Operation;
using Junctra.Testing;
using Junctra.Web.Library.Arrivals;
using Junctra.Web.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>What whoever keeps the house running sees: health, figures, the lead's page, sign-ins and secrets as they are kept.</summary>
[Collection(nameof(DoorsWorld))]
public sealed class OperationTests(WebWorld world)
{
    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    private static string Plain(string html) => Regex.Replace(WebUtility.HtmlDecode(Regex.Replace(html, "<[^>]+>", " ")), @"\s+", " ");

    private async Task<string> OperationAsync() => Plain(await world.Client().GetStringAsync("/operation", Cancel));

    [Fact]
    public async Task The_lead_sees_what_needs_somebody()
    {
        await using (var db = world.Database.CreateDbContext())
        {
            await db.Backups.ExecuteDeleteAsync(Cancel);
            Assert.Contains("No backup was ever taken of this database.", await OperationAsync());
            db.Backups.Add(
                new BackupRow
                {
                    At = DateTimeOffset.UtcNow.AddDays(-3),
                    Folder = "/backups/one",
                    Tables = 44,
                    Rows = 15914,
                    Bytes = 5 << 20,
                }
            );
            await db.SaveChangesAsync(Cancel);
            var page = await OperationAsync();
            Assert.Contains("The last backup is of", page);
            Assert.Contains("44 tables, 15914 rows", page);
            db.Backups.Add(
                new BackupRow
                {
                    At = DateTimeOffset.UtcNow,
                    Folder = "/backups/two",
                    Tables = 44,
                    Rows = 16000,
                    Bytes = 5 << 20,
                }
            );
            await db.SaveChangesAsync(Cancel);
        }

        var now = await OperationAsync();
        Assert.DoesNotContain("The last backup is of", now);
        Assert.Contains("/backups/two", now);
        Assert.Contains("127.0.0.1", now);
        Assert.Contains(world.Store, now);
    }

    [Fact]
    public async Task The_audit_is_sealed_and_whoever_changes_it_is_told_of()
    {
        // A shop of its own: a broken chain stays broken.
        await using var database = await TestDatabase.CreateAsync();
        await using (var db = database.CreateDbContext())
        {
            db.Audit.Add(
                new AuditRow
                {
                    At = DateTimeOffset.UtcNow,
                    By = "lead",
                    Act = "Closed the account of somebody.",
                }
            );
            await db.SaveChangesAsync(Cancel);
        }

        await using var shop = world.Shop(database.Connection);
        using var client = shop.CreateClient();
        var chain = (AuditChain)shop.Services.GetService(typeof(AuditChain))!;
        await Until.TrueAsync(async () => await chain.CheckAsync(Cancel) is { Problem: null, Open: 0, Sealed: > 0 }, "the line is sealed");
        var told = new StringWriter();
        Assert.Equal(0, await AuditCommand.RunAsync(shop.Services, told));
        Assert.Contains("The audit is whole", told.ToString());
        await using (var db = database.CreateDbContext())
            await db.Audit.ExecuteUpdateAsync(set => set.SetProperty(line => line.By, "nobody"), Cancel);
        told = new StringWriter();
        Assert.Equal(1, await AuditCommand.RunAsync(shop.Services, told));
        Assert.Contains("Line 1 is not what it was when it was sealed.", told.ToString());
    }

    [Fact]
    public async Task Figures_are_for_whoever_works_here_and_name_nobody()
    {
        using var stranger = world.Stranger();
        Assert.Equal(HttpStatusCode.Unauthorized, (await stranger.GetAsync("/metrics", Cancel)).StatusCode);
        var page = await (
            await WebWorld.PostAsync(world.Client(), "/account", "Token", ("tokenName", "figures"))
        ).Content.ReadAsStringAsync(Cancel);
        using var program = world.Bare();
        program.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue(
            "Bearer",
            Regex.Match(page, "junctra-[0-9a-f]{64}").Value
        );
        // A refused sign-in, and pages with tickets in their addresses, so that there is something that could be told.
        await WebWorld.PostAsync(stranger, "/sign-in", null, ("Name", "counter"), ("Password", "not-hers-at-all"));
        await world.Client().GetStringAsync("/jobs/0421/find-out?from=secret-words", Cancel);
        var text = "";
        await Until.TrueAsync(
            async () => (text = await program.GetStringAsync("/metrics", Cancel)).Contains("junctra_jobs_open", StringComparison.Ordinal),
            "the figures are there"
        );
        foreach (
            var name in new[]
            {
                "junctra_sign_ins_refused",
                "junctra_queue",
                "junctra_disk_free",
                "junctra_database_size",
                "junctra_leases_late",
                "http_server_request_duration",
                "junctra_processes",
            }
        )
            Assert.Contains(name, text);
        // In what a figure is called and of, not in the figure; and not within a longer word: the databases of tests are called by chance.
        Assert.DoesNotMatch(@"(?m)^[^#\n]*\{.*\b0421\b.*\}", text);
        Assert.DoesNotContain("secret-words", text);
        Assert.DoesNotContain("\"counter\"", text);
        Assert.Contains("jobs/{ticket", text);
    }

    [Fact]
    public async Task Ready_is_more_than_alive()
    {
        using var stranger = world.Stranger();
        Assert.Equal(HttpStatusCode.OK, (await stranger.GetAsync("/readyz", Cancel)).StatusCode);
        await using var database = await TestDatabase.CreateAsync();
        await using var shop = world.Shop(database.Connection);
        using var client = shop.CreateClient();
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/readyz", Cancel)).StatusCode);
        // A newer program has been here.
        await using (var db = database.CreateDbContext())
            await db.Database.ExecuteSqlRawAsync(
                """insert into "__EFMigrationsHistory" (migration_id, product_version) values ('29990101000000_Later', '99')""",
                Cancel
            );
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/healthz", Cancel)).StatusCode);
        await Until.TrueAsync(
            async () => (await client.GetAsync("/readyz", Cancel)).StatusCode == HttpStatusCode.ServiceUnavailable,
            "it is no longer ready"
        );
        Assert.Equal("Unhealthy", await (await client.GetAsync("/readyz", Cancel)).Content.ReadAsStringAsync(Cancel));
    }

    [Fact]
    public async Task A_slow_statement_is_kept_without_what_was_asked_for()
    {
        var slow = world.Service<SlowQueries>();
        await using (var db = await world.Service<IDbContextFactory<JunctraDb>>().CreateDbContextAsync(Cancel))
        {
            var secret = "words of a customer";
            await db.Database.SqlQuery<string>($"select {secret} || pg_sleep(0.4)::text as \"Value\"").ToListAsync(Cancel);
        }

        var kept = Assert.Single(slow.Worst, query => query.Text.Contains("pg_sleep", StringComparison.Ordinal));
        Assert.True(kept.Worst >= SlowQueries.Slow);
        Assert.DoesNotContain("customer", kept.Text);
        Assert.Contains("pg_sleep", await OperationAsync());
    }

    [Fact]
    public async Task Sign_ins_are_listed_and_ended_one_by_one()
    {
        var name = "p" + Guid.NewGuid().ToString("N")[..8];
        const string password = "first-password";
        await WebWorld.PostAsync(world.Client(), "/staff", "Add", ("name", name), ("password", password), ("roles", "bench"));
        using var here = world.Stranger();
        using var there = world.Stranger();
        there.DefaultRequestHeaders.UserAgent.ParseAdd("Some/1.0 (Mobi)");
        await WebWorld.SignInAsync(here, name, password);
        await WebWorld.SignInAsync(there, name, password);
        var page = await here.GetStringAsync("/account", Cancel);
        Assert.Contains("A phone or tablet", page);
        var other = Assert
            .Single(Regex.Matches(page, "handler=End.*?name=\"id\" value=\"([0-9a-f]{32})\"", RegexOptions.Singleline))
            .Groups[1]
            .Value;
        Assert.Contains("signed in at 2 places", await world.Client().GetStringAsync("/staff", Cancel));

        // Nobody ends somebody else's.
        Assert.Equal(
            HttpStatusCode.UnprocessableEntity,
            (await WebWorld.PostAsync(world.Client(), "/account", "End", ("id", other))).StatusCode
        );
        Assert.Equal(HttpStatusCode.OK, (await there.GetAsync("/account", Cancel)).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await WebWorld.PostAsync(here, "/account", "End", ("id", other))).StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await there.GetAsync("/account", Cancel)).StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await here.GetAsync("/account", Cancel)).StatusCode);
        Assert.Equal(HttpStatusCode.UnprocessableEntity, (await WebWorld.PostAsync(here, "/account", "End", ("id", other))).StatusCode);

        // A new password ends all but the one by which it was set.
        await WebWorld.SignInAsync(there, name, password);
        var changed = await WebWorld.PostAsync(
            here,
            "/account",
            "Password",
            ("present", password),
            ("wanted", "second-password"),
            ("again", "second-password")
        );
        Assert.Equal(HttpStatusCode.Redirect, changed.StatusCode);
        Assert.NotEqual(HttpStatusCode.OK, (await there.GetAsync("/account", Cancel)).StatusCode);
        page = await here.GetStringAsync("/account", Cancel);
        Assert.DoesNotContain("handler=End", page);

        // A copy of its cookie counts no more once it is signed out.
        await WebWorld.PostAsync(here, "/account", "SignOut");
        await using var db = world.Database.CreateDbContext();
        var id = await db.Users.Where(user => user.UserName == name).Select(user => user.Id).SingleAsync(Cancel);
        Assert.DoesNotContain(await db.SignIns.Where(row => row.StaffId == id).ToListAsync(Cancel), row =>
            row.EndedAt is null && row.Stamp == ""
        );
        Assert.Equal(2, await db.SignIns.CountAsync(row => row.StaffId == id && row.EndedAt != null, Cancel));
    }

    [Fact]
    public async Task Tickets_of_mirrors_are_sealed_those_of_before_too()
    {
        var tickets = world.Service<MirrorTickets>();
        await using var db = world.Database.CreateDbContext();
        var row = new MirrorRow
        {
            Name = "Sealed",
            BaseAddress = "http://127.0.0.1:9/",
            IndexForm = "json",
            IndexPath = "index.json",
            NeedsTicket = true,
            IsOn = false,
            OldTicket = "slipway:harbour 9",
        };
        db.Mirrors.Add(row);
        await db.SaveChangesAsync(Cancel);
        await tickets.SealOldAsync(db, Cancel);
        db.ChangeTracker.Clear();
        row = await db.Mirrors.SingleAsync(mirror => mirror.Name == "Sealed", Cancel);
        Assert.Null(row.OldTicket);
        Assert.DoesNotContain("harbour", row.SealedTicket);
        Assert.Equal("slipway:harbour 9", tickets.Open(row));
        await WebWorld.PostAsync(world.Client(), "/sources", "Ticket", ("id", $"{row.Id}"), ("ticket", "TIDE-77"));
        db.ChangeTracker.Clear();
        row = await db.Mirrors.SingleAsync(mirror => mirror.Name == "Sealed", Cancel);
        Assert.DoesNotContain("TIDE", row.SealedTicket);
        Assert.Equal("TIDE-77", tickets.Open(row));
        row.SealedTicket = "CfDJ8" + row.SealedTicket![5..^4] + "AAAA";
        Assert.Contains("Enter it again", Assert.Throws<SourceException>(() => tickets.Open(row)).Message);
        await db.Mirrors.Where(mirror => mirror.Name == "Sealed").ExecuteDeleteAsync(Cancel);
    }
}

using System.Net;
using System.Security.Cryptography;
using System.Text;
using System.Text.RegularExpressions;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// Packages on their way: from mirrors, good and bad, from a person's computer, from a path; and what can be done with them.
/// </summary>
[Collection(nameof(ArrivalsWorld))]
[Trait("Turn", "11")]
public sealed partial class ArrivalTests(WebWorld world)
{
    private const string Sources = "/sources";
    private readonly HttpClient client = world.Client();

    private async Task<string> ReadAsync(string page) => WebUtility.HtmlDecode(await client.GetStringAsync(page));

    private Task<HttpResponseMessage> DoAsync(string handler, params (string, string)[] fields) =>
        WebWorld.PostAsync(client, Sources, handler, fields);

    private async Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask)
    {
        await using var db = world.Database.CreateDbContext();
        return await ask(db);
    }

    private async Task<ArrivalRow> UntilAsync(string fileName, ArrivalState state)
    {
        ArrivalRow? row = null;
        await Until.TrueAsync(
            async () =>
            {
                row = await AskAsync(db =>
                    db.Arrivals.AsNoTracking().Where(a => a.FileName == fileName).OrderByDescending(a => a.CreatedAt).FirstOrDefaultAsync()
                );
                return row?.State == state
                    || (
                        row?.State == ArrivalState.Failed && state == ArrivalState.Done
                            ? throw new InvalidOperationException(row.Problem)
                            : false
                    );
            },
            $"{fileName} is {state}"
        );
        return row!;
    }

    private async Task<PackageRow> PackageAsync(string id)
    {
        PackageRow? row = null;
        await Until.TrueAsync(
            async () =>
                (row = await AskAsync(db => db.Packages.AsNoTracking().SingleOrDefaultAsync(p => p.Id == id))) is { InspectorVersion: > 0 },
            "the package was looked into"
        );
        return row!;
    }

    private Task<int> FileAsync(string mirror, string name) =>
        AskAsync(db => db.MirrorFiles.Where(f => f.Mirror.Name == mirror && f.Path.EndsWith(name)).Select(f => f.Id).SingleAsync());

    [Fact]
    public async Task Mirrors_are_read_measured_and_the_damaged_one_is_found_out()
    {
        // Which mirror is the quickest is measured: on a machine with other work a first measure may come out otherwise, or not at all.
        var page = "";
        await Until.TrueAsync(
            async () =>
            {
                await DoAsync("Read");
                page = await ReadAsync(Sources);
                return page.Contains("Quay, in", StringComparison.Ordinal);
            },
            "Quay is measured, and the quickest"
        );
        Assert.Contains("needs a ticket", page);
        Assert.DoesNotContain("not measured", Regex.Match(page, "Quay.*?</tr>", RegexOptions.Singleline).Value);

        // Without a ticket nothing is even begun, with a wrong one nothing comes.
        var tern = await FileAsync("Drift", "tern4-26w26.tar");
        await DoAsync("Fetch", ("file", $"{tern}"));
        Assert.Contains("Drift needs a ticket code. Enter it at the mirror.", await ReadAsync(Sources));
        var drift = await AskAsync(db => db.Mirrors.Where(m => m.Name == "Drift").Select(m => m.Id).SingleAsync());
        await DoAsync("Ticket", ("id", $"{drift}"), ("ticket", "WRONG"));
        await DoAsync("Fetch", ("file", $"{tern}"));
        Assert.Contains("does not take the ticket code or the account", (await UntilAsync("tern4-26w26.tar", ArrivalState.Failed)).Problem);

        // With the right one the damage and the cut are found out by what the other mirror publishes.
        await DoAsync("Ticket", ("id", $"{drift}"), ("ticket", "TIDE-1640"));
        await DoAsync("Fetch", ("file", $"{tern}"));
        await UntilAsync("tern4-26w26.tar", ArrivalState.Failed);
        Assert.Contains("its digest differs from the published one", (await UntilAsync("tern4-26w26.tar", ArrivalState.Failed)).Problem);
        await DoAsync("Fetch", ("file", $"{await FileAsync("Drift", "fell-full-2.6.121.zip")}"));
        Assert.Contains("it is cut off or another one there", (await UntilAsync("fell-full-2.6.121.zip", ArrivalState.Failed)).Problem);
        Assert.Contains("2 files from here spoilt", await ReadAsync(Sources));

        // Another mirror has it whole.
        await DoAsync("Fetch", ("file", $"{await FileAsync("Quay", "tern4-26w26.tar")}"));
        var done = await UntilAsync("tern4-26w26.tar", ArrivalState.Done);
        var package = await PackageAsync(done.PackageId!);
        Assert.Equal(
            (PackageKind.SingleBundle, "Quay", true, Wholeness.AsPublished),
            (package.Kind, package.Source, package.IsStored, package.Wholeness)
        );
        Assert.Contains("Fetched from Quay", await ReadAsync($"/packages/{package.Id}"));
    }

    [Fact]
    public async Task An_account_goes_along_with_every_request()
    {
        var bytes = Bytes(9);
        var (mirror, file) = await PlayAsync("Member", bytes, http =>
        {
            if (http.Request.Headers.Authorization == "Basic " + Convert.ToBase64String(Encoding.UTF8.GetBytes("slipway:harbour 9")))
                return ScriptedMirror.GiveAsync(http, bytes);
            http.Response.StatusCode = 401;
            return Task.CompletedTask;
        });
        await using (mirror)
        {
            var id = await AskAsync(db => db.Mirrors.Where(m => m.Name == "Member").Select(m => m.Id).SingleAsync());
            await DoAsync("Fetch", ("file", $"{file}"));
            Assert.Contains("wants an account or a ticket", (await UntilAsync("Member.tar", ArrivalState.Failed)).Problem);
            await AskAsync(db => db.Mirrors.Where(m => m.Id == id).ExecuteUpdateAsync(set => set.SetProperty(m => m.NeedsTicket, true)));
            await DoAsync("Ticket", ("id", $"{id}"), ("ticket", "slipway:harbour 9"));
            await DoAsync("Fetch", ("file", $"{file}"));
            await UntilAsync("Member.tar", ArrivalState.Done);
            Assert.DoesNotContain("harbour 9", await ReadAsync(Sources));
        }
    }

    [Fact]
    public async Task It_is_paused_goes_on_and_is_given_up()
    {
        var bytes = Bytes(6, 3_000_000);
        var open = new TaskCompletionSource();
        var (mirror, file) = await PlayAsync("Slow", bytes, async http =>
        {
            http.Response.Headers.ETag = "\"one\"";
            var from = (int)(http.Request.GetTypedHeaders().Range?.Ranges.First().From ?? 0);
            if (from > 0)
            {
                http.Response.StatusCode = 206;
                http.Response.Headers.ContentRange = $"bytes {from}-{bytes.Length - 1}/{bytes.Length}";
            }

            http.Response.ContentLength = bytes.Length - from;
            await http.Response.Body.WriteAsync(bytes.AsMemory(from, Math.Min(1_000_000, bytes.Length - from)));
            await http.Response.Body.FlushAsync();
            await open.Task.WaitAsync(http.RequestAborted);
            await http.Response.Body.WriteAsync(bytes.AsMemory(Math.Min(bytes.Length, from + 1_000_000)));
        });
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            var id = (await UntilAsync("Slow.tar", ArrivalState.Fetching)).Id;
            await Until.TrueAsync(
                () => Task.FromResult(new FileInfo(Path.Combine(world.Store, "incoming", id)) is { Exists: true, Length: >= 900_000 }),
                "a part is here"
            );
            await DoAsync("Pause", ("id", id));
            await UntilAsync("Slow.tar", ArrivalState.Paused);
            open.SetResult();
            await DoAsync("Resume", ("id", id));
            Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(bytes)), (await UntilAsync("Slow.tar", ArrivalState.Done)).PackageId);
            Assert.Matches(@"bytes=\d{6,}-$", mirror.Asked[^1]);

            open = new TaskCompletionSource();
            bytes = Bytes(7, 3_000_000);
            await DoAsync("Fetch", ("file", $"{file}"));
            id = (await UntilAsync("Slow.tar", ArrivalState.Fetching)).Id;
            await DoAsync("Cancel", ("id", id));
            await UntilAsync("Slow.tar", ArrivalState.Cancelled);
            await Until.TrueAsync(() => Task.FromResult(!File.Exists(Path.Combine(world.Store, "incoming", id))), "its bytes are gone");
            open.SetResult();
        }
    }

    [Fact]
    public async Task Room_is_kept_before_the_first_byte_comes()
    {
        var (mirror, file) = await PlayAsync("Huge", Bytes(8), http => Task.CompletedTask, unpacked: 1L << 60);
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            Assert.Contains("packed and unpacked;", await ReadAsync(Sources));
            Assert.Empty(mirror.Asked);
        }
    }

    [Fact]
    public async Task A_path_of_this_computer_is_taken_only_below_an_open_folder()
    {
        var source = Path.Combine(await DemoLibrary.AllFolderAsync(), "recovery.img");
        var inside = Path.Combine(world.Open, "recovery.img");
        File.Copy(source, inside);
        File.CreateSymbolicLink(Path.Combine(world.Open, "out.img"), source);
        foreach (
            var path in new[]
            {
                source,
                Path.Combine(world.Open, "out.img"),
                Path.Combine(world.Open, "..", Path.GetFileName(world.Open), "..", "x"),
                world.Open,
                "\0",
            }
        )
        {
            await DoAsync("Bring", ("path", path));
            Assert.Contains(path == "\0" ? "Get packages" : "and this is none of them", await ReadAsync(Sources));
        }

        await DoAsync("Bring", ("path", inside));
        var package = await PackageAsync((await UntilAsync("recovery.img", ArrivalState.Done)).PackageId!);
        Assert.Equal((PackageKind.SingleImage, "path"), (package.Kind, package.Source));
        Assert.True(File.Exists(inside));
    }
}

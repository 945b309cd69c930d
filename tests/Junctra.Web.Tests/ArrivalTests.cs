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
public sealed class ArrivalTests(WebWorld world)
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

    /// <summary>Adds a mirror that a test plays, with files of its own.</summary>
    private async Task<(ScriptedMirror Mirror, int File)> PlayAsync(
        string name,
        byte[] file,
        Func<HttpContext, Task> answer,
        long? size = null,
        long unpacked = 1000,
        string? sha256 = null
    )
    {
        var mirror = await ScriptedMirror.StartAsync(answer);
        await using var db = world.Database.CreateDbContext();
        var row = new MirrorRow
        {
            Name = name,
            BaseAddress = mirror.Address + "/m",
            IndexForm = "json",
            IndexPath = "index.json",
        };
        row.Files.Add(
            new MirrorFileRow
            {
                Path = $"{name}.tar",
                SizeBytes = size ?? file.Length,
                UnpackedBytes = unpacked,
                Sha256 = sha256,
            }
        );
        db.Mirrors.Add(row);
        await db.SaveChangesAsync();
        return (mirror, row.Files[0].Id);
    }

    private static byte[] Bytes(int seed, int count = 700_000)
    {
        var bytes = new byte[count];
        new Random(seed).NextBytes(bytes);
        return bytes;
    }

    [Fact]
    public async Task Mirrors_are_read_measured_and_the_damaged_one_is_found_out()
    {
        await DoAsync("Read");
        var page = await ReadAsync(Sources);
        Assert.Contains("Quay, here in", page);
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
    public async Task A_line_that_breaks_is_taken_up_where_it_broke()
    {
        var bytes = Bytes(1);
        var (mirror, file) = await PlayAsync("Breaker", bytes, http => ScriptedMirror.GiveAsync(http, bytes, breakAfter: 150_000));
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            var row = await UntilAsync("Breaker.tar", ArrivalState.Done);
            Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(bytes)), row.PackageId);
            Assert.True(mirror.Asked.Count > 3);
            Assert.All(mirror.Asked.Skip(1), asked => Assert.Matches(@"bytes=[1-9]\d+-$", asked));
        }
    }

    [Fact]
    public async Task A_file_that_changes_at_the_mirror_is_begun_anew()
    {
        var (first, second) = (Bytes(2), Bytes(3));
        var (mirror, file) = await PlayAsync("Changer", first, http => Task.CompletedTask);
        var asked = 0;
        mirror.Answer = http =>
            ++asked == 1 ? ScriptedMirror.GiveAsync(http, first, "\"one\"", 200_000) : ScriptedMirror.GiveAsync(http, second, "\"two\"");
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(second)), (await UntilAsync("Changer.tar", ArrivalState.Done)).PackageId);
        }
    }

    [Fact]
    public async Task A_mirror_without_ranges_gives_the_file_from_its_first_byte()
    {
        var bytes = Bytes(4);
        var asked = 0;
        var (mirror, file) = await PlayAsync("Plain", bytes, async http =>
        {
            http.Response.ContentLength = bytes.Length;
            var count = ++asked == 1 ? 300_000 : bytes.Length;
            await http.Response.Body.WriteAsync(bytes.AsMemory(0, count));
            await http.Response.Body.FlushAsync();
            if (count < bytes.Length)
                http.Abort();
        });
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            Assert.Equal(Convert.ToHexStringLower(SHA256.HashData(bytes)), (await UntilAsync("Plain.tar", ArrivalState.Done)).PackageId);
        }
    }

    [Theory]
    [InlineData("more", "than the")]
    [InlineData("redirect", "points to another address")]
    [InlineData("gone", "has no such file any more")]
    [InlineData("other part", "another part of the file")]
    [InlineData("silent", "broke off 5 times")]
    [InlineData("other bytes", "digest differs")]
    public async Task A_mirror_that_misbehaves_ends_in_a_sentence(string how, string sentence)
    {
        var bytes = Bytes(5);
        var name = "Rogue-" + how.Replace(' ', '-');
        var (mirror, file) = await PlayAsync(
            name,
            bytes,
            async http =>
            {
                switch (how)
                {
                    case "more":
                        for (var i = 0; i < 3; i++)
                            await http.Response.Body.WriteAsync(bytes);
                        break;
                    case "redirect":
                        http.Response.Redirect("http://127.0.0.1:1/");
                        break;
                    case "gone":
                        http.Response.StatusCode = 404;
                        break;
                    case "other part":
                        http.Response.StatusCode = 206;
                        http.Response.Headers.ContentRange = $"bytes 5-{bytes.Length - 1}/{bytes.Length}";
                        break;
                    case "silent":
                        http.Abort();
                        break;
                    default:
                        await ScriptedMirror.GiveAsync(http, bytes);
                        break;
                }
            },
            sha256: how == "other bytes" ? new string('a', 64) : null
        );
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            var row = await UntilAsync($"{name}.tar", ArrivalState.Failed);
            Assert.Contains(
                sentence.Replace("broke off 5 times", "does not answer"),
                row.Problem!.Replace("broke off 5 times", "does not answer")
            );
            Assert.Null(await AskAsync(db => db.Packages.SingleOrDefaultAsync(p => p.FileName == $"{name}.tar")));
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

    [Theory]
    [InlineData("{\"files\":[{\"path\":\"../../escape.tar\",\"sizeBytes\":5},{\"path\":\"http://elsewhere/x.tar\"}]}", null)]
    [InlineData("no index at all", "cannot be read")]
    [InlineData("{}", "cannot be read")]
    [InlineData("LONG", "is longer than")]
    public async Task An_index_of_a_stranger_is_bounded(string index, string? problem)
    {
        var name = "Stranger" + index.Length;
        var (mirror, _) = await PlayAsync(
            name,
            [],
            async http =>
            {
                if (index == "LONG")
                    for (var i = 0; i < 150; i++)
                        await http.Response.Body.WriteAsync(new byte[64 << 10]);
                else
                    await http.Response.WriteAsync(index);
            },
            size: 1
        );
        await using (mirror)
        {
            await DoAsync("Read");
            var row = await AskAsync(db => db.Mirrors.AsNoTracking().Include(m => m.Files).SingleAsync(m => m.Name == name));
            if (problem is not null)
                Assert.Contains(problem, row.Problem);
            else
                Assert.Empty(row.Files);
        }

        await AskAsync(db => db.Mirrors.Where(m => m.Name == name).ExecuteUpdateAsync(set => set.SetProperty(m => m.IsOn, false)));
    }

    [Theory]
    [InlineData("{\"files\":[null,{\"path\":\"a.tar\",\"sizeBytes\":5},null]}", 1)]
    [InlineData(
        "{\"files\":[{\"path\":\"a.tar\",\"sizeBytes\":9223372036854775807,\"unpackedBytes\":9223372036854775807},{\"path\":\"b.tar\",\"sizeBytes\":-5},{\"path\":\"c.tar\",\"sizeBytes\":5}]}",
        1
    )]
    [InlineData("{\"files\":[{\"path\":\"a\\u0000b.tar\",\"sizeBytes\":5},{\"path\":\"c.tar\",\"sizeBytes\":5}]}", 1)]
    [InlineData("null", 0)]
    [InlineData("[]", 0)]
    public async Task A_spoilt_index_spoils_its_own_mirror_only(string index, int most)
    {
        var name = $"Spoilt{(uint)index.GetHashCode(StringComparison.Ordinal)}";
        var bytes = Bytes(11);
        var (mirror, _) = await PlayAsync(name, [], http => http.Response.WriteAsync(index), size: 1);
        var (sound, file) = await PlayAsync(name + "Sound", bytes, http => ScriptedMirror.GiveAsync(http, bytes));
        await using (mirror)
        await using (sound)
        {
            await DoAsync("Read");
            Assert.InRange(await AskAsync(db => db.MirrorFiles.CountAsync(f => f.Mirror.Name == name && f.Path != $"{name}.tar")), 0, most);
            // Room is still counted, and files still come: from another mirror, and from a person's computer.
            await AskAsync(db => db.Mirrors.Where(m => m.Name == name).ExecuteUpdateAsync(set => set.SetProperty(m => m.IsOn, false)));
            var place = (
                await Tus.SendAsync(
                    client,
                    HttpMethod.Post,
                    "/uploads",
                    null,
                    ("Upload-Length", "5"),
                    ("Upload-Metadata", Tus.Name("five.tar"))
                )
            )
                .Headers
                .Location;
            Assert.NotNull(place);
            Assert.Equal(HttpStatusCode.NoContent, (await Tus.SendAsync(client, HttpMethod.Delete, place.ToString(), null)).StatusCode);
        }

        await AskAsync(db => db.Mirrors.Where(m => m.Name.StartsWith(name)).ExecuteUpdateAsync(set => set.SetProperty(m => m.IsOn, false)));
    }

    [Fact]
    public async Task A_mirror_that_refuses_every_range_is_given_up_in_a_few_tries()
    {
        var (mirror, file) = await PlayAsync("Rangeless", Bytes(12), http =>
        {
            http.Response.StatusCode = 416;
            return Task.CompletedTask;
        });
        await using (mirror)
        {
            await DoAsync("Fetch", ("file", $"{file}"));
            Assert.NotNull((await UntilAsync("Rangeless.tar", ArrivalState.Failed)).Problem);
            Assert.InRange(mirror.Asked.Count, 1, 20);
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

    private async Task<string> ListAsync(string text, string name)
    {
        var token = Regex
            .Match(await client.GetStringAsync(Sources), "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")
            .Groups[1]
            .Value;
        var form = new MultipartFormDataContent
        {
            { new StringContent(token), "__RequestVerificationToken" },
            { new ByteArrayContent(Encoding.UTF8.GetBytes(text)), "list", name },
        };
        await client.PostAsync(Sources + "?handler=List", form);
        return await ReadAsync(Sources);
    }

    [Fact]
    public async Task Digests_that_somebody_published_are_held_against_the_library()
    {
        var id = await AskAsync(db => db.Packages.Where(p => p.FileName == "cairn-small-26w10.tar").Select(p => p.Id).SingleAsync());
        Assert.Contains("1 digest taken in", await ListAsync($"{new string('e', 64)}  cairn-small-26w10.tar\n", "list.txt"));
        await Until.TrueAsync(
            async () =>
                (await AskAsync(db => db.Packages.Where(p => p.Id == id).Select(p => p.Wholeness).SingleAsync())) == Wholeness.Damaged,
            "the wrong list speaks against it"
        );
        Assert.Contains("its digest differs from the one in the checksum list beside it", await ReadAsync($"/packages/{id}"));

        var manifest = await client.GetStringAsync($"/packages/{id}/manifest.json");
        Assert.Contains("1 digest taken in", await ListAsync(manifest, "manifest.json"));
        await Until.TrueAsync(
            async () =>
                (await AskAsync(db => db.Packages.Where(p => p.Id == id).Select(p => p.Wholeness).SingleAsync())) == Wholeness.AsPublished,
            "its own manifest agrees"
        );
        Assert.Contains("neither a checksum list nor a manifest", await ListAsync("{\"format\":\"other\"}", "x.json"));
        await AskAsync(db => db.PublishedDigests.ExecuteDeleteAsync());
    }

    [Fact]
    public async Task What_is_unpacked_is_shared_counted_and_swept()
    {
        // Two packages that share their boot image; packed in different ways.
        var wrapped = await AskAsync(db => db.Packages.Where(p => p.FileName == "cairn-26w08.tar").Select(p => p.Id).SingleAsync());
        var tar = await client.GetByteArrayAsync($"/packages/{wrapped}/repacked.tar");
        var folder = Directory.CreateTempSubdirectory();
        await File.WriteAllBytesAsync(Path.Combine(folder.FullName, "x.tar"), tar);
        var check = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo(
                "bash",
                ["-c", $"cd '{folder.FullName}' && tar xf x.tar && sha256sum --quiet -c SHA256SUMS"]
            )
        )!;
        await check.WaitForExitAsync();
        Assert.Equal(0, check.ExitCode);
        folder.Delete(true);
        var again = PackageReader.Read(
            "x.tar",
            await Formats.Inspection.PackageInspector.InspectAsync(() => new MemoryStream(tar, writable: false)),
            Repo.Catalogue
        );
        Assert.Equal((PackageKind.FactorySet, "HX204/15.26w08-1.r3", Wholeness.Listed), (again.Kind, again.Title, again.Whole().State));
        var zip = await client.GetByteArrayAsync($"/packages/{wrapped}/repacked.zip");
        Assert.False(
            PackageReader
                .Read(
                    "x.zip",
                    await Formats.Inspection.PackageInspector.InspectAsync(() => new MemoryStream(zip, writable: false)),
                    Repo.Catalogue
                )
                .IsDamaged
        );

        var unpacked = await AskAsync(db => db.UnpackedImages.ToListAsync());
        Assert.NotEmpty(unpacked);
        var room = await ReadAsync("/packages/room");
        Assert.Contains("of 1 package; unpacked again when it is wanted", room);
        var swept = await WebWorld.PostAsync(
            client,
            "/packages/room",
            null,
            [.. unpacked.Select(image => ("sweep", image.Sha256)), ("sweep", wrapped), ("sweep", "../../etc/passwd")]
        );
        Assert.Equal(HttpStatusCode.Redirect, swept.StatusCode);
        Assert.Contains("freed.", await ReadAsync("/packages/room"));
        Assert.Empty(await AskAsync(db => db.UnpackedImages.Where(i => unpacked.Select(u => u.Sha256).Contains(i.Sha256)).ToListAsync()));
        Assert.NotNull(await AskAsync(db => db.Packages.SingleOrDefaultAsync(p => p.Id == wrapped)));
    }

    [Fact]
    public async Task A_damaged_package_is_not_packed_anew_and_a_folder_file_is_not_removed()
    {
        var damaged = await AskAsync(db =>
            db.Packages.Where(p => p.FileName == "cairn-26w14-from-a-stick.tar").Select(p => p.Id).SingleAsync()
        );
        Assert.Equal(HttpStatusCode.Conflict, (await client.GetAsync($"/packages/{damaged}/repacked.tar")).StatusCode);
        await WebWorld.PostAsync(client, $"/packages/{damaged}", "Remove");
        Assert.NotNull(await AskAsync(db => db.Packages.SingleOrDefaultAsync(p => p.Id == damaged)));
    }

    [Fact]
    public async Task The_library_counts_what_each_choice_would_find()
    {
        var page = await ReadAsync("/packages?model=HX204");
        Assert.Contains("aria-current=\"true\"><span>HX204</span> <small>7</small>", page);
        Assert.Contains("<span>not to be written</span> <small>1</small>", page);
        var found = await ReadAsync("/packages?q=26w22");
        Assert.Single(Regex.Matches(found, "<tr data-row"));
        Assert.Contains("No package of that kind", await ReadAsync("/packages?q=100%25_nothing"));
    }

    [Fact]
    public async Task Two_packages_are_shown_side_by_side()
    {
        var ids = await AskAsync(db =>
            db.Packages.Where(p => p.FileName == "cairn-stock-25w40.tar" || p.FileName == "cairn-stock-26w10.tar")
                .OrderBy(p => p.FileName)
                .Select(p => p.Id)
                .ToListAsync()
        );
        var page = await ReadAsync($"/packages/compare?a={ids[0]}&b={ids[1]}");
        Assert.Contains("HX204/15.26w10-7.r3 is the newer build.", page);
        Assert.Contains("Bootloader revision 2 against 3.", page);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync($"/packages/compare?a={ids[0]}&b=x")).StatusCode);
    }
}

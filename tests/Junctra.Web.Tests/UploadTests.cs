using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Testing;
using Junctra.Web.Library;
using Junctra.Web.Library.Arrivals;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>
/// Files from a person's computer, by the upload protocol: what its specification says, and what one person may keep open.
/// </summary>
[Collection(nameof(ArrivalsWorld))]
[Trait("Turn", "11")]
public sealed class UploadTests(WebWorld world)
{
    private readonly HttpClient client = world.Client();

    private async Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask)
    {
        await using var db = world.Database.CreateDbContext();
        return await ask(db);
    }

    private async Task<ArrivalRow> DoneAsync(string fileName)
    {
        ArrivalRow? row = null;
        await Until.TrueAsync(
            async () =>
                (row = await AskAsync(db => db.Arrivals.AsNoTracking().SingleOrDefaultAsync(a => a.FileName == fileName)))
                    is { State: ArrivalState.Done },
            $"{fileName} is here"
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

    [Fact]
    public async Task A_file_is_sent_in_pieces_that_go_on_where_they_broke()
    {
        var bytes = await File.ReadAllBytesAsync(Path.Combine(await DemoLibrary.AllFolderAsync(), "halyard2_N.zip"));
        var made = await Tus.SendAsync(
            client,
            HttpMethod.Post,
            "/uploads",
            null,
            ("Upload-Length", $"{bytes.Length}"),
            ("Upload-Metadata", Tus.Name("../evil/Halyard from a stick.zip"))
        );
        Assert.Equal(HttpStatusCode.Created, made.StatusCode);
        var place = made.Headers.Location!.ToString();
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await Tus.SendAsync(client, HttpMethod.Patch, place, bytes[..2_000_000], ("Upload-Offset", "0"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await Tus.SendAsync(client, HttpMethod.Patch, place, bytes[..10], ("Upload-Offset", "5"))).StatusCode
        );
        var head = await Tus.SendAsync(client, HttpMethod.Head, place, null);
        Assert.Equal(["2000000"], head.Headers.GetValues("Upload-Offset"));
        var last = await Tus.SendAsync(client, HttpMethod.Patch, place, bytes[2_000_000..], ("Upload-Offset", "2000000"));
        Assert.Equal([$"{bytes.Length}"], last.Headers.GetValues("Upload-Offset"));
        var row = await DoneAsync("Halyard from a stick.zip");
        var package = await PackageAsync(row.PackageId!);
        Assert.Equal(("TRB62-N-14c-04-20260311", "upload", "lead"), (package.Title, package.Source, package.AddedBy));
        Assert.Equal(bytes, await File.ReadAllBytesAsync(Path.Combine(world.Store, "content", package.Id[..2], package.Id)));
    }

    [Fact]
    public async Task Uploads_keep_to_what_they_say()
    {
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await Tus.SendAsync(client, HttpMethod.Post, "/uploads", null, ("Upload-Metadata", Tus.Name("x.tar")))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await Tus.SendAsync(client, HttpMethod.Post, "/uploads", null, ("Upload-Length", "5"))).StatusCode
        );
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (
                await Tus.SendAsync(
                    client,
                    HttpMethod.Post,
                    "/uploads",
                    null,
                    ("Upload-Length", $"{17L << 30}"),
                    ("Upload-Metadata", Tus.Name("x.tar"))
                )
            ).StatusCode
        );
        var place = (
            await Tus.SendAsync(
                client,
                HttpMethod.Post,
                "/uploads",
                null,
                ("Upload-Length", "5"),
                ("Upload-Metadata", Tus.Name("five.tar"))
            )
        ).Headers.Location!.ToString();
        Assert.Equal(
            HttpStatusCode.RequestEntityTooLarge,
            (await Tus.SendAsync(client, HttpMethod.Patch, place, new byte[6], ("Upload-Offset", "0"))).StatusCode
        );
        Assert.Equal(HttpStatusCode.NoContent, (await Tus.SendAsync(client, HttpMethod.Delete, place, null)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await Tus.SendAsync(client, HttpMethod.Head, place, null)).StatusCode);
        var versionless = await client.SendAsync(new HttpRequestMessage(HttpMethod.Head, place));
        Assert.Equal(HttpStatusCode.PreconditionFailed, versionless.StatusCode);
        Assert.Equal(["1.0.0"], versionless.Headers.GetValues("Tus-Version"));
        var strange = new HttpRequestMessage(HttpMethod.Post, "/uploads");
        strange.Headers.Add("Tus-Resumable", "1.0.0");
        Assert.Equal(HttpStatusCode.BadRequest, (await client.SendAsync(strange)).StatusCode);
        var counter = await world.ClientAsync("counter");
        Assert.Equal(HttpStatusCode.Forbidden, (await counter.PostAsync("/uploads", null)).StatusCode);
    }

    [Fact]
    public async Task A_disk_that_is_full_is_said_to_be_and_the_upload_goes_on_when_there_is_room()
    {
        var place = (
            await Tus.SendAsync(
                client,
                HttpMethod.Post,
                "/uploads",
                null,
                ("Upload-Length", "5"),
                ("Upload-Metadata", Tus.Name("full.tar"))
            )
        ).Headers.Location!.ToString();
        var path = world.Service<ContentStore>().IncomingPath(place.Split('/')[^1]);
        // The system's device that is always full stands where the bytes go.
        File.Delete(path);
        File.CreateSymbolicLink(path, "/dev/full");
        var full = await Tus.SendAsync(client, HttpMethod.Patch, place, new byte[5], ("Upload-Offset", "0"));
        Assert.Equal(
            (HttpStatusCode.InsufficientStorage, "The disk is full. Make room, then go on."),
            (full.StatusCode, await full.Content.ReadAsStringAsync())
        );
        File.Delete(path);
        Assert.Equal(["0"], (await Tus.SendAsync(client, HttpMethod.Head, place, null)).Headers.GetValues("Upload-Offset"));
        Assert.Equal(
            HttpStatusCode.NoContent,
            (await Tus.SendAsync(client, HttpMethod.Patch, place, new byte[3], ("Upload-Offset", "0"))).StatusCode
        );
        Assert.Equal(HttpStatusCode.NoContent, (await Tus.SendAsync(client, HttpMethod.Delete, place, null)).StatusCode);
    }

    [Fact]
    public async Task What_is_unpacked_is_kept_to_the_room_that_is_free()
    {
        await using var db = world.Database.CreateDbContext();
        var id = await db.Packages.Where(row => row.FileName == "cairn-26w08.tar").Select(row => row.Id).SingleAsync();
        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        var package = (await scope.ServiceProvider.GetRequiredService<PackageIndex>().FindAsync(id, default))!;
        var path = (await scope.ServiceProvider.GetRequiredService<PackageIndex>().PathAsync(id, default))!;
        var shelf = world.Service<UnpackedImageCache>();
        // As large as no disk is; what is asked for at the same time is not held up by it.
        var huge = Sample.Image("system", bytes: 1L << 60);
        var large = new PackageImage("system", huge, DigestState.NothingToCompare);
        var error = await Assert.ThrowsAsync<IOException>(() => shelf.EnsureAsync(package, path, [large], default));
        Assert.EndsWith("are free. Make room first.", error.Message);
        var images = package.Images.Where(image => image.Body.Offset is null).ToList();
        Assert.NotEmpty(images);
        // Several at once, in either order: whoever notes an image first must not wait for somebody who waits for him.
        for (var round = 0; round < 5; round++)
        {
            await db.UnpackedImages.Take(1).ExecuteDeleteAsync();
            var all = await Task.WhenAll(
                Enumerable
                    .Range(0, 8)
                    .Select(i => shelf.EnsureAsync(package, path, i % 2 == 0 ? images : images.AsEnumerable().Reverse(), default))
            );
            Assert.All(all, files =>
                Assert.All(images, image => Assert.Equal(image.Body.Bytes, new FileInfo(files[image.Body.Sha256]).Length))
            );
        }

        var noted = await db.UnpackedImages.Select(row => row.Sha256).ToListAsync();
        Assert.All(images, image => Assert.Contains(image.Body.Sha256, noted));
        Assert.DoesNotContain(world.Service<ContentStore>().AllIncoming(), file =>
            file.Name.StartsWith("unpack-", StringComparison.Ordinal)
        );
    }

    [Fact]
    public async Task Uploads_are_bounded_a_person_stay_findable_and_are_ended_only_as_uploads()
    {
        // What comes another way is not an upload's to end.
        var fetched = Guid.NewGuid().ToString("N");
        await AskAsync(async db =>
        {
            db.Arrivals.Add(
                new ArrivalRow
                {
                    Id = fetched,
                    FileName = "from-a-mirror.tar",
                    Source = "Quay",
                    SizeBytes = 5,
                    CreatedBy = "lead",
                    CreatedAt = DateTimeOffset.UtcNow,
                    UpdatedAt = DateTimeOffset.UtcNow,
                    State = ArrivalState.Paused,
                }
            );
            return await db.SaveChangesAsync();
        });
        Assert.Equal(HttpStatusCode.NotFound, (await Tus.SendAsync(client, HttpMethod.Delete, $"/uploads/{fetched}", null)).StatusCode);
        Assert.Equal(ArrivalState.Paused, await AskAsync(db => db.Arrivals.Where(a => a.Id == fetched).Select(a => a.State).SingleAsync()));
        foreach (var id in new[] { new string('0', 32), "x", new string('z', 32) })
        {
            Assert.Equal(HttpStatusCode.NotFound, (await Tus.SendAsync(client, HttpMethod.Head, $"/uploads/{id}", null)).StatusCode);
            Assert.Equal(HttpStatusCode.NotFound, (await Tus.SendAsync(client, HttpMethod.Delete, $"/uploads/{id}", null)).StatusCode);
            Assert.Equal(
                HttpStatusCode.NotFound,
                (await Tus.SendAsync(client, HttpMethod.Patch, $"/uploads/{id}", new byte[1], ("Upload-Offset", "0"))).StatusCode
            );
        }

        // Twenty at once: as many as one person may have open, and no more.
        var answers = await Task.WhenAll(
            Enumerable
                .Range(0, 20)
                .Select(i =>
                    Tus.SendAsync(
                        client,
                        HttpMethod.Post,
                        "/uploads",
                        null,
                        ("Upload-Length", "5"),
                        ("Upload-Metadata", Tus.Name($"bounded-{i}.tar"))
                    )
                )
        );
        var made = answers
            .Where(answer => answer.StatusCode == HttpStatusCode.Created)
            .Select(answer => answer.Headers.Location!.ToString())
            .ToList();
        Assert.InRange(made.Count, 1, 8);
        Assert.All(answers.Where(answer => answer.StatusCode != HttpStatusCode.Created), answer =>
            Assert.Equal(HttpStatusCode.TooManyRequests, answer.StatusCode)
        );

        await WebWorld.PostAsync(client, "/sources", "Pause", ("id", made[0].Split('/')[^1]));
        var head = await Tus.SendAsync(client, HttpMethod.Head, made[0], null);
        Assert.Equal(HttpStatusCode.OK, head.StatusCode);
        Assert.Equal(["0"], head.Headers.GetValues("Upload-Offset"));
        Assert.StartsWith("filename ", head.Headers.GetValues("Upload-Metadata").Single());
        Assert.NotEmpty(head.Headers.GetValues("Upload-Expires"));
        Assert.Equal(
            HttpStatusCode.Conflict,
            (await Tus.SendAsync(client, HttpMethod.Patch, made[0], new byte[5], ("Upload-Offset", "0"))).StatusCode
        );

        // What never comes gives its room back.
        await AskAsync(db =>
            db.Arrivals.Where(a => a.Source == "upload" && a.FileName.StartsWith("bounded-"))
                .ExecuteUpdateAsync(set => set.SetProperty(a => a.UpdatedAt, a => a.UpdatedAt - TimeSpan.FromHours(25)))
        );
        await using (var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope())
            await scope.ServiceProvider.GetRequiredService<ArrivalService>().ExpireUploadsAsync();
        Assert.Equal(0, await AskAsync(db => db.Arrivals.Where(a => a.FileName.StartsWith("bounded-")).SumAsync(a => a.ReservedBytes)));
        Assert.Equal(HttpStatusCode.NotFound, (await Tus.SendAsync(client, HttpMethod.Head, made[0], null)).StatusCode);
    }
}

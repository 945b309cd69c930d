using System.Security.Cryptography;
using Junctra.Store;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>
/// The program is killed in the middle of downloads, of unpacking and of bringing files in: the library stays consistent, and all of it
/// goes on.
/// </summary>
[Trait("Turn", "3")]
public sealed class KilledLibraryTests : IAsyncLifetime
{
    // In turn of three kinds; twenty of them with JUNCTRA_EVERY_FAULT=1.
    private static readonly int Kills = Sampled.Of(20, 2);
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-killed-").FullName;
    private StandInProcess phones = null!;
    private TestDatabase database = null!;
    private WebProcess web = null!;

    private string StorePath(params string[] parts) => Path.Combine([folder, "store", .. parts]);

    public async ValueTask InitializeAsync()
    {
        Directory.CreateDirectory(Path.Combine(folder, "library"));
        Directory.CreateDirectory(Path.Combine(folder, "open"));
        // Slow enough to be met in the middle.
        phones = await StandInProcess.StartAsync(mirrorPace: 0.5);
        database = await TestDatabase.CreateAsync();
        web = new WebProcess(database.Connection, Path.Combine(folder, "library"), phones, StorePath(), Path.Combine(folder, "open"));
    }

    public async ValueTask DisposeAsync()
    {
        await web.DisposeAsync();
        await phones.DisposeAsync();
        await database.DisposeAsync();
        Directory.Delete(folder, true);
    }

    private async Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask)
    {
        await using var db = database.CreateDbContext();
        return await ask(db);
    }

    /// <summary>Bytes that lie in incoming files, those of a kind or all.</summary>
    private long Incoming(string kind = "")
    {
        try
        {
            return !Directory.Exists(StorePath("incoming"))
                ? 0
                : new DirectoryInfo(StorePath("incoming")).EnumerateFiles(kind + "*").Sum(file => file.Length);
        }
        catch (FileNotFoundException)
        {
            // It got its final name while it was looked at.
            return 0;
        }
    }

    [Fact]
    public async Task Killed_again_and_again_the_library_stays_whole_and_goes_on()
    {
        var random = new Random(Sampled.Seed + 26_11);
        await web.StartAsync();
        await web.PostAsync("/sources", "Read");
        var files = await AskAsync(db => db.MirrorFiles.Select(f => new { f.Id, f.Path }).ToListAsync());
        foreach (var file in files)
            await web.PostAsync("/sources", "Fetch", ("file", $"{file.Id}"));
        var source = await DemoLibrary.PathAsync("cairn-26w06-set.zip");
        for (var kill = 0; kill < Kills; kill++)
        {
            Sampled.Tried();
            // In turn: while something is fetched, while a file of this computer is brought in, while images are unpacked.
            var wholeId = await AskAsync(db =>
                db.Packages.Where(p => p.InspectorVersion > 0 && p.FileName.EndsWith(".zip"))
                    .OrderBy(p => p.Id)
                    .Select(p => p.Id)
                    .FirstOrDefaultAsync()
            );
            var (before, more) = (Incoming(), random.Next(1, 1_500_000));
            var open = Path.Combine(folder, "open", $"brought-{kill}.zip");
            if (kill % 3 == 1)
            {
                // Every one of its own, so that each must be stored.
                File.Copy(source, open);
                await File.AppendAllTextAsync(open, $"{kill}");
                await web.PostAsync("/sources", "Bring", ("path", open));
                await Until.TrueAsync(() => Task.FromResult(Incoming() >= before + more || !HasOpen(open)), "some of it is here");
            }
            else if (kill % 3 == 2 && wholeId is not null)
            {
                await AskAsync(db => db.UnpackedImages.ExecuteDeleteAsync());
                foreach (
                    var image in await AskAsync(db => db.Packages.Where(p => p.Id == wholeId).Select(p => p.ImageDigests).SingleAsync())
                )
                    if (File.Exists(StorePath("content", image[..2], image)))
                        File.Delete(StorePath("content", image[..2], image));
                var asked = web.AskAsync($"/packages/{wholeId}/repacked.tar");
                await Until.TrueAsync(() => Task.FromResult(Incoming("unpack") >= more / 4 || asked.IsCompleted), "something is unpacked");
            }
            else
            {
                var done = await AskAsync(db => db.Arrivals.CountAsync(a => a.State == ArrivalState.Done));
                await Until.TrueAsync(
                    async () =>
                        Incoming() >= before + more
                        || await AskAsync(db => db.Arrivals.AllAsync(a => a.State == ArrivalState.Done))
                        || await AskAsync(db => db.Arrivals.CountAsync(a => a.State == ArrivalState.Done)) > done,
                    "more has come"
                );
            }

            await web.KillAsync();
            await ConsistentAsync();
            await web.StartAsync();
        }

        await Until.TrueAsync(
            async () => await AskAsync(db => db.Arrivals.AllAsync(a => a.State == ArrivalState.Done)),
            "all of it has come"
        );
        await Until.TrueAsync(
            async () => await AskAsync(db => db.Packages.AllAsync(p => p.InspectorVersion > 0)),
            "all of it was looked into"
        );
        await ConsistentAsync();
        await web.KillAsync();
        await web.StartAsync();
        Assert.Equal(0, Incoming());
        var originals = new DirectoryInfo(await DemoLibrary.MirrorFolderAsync()).EnumerateFiles().ToList();
        foreach (var file in originals)
        {
            await using var stream = file.OpenRead();
            var digest = Convert.ToHexStringLower(await SHA256.HashDataAsync(stream));
            Assert.True(await AskAsync(db => db.Packages.AnyAsync(p => p.Id == digest && p.IsStored)), $"{file.Name} is in the library");
        }

        Assert.Equal(
            originals.Count + Enumerable.Range(0, Kills).Count(kill => kill % 3 == 1),
            await AskAsync(db => db.Packages.CountAsync())
        );
    }

    private bool HasOpen(string path) =>
        AskAsync(db => db.Arrivals.AnyAsync(a => a.From == path && a.State != ArrivalState.Done)).GetAwaiter().GetResult();

    /// <summary>Whatever lies under a final name is whole, and every package that counts as stored is there.</summary>
    private async Task ConsistentAsync()
    {
        if (!Directory.Exists(StorePath("content")))
            return;
        var there = new HashSet<string>();
        foreach (var file in new DirectoryInfo(StorePath("content")).EnumerateFiles("*", SearchOption.AllDirectories))
        {
            await using var stream = file.OpenRead();
            Assert.Equal(file.Name, Convert.ToHexStringLower(await SHA256.HashDataAsync(stream)));
            there.Add(file.Name);
        }

        Assert.All(await AskAsync(db => db.Packages.Where(p => p.IsStored).Select(p => p.Id).ToListAsync()), id =>
            Assert.Contains(id, there)
        );
    }
}

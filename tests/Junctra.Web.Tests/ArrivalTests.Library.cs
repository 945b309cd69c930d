using System.Net;
using System.Text;
using System.Text.RegularExpressions;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Testing;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>What the library makes of files that have come.</summary>
public sealed partial class ArrivalTests
{
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

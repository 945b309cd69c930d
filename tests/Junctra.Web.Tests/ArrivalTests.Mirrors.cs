using System.Net;
using System.Security.Cryptography;
using Junctra.Core.Facts;
using Junctra.Store;
using Microsoft.AspNetCore.Http;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Tests;

/// <summary>Mirrors that break off, change, misbehave or answer nonsense.</summary>
public sealed partial class ArrivalTests
{
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
}

using System.Text.RegularExpressions;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>A long list of candidates is sent in pieces.</summary>
public sealed partial class MatchPageTests
{
    private const int Many = 300;

    private static List<string> CandidatesOf(string page) =>
        [.. Regex.Matches(page, "<a class=\"row-link code\" href=\"\\?package=([0-9a-f]{64})").Select(match => match.Groups[1].Value)];

    [Fact]
    public async Task Three_hundred_candidates_come_in_pieces_each_once_and_in_their_order()
    {
        await TakeInAsync("0890", [.. Sample.Cairn().All]);
        await using var db = world.Database.CreateDbContext();
        var rows = Enumerable.Range(0, Many).Select(RowOf).ToList();
        db.Packages.AddRange(rows);
        await db.SaveChangesAsync();
        try
        {
            var all = CandidatesOf(await TextAsync(lead, "/jobs/0890/match?whole=true"));
            Assert.True(all.Count >= Many && all.Distinct().Count() == all.Count, $"{all.Count} rows");
            // One that would be far down, chosen: it stands first, and is not sent again with its piece.
            foreach (
                var (query, expected) in new[] { ("?", all), ($"?package={all[200]}", [all[200], .. all.Where(id => id != all[200])]) }
            )
            {
                var page = await TextAsync(lead, "/jobs/0890/match" + query);
                // The chosen row is open, and its own link closes it.
                var got = query == "?" ? CandidatesOf(page) : [all[200], .. CandidatesOf(page)];
                Assert.Equal(40, got.Count);
                Assert.Contains($"Show all {all.Count}", page);
                var next = Regex.Match(page, "data-more=\"([^\"]+)\"").Groups[1].Value;
                while (CandidatesOf(await TextAsync(lead, $"/jobs/0890/match{next}&from={got.Count}")) is { Count: > 0 } piece)
                {
                    Assert.InRange(piece.Count, 1, 40);
                    got.AddRange(piece);
                }

                Assert.Equal(expected, got);
            }

            Assert.Equal(40, CandidatesOf(await TextAsync(lead, "/jobs/0890/match?handler=Rows&from=-5")).Count);
        }
        finally
        {
            db.Packages.RemoveRange(rows);
            await db.SaveChangesAsync();
        }
    }

    private static PackageRow RowOf(int number)
    {
        var contents = Sample.Set("HX204", $"HX204/15.26w{number % 50 + 1:00}-1.r{1 + number % 6}").Contents with
        {
            Sha256 = Sample.Digest($"piece {number}"),
            PublishedDigest = Sample.Digest($"piece {number}"),
        };
        var row = new PackageRow
        {
            Id = contents.Sha256,
            FileName = $"piece-{number}.tar",
            Contents = contents,
            InspectorVersion = PackageInspector.Version,
        };
        row.Describe(PackageReader.Read(row.FileName, contents, Repo.Catalogue), Repo.Catalogue.Stamp);
        return row;
    }
}

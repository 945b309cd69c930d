using System.Net;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Store;
using Junctra.Testing;
using Junctra.Web.Bench;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace Junctra.Web.Tests;

/// <summary>What a change of the catalogue's files would do is said before it counts.</summary>
[Collection(nameof(StationsWorld))]
public sealed class CataloguePreviewTests(WebWorld world) : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-next-").FullName;

    private static CancellationToken Cancel => TestContext.Current.CancellationToken;

    public void Dispose() => Directory.Delete(folder, true);

    /// <summary>The catalogue as it is, with one file changed.</summary>
    private async Task<CatalogueChange> LookAsync(string? file = null, Func<string, string>? change = null)
    {
        foreach (var from in Directory.EnumerateFiles(Repo.CatalogueFolder, "*", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(Repo.CatalogueFolder, from));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(from, to, overwrite: true);
        }

        if (file is not null)
        {
            var path = Path.Combine(folder, file);
            var (before, after) = (await File.ReadAllTextAsync(path, Cancel), change!(await File.ReadAllTextAsync(path, Cancel)));
            Assert.NotEqual(before, after);
            await File.WriteAllTextAsync(path, after, Cancel);
        }

        await using var scope = world.Service<IServiceScopeFactory>().CreateAsyncScope();
        return await scope.ServiceProvider.GetRequiredService<CataloguePreview>().LookAsync(folder, Cancel);
    }

    [Fact]
    public async Task The_same_files_change_nothing() => Assert.True((await LookAsync()).IsSame);

    [Fact]
    public async Task A_comment_is_a_change_that_changes_no_verdict()
    {
        var change = await LookAsync("makers/hadrel.yaml", text => text + "\n# Looked through by the lead.\n");
        Assert.False(change.IsSame);
        Assert.Empty(change.Verdicts);
        Assert.Empty(change.Standings);
        Assert.True(change.Judged > 20, $"{change.Judged} were judged");
    }

    [Fact]
    public async Task A_maker_that_is_another_changes_its_phones_and_no_others()
    {
        // A phone whose floor is over every package there is, as its link told.
        await using var db = world.Database.CreateDbContext();
        var job = await db.Jobs.Where(row => row.Ticket == "0421").Select(row => row.Id).SingleAsync(Cancel);
        await using (var other = world.Database.CreateDbContext())
        {
            foreach (var (name, value) in new[] { (FactName.ModelCode.Name.Value, "HX204"), (FactName.RollbackFloor.Name.Value, "99") })
                other.Facts.Add(
                    new FactRow
                    {
                        JobId = job,
                        Name = name,
                        Value = value,
                        Source = FactSource.Link,
                        At = DateTimeOffset.UtcNow,
                        RecordedBy = "preview",
                    }
                );
            await other.SaveChangesAsync(Cancel);
        }

        // What is stored must not be touched by looking.
        async Task<(int, string)> StoredAsync()
        {
            return (
                await db.Audit.CountAsync(Cancel),
                string.Join(' ', await db.Packages.OrderBy(row => row.Id).Select(row => row.ReadWith).ToListAsync(Cancel))
            );
        }

        var before = await StoredAsync();
        var change = await LookAsync("makers/hadrel.yaml", text =>
            text.Replace("rollback-fuses: true", "rollback-fuses: false", StringComparison.Ordinal)
        );
        await db.Facts.Where(fact => fact.JobId == job && fact.RecordedBy == "preview").ExecuteDeleteAsync(Cancel);
        Assert.Empty(change.Problems);
        Assert.Equal(before, await StoredAsync());
        Assert.Contains(change.Verdicts, one => one is { Ticket: "0421", Was: Verdict.Stop } && one.Becomes != Verdict.Stop);
        Assert.All(change.Verdicts, one =>
        {
            Assert.NotEqual(one.Was, one.Becomes);
            Assert.NotEqual("", one.Why);
        });
        var names = Repo.Catalogue.Makers.Single(maker => maker.Name == "Hadrel").Models.Select(model => model.ProductName).ToList();
        Assert.All(change.Verdicts, one => Assert.Contains(names, name => one.Job.Contains(name, StringComparison.Ordinal)));
    }

    [Fact]
    public async Task A_model_that_is_renamed_goes_and_comes()
    {
        var change = await LookAsync("makers/hadrel.yaml", text =>
            text.Replace("code: HX204\n", "code: HX299\n", StringComparison.Ordinal)
        );
        if (change.Problems.Count == 0)
        {
            Assert.Equal(["HX204"], change.ModelsRemoved);
            Assert.Equal(["HX299"], change.ModelsAdded);
            Assert.NotEmpty(change.Verdicts);
        }
        else
        {
            // Other files name it: that is a mistake, with its place.
            Assert.Contains(change.Problems, problem => problem.Contains("HX204", StringComparison.Ordinal));
        }
    }

    [Fact]
    public async Task Mistakes_are_named_with_their_place()
    {
        var change = await LookAsync("regions.yaml", text => "- : [\n" + text);
        Assert.Contains(change.Problems, problem => problem.Contains("regions.yaml", StringComparison.Ordinal));
        Assert.Equal(HttpStatusCode.OK, (await world.Client().GetAsync("/catalogue/change", Cancel)).StatusCode);
    }
}

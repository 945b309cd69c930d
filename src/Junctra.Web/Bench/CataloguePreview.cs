using Junctra.Core.Catalogue;
using Junctra.Core.Matching;
using Junctra.Formats.CatalogueFiles;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Web.Library;

namespace Junctra.Web.Bench;

/// <summary>A verdict that is another by the files as they are now.</summary>
/// <param name="Ticket">The job.</param>
/// <param name="Job">Its title.</param>
/// <param name="PackageId">The package.</param>
/// <param name="Package">Its title.</param>
/// <param name="IsChosen">Whether it is the one that was chosen for the job.</param>
/// <param name="Was">The verdict that counts; null where it is no candidate.</param>
/// <param name="Becomes">The verdict by the files; null where it is no candidate any more.</param>
/// <param name="Why">The sentence to read first of what it becomes; of what it was, where it is no candidate any more.</param>
public sealed record VerdictChange(
    string Ticket,
    string Job,
    string PackageId,
    string Package,
    bool IsChosen,
    Verdict? Was,
    Verdict? Becomes,
    string Why
);

/// <summary>A job of which more than verdicts is another.</summary>
/// <param name="Ticket">The job.</param>
/// <param name="Job">Its title.</param>
/// <param name="Was">What is next for it.</param>
/// <param name="Becomes">What would be.</param>
public sealed record StandingChange(string Ticket, string Job, string Was, string Becomes);

/// <summary>What the catalogue's files would change, if the program were started anew.</summary>
/// <param name="Problems">Mistakes in the files: with one, the program would not start.</param>
/// <param name="IsSame">Whether the files are those that count.</param>
public sealed record CatalogueChange(IReadOnlyList<string> Problems, bool IsSame)
{
    /// <summary>Codes of models that come.</summary>
    public IReadOnlyList<string> ModelsAdded { get; init; } = [];

    /// <summary>Codes of models that go.</summary>
    public IReadOnlyList<string> ModelsRemoved { get; init; } = [];

    /// <summary>Open jobs that were judged by both.</summary>
    public int Jobs { get; init; }

    /// <summary>Verdicts that were held against each other.</summary>
    public int Judged { get; init; }

    /// <summary>Those that are others: what was chosen first, then the worst.</summary>
    public IReadOnlyList<VerdictChange> Verdicts { get; init; } = [];

    /// <summary>Jobs that would be elsewhere on their line.</summary>
    public IReadOnlyList<StandingChange> Standings { get; init; } = [];
}

/// <summary>
/// Judges every open job by the catalogue that counts and by its files as they are now, so that whoever edits them sees what that does
/// before it counts. Nothing is stored.
/// </summary>
public sealed class CataloguePreview(
    JunctraDb db,
    JobStore store,
    JobLoader jobs,
    ContentStore files,
    ReadPackages read,
    ModelCatalogue catalogue,
    TimeProvider time
)
{
    /// <summary>Looks at the files of a folder.</summary>
    /// <param name="folder">The catalogue's folder, or that of one that is to take its place.</param>
    /// <param name="cancel">Cancels.</param>
    public async Task<CatalogueChange> LookAsync(string folder, CancellationToken cancel)
    {
        ModelCatalogue next;
        try
        {
            next = CatalogueReader.Read(folder);
        }
        catch (CatalogueException error)
        {
            return new CatalogueChange([.. error.Problems.Select(problem => $"{problem}")], false);
        }

        if (next.Stamp == catalogue.Stamp)
            return new CatalogueChange([], true);
        using var readAnew = new ReadPackages();
        var (now, then) = (
            new Side(catalogue, new PackageIndex(db, catalogue, files, read), await ShopAsync(catalogue, cancel)),
            new Side(next, new PackageIndex(db, next, files, readAnew), await ShopAsync(next, cancel))
        );
        var (verdicts, standings, judged) = (new List<VerdictChange>(), new List<StandingChange>(), 0);
        var open = await jobs.OpenAsync(cancel);
        foreach (var head in open)
        {
            // Lists know no answers and decisions of a job; the rules need them.
            if (await store.FindAsync(head.Row.Ticket, cancel) is not { } row)
                continue;
            var (was, becomes) = (new JobView(row, catalogue), new JobView(row, next));
            if (was.Standing.Next != becomes.Standing.Next)
                standings.Add(new StandingChange(row.Ticket, was.Title, was.Standing.Next, becomes.Standing.Next));
            var (before, after) = (await JudgeAsync(now, was, cancel), await JudgeAsync(then, becomes, cancel));
            foreach (var id in before.Keys.Union(after.Keys))
            {
                judged++;
                var (old, fresh) = (before.GetValueOrDefault(id), after.GetValueOrDefault(id));
                if (old?.Verdict == fresh?.Verdict)
                    continue;
                var told = (fresh ?? old)!;
                verdicts.Add(
                    new VerdictChange(
                        row.Ticket,
                        was.Title,
                        id,
                        told.PackageTitle,
                        row.PackageId == id,
                        old?.Verdict,
                        fresh?.Verdict,
                        told.Headline
                    )
                );
            }

            // One job at a time is enough of what is held in mind.
            db.ChangeTracker.Clear();
        }

        var (codesNow, codesThen) = (CodesOf(catalogue), CodesOf(next));
        return new CatalogueChange([], false)
        {
            ModelsAdded = [.. codesThen.Except(codesNow)],
            ModelsRemoved = [.. codesNow.Except(codesThen)],
            Jobs = open.Count,
            Judged = judged,
            Verdicts =
            [
                .. verdicts
                    .OrderByDescending(change => change.IsChosen)
                    .ThenByDescending(change => change.Becomes)
                    .ThenBy(change => change.Ticket, StringComparer.Ordinal)
                    .ThenBy(change => change.Package, StringComparer.Ordinal),
            ],
            Standings = standings,
        };
    }

    /// <summary>A catalogue, the library read by it, and the shop's decisions on top of its schools.</summary>
    private sealed record Side(ModelCatalogue Catalogue, PackageIndex Library, MatchPolicy Shop);

    private static async Task<Dictionary<string, MatchReport>> JudgeAsync(Side side, JobView job, CancellationToken cancel)
    {
        var candidates = await side.Library.CandidatesAsync(job.Phone, cancel);
        return Matcher
            .Rank(job.Phone, candidates.Packages, side.Catalogue, job.Policy(side.Shop, side.Catalogue))
            .ToDictionary(ranked => ranked.Package.Id, ranked => ranked.Report);
    }

    private Task<MatchPolicy> ShopAsync(ModelCatalogue of, CancellationToken cancel) =>
        new PolicyHistory(db, time).ShopAsync(Schools.PolicyOf(of), cancel);

    private static List<string> CodesOf(ModelCatalogue of) => [.. of.Models.Select(model => model.Code).Order(StringComparer.Ordinal)];
}

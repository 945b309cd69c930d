using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Web.Library;

namespace Junctra.Web.Bench;

/// <summary>The candidates of the library, judged for one phone.</summary>
/// <param name="Ranked">The best first.</param>
/// <param name="Policy">By what they were judged.</param>
/// <param name="IsCut">Whether there are more candidates than were judged.</param>
public sealed record Judged(IReadOnlyList<(MatchReport Report, Package Package)> Ranked, MatchPolicy Policy, bool IsCut);

/// <summary>A package judged for the phones on the bench.</summary>
/// <param name="Judged">Of at most twenty phones, the most urgent of them: the best first.</param>
/// <param name="Left">So many more it may be for, which were not judged.</param>
public sealed record BenchFit(IReadOnlyList<(JobView Job, MatchReport Report)> Judged, int Left);

/// <summary>Brings a phone, the library, and what shop and customer decided before the rules.</summary>
public sealed class MatchService(PackageIndex shelf, PolicyHistory schools, JobLoader jobs, ModelCatalogue catalogue)
{
    private const int MaxOnBench = 20;

    /// <summary>The shop's schools.</summary>
    public Task<MatchPolicy> ShopAsync(CancellationToken cancel) => schools.ShopAsync(Schools.PolicyOf(catalogue), cancel);

    /// <summary>What shop and customer have decided for a job.</summary>
    public async Task<MatchPolicy> PolicyAsync(JobView job, CancellationToken cancel) => job.Policy(await ShopAsync(cancel), catalogue);

    /// <summary>How many packages the library has.</summary>
    public Task<int> LibraryCountAsync(CancellationToken cancel) => shelf.CountAsync(cancel);

    /// <summary>Judges what the library has for a phone.</summary>
    public async Task<Judged> JudgeAsync(Phone phone, MatchPolicy policy, CancellationToken cancel)
    {
        var shelved = await shelf.CandidatesAsync(phone, cancel);
        return new Judged(Matcher.Rank(phone, shelved.Packages, catalogue, policy), policy, shelved.IsCut);
    }

    /// <summary>The other direction: a package judged for the phones on the bench that are of one of its models, or may be.</summary>
    public async Task<BenchFit> BenchAsync(Package package, CancellationToken cancel)
    {
        var codes = package.Says(FactName.ModelCode);
        var names = codes.Select(code => catalogue.Model(code)?.ProductName).OfType<string>().ToHashSet(StringComparer.OrdinalIgnoreCase);
        bool MayBe(Phone phone) =>
            phone[FactName.ModelCode].State == FactState.Unknown
                ? phone[FactName.ProductName].Values.Any(names.Contains)
                : phone[FactName.ModelCode]
                    .Values.Any(code =>
                        codes.Contains(code, StringComparer.OrdinalIgnoreCase)
                        || catalogue.Model(code) is { } model && names.Contains(model.ProductName)
                    );
        var judged = new List<(JobView Job, MatchReport Report)>();
        var candidates = (await jobs.OpenAsync(cancel)).Where(job => MayBe(job.Phone)).ToList();
        foreach (var head in candidates.Take(MaxOnBench))
        {
            // Lists know no answers and decisions of a job; the rules need them.
            if (await jobs.FindAsync(head.Row.Ticket, cancel) is { } job)
                judged.Add((job, await ReportAsync(job, package, cancel)));
        }

        return new BenchFit([.. judged.OrderBy(pair => pair.Report.Verdict)], Math.Max(0, candidates.Count - MaxOnBench));
    }

    /// <summary>Judges one package for a job.</summary>
    public async Task<MatchReport> ReportAsync(JobView job, Package package, CancellationToken cancel) =>
        (await ReportWithOriginalAsync(job, package, cancel)).Report;

    /// <summary>
    /// The same, with the bundle of the library from which a patched part was made; null where it is none, or none is known.
    /// </summary>
    public async Task<(MatchReport Report, Package? Original)> ReportWithOriginalAsync(
        JobView job,
        Package package,
        CancellationToken cancel
    ) => await ReportWithOriginalAsync(job.Phone, await PolicyAsync(job, cancel), package, cancel);

    /// <summary>What of the library may concern a phone.</summary>
    public async Task<Surroundings> AroundAsync(Phone phone, CancellationToken cancel) =>
        new((await shelf.CandidatesAsync(phone, cancel)).Packages, catalogue);

    /// <summary>Judges one package for a phone, by what was decided for it.</summary>
    public async Task<(MatchReport Report, Package? Original)> ReportWithOriginalAsync(
        Phone phone,
        MatchPolicy policy,
        Package package,
        CancellationToken cancel
    )
    {
        // Another file of the same build puts this one under suspicion, whatever the job is for.
        var around = await AroundAsync(phone, cancel);
        return (
            Matcher.Match(phone, package, catalogue, policy, around),
            package.Kind == PackageKind.BundlePart ? around.OriginOf(package)?.Original : null
        );
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Store;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>Every package of the library judged for this phone, stops shown too.</summary>
public sealed class MatchModel(JobLoader jobs, JobStore store, JunctraDb db, PackageShelf shelf, LibraryWatch library, ModelCatalogue catalogue) : JobPage(jobs)
{
    public override Station Station => Station.Match;

    public IReadOnlyList<(MatchReport Report, Package Package)> Candidates { get; private set; } = [];

    public (MatchReport Report, Package Package)? Selected { get; private set; }

    /// <summary>What the look through the library is at, or null when all was seen.</summary>
    public LibraryProgress? Progress => library.Progress;

    /// <summary>Files of the library that are still arriving.</summary>
    public IReadOnlyList<string> Arriving => library.Arriving;

    /// <summary>The packages that come closest, where none may be chosen.</summary>
    public IReadOnlyList<MatchReport> NearMisses => Matcher.NearMisses(Candidates);

    /// <summary>The region school that counts for this job.</summary>
    public RegionSchool School => Job.Policy(catalogue).Region;

    public RegionSchool ShopSchool => catalogue.RegionSchool;

    /// <summary>Whether any package names a region that is not the phone's: only then does the school decide anything.</summary>
    public bool RegionMatters => Candidates.Any(pair => pair.Package.Says(FactName.Region).Count > 0);

    public int Usable => Candidates.Count(pair => pair.Report.MayBeChosen);

    public IReadOnlyList<ResolvedFact> FactsLeft =>
        [.. new[] { FactName.ModelCode, FactName.Serial, FactName.RollbackFloor, FactName.BootloaderRevision, FactName.LockState, FactName.Build, FactName.BatteryPercent }.Select(name => Job.Phone[name])];

    protected override async Task PrepareAsync(CancellationToken cancel) =>
        Candidates = Matcher.Rank(Job.Phone, await shelf.AllAsync(cancel), catalogue, Job.Policy(catalogue));

    public void OnGet(string? package) => Select(package ?? Job.Row.PackageId);

    public async Task<IActionResult> OnPostAsync(string? package, CancellationToken cancel)
    {
        Select(package);
        if (WhyFrozen is { } frozen) return Refused(frozen);
        if (Selected is not { } chosen || chosen.Package.Id != package) return Refused("That package is no longer in the library.");
        if (!chosen.Report.MayBeChosen) return Refused(chosen.Report.Headline);
        Job.Row.PackageId = package;
        Job.Row.ErasesData = Job.Row.DataWish == DataWish.MayGo;
        store.Note(Job.Row.Id, PhoneVisits.Bench, $"Chose {chosen.Report.PackageTitle}: {chosen.Report.Headline}");
        await db.SaveChangesAsync(cancel);
        return To(Station.Route);
    }

    /// <summary>Sets the region school of this job.</summary>
    public async Task<IActionResult> OnPostSchoolAsync(string? school, CancellationToken cancel)
    {
        if (WhyFrozen is { } frozen) return Refused(frozen);
        if (RegionSchools.Parse(school) is not { } chosen) return Refused("That is no region school.");
        Job.Row.RegionSchool = chosen == catalogue.RegionSchool ? null : chosen;
        store.Note(Job.Row.Id, PhoneVisits.Bench, $"Region for this job: {chosen.Label()} (the shop's rule is {catalogue.RegionSchool.Label()}).");
        await db.SaveChangesAsync(cancel);
        return To(Station.Match);
    }

    private void Select(string? package)
    {
        foreach (var pair in Candidates.Where(pair => pair.Package.Id == package)) Selected = pair;
        if (Selected is null && Candidates.Count > 0) Selected = Candidates[0];
    }
}

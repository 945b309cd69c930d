using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>One of the two plans that are held side by side.</summary>
/// <param name="Name">Name of its fields in the address.</param>
/// <param name="Package">Its package, or null for none.</param>
/// <param name="Offers">The ways that have a plan with that package.</param>
/// <param name="Chosen">The one that is shown; null where there is none.</param>
public sealed record ComparedSide(string Name, Package? Package, IReadOnlyList<PathOffer> Offers, PathOffer? Chosen);

/// <summary>Two plans for one phone side by side: two ways, or two packages. Nothing is chosen here.</summary>
public sealed class CompareModel(JobLoader jobs, Planner planner, MatchService matches, PackageIndex packages) : JobPage(jobs)
{
    // More are not offered: what ranks below these is not what a technician hesitates over.
    private const int MostPackages = 12;

    public override Station Station => Station.Plan;

    /// <summary>Packages that may be written, the best first; and the one that was chosen.</summary>
    public IReadOnlyList<Package> Packages { get; private set; } = [];

    public ComparedSide Left { get; private set; } = null!;

    public ComparedSide Right { get; private set; } = null!;

    /// <summary>The two side by side; null where one of them has no plan.</summary>
    public PlanComparison? Comparison { get; private set; }

    /// <summary>Digests of the packages, empty for none, and ids of the ways.</summary>
    [FromQuery(Name = "left")]
    public string? LeftPackage { get; set; }

    /// <inheritdoc cref="LeftPackage"/>
    [FromQuery(Name = "right")]
    public string? RightPackage { get; set; }

    /// <inheritdoc cref="LeftPackage"/>
    [FromQuery(Name = "left-way")]
    public string? LeftWay { get; set; }

    /// <inheritdoc cref="LeftPackage"/>
    [FromQuery(Name = "right-way")]
    public string? RightWay { get; set; }

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        var judged = await matches.JudgeAsync(Job.Phone, await matches.PolicyAsync(Job, cancel), cancel);
        var chosen = await packages.FindAsync(Job.Row.PackageId, cancel);
        Packages =
        [
            .. judged
                .Ranked.Where(one => one.Report.Verdict != Verdict.Stop)
                .Select(one => one.Package)
                .Prepend(chosen)
                .OfType<Package>()
                .DistinctBy(package => package.Id)
                .Take(MostPackages),
        ];
        var asked = Request.Query.ContainsKey("left") || Request.Query.ContainsKey("right");
        Left = await SideAsync(
            "left",
            asked ? LeftPackage
                : Packages is [var first, ..] ? first.Id
                : null,
            LeftWay,
            null,
            cancel
        );
        // Unasked, what differs most is another package; with only one, another way.
        var other =
            asked ? RightPackage
            : Packages is [_, var second, ..] ? second.Id
            : Left.Package?.Id;
        Right = await SideAsync("right", other, RightWay, Left, cancel);
        Comparison = (Left.Chosen?.Outcome.Plan, Right.Chosen?.Outcome.Plan) is ({ } left, { } right)
            ? PlanComparison.Of(left, right)
            : null;
    }

    private async Task<ComparedSide> SideAsync(string name, string? id, string? way, ComparedSide? beside, CancellationToken cancel)
    {
        var package = string.IsNullOrEmpty(id) ? null : await packages.FindAsync(id, cancel);
        var offers =
            beside is not null && beside.Package?.Id == package?.Id
                ? beside.Offers
                : [.. (await planner.OffersAsync(Job, package, cancel)).Offers.Where(offer => offer.Cost is not null)];
        var first = offers.FirstOrDefault(offer => offer.Outcome.Plan?.Key != beside?.Chosen?.Outcome.Plan?.Key)
            ?? (offers.Count > 0 ? offers[0] : null);
        return new ComparedSide(name, package, offers, offers.FirstOrDefault(offer => offer.Id == way) ?? first);
    }
}

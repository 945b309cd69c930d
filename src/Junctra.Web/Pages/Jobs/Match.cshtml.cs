using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Library;
using Junctra.Web.Library.Arrivals;
using Microsoft.AspNetCore.Mvc;
using Candidate = (Junctra.Core.Matching.MatchReport Report, Junctra.Core.Packages.Package Package);

namespace Junctra.Web.Pages.Jobs;

/// <summary>The packages of the library that may be for this phone, judged, stops shown too.</summary>
public sealed class MatchModel(
    JobLoader jobs,
    ChoiceService choices,
    MatchService matches,
    MirrorStore mirrors,
    LibraryWatch library,
    ModelCatalogue catalogue
) : JobPage(jobs)
{
    private const int MaxOffers = 4;

    /// <summary>So many rows are sent at once; the next as many when their end comes into sight.</summary>
    private const int MaxRows = 40;

    private const double LadderWidth = 740;

    private Judged judged = null!;

    public override Station Station => Station.Match;

    /// <summary>All candidates, the best first.</summary>
    public IReadOnlyList<Candidate> Candidates => judged.Ranked;

    /// <summary>Those that pass the filter.</summary>
    public IReadOnlyList<Candidate> Shown { get; private set; } = [];

    /// <summary>Those of them that are drawn: the first, the next, or all.</summary>
    public IReadOnlyList<Candidate> Rows { get; private set; } = [];

    /// <summary>Whether there are more candidates than were judged.</summary>
    public bool IsCut => judged.IsCut;

    /// <summary>Packages of the library that are for other models.</summary>
    public int Others { get; private set; }

    public Candidate? Selected { get; private set; }

    /// <summary>Whether the selected row is opened into its sentences.</summary>
    public bool IsOpen { get; private set; }

    /// <summary>What the look through the library is at, or null when all was seen.</summary>
    public LibraryProgress? Progress => library.Progress;

    /// <summary>Files of the library that are still arriving.</summary>
    public IReadOnlyList<string> Arriving => library.Arriving;

    /// <summary>What mirrors offer for this model and the library does not have.</summary>
    public IReadOnlyList<OfferedFile> Offers { get; private set; } = [];

    /// <summary>The packages that come closest, where none may be chosen.</summary>
    public IReadOnlyList<NearMiss> NearMisses { get; private set; } = [];

    /// <summary>What was decided for this job, and by the shop.</summary>
    public MatchPolicy Policy => judged.Policy;

    /// <summary>What the shop has decided.</summary>
    public MatchPolicy Shop { get; private set; } = MatchPolicy.Careful;

    /// <summary>The verdicts that are shown: <c>all</c>, <c>can</c>, <c>ask</c> or <c>stop</c>.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Show { get; set; }

    /// <summary>Whether every row is wanted.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Whole { get; set; }

    /// <summary>The candidate with which the selected one is compared.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Against { get; set; }

    /// <summary>The model's builds, and where this phone stands.</summary>
    public BuildLadder? Ladder { get; private set; }

    public LadderLayout? LadderDrawing => Ladder is { Builds.Count: > 0 } ladder ? LadderLayout.Of(ladder, LadderWidth) : null;

    /// <summary>Rules that say something else than go of any candidate; the others say nothing against any.</summary>
    public IReadOnlyList<IMatchRule> Columns =>
        [
            .. Matcher.Rules.Where(rule =>
                Candidates.Any(pair => pair.Report.Results.Any(result => result.RuleId == rule.Id && result.Verdict != Verdict.Go))
            ),
        ];

    public int Usable => Candidates.Count(pair => pair.Report.MayBeChosen);

    public IReadOnlyList<ResolvedFact> FactsLeft =>
        [
            .. new FactName[]
            {
                FactName.ModelCode,
                FactName.Serial,
                FactName.Region,
                FactName.RollbackFloor,
                FactName.BootloaderRevision,
                FactName.LockState,
                FactName.Build,
                FactName.RootManager,
                FactName.BatteryPercent,
            }
                .Select(name => Job.Phone[name])
                .Where(fact => fact.State != FactState.Unknown || fact.Name != FactName.RootManager || Policy.Goal == JobGoal.KeepRoot),
        ];

    /// <summary>Why the selected candidate stands where it stands, against the one above it and the one below it.</summary>
    public IEnumerable<string> WhyHere
    {
        get
        {
            var at = Selected is { } selected ? Candidates.ToList().FindIndex(pair => pair.Package.Id == selected.Package.Id) : -1;
            foreach (var other in new[] { at - 1, at + 1 }.Where(other => at >= 0 && other >= 0 && other < Candidates.Count))
                yield return Why(Candidates[at], Candidates[other]);
        }
    }

    /// <summary>Builds for this model that are newer than the selected one, each with what speaks against it.</summary>
    public IEnumerable<(Candidate Newer, string Why)> NewerOnes
    {
        get
        {
            if (Selected is not { Package.Build: { } build } selected)
                yield break;
            var grammar = catalogue.Makers.FirstOrDefault(maker => maker.Name == build.Maker)?.Grammar;
            foreach (
                var other in Candidates.Where(pair => pair.Package.Build is not null && grammar?.Compare(pair.Package.Build, build) > 0)
            )
                yield return (other, other.Report.MayBeChosen ? Why(selected, other) : other.Report.Headline);
        }
    }

    /// <summary>Why the selected candidate stands before or after the one that was asked for, or null.</summary>
    public string? WhyAgainst =>
        Selected is { } selected && Candidates.FirstOrDefault(pair => pair.Package.Id == Against) is { Package: not null } other
            ? Why(selected, other)
            : null;

    /// <summary>Questions that do not decide what may be written: of routes, of plans, of the write.</summary>
    public IReadOnlyList<SchoolQuestion> FoldedSchools { get; } = [.. Schools.Everywhere.Except(Schools.All)];

    /// <summary>The school of a question, and whether this job or the shop has it.</summary>
    public (SchoolChoice Choice, bool IsJobs) SchoolOf(SchoolQuestion question) =>
        (question.Of(Policy), question.Of(Policy) != question.Of(Shop));

    /// <summary>An address of this page with another filter.</summary>
    public string Link(string? package = null, string? show = null, bool whole = false, string? against = null) =>
        "?"
        + string.Join(
            '&',
            new[]
            {
                package is null ? null : $"package={package}",
                (show ?? Show) is { } filter ? $"show={Uri.EscapeDataString(filter)}" : null,
                whole || Whole ? "whole=true" : null,
                against is null ? null : $"against={against}",
            }.Where(part => part is not null)
        );

    /// <summary>Where the rows after those that are drawn come from.</summary>
    public string NextRows => Link(Selected?.Package.Id) + "&handler=Rows";

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        Shop = await matches.ShopAsync(cancel);
        judged = await matches.JudgeAsync(Job.Phone, Job.Policy(Shop, catalogue), cancel);
        Others = Math.Max(0, await matches.LibraryCountAsync(cancel) - Candidates.Count);
        NearMisses = Matcher.Nearest(Job.Phone, Candidates, catalogue, Policy);
        if (Job.Model is { } model)
        {
            Ladder = BuildLadder.Of(model, Candidates.Select(pair => pair.Package), Job.Phone, catalogue);
            Offers = await mirrors.MissingAsync(model.Code, MaxOffers, cancel);
        }

        Shown =
        [
            .. Candidates.Where(pair =>
                Show switch
                {
                    "can" => pair.Report.MayBeChosen,
                    "ask" => pair.Report.Verdict == Verdict.Ask,
                    "stop" => pair.Report.Verdict == Verdict.Stop,
                    _ => true,
                }
            ),
        ];
    }

    public void OnGet(string? package)
    {
        Select(package ?? Job.Row.PackageId);
        IsOpen = package is not null && Selected?.Package.Id == package;
    }

    /// <summary>The next rows of a long list, after so many.</summary>
    public IActionResult OnGetRows(string? package, int from)
    {
        Select(package ?? Job.Row.PackageId);
        Rows = [.. Ordered.Skip(Math.Max(0, from)).Take(MaxRows)];
        return Partial("_Candidates", this);
    }

    public async Task<IActionResult> OnPostAsync(string? package, CancellationToken cancel)
    {
        Select(package);
        var report = Selected is { } chosen && chosen.Package.Id == package ? chosen.Report : null;
        return After(await choices.ChooseAsync(Job, package, report, Who, cancel), Station.Route);
    }

    /// <summary>Has this job work by another school than the shop, or by the shop's again.</summary>
    public async Task<IActionResult> OnPostSchoolAsync(string? question, string? choice, string? reason, CancellationToken cancel)
    {
        Select(Job.Row.PackageId);
        return After(await choices.DecideAsync(Job, Shop, Policy, question, choice, reason, Who, cancel), Station.Match);
    }

    /// <summary>Sets what the phone is to be written for, and which version is wanted.</summary>
    public async Task<IActionResult> OnPostWantedAsync(string? goal, string? wish, string? version, CancellationToken cancel)
    {
        Select(Job.Row.PackageId);
        return After(await choices.WantAsync(Job, Policy, goal, wish, version, Who, cancel), Station.Match);
    }

    /// <summary>Name of a candidate's file.</summary>
    public string FileOf(string id) => Candidates.First(pair => pair.Package.Id == id).Package.FileName;

    /// <summary>Those that are shown; the selected one first where it would not be among the first that are sent.</summary>
    private IEnumerable<Candidate> Ordered =>
        Selected is { } selected && Shown.Take(MaxRows).All(pair => pair.Package.Id != selected.Package.Id)
            ? Shown.Where(pair => pair.Package.Id != selected.Package.Id).Prepend(selected)
            : Shown;

    private string Why(Candidate a, Candidate b) => new Ranking(catalogue, Policy).Why(new(a.Report, a.Package), new(b.Report, b.Package));

    private void Select(string? package)
    {
        foreach (var pair in Candidates.Where(pair => pair.Package.Id == package))
            Selected = pair;
        if (Selected is null && Shown.Count > 0)
            Selected = Shown[0];
        Rows = Whole ? Shown : [.. Ordered.Take(MaxRows)];
    }
}

/// <summary>One question on which practitioners disagree, as a job's page asks it.</summary>
/// <param name="Question">The question.</param>
/// <param name="Page">The page.</param>
public sealed record SchoolView(SchoolQuestion Question, MatchModel Page);

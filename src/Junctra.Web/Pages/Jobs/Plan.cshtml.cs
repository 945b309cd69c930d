using Junctra.Core.Catalogue;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Drawing;
using Junctra.Web.Library;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>The plan, its gates, and the one deliberate act that makes bytes flow.</summary>
public sealed class PlanModel(
    JobLoader jobs,
    ChoiceService choices,
    Planner planner,
    MatchService matches,
    DigestRate digests,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    private const double StripWidth = 960;

    public override Station Station => Station.Plan;

    private PlannedJob planned = PlannedJob.None;

    public Package? Package => planned.Package;

    public Plan? Plan => planned.Plan;

    public IReadOnlyList<string> Refusals => planned.Refusals;

    public MatchReport? Report => planned.Report;

    /// <summary>Whether all that stands against a plan is that this package may only be written with the user data erased.</summary>
    public bool CostsTheData => Plan is null && Refusals.Count == 1 && Report is { NeedsCleanWrite: true } && !Job.Row.ErasesData;

    /// <summary>Whether the last run was by this very way, went well and wrote nothing: another way follows.</summary>
    public bool IsDone =>
        Plan is not null
        && Job.Row.Runs.LastOrDefault() is { Status: RunStatus.Finished, Plan: { Changes: false } last }
        && last.Choice == Plan.Choice;

    public IReadOnlyList<Gate> Gates => planned.Gates;

    public PartitionStrip? Strip { get; private set; }

    public bool GatesOpen { get; private set; }

    /// <summary>What cannot be undone, in one sentence.</summary>
    public string Danger =>
        Plan is null
            ? ""
            : string.Join(
                " ",
                [
                    Plan.Package is { } use ? $"{use.Title} is written over this phone." : "Nothing is written.",
                    Plan.ClosesLock ? "Its lock is closed." : "",
                    Plan.ErasesData ? "All that is on it is erased."
                    : Plan.Writes ? "Its data may be lost if it loops."
                    : "",
                    Plan.RaisesFloor ? $"Its floor rises from {Plan.Target.RollbackFloor} to {Plan.Package?.Revision} for ever." : "",
                ]
            );

    /// <summary>Tells this plan from another for the same job: answers and the typed ticket are for the plan on the page.</summary>
    public string PlanKey => Plan?.Key ?? "";

    /// <summary>Every way of doing this job, this one among them, and why the others are missing.</summary>
    public PathOffers Ways => ways ??= planned.Case is { Model: not null } @case ? PathOffers.Of(@case) : PathOffers.None;

    private PathOffers? ways;

    /// <summary>What is not known and was played both ways, with what its reading costs; the one that tells most first.</summary>
    public IEnumerable<(string Label, string How)> NotKnown =>
        Plan is not null && planned.Case is { } @case
            ? Plan.Rehearsal.OpenFacts.Select(one => (one.Fact.LabelInText, MatchCase.HowToRead(one.Fact, @case.Phone, @case.Catalogue)))
            : [];

    /// <summary>What shop and customer decided for this job.</summary>
    public MatchPolicy Policy { get; private set; } = MatchPolicy.Careful;

    /// <summary>Whether there is a plan for the other wish too: the data erased, or kept.</summary>
    public bool HasOtherData =>
        Plan is not null
        && Ways.Offers.Any(offer => offer is { TakesPackage: true, Cost: not null } && offer.ErasesData != Plan.ErasesData);

    /// <summary>The way out of a finding that asks for no write; null where it asks for one, or nothing was found.</summary>
    public WayOut? NoWrite => Finding is { WayOut: { Paths.Count: 0 } way } ? way : null;

    private FaultClass? Finding => Job.Finding(catalogue);

    /// <summary>From where the times come.</summary>
    public string TimesFrom =>
        digests.SecondsPerGigabyte is { } seconds
            ? $"Reading and digests as measured on this computer ({seconds:0.0} s a GB); the rest by the shop's figures."
            : "By the shop's figures.";

    /// <summary>What its path sets, and why.</summary>
    public IReadOnlyList<PlanOption> Options => Plan is null ? [] : PlanOptions.Of(Plan, Package, Job.Model!);

    /// <summary>What the plan costs, risks and takes.</summary>
    public PlanCost Cost { get; private set; } = null!;

    /// <summary>The plan on the clock, if it were begun now.</summary>
    public PlanClock Clock { get; private set; } = null!;

    /// <summary>What a break at each step would leave.</summary>
    public RiskStrip? Risks { get; private set; }

    /// <summary>The step that is opened into its interruptions, or null.</summary>
    [FromQuery(Name = "step")]
    public int? OpenStep { get; set; }

    /// <summary>What each mistake would do in the step that is opened.</summary>
    public IReadOnlyList<Interruption> Interruptions =>
        Plan is not null && planned.Case is { } @case && OpenStep is { } number ? Rehearser.Interruptions(Plan, @case, number) : [];

    /// <summary>Whether a way is the one that was planned.</summary>
    public bool IsThis(PathOffer offer) => offer.Outcome.Plan?.Key == Plan?.Key && Plan is not null;

    /// <summary>The plan in a line: what it costs.</summary>
    public string CostLine =>
        string.Join(
            " · ",
            new[]
            {
                $"Data {Cost.DataWords}",
                Cost.LosesRoot ? "root and custom system replaced" : "",
                Cost.RaisesFloor ? $"floor becomes {Plan!.WrittenRevision} for ever" : "",
                Cost.ChangesLock ? "lock is closed" : "",
                Cost.WorstWords,
                $"rehearsed on {Plan!.Rehearsal.Branches} {(Plan.Rehearsal.Branches == 1 ? "twin" : "twins")}",
            }.Where(word => word.Length > 0)
        );

    /// <summary>When it is done, when hands are wanted meanwhile, and whether the promise holds.</summary>
    public string ClockLine
    {
        get
        {
            var now = Clock.Start;
            var hands = Clock
                .Hands.Select(window =>
                    $"{(window.From == now ? "at once" : "from " + Say.When(window.From, now))} for {Say.Minutes((window.To - window.From).TotalMinutes)}"
                )
                .ToList();
            return $"Begun now, done about {Say.When(Clock.Usual, now)}, at worst {Say.When(Clock.Slow, now)}. Hands "
                + (hands.Count == 0 ? "are not wanted." : string.Join(", ", hands) + ".");
        }
    }

    /// <summary>How it stands to the promise, in a word; null where nothing was promised.</summary>
    public (string Chip, string Word)? Promise =>
        Clock.Promise switch
        {
            PromiseState.Holds => ("go", $"promised {Say.When(Job.Row.PromisedAt!.Value, Clock.Start)}: holds"),
            PromiseState.Tight => ("care", $"promised {Say.When(Job.Row.PromisedAt!.Value, Clock.Start)}: tight"),
            PromiseState.Breaks => ("stop", $"promised {Say.When(Job.Row.PromisedAt!.Value, Clock.Start)}: too late"),
            _ => null,
        };

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        GatesOpen = Request.Query.ContainsKey("gates") || HttpMethods.IsPost(Request.Method);
        planned = await planner.PlanAsync(Job, cancel);
        ways = null;
        Policy = await matches.PolicyAsync(Job, cancel);
        if (Plan is null)
            return;
        Strip = PartitionStrip.OfPlan(Plan, Job.Model!, StripWidth);
        Risks = RiskStrip.Of(Plan, StripWidth);
        Cost = PlanCost.Of(Plan);
        Clock = PlanClock.Of(Plan, time.GetUtcNow(), Job.Row.PromisedAt);
    }

    public async Task<IActionResult> OnPostPathAsync(bool erase, CancellationToken cancel) =>
        After(await choices.ChooseDataAsync(Job, erase, Who, cancel), Station.Plan);

    /// <summary>Chooses one of the ways on the page, or goes back to the packages.</summary>
    public async Task<IActionResult> OnPostWayAsync(string? way, CancellationToken cancel)
    {
        if (way is null)
            return After(await choices.ChoosePathAsync(Job, null, Job.Row.ErasesData, false, Who, cancel), Station.Plan);
        return Ways.Offers.FirstOrDefault(offer => offer.Id == way) is { } chosen
            ? After(
                await choices.ChoosePathAsync(Job, chosen.Path.Letter, chosen.ErasesData, chosen.TakesPackage, Who, cancel),
                Station.Plan
            )
            : Refused("That way is none for this job as it stands now. Nothing was changed.");
    }

    public async Task<IActionResult> OnPostAnswersAsync(string? planFor, CancellationToken cancel)
    {
        if (await AnswerAsync(planFor, cancel) is { } why)
            return Refused(why);
        Done = "Answers kept.";
        return Redirect(Request.Path + "?gates=1#gates");
    }

    public async Task<IActionResult> OnPostBeginAsync(string? typed, string? planFor, CancellationToken cancel)
    {
        if (await AnswerAsync(planFor, cancel) is { } why)
            return Refused(why);
        if (await planner.BeginTypedAsync(Job, planned, typed, Who, cancel) is not { } refusal)
            return To(Station.Write);
        await ReloadAsync(cancel);
        return Refused(refusal);
    }

    private async Task<string?> AnswerAsync(string? planFor, CancellationToken cancel)
    {
        var form = await Request.ReadFormAsync(cancel);
        var (gates, refusal) = await planner.AnswerPageAsync(Job, planned, planFor, gate => form["gate." + gate], Who, cancel);
        planned = planned with { Gates = gates };
        return refusal;
    }
}

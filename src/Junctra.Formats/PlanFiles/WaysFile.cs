using Junctra.Core;
using Junctra.Core.Matching;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;

namespace Junctra.Formats.PlanFiles;

/// <summary>Every way of doing a job: the plans, what each costs, and why the others are missing.</summary>
/// <param name="Format"><c>junctra-ways</c>.</param>
/// <param name="Version">1; members may be added, none is taken away.</param>
/// <param name="Verdict">What the match says of the package, or null without one.</param>
/// <param name="Ways">Those that suit, the one that costs least of what was asked for first; one without a plan says why.</param>
/// <param name="Missing">Those that are for something else.</param>
public sealed record WaysFile(
    string Format,
    int Version,
    string? Verdict,
    IReadOnlyList<WayReport> Ways,
    IReadOnlyList<MissingReport> Missing
)
{
    /// <summary>Makes it. What only a person can say is not answered here: each gate says how it would be.</summary>
    /// <param name="case">The phone, the package, and what was decided.</param>
    /// <param name="match">The match of the package, or null without one.</param>
    /// <param name="packageFileBytes">Size of the package's file as it lies there now, or null.</param>
    /// <param name="carries">Whether this computer can carry out an act of a plan.</param>
    public static WaysFile Of(PathCase @case, MatchReport? match, long? packageFileBytes, Func<Act, bool> carries)
    {
        var offers = PathOffers.Of(@case);
        return new(
            "junctra-ways",
            1,
            match is null ? null : EnumNames.Of(match.Verdict),
            [
                .. offers.Offers.Select(offer => new WayReport(
                    offer.Path.Letter,
                    offer.Title,
                    offer.ErasesData,
                    offer.Cost is { } cost ? CostReport.Of(cost) : null,
                    PlanFile.Of(offer.Outcome, match),
                    RehearsalFile.Of(offer.Outcome),
                    offer.Outcome.Plan is null
                        ? []
                        :
                        [
                            .. GatesOf(offer)
                                .Select(gate => new GateReport(
                                    gate.Id.Value,
                                    gate.Title,
                                    gate.Holds,
                                    gate.Why,
                                    [.. gate.Options.Select(option => new GateOptionReport(option.Id, option.Text))]
                                )),
                        ]
                )),
            ],
            [.. offers.Missing.Select(missing => new MissingReport(missing.Path.Letter, missing.Path.Title, missing.Why))]
        );

        IReadOnlyList<Gate> GatesOf(PathOffer offer) =>
            Gates.Evaluate(
                new GateCase(
                    offer.Outcome.Plan!,
                    offer.TakesPackage ? @case.Package : null,
                    @case.Phone,
                    offer.TakesPackage ? match : null,
                    false,
                    long.MaxValue,
                    packageFileBytes,
                    [],
                    [],
                    @case.Catalogue.Figures
                )
                {
                    Policy = @case.Policy,
                    Carries = carries,
                }
            );
    }
}

/// <summary>A way that suits.</summary>
/// <param name="Path">Letter of its path.</param>
/// <param name="Title">Its name.</param>
/// <param name="ErasesData">Whether the data go by it.</param>
/// <param name="Cost">What it costs; null without a plan.</param>
/// <param name="Plan">Its plan, or why there is none.</param>
/// <param name="Rehearsal">What its rehearsal found.</param>
/// <param name="Gates">The gates that stand before it, as far as what was sent answers them.</param>
public sealed record WayReport(
    string Path,
    string Title,
    bool ErasesData,
    CostReport? Cost,
    PlanFile Plan,
    RehearsalFile Rehearsal,
    IReadOnlyList<GateReport> Gates
);

/// <summary>What a way costs, risks and takes.</summary>
/// <param name="Data"><c>kept</c>, <c>lost</c>, <c>replaced</c> or <c>unknown</c>.</param>
/// <param name="LosesRoot">Whether root or a custom system goes.</param>
/// <param name="RaisesFloor">Whether the rollback floor rises for ever.</param>
/// <param name="ChangesLock">Whether the lock is changed.</param>
/// <param name="WorstRisk">The worst that a break would leave.</param>
/// <param name="StepsForHands">Steps for hands.</param>
/// <param name="HandsMinutes">Minutes of those.</param>
/// <param name="TypicalMinutes">Minutes of everything, usually.</param>
/// <param name="SlowMinutes">The same if all of it is slow.</param>
/// <param name="BytesToSend">Bytes over the link.</param>
public sealed record CostReport(
    string Data,
    bool LosesRoot,
    bool RaisesFloor,
    bool ChangesLock,
    string WorstRisk,
    int StepsForHands,
    double HandsMinutes,
    double TypicalMinutes,
    double SlowMinutes,
    long BytesToSend
)
{
    /// <summary>Makes it.</summary>
    public static CostReport Of(PlanCost cost) =>
        new(
            EnumNames.Of(cost.Data),
            cost.LosesRoot,
            cost.RaisesFloor,
            cost.ChangesLock,
            EnumNames.Of(cost.Worst),
            cost.StepsForHands,
            cost.HandsMinutes,
            cost.Minutes.Typical,
            cost.Minutes.Slow,
            cost.BytesToSend
        );
}

/// <summary>A gate before a plan.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Title">What must hold.</param>
/// <param name="Holds">Whether it holds.</param>
/// <param name="Why">Why, or what opens it.</param>
/// <param name="Options">How a person can answer it; empty where it is computed.</param>
public sealed record GateReport(string Id, string Title, bool Holds, string Why, IReadOnlyList<GateOptionReport> Options);

/// <summary>One way of answering a gate.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Text">What a person confirms.</param>
public sealed record GateOptionReport(string Id, string Text);

/// <summary>A way that is for something else.</summary>
/// <param name="Path">Letter of its path.</param>
/// <param name="Title">Its name.</param>
/// <param name="Why">Why it is none.</param>
public sealed record MissingReport(string Path, string Title, string Why);

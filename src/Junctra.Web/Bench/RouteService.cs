using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Library;

namespace Junctra.Web.Bench;

/// <summary>One answer to "the phone shows…".</summary>
/// <param name="Sees">What it shows.</param>
/// <param name="Mode">The mode that this is.</param>
/// <param name="Means">What went wrong, or null where it is what was wanted.</param>
/// <param name="Then">What to do then.</param>
public sealed record ShownAnswer(string Sees, PhoneMode Mode, string? Means, string? Then);

/// <summary>The route of a job's phone, with all that the station says of it.</summary>
/// <param name="Model">The model.</param>
/// <param name="Family">Its key family.</param>
/// <param name="From">Where the phone is.</param>
/// <param name="Wanted">Where it is wanted.</param>
/// <param name="Report">What the router says.</param>
public sealed record RouteView(PhoneModel Model, KeyFamily Family, PhoneMode From, PhoneMode Wanted, RouteReport Report)
{
    private const int MaxAnswers = 4;

    /// <summary>The way to take now, or null.</summary>
    public Way? Now => Report.Best is { Legs: [var leg, ..] } ? leg : null;

    /// <summary>The way out of where the phone is, with nothing done; null where none is known or it is out.</summary>
    public PlannedRoute? WayOut { get; init; }

    /// <summary>By what the route goes, in a few words.</summary>
    public string By =>
        Report.Best is not { } route
            ? ""
            : string.Join(
                " and ",
                route
                    .Legs.Select(leg =>
                        leg.Kind switch
                        {
                            WayKind.Keys => "keys",
                            WayKind.Menu => "menus",
                            WayKind.Command => "a command",
                            WayKind.RootManager => "the root manager",
                            _ => "waiting",
                        }
                    )
                    .Distinct()
            );

    /// <summary>
    /// What the phone may show after the way at hand: what is wanted first, then the wrong screens, and where a try that fails leaves it.
    /// </summary>
    public IReadOnlyList<ShownAnswer> Answers =>
        Now is not { } now
            ? []
            :
            [
                new ShownAnswer(
                    now.Score.Marks.Count > 0 && now.Score.Marks[^1].Shows.Mode() == now.To
                        ? PlainWords(now.Score.Marks[^1].Says)
                        : now.To.Label(),
                    now.To,
                    null,
                    null
                ),
                .. now
                    .Score.Wrong.Select(sign => new ShownAnswer(
                        sign.Sees,
                        sign.Is == PhoneMode.Unknown ? now.From : sign.Is,
                        sign.Means,
                        sign.Then
                    ))
                    .Concat(LeftBehind(now))
                    .Take(MaxAnswers - 1),
            ];

    private static IEnumerable<ShownAnswer> LeftBehind(Way now)
    {
        if (
            now.FailChance == 0
            || now.FailsTo == now.To
            || now.Score.Wrong.Any(sign => sign.Is == now.FailsTo || sign.Is == PhoneMode.Unknown && now.FailsTo == now.From)
        )
            yield break;
        yield return now.FailsTo == now.From
            ? new ShownAnswer($"{now.From.Label()} as before", now.From, "It was not taken.", "Do it again, or take another way.")
            : new ShownAnswer(now.FailsTo.Label(), now.FailsTo, "It did not get there.", "Go on from where it is.");
    }

    /// <summary>
    /// What must be read so that nobody changes the lock by accident, or without knowing what that does; null where no step comes near.
    /// </summary>
    public string? LockCaution =>
        Wanted == PhoneMode.LockChange
            ? $"This screen changes the lock. Opening it erases everything{(Model.RelockErases ? ", and so does closing it on this model" : "")}; a phone that is closed over modified software does not start. Read which of the two it asks before anybody answers."
        : Report.Best?.Legs.SelectMany(leg => leg.Score.Wrong).FirstOrDefault(sign => sign.Is == PhoneMode.LockChange) is { } sign
            ? $"If the screen asks about the lock, do not answer it: {char.ToLowerInvariant(sign.Means[0])}{sign.Means[1..]} {sign.Then}"
        : null;

    /// <summary>Whether the phone may be unplugged now, and why.</summary>
    public required Unplugging Unplug { get; init; }

    // "warning screen: let go of both" is what to do; the answer is what is seen.
    private static string PlainWords(string says) => says.Split(':')[0];
}

/// <summary>Finds routes for jobs, by what shop and job decided.</summary>
public sealed class RouteService(MatchService matches, PackageIndex shelf, RunJournal journal, ModelCatalogue catalogue)
{
    private const string KeyScoreWay = "key-score",
        ChargeWay = "charge",
        LinkWay = "link-doctor";

    /// <summary>Whether the finding is that the phone must be charged before anything else.</summary>
    public bool MustCharge(JobView job) => job.Finding(catalogue)?.WayOut.Id == ChargeWay;

    /// <summary>Whether the finding is that only the computer does not see it.</summary>
    public bool IsLinkFault(JobView job) => job.Finding(catalogue)?.WayOut.Id == LinkWay;

    /// <summary>
    /// The mode in which a job's phone is wanted: for its package's kind, else out of a screen that is no fault, else its write mode.
    /// </summary>
    public async Task<PhoneMode> WantedAsync(JobView job, CancellationToken cancel)
    {
        if (job.Model is not { } model)
            return PhoneMode.Unknown;
        if (job.Row.PackageId is { } id && await shelf.FindAsync(id, cancel) is { } package)
            return M14Reachable.ModeOf(package, model);
        if (job.Finding(catalogue)?.WayOut.Id == KeyScoreWay)
            return PhoneMode.System;
        if (MustCharge(job))
            return PhoneMode.Charging;
        return model.WriteMode;
    }

    /// <summary>The route of a job's phone, or null before its model is known.</summary>
    /// <param name="job">The job.</param>
    /// <param name="from">Where the phone is; null for what its facts say.</param>
    /// <param name="to">Where it is wanted; null for what the job wants.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<RouteView?> ViewAsync(JobView job, PhoneMode? from, PhoneMode? to, CancellationToken cancel)
    {
        if (job.Model is not { } model)
            return null;
        var wanted = to ?? await WantedAsync(job, cancel);
        var now = from ?? PhoneModes.Parse(job.Phone[FactName.Mode].Value) ?? PhoneMode.Unknown;
        var policy = (await matches.PolicyAsync(job, cancel)).Routes;
        var report = Router.Find(job.Phone, model, now, wanted, catalogue, policy);
        var exit = now is PhoneMode.Off or PhoneMode.Unknown
            ? null
            : Router.Best(job.Phone, model, now, now is PhoneMode.System ? PhoneMode.Off : PhoneMode.System, catalogue, policy)
                ?? Router.Best(job.Phone, model, now, PhoneMode.Off, catalogue, policy);
        // A phone that starts after a write still is that write's.
        var unsettled = job.UnsettledRun ?? (now == PhoneMode.Starting && job.LastRun is { Status: RunStatus.Finished } last ? last : null);
        var run = unsettled is { } row ? RunState.Of(row.Plan, await journal.ReadAsync(row.Id, cancel: cancel)) : null;
        return new RouteView(model, catalogue.KeyFamilyOf(model), now, wanted, report) { WayOut = exit, Unplug = Unplugging.Of(now, run) };
    }

    /// <summary>The way of that name from a mode, or null.</summary>
    public Way? WayOf(JobView job, PhoneMode from, string id) =>
        job.Model is { } model
            ? WayCompiler.Of(model, catalogue, Router.StartsInto(job.Phone, from)).FirstOrDefault(way => way.From == from && way.Id == id)
            : null;

    /// <summary>The facts that somebody records by saying what a phone shows.</summary>
    public static IReadOnlyList<Fact> FactsOf(PhoneMode shows, DateTimeOffset at, string who)
    {
        var mode = FactName.Mode.Claim(shows, FactSource.Seen, at, who);
        return shows is PhoneMode.Off or PhoneMode.Charging or PhoneMode.Starting or PhoneMode.Unknown
            ? [mode]
            : [mode, FactName.Reached(shows).Claim(true, FactSource.Seen, at, who)];
    }
}

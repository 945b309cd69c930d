using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Schedule;
using Junctra.Store;
using Junctra.Web.Library;
using Junctra.Web.Library.Arrivals;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Days;

/// <summary>
/// What is left of a job that is open: from its plan, its run, or what it may turn out to need, and the file it waits for.
/// </summary>
public sealed class JobWork(
    JunctraDb db,
    JobLoader jobs,
    Planner planner,
    RunJournal journal,
    MatchService matches,
    MirrorStore mirrors,
    ModelCatalogue catalogue,
    DigestRate digests
)
{
    private const int MaxOffers = 5;

    /// <summary>What is left of a job; null where it takes no hands: it left, or was set apart.</summary>
    public async Task<DayJob?> OfAsync(string ticket, DateTimeOffset now, CancellationToken cancel)
    {
        // What was set apart, and what left meanwhile, takes no hands.
        if (await jobs.FindAnewAsync(ticket, cancel) is not { Row.HandedBackAt: null } job || job.Row.Cell != CellState.Sound)
            return null;
        var (plan, run) = await PlanAsync(job, cancel);
        var way = job.Finding(catalogue)?.WayOut;
        var tasks = RemainingWork.Of(
            new WorkCase(job.Standing.At, digests.Of(catalogue.Figures), now)
            {
                Plan = plan,
                Run = run,
                By = job.LastRun?.BegunBy,
                Fetch = plan is null ? await FetchAsync(job, cancel) : null,
                Ways = way is not null ? [(way, 1)] : job.Diagnose(catalogue).WaysOut,
                IsFound = way is not null,
                HasPassed = job.Checks.Count > 0 && Checker.IsPassed(job.Checks),
            }
        );
        return new DayJob(
            ticket,
            job.Row.Id,
            tasks,
            job.Row.PromisedAt is { } promised ? (int)Math.Floor((promised - now).TotalMinutes) : null
        )
        {
            Weight = job.Row.Promises is [.., { Waits: true }] ? DayJob.WeightOfWaiting : 1,
            IsInPort = run?.Status is RunStatus.Writing or RunStatus.Waiting && tasks is [var next, ..] && next.Needs.HasFlag(Needs.Port),
        };
    }

    /// <summary>The file that is to be fetched for a phone: what is here for it may not be chosen, and a mirror offers one.</summary>
    private async Task<Fetch?> FetchAsync(JobView job, CancellationToken cancel)
    {
        if (job.Model is not { } model || job.Row.PackageId is not null || job.Row.Path is not null)
            return null;
        // Asked first: where no mirror has one, what the library has need not be judged, and of a large library that takes its time.
        var offered = (await mirrors.MissingAsync(model.Code, MaxOffers, cancel))
            .Where(file => file.Offers[0].Seconds is not null)
            .ToList();
        if (offered.Count == 0)
            return null;
        var judged = await matches.JudgeAsync(job.Phone, await matches.PolicyAsync(job, cancel), cancel);
        if (judged.Ranked.Any(one => one.Report.MayBeChosen))
            return null;
        var names = offered.ConvertAll(file => file.FileName);
        var coming = await db
            .Arrivals.AsNoTracking()
            .Where(a => names.Contains(a.FileName) && (a.State == ArrivalState.Fetching || a.State == ArrivalState.Checking))
            .OrderByDescending(a => a.BytesDone)
            .FirstOrDefaultAsync(cancel);
        var file = offered.Find(one => one.FileName == coming?.FileName) ?? offered[0];
        var from = file.Offers.FirstOrDefault(offer => offer.Mirror.Id == coming?.MirrorId) ?? file.Offers[0];
        var left = coming is { SizeBytes: > 0 and var size } ? Math.Max(0, 1 - (double)coming.BytesDone / size) : 1;
        return new Fetch(
            file.FileName,
            Minutes((from.Seconds ?? file.Offers[0].Seconds)!.Value, left),
            coming is not null,
            [
                .. file
                    .Offers.Where(offer => offer != from && offer is { IsUsable: true, Seconds: not null })
                    .Select(offer =>
                    {
                        var minutes = Minutes(offer.Seconds!.Value, 1);
                        return new OtherWay(
                            $"Fetch its file from {offer.Mirror.Name}.",
                            Math.Max(1, (int)Math.Ceiling(minutes.Typical)),
                            Math.Max(1, (int)Math.Ceiling(minutes.Slow))
                        );
                    }),
            ]
        );

        static Band Minutes(Band seconds, double share) => new(seconds.Typical * share / 60, seconds.Slow * share / 60);
    }

    private async Task<(Plan? Plan, RunState? Run)> PlanAsync(JobView job, CancellationToken cancel)
    {
        if (job.LastRun is { Plan: { } begun } run && !run.Status.EndedEarly())
            return (begun, RunState.Of(begun, await journal.ReadAsync(run.Id, cancel: cancel)));
        return job.Row.PackageId is null && job.Row.Path is null ? (null, null) : ((await planner.PlanAsync(job, cancel)).Plan, null);
    }
}

using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Web.Bench.Acts;

namespace Junctra.Web.Bench;

/// <summary>A phone on its way up after the last run of its job, and what is tried with it where it does not come up.</summary>
/// <param name="Clock">How it keeps its time.</param>
/// <param name="Ladder">What is tried; null while nobody has seen it hang.</param>
/// <param name="Next">The plan of the next rung, or of the one that somebody wants, with its gates; null where hands climb it by none.</param>
public sealed record WayUp(StageClock Clock, BootLadder? Ladder, PlannedJob? Next);

/// <summary>What is tried with a phone that does not come up after a write.</summary>
public sealed partial class Planner
{
    /// <summary>How the phone of a job comes up after its last run; null where none has finished, or no start follows it.</summary>
    /// <param name="job">The job.</param>
    /// <param name="wanted">The rung that somebody wants instead of the next one; null for that.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<WayUp?> WayUpAsync(JobView job, Rung? wanted, CancellationToken cancel)
    {
        if (job.LastRun is not { Status: RunStatus.Finished } last)
            return null;
        var state = RunState.Of(last.Plan, await journal.ReadAsync(last.Id, cancel: cancel));
        if (StageClock.Of(state, catalogue.Figures, time.GetUtcNow()) is not { } clock)
            return null;
        if (!job.Hangs || Written(job) is not { } written)
            return new WayUp(clock, null, null);
        var ladder = BootLadder.Of(
            written.Plan,
            await ClimbedAsync(job, written, cancel),
            clock,
            new PathCase(job.Phone, null, true, catalogue),
            catalogue.Figures
        );
        var rung = ladder.Rungs.FirstOrDefault(one => one.Rung == wanted && one.State == RungState.Later) ?? ladder.Next;
        return new WayUp(clock, ladder, rung is { Plan: not null } ? await RungAsync(job, rung.Rung, cancel) : null);
    }

    /// <summary>Begins a rung that hands climb by a plan: one act; what its gates ask is answered with it.</summary>
    /// <returns>Null, or why nothing was begun.</returns>
    public async Task<string?> BeginRungAsync(
        JobView job,
        PlannedJob? rung,
        string? planFor,
        Func<string, string?> chosen,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return frozen;
        if (rung?.Plan is not { } plan)
            return rung is { Refusals: [var why, ..] } ? why : "The phone does not loop. Nothing was begun.";
        if (planFor != plan.Key)
            return "What is to be done was changed meanwhile. Nothing was begun: look at it again.";
        await AnswerAsync(job, plan, rung.Gates.Where(gate => !gate.Holds), chosen, who, cancel);
        return await BeginAsync(job, plan, who, cancel);
    }

    /// <summary>Writes down that somebody goes up a rung that leads to another station.</summary>
    public async Task<ActResult> TakeRungAsync(JobView job, WayUp? up, Rung rung, string who, CancellationToken cancel)
    {
        if (job.WhyFrozen is { } frozen)
            return ActResult.Refuse(frozen);
        if (
            rung.IsPlanned()
            || up?.Ladder?.Rungs.FirstOrDefault(one => one.Rung == rung) is not { State: RungState.Next or RungState.Later }
        )
            return ActResult.Refuse("That is not to be done with this phone now. Look at it again.");
        if (!await journal.AfterwardsAsync(job.LastRun!.Id, Taken(rung, who), cancel))
            return ActResult.Refuse("Something else was begun meanwhile. Look at it again.");
        store.Note(job.Row.Id, who, $"It does not come up: {char.ToLowerInvariant(rung.Title()[0])}{rung.Title()[1..]}.");
        await db.SaveChangesAsync(cancel);
        return ActResult.Did($"Noted: {char.ToLowerInvariant(rung.Title()[0])}{rung.Title()[1..]}.");
    }

    private async Task<PlannedJob> RungAsync(JobView job, Rung rung, CancellationToken cancel)
    {
        if (!job.Hangs || job.LastRun is not { Status: RunStatus.Finished } || Written(job) is not { } written)
            return PlannedJob.None with { Refusals = ["The phone does not loop, or nothing was written before. Nothing was begun."] };
        var @case = new PathCase(job.Phone, null, true, catalogue);
        return await JudgeAsync(job, null, @case, LadderPlans.Of(rung, written.Plan, @case), cancel);
    }

    private RungTaken Taken(Rung rung, string who) => new(who, rung, rung.Minutes(catalogue.Figures), rung.Costs());

    /// <summary>The run of the job's own plan that its rungs follow.</summary>
    private static RunRow? Written(JobView job) => job.Row.Runs.LastOrDefault(run => run.Plan is { Follows: null });

    private async Task<HashSet<Rung>> ClimbedAsync(JobView job, RunRow written, CancellationToken cancel)
    {
        var climbed = new HashSet<Rung>();
        foreach (var run in job.Row.Runs.SkipWhile(run => run != written).Where(run => run.Status == RunStatus.Finished))
        {
            // One of before rungs had names was the agreed wipe.
            if (run.Plan.Follows is not null)
                climbed.Add(run.Plan.Rung ?? Rung.WipeData);
            climbed.UnionWith(
                RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel)).Rungs.Where(rung => !rung.IsPlanned())
            );
        }

        return climbed;
    }
}

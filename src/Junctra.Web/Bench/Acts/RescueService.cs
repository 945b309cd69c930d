using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Insight;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Acts;

/// <summary>
/// What happens at an opened phone. It goes on while a run waits for just this, and is noted by whoever is at it: each entry is judged by
/// those that are stored, under the lock of the job.
/// </summary>
public sealed class RescueService(JunctraDb db, RunJournal journal, ModelCatalogue catalogue, TimeProvider time)
{
    private const int MaxLearned = 2000;

    /// <summary>How the rescue of a job stands; null where nothing is known of its inside.</summary>
    public RescueState? StateOf(JobView job) => StateOf(job, job.Row.Rescue);

    private RescueState? StateOf(JobView job, IEnumerable<RescueEventRow> rows) =>
        catalogue.BoardOf(job.Model?.Code) is { } guide ? RescueState.Of(guide, rows.Select(row => row.ToEntry())) : null;

    /// <summary>Whether it may be closed up: its checks hold, or nothing is going on and it goes back as it is.</summary>
    public static bool MayCloseUp(JobView job) =>
        job.Checks.Count > 0 && Checker.IsPassed(job.Checks) || job.LastRun is null || job.LastRun.Status.EndedEarly();

    /// <summary>Notes that something happened.</summary>
    /// <param name="job">The job.</param>
    /// <param name="happening">What.</param>
    /// <param name="who">Who says so.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> NoteAsync(JobView job, RescueEvent happening, string who, CancellationToken cancel)
    {
        if (job.Row.HandedBackAt is not null)
            return ActResult.Refuse("It was handed back.");
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.LockJobsAsync([job.Row.Id], cancel);
        var rows = await db.RescueEvents.AsNoTracking().Where(row => row.JobId == job.Row.Id).OrderBy(row => row.Id).ToListAsync(cancel);
        if (StateOf(job, rows) is not { } state)
            return ActResult.Refuse("Nothing is known here of its inside. Somebody who knows it writes it down first (catalogue/boards).");
        if (state.WhyNot(happening, time.GetUtcNow(), MayCloseUp(job)) is { } why)
            return ActResult.Refuse(why);
        db.RescueEvents.Add(
            new RescueEventRow
            {
                JobId = job.Row.Id,
                At = time.GetUtcNow(),
                By = who,
                Event = happening,
            }
        );
        await db.SaveChangesAsync(cancel);
        await transaction.CommitAsync(cancel);
        return ActResult.Did(RescueWords.Of(happening, state.Guide));
    }

    /// <summary>What runs of the job wrote down of their loaders: a first answer, or that it stayed silent.</summary>
    public async Task<IReadOnlyList<RescueEvent>> TriedInRunsAsync(JobView job, CancellationToken cancel)
    {
        var tried = new List<RescueEvent>();
        foreach (var run in job.Row.Runs)
        {
            if (run.Plan?.Steps.FirstOrDefault(step => step.Act is SupplyEmergencyLoader) is not { } loader)
                continue;
            var state = RunState.Of(run.Plan, await journal.ReadAsync(run.Id, cancel: cancel));
            if (state.Done.Contains(loader.Number))
                tried.Add(new LoaderTried(true));
            else if (state.Step == loader && run.Status.EndedEarly())
                tried.Add(new LoaderTried(false));
        }

        return tried;
    }

    /// <summary>Names of the bench's ports.</summary>
    public async Task<IReadOnlyList<string>> PortsAsync(CancellationToken cancel) =>
        await db.Ports.AsNoTracking().OrderBy(port => port.Name).Select(port => port.Name).ToListAsync(cancel);

    /// <summary>Why the phone cannot be handed back for what was done to it or to a computer; null where it can.</summary>
    public string? WhyNotBack(JobView job) =>
        StateOf(job) is not { } state ? null
        : state.IsOpen ? $"The phone is open: {state.Next?.Title.ToLowerInvariant() ?? "close it up"} comes first."
        : state.RuleChangedOn is [var computer, ..] ? $"The rule for drivers is still changed on {computer}. Put it back as it was."
        : null;

    /// <summary>
    /// Minutes of each step, learned from the shop's own rescues of such a phone from three on; the guide's figures before.
    /// </summary>
    public async Task<Func<RescueStep, Band?>> MinutesAsync(BoardGuide guide, string by, CancellationToken cancel)
    {
        var rows = await db
            .RescueEvents.AsNoTracking()
            .Where(row => db.Facts.Any(fact => fact.JobId == row.JobId && fact.Name == "model-code" && guide.Models.Contains(fact.Value)))
            .OrderByDescending(row => row.Id)
            .Take(MaxLearned)
            .ToListAsync(cancel);
        var log = rows.OrderBy(row => row.Id)
            .GroupBy(row => row.JobId)
            .SelectMany(job =>
                RescueTimes
                    .Of(guide, job.Select(row => row.ToEntry()))
                    .Select(one => new LoggedTime(
                        job.Key,
                        TimeKind.Hands,
                        one.Step.Id,
                        "",
                        "",
                        one.By,
                        one.Step.Minutes.Typical,
                        one.Minutes
                    ))
            );
        var estimates = Estimates.Of(log);
        return step =>
            estimates.Find(TimeKind.Hands, step.Minutes, step.Id, by: by) is { } known
                ? new Band(step.Minutes.Typical * known.Times, step.Minutes.Typical * known.SlowTimes)
                : null;
    }
}

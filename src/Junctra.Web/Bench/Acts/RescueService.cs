using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Phones;
using Junctra.Core.Rescue;
using Junctra.Core.Triage;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench.Acts;

/// <summary>
/// What happens at an opened phone. It goes on while a run waits for just this, and is noted by whoever is at it: each entry is judged by
/// those that are stored, under the lock of the job.
/// </summary>
public sealed class RescueService(JunctraDb db, RescueRecord record, Planner planner, ModelCatalogue catalogue, TimeProvider time)
{
    /// <summary>Whether it is worth opening, line by line.</summary>
    /// <param name="job">The job.</param>
    /// <param name="who">Whose hands it would be.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<IReadOnlyList<WorthLine>> WorthAsync(JobView job, string who, CancellationToken cancel)
    {
        var guide = catalogue.BoardOf(job.Model?.Code);
        var minutes = guide is null ? null : await record.MinutesAsync(guide, who, cancel);
        return RescueWorth.Of(
            job.Observed(catalogue),
            await planner.WhyNotWorthOpeningAsync(job, cancel),
            RollbackFloor.Of(job.Phone, catalogue).Highest,
            job.Model is { } model ? catalogue.LoaderOf(model)?.HighestRevision : null,
            guide,
            job.Row.DataWish == DataWish.Keep,
            guide is null
                ? default
                : new Band(guide.Steps.Sum(step => minutes!.Of(step).Typical), guide.Steps.Sum(step => minutes!.Of(step).Slow))
        );
    }

    /// <summary>Whether the phone was written and its checks hold: then it is closed up.</summary>
    public static bool HasPassed(JobView job) => job.Checks.Count > 0 && Checker.IsPassed(job.Checks);

    /// <summary>Notes that something happened.</summary>
    /// <param name="job">The job.</param>
    /// <param name="happening">What.</param>
    /// <param name="who">Who says so.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task<ActResult> NoteAsync(JobView job, RescueEvent happening, string who, CancellationToken cancel)
    {
        if (job.Row.HandedBackAt is not null)
            return ActResult.Refuse("It was handed back.");
        var whyNotOpen = RescueWorth.WhyNotOpen(await WorthAsync(job, who, cancel));
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.LockJobsAsync([job.Row.Id], cancel);
        var rows = await db.RescueEvents.AsNoTracking().Where(row => row.JobId == job.Row.Id).OrderBy(row => row.Id).ToListAsync(cancel);
        if (await record.StateOfAsync(job, rows, cancel) is not { } state)
            return ActResult.Refuse("Nothing is known here of its inside. Somebody who knows it writes it down first (catalogue/boards).");
        var bounds = new RescueBounds(whyNotOpen, HasPassed(job), JobStore.IsWriting(job.Row));
        if (state.WhyNot(happening, time.GetUtcNow(), bounds) is { } why)
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

    /// <summary>Names of the bench's ports.</summary>
    public async Task<IReadOnlyList<string>> PortsAsync(CancellationToken cancel) =>
        await db.Ports.AsNoTracking().OrderBy(port => port.Name).Select(port => port.Name).ToListAsync(cancel);

    /// <summary>Why the phone cannot be handed back for what was done to it or to a computer; null where it can.</summary>
    public static string? WhyNotBack(JobView job, RescueState? state) =>
        state is null ? null
        // A cell that is set apart is not closed up with the phone.
        : state.IsOpen && job.Row.Cell == CellState.Sound
            ? $"The phone is open: {Decapitalised(state.Next?.Title) ?? "close it up"} comes first."
        : state.RuleChangedOn is [var computer, ..] ? $"The rule for drivers is still changed on {computer}. Put it back as it was."
        : null;

    private static string? Decapitalised(string? title) => title?.ToLowerInvariant();
}

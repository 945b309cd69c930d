using Junctra.Core.Jobs;
using Junctra.Core.Plans;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench;

/// <summary>Answers to gates, and the one act after which bytes flow.</summary>
public sealed partial class Planner
{
    /// <summary>Stores answers to gates of a plan. An answer that was taken back is removed; the audit keeps both.</summary>
    /// <param name="job">The job.</param>
    /// <param name="plan">The plan.</param>
    /// <param name="gates">The gates that were asked.</param>
    /// <param name="chosen">By a gate's id, the option that was chosen; null or empty where none was.</param>
    /// <param name="who">Who answered.</param>
    /// <param name="cancel">Cancels it.</param>
    public async Task AnswerAsync(
        JobView job,
        Plan plan,
        IEnumerable<Gate> gates,
        Func<string, string?> chosen,
        string who,
        CancellationToken cancel
    )
    {
        foreach (var gate in gates.Where(gate => gate.Options.Count > 0))
        {
            var id = gate.Id.Value;
            var option = gate.Options.FirstOrDefault(option => option.Id == chosen(id));
            if (option?.Id == gate.Answered)
                continue;
            var given = job.Row.Answers.Where(answer => IsFor(answer, plan) && answer.GateId == id).ToList();
            db.Answers.RemoveRange(given);
            if (option is null)
            {
                // What was agreed to at intake is taken back there.
                if (given.Count > 0)
                    store.Note(job.Row.Id, who, $"{gate.Title}: answer taken back.");
                continue;
            }

            db.Answers.Add(
                new GateAnswerRow
                {
                    JobId = job.Row.Id,
                    PlanKey = plan.Key,
                    PackageId = plan.Package?.Id,
                    ErasesData = plan.ErasesData,
                    GateId = id,
                    OptionId = option.Id,
                    Text = option.Text,
                    At = time.GetUtcNow(),
                    By = who,
                }
            );
            store.Note(job.Row.Id, who, $"{gate.Title}: {option.Text}");
        }

        await db.SaveChangesAsync(cancel);
    }

    /// <summary>Stores answers that were given on a page, for the plan that was on it.</summary>
    /// <param name="job">The job.</param>
    /// <param name="planned">What was planned for it.</param>
    /// <param name="planFor">Key of the plan on the page.</param>
    /// <param name="chosen">By a gate's id, the option that was chosen; null or empty where none was.</param>
    /// <param name="who">Who answered.</param>
    /// <param name="cancel">Cancels it.</param>
    /// <returns>The gates as they stand then, or why no answer was kept.</returns>
    public async Task<(IReadOnlyList<Gate> Gates, string? Refusal)> AnswerPageAsync(
        JobView job,
        PlannedJob planned,
        string? planFor,
        Func<string, string?> chosen,
        string who,
        CancellationToken cancel
    )
    {
        if (job.WhyFrozen is { } frozen)
            return (planned.Gates, frozen);
        if (planned.Plan is not { } plan)
            return (planned.Gates, "There is no plan to answer for.");
        if (planFor != plan.Key)
            return (planned.Gates, "The plan of this job was changed meanwhile. Nothing was written and no answer kept: look at it again.");
        await AnswerAsync(job, plan, planned.Gates, chosen, who, cancel);
        return (await GatesAsync(job, planned.Package, planned.Report, plan, cancel), null);
    }

    /// <summary>Begins the write of a plan on a page, whose gates were answered: the ticket is typed from the phone's label.</summary>
    /// <returns>Null, or why nothing was begun.</returns>
    public async Task<string?> BeginTypedAsync(JobView job, PlannedJob planned, string? typed, string who, CancellationToken cancel)
    {
        if (planned.Closed.Count > 0)
            return $"Nothing was written. Still closed: {string.Join(", ", planned.Closed)}.";
        var ticket = TicketCode.Read(typed);
        if (!string.Equals(ticket, job.Row.Ticket, StringComparison.OrdinalIgnoreCase))
            return $"Nothing was written. “{ticket}” is not the ticket of this phone; its label says {job.Row.Ticket}.";
        return await BeginAsync(job, planned.Plan!, who, cancel);
    }

    /// <summary>
    /// Begins a write. Everything is judged again in the transaction that begins it, against the row that it locks: whatever somebody
    /// changed between the page and the first byte is seen, and whatever somebody changes after it comes too late and is told so.
    /// </summary>
    /// <param name="job">The job as the page showed it.</param>
    /// <param name="seen">The plan as the page showed it.</param>
    /// <param name="who">Who begins.</param>
    /// <param name="cancel">Cancels it.</param>
    /// <returns>Null, or why nothing was begun.</returns>
    public async Task<string?> BeginAsync(JobView job, Plan seen, string who, CancellationToken cancel)
    {
        await using var transaction = await db.Database.BeginTransactionAsync(cancel);
        await db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({BeginLock})", cancel);
        await db.LockJobsAsync([job.Row.Id], cancel);
        db.ChangeTracker.Clear();
        if (await jobs.FindAsync(job.Row.Ticket, cancel) is not { } fresh)
            return "This job is no longer there. Nothing was written.";
        if (fresh.WhyFrozen is { } frozen)
            return $"Nothing was written. {frozen}";
        var planned = seen.Rung is { } rung ? await RungAsync(fresh, rung, cancel) : await PlanAsync(fresh, cancel);
        if (planned.Report is { MayBeChosen: false, IsToldAfterRescue: false } report)
            return $"Nothing was written. The package may not be written any more: {report.Headline}";
        if (planned.Plan is not { } plan)
            return $"Nothing was written. There is no plan any more: {string.Join(" ", planned.Refusals)}";
        if (plan.Key != seen.Key)
            return "The plan of this job was changed meanwhile. Nothing was written: look at it again.";
        if (planned.Closed.Count > 0)
            return $"Nothing was written. Still closed: {string.Join(", ", planned.Closed)}.";
        var port = plan.NeedsLink
            ? await db.Ports.AsNoTracking().SingleOrDefaultAsync(one => one.Name == fresh.Row.PortName, cancel)
            : null;
        if (plan.NeedsLink && port is null)
            return "The port at which this phone was read is no longer set up.";
        if (await visits.BusyWithAsync(port?.Address, plan.Target.Serial, cancel) is { } busy)
            return $"Nothing was written. {busy}";

        // What was not read before cannot be proved after.
        if (!plan.ErasesData && fresh.Row.Snapshots.Count == 0)
            await store.TakeSnapshotAsync(fresh.Row, fresh.Phone, who, cancel);
        var refusal = await store.BeginAsync(
            new RunRow
            {
                JobId = fresh.Row.Id,
                PackageId = planned.Package?.Id,
                Plan = plan,
                Report = planned.Report,
                PortName = port?.Name,
                Address = port?.Address,
                Status = RunStatus.Queued,
                BegunAt = time.GetUtcNow(),
                QueuedAt = await DatabaseClock.NowAsync(db, time, cancel),
                BegunBy = who,
                PackageTitle = plan.Package?.Title ?? plan.Choice.Title,
            },
            cancel
        );
        if (refusal is not null)
            return refusal;
        if (plan.Rung is { } taken)
            await RunJournal.AfterwardsInAsync(db, fresh.LastRun!.Id, Taken(taken, who), time.GetUtcNow());
        await transaction.CommitAsync(cancel);
        return null;
    }
}

using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Bench;

/// <summary>What is planned for a job, and what still stands before it.</summary>
/// <param name="Package">The package that was chosen, or null.</param>
/// <param name="Report">The match of it, judged now.</param>
/// <param name="Plan">The plan, or null where there is none.</param>
/// <param name="Refusals">Why there is none.</param>
/// <param name="Gates">The gates of the plan.</param>
public sealed record PlannedJob(
    Package? Package,
    MatchReport? Report,
    Plan? Plan,
    IReadOnlyList<string> Refusals,
    IReadOnlyList<Gate> Gates
)
{
    /// <summary>Nothing chosen.</summary>
    public static PlannedJob None { get; } = new(null, null, null, [], []);

    /// <summary>Paths that can be gone without a package.</summary>
    public IReadOnlyList<IPath> WithoutPackage { get; init; } = [];

    /// <summary>Titles of the gates that do not hold.</summary>
    public IReadOnlyList<string> Closed => [.. Gates.Where(gate => !gate.Holds).Select(gate => gate.Title)];
}

/// <summary>Plans jobs, and begins the write: the one act after which bytes flow.</summary>
public sealed class Planner(
    JunctraDb db,
    IDbContextFactory<JunctraDb> contexts,
    JobStore store,
    JobLoader jobs,
    PackageIndex shelf,
    MatchService desk,
    PhoneVisits visits,
    ModelCatalogue catalogue,
    ContentStore files,
    TimeProvider time
)
{
    // Begins wait for each other, of all jobs and of every web process: which phones and ports are taken is judged by what others have
    // begun.
    private const long BeginLock = 0x4A756E63;

    /// <summary>What is planned for a job as it stands.</summary>
    public async Task<PlannedJob> PlanAsync(JobView job, CancellationToken cancel)
    {
        var bare = new PathCase(job.Phone, null, true, catalogue);
        if (PathList.Find(job.Row.Path) is { } path)
            return await JudgeAsync(job, null, null, PathList.Compile(bare, path.Letter), cancel);
        if (job.Row.PackageId is null && job.Goal(catalogue) == JobGoal.Relock)
            return PlannedJob.None with { Refusals = [WhyNoRelock(job.Phone)] };
        if (await shelf.FindAsync(job.Row.PackageId, cancel) is not { } package)
            return PlannedJob.None with { WithoutPackage = bare.Model is null ? [] : PathList.For(bare) };

        var report = await desk.ReportAsync(job, package, cancel);
        return await JudgeAsync(
            job,
            package,
            report,
            PathList.Compile(new PathCase(job.Phone, package, job.Row.ErasesData, catalogue, report.NeedsCleanWrite)),
            cancel
        );
    }

    private static string WhyNoRelock(Phone phone) =>
        phone.Of(FactName.LockState).Is(LockState.Locked)
            ? "The lock is closed already. Check that it starts, and hand it back."
            : "Closing the lock takes no package, and no plan for it can be made here yet. It must never be closed over modified software: system and recovery are proved to be the maker's and the phone started once before, and closing erases it.";

    private async Task<PlannedJob> JudgeAsync(
        JobView job,
        Package? package,
        MatchReport? report,
        PlanOutcome outcome,
        CancellationToken cancel
    )
    {
        if (outcome.IsRefusedByRehearsal)
            await TellTheLeadAsync(job, outcome.Refusals[0], cancel);
        return new(
            package,
            report,
            outcome.Plan,
            outcome.Refusals,
            outcome.Plan is null ? [] : await GatesAsync(job, package, report, outcome.Plan, cancel)
        );
    }

    /// <summary>Writes down, once for a job, that its rehearsal refused what all rules let through: a finding about the rules.</summary>
    private async Task TellTheLeadAsync(JobView job, string why, CancellationToken cancel)
    {
        // Whoever begins has seen the page, and it was written down then; here the job's row is locked.
        if (db.Database.CurrentTransaction is not null)
            return;
        if (await db.Audit.AnyAsync(line => line.JobId == job.Row.Id && line.By == Rehearsal && line.Act == why, cancel))
            return;
        // In a context of its own: what somebody is about to store is not stored along.
        await using var own = await contexts.CreateDbContextAsync(cancel);
        own.Audit.Add(
            new AuditRow
            {
                JobId = job.Row.Id,
                At = time.GetUtcNow(),
                By = Rehearsal,
                Act = why,
            }
        );
        await own.SaveChangesAsync(cancel);
    }

    /// <summary>Who stands in the audit for what a rehearsal found.</summary>
    public const string Rehearsal = "rehearsal";

    /// <summary>The gates of a plan, by the answers that were given for it.</summary>
    public async Task<IReadOnlyList<Gate>> GatesAsync(
        JobView job,
        Package? package,
        MatchReport? report,
        Plan plan,
        CancellationToken cancel
    ) =>
        Gates.Evaluate(
            new GateCase(
                plan,
                package,
                job.Phone,
                report,
                job.Row.OwnershipStated,
                files.FreeBytes(),
                package is null ? null : await shelf.BytesNowAsync(package.Id, cancel),
                await visits.PortsWithAsync(plan.Target.Serial, cancel),
                Consents.WithAnswers(
                    [.. job.Row.Answers.Where(answer => IsFor(answer, plan)).Select(answer => answer.ToAnswer())],
                    job.Row.Consents.Where(consent => consent.WithdrawnAt is null)
                        .Select(consent => new GivenConsent(consent.ConsentId, consent.At, consent.RecordedBy))
                ),
                catalogue.Figures
            )
        );

    /// <summary>
    /// The fallback that a job's last plan holds ready, with its gates, for a phone that loops after a finished write; null where it does
    /// not loop or nothing is ready.
    /// </summary>
    public async Task<PlannedJob?> FallbackAsync(JobView job, CancellationToken cancel) =>
        job.LastRun is { Status: RunStatus.Finished, Plan: { IfItLoops.Count: > 0 } written }
        && PhoneModes.Parse(job.Phone[FactName.Mode].Value) is PhoneMode.BootLoop or PhoneMode.StuckAtLogo
            ? await JudgeAsync(job, null, null, WipeOnly.After(written, new PathCase(job.Phone, null, true, catalogue)), cancel)
            : null;

    /// <summary>Whether an answer was given for a plan: for itself, or for the plan whose agreed fallback it is.</summary>
    public static bool IsFor(GateAnswerRow answer, Plan plan) => answer.PlanKey is { } key && (key == plan.Key || key == plan.Follows);

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
        var planned = seen.Follows is null ? await PlanAsync(fresh, cancel) : await FallbackAsync(fresh, cancel) ?? PlannedJob.None;
        if (planned.Report is { MayBeChosen: false } report)
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
                QueuedAt = time.GetUtcNow(),
                BegunBy = who,
                PackageTitle = plan.Package?.Title ?? plan.Choice.Title,
            },
            cancel
        );
        if (refusal is null)
            await transaction.CommitAsync(cancel);
        return refusal;
    }
}

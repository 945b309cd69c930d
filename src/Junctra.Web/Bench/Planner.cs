using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Runs;
using Junctra.Link.Running;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Web.Library;
using Junctra.Web.Logbook;
using Junctra.Web.Practising;
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

    /// <summary>For what it was planned; null without a job.</summary>
    public PathCase? Case { get; init; }

    /// <summary>Titles of the gates that do not hold.</summary>
    public IReadOnlyList<string> Closed => [.. Gates.Where(gate => !gate.Holds).Select(gate => gate.Title)];
}

/// <summary>Plans jobs, and begins the write: the one act after which bytes flow.</summary>
public sealed partial class Planner(
    JunctraDb db,
    IDbContextFactory<JunctraDb> contexts,
    JobStore store,
    JobLoader jobs,
    PackageIndex packages,
    MatchService matches,
    PhoneVisits visits,
    ModelCatalogue catalogue,
    ContentStore files,
    DigestRate digests,
    LearnedTimes learned,
    RescueRecord rescues,
    RunJournal journal,
    LicenceService licences,
    TimeProvider time
)
{
    // Begins wait for each other, of all jobs and of every web process: which phones and ports are taken is judged by what others have
    // begun.
    private const long BeginLock = 0x4A756E63;

    /// <summary>What is planned for a job as it stands.</summary>
    public async Task<PlannedJob> PlanAsync(JobView job, CancellationToken cancel)
    {
        var policy = await matches.PolicyAsync(job, cancel);
        var bare = await BareAsync(job, policy, cancel);
        var isRelock = policy.Goal == JobGoal.Relock && (job.Row.PackageId is null || IsWrittenAndOpen(job));
        if (job.Row.PackageId is null && PathList.Find(job.Row.Path) is { } path)
            // The data of a path without a package go, or do not, by the path itself.
            return await JudgeAsync(
                job,
                null,
                bare with
                {
                    IsProvenStock = path is Relock && (await ProofAsync(job, cancel)).Holds,
                    Saved = path is DataFirst ? await SavedAsync(job, cancel) : null,
                },
                path.Letter,
                cancel
            );
        if (isRelock)
            return await JudgeAsync(job, null, bare with { IsProvenStock = (await ProofAsync(job, cancel)).Holds }, RelockLetter, cancel);
        if (await packages.FindAsync(job.Row.PackageId, cancel) is not { } package)
            return PlannedJob.None with { Case = bare.Model is null ? null : bare with { ErasesData = job.Row.ErasesData } };

        var (report, @case) = await WithAsync(job, bare, package, cancel);
        return await JudgeAsync(job, report, @case, job.Row.Path, cancel);
    }

    /// <summary>
    /// Every way of a job with a package that it may or may not have chosen, or without one; none before its model is known.
    /// </summary>
    public async Task<PathOffers> OffersAsync(JobView job, Package? package, CancellationToken cancel)
    {
        var bare = await BareAsync(job, await matches.PolicyAsync(job, cancel), cancel);
        if (bare.Model is null)
            return PathOffers.None;
        return PathOffers.Of(
            package is null ? bare with { ErasesData = job.Row.ErasesData } : (await WithAsync(job, bare, package, cancel)).Case
        );
    }

    private async Task<PathCase> BareAsync(JobView job, MatchPolicy policy, CancellationToken cancel)
    {
        IActTimes times = await learned.OfAsync(job, cancel);
        if (policy.NeedsBoardRescue && catalogue.BoardOf(job.Model?.Code) is { } guide)
            times = (await rescues.MinutesAsync(guide, "", cancel)).Within(times);
        return PathCase.Of(job.Phone, null, true, catalogue, policy) with
        {
            UsualPaths = job.Finding(catalogue)?.WayOut.Paths ?? [],
            Figures = digests.Of(catalogue.Figures),
            Times = times,
            RescueEnded = (await rescues.StateOfAsync(job, cancel))?.Ended,
        };
    }

    private async Task<(MatchReport Report, PathCase Case)> WithAsync(JobView job, PathCase bare, Package package, CancellationToken cancel)
    {
        digests.Look(await packages.PathAsync(package.Id, cancel));
        var (report, original) = await matches.ReportWithOriginalAsync(job, package, cancel);
        return (
            report,
            bare with
            {
                Package = package,
                ErasesData = job.Row.ErasesData,
                NeedsCleanWrite = report.NeedsCleanWrite,
                Original = original,
            }
        );
    }

    private static readonly string RelockLetter = new Relock().Letter;

    /// <summary>
    /// Whether the chosen package was written, and checked before anything else was begun, and the lock is still open: then the lock's turn
    /// has come.
    /// </summary>
    private static bool IsWrittenAndOpen(JobView job) =>
        LastWrite(job) is { Status: RunStatus.Finished } run
        && run.PackageId == job.Row.PackageId
        && (run != job.LastRun || job.Checks.Count > 0 && Checker.IsPassed(job.Checks))
        && !job.Phone.Of(FactName.LockState).Is(LockState.Locked);

    private static RunRow? LastWrite(JobView job) => job.Row.Runs.LastOrDefault(run => run.Plan?.Writes == true);

    /// <summary>
    /// What was saved of the phone and is to go back: something was written or erased since, and it was not brought back yet; else null.
    /// </summary>
    public async Task<SavedData?> SavedAsync(JobView job, CancellationToken cancel)
    {
        var runs = job.Row.Runs.Where(run => run is { Status: RunStatus.Finished, Plan: not null }).ToList();
        var saved = runs.FindLastIndex(run => run.Plan.Steps.Any(step => step.Act is SaveData));
        if (saved < 0 || !runs.Skip(saved).Any(run => run.Plan.Changes) || runs.Skip(saved).Any(run => run.Plan.BringsBack))
            return null;
        var state = RunState.Of(runs[saved].Plan, await journal.ReadAsync(runs[saved].Id, cancel: cancel));
        var files = state.Copied.Where(copy => copy.FromPhone).Select(copy => new SavedFile(copy.Name, copy.Bytes, copy.Sha256));
        return new SavedData(KeptFiles.NameOf(runs[saved].Id), [.. files]) is { Files.Count: > 0 } data ? data : null;
    }

    /// <summary>Why opening the job's phone would not help it; null where it would.</summary>
    public async Task<string?> WhyNotWorthOpeningAsync(JobView job, CancellationToken cancel) =>
        BoardRescue.WhyNotWorth(await BareAsync(job, await matches.PolicyAsync(job, cancel), cancel));

    /// <summary>What the job's writes prove of the phone's software.</summary>
    private async Task<StockProof> ProofAsync(JobView job, CancellationToken cancel)
    {
        if (job.Model is not { } model)
            return StockProof.None;
        var runs = job.Row.Runs.Where(run => run.Plan?.Writes == true).ToList();
        if (runs.Count == 0)
            return StockProof.None;
        var around = await matches.AroundAsync(job.Phone, cancel);
        var writes = new List<WrittenPlan>();
        foreach (var run in runs)
        {
            var package = await packages.FindAsync(run.PackageId, cancel);
            writes.Add(
                new WrittenPlan(
                    run.Plan,
                    run.Status == RunStatus.Finished,
                    run.EndedAt ?? DateTimeOffset.MaxValue,
                    package,
                    package is null ? null : around.ProofOf(package)
                )
            );
        }

        return StockProof.Of(model, writes, job.Phone);
    }

    private Task<PlannedJob> JudgeAsync(JobView job, MatchReport? report, PathCase @case, string? letter, CancellationToken cancel) =>
        JudgeAsync(job, report, @case, PathList.Compile(@case, letter), cancel);

    private async Task<PlannedJob> JudgeAsync(
        JobView job,
        MatchReport? report,
        PathCase @case,
        PlanOutcome outcome,
        CancellationToken cancel
    )
    {
        var package = @case.Package;
        if (outcome.IsRefusedByRehearsal)
            await TellTheLeadAsync(job, outcome.Refusals[0], cancel);
        return new(
            package,
            report,
            outcome.Plan,
            outcome.Refusals,
            outcome.Plan is null ? [] : await GatesAsync(job, package, report, outcome.Plan, cancel)
        )
        {
            Case = @case,
        };
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
                package is null ? null : await packages.BytesNowAsync(package.Id, cancel),
                await PortsAsync(job, plan, cancel),
                Consents.WithAnswers(
                    [.. job.Row.Answers.Where(answer => IsFor(answer, plan)).Select(answer => answer.ToAnswer())],
                    job.Row.Consents.Where(consent => consent.WithdrawnAt is null)
                        .Select(consent => new GivenConsent(consent.ConsentId, consent.At, consent.RecordedBy))
                ),
                catalogue.Figures
            )
            {
                Policy = (await matches.PolicyAsync(job, cancel)).Plans,
                Carries = CarriedOut.Is,
                Licence = await licences.ForAsync(plan, cancel),
                Stock = plan.ClosesLock ? await ProofAsync(job, cancel) : StockProof.None,
            }
        );

    // A chip that answers alone tells no serial; where it was read last is where it is.
    private async Task<IReadOnlyList<string>> PortsAsync(JobView job, Plan plan, CancellationToken cancel) =>
        !plan.Steps.Any(step => step.Act is SupplyEmergencyLoader) ? await visits.PortsWithAsync(plan.Target.Serial, cancel)
        : job.Row.PortName is { } port && job.Phone.Of(FactName.Mode).Is(PhoneMode.Emergency) ? [$"port {port}"]
        : [];

    /// <summary>Whether an answer was given for a plan: for itself, or for the plan whose rung it is.</summary>
    public static bool IsFor(GateAnswerRow answer, Plan plan) => answer.PlanKey is { } key && (key == plan.Key || key == plan.Follows);
}

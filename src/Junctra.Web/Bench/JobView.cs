using Junctra.Core.Catalogue;
using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Rescue;
using Junctra.Core.Runs;
using Junctra.Core.Triage;
using Junctra.Store;

namespace Junctra.Web.Bench;

/// <summary>A job as the pages show it: its row, and what the core makes of it.</summary>
public sealed class JobView
{
    public JobView(JobRow row, ModelCatalogue catalogue)
    {
        Row = row;
        Phone = new Phone(
            row.Facts.Where(f => f.Counts).Select(f => f.ToFact()),
            row.Facts.Where(f => f is { ExpiredAt: not null, WithdrawnAt: null }).Select(f => f.ToFact())
        );
        Model = catalogue.Model(Phone[FactName.ModelCode].Value);
        LastRun = row.Runs.LastOrDefault();
        (SinceWrite, ResetAt) = ReadSince(row, LastRun);
        var since = SinceWrite;
        // Lists load the plan only where it decides where the job is.
        Checks = since is not null && LastRun!.Plan is not null ? Checker.Compare(LastRun.Plan, since) : [];
        Hangs = since is not null && PhoneModes.Parse(since[FactName.Mode].Value) is { } shown && shown.IsHung();
        var maker = catalogue.MakerOf(Model?.Code);
        var leftAsItWas = LastRun is { Status: RunStatus.Finished, Plan.IsChecked: false };
        var elseChosen = LastRun?.PackageId != row.PackageId || row.Path is not null && row.Path != LastRun?.Plan?.Choice.Path;
        IsRescue =
            catalogue.Triage.Class(row.FaultClassId)?.WayOut.Toll >= Toll.EmergencyMode
            || row.Rescue.Count > 0
            || LastRun?.Plan?.Steps.Any(step => step.Act is Core.Plans.Acts.OpenToEmergency) == true;
        Standing = JobLine.Standing(
            new JobState(
                Phone,
                row.PackageId is not null || row.Path is not null,
                leftAsItWas && elseChosen ? null : OpenRunStatus,
                Checks,
                row.HandedBackAt is not null,
                maker?.HasRollbackFuses ?? true,
                row.Cell,
                catalogue.Triage.Class(row.FaultClassId)?.WayOut,
                row.FaultClassId is not null,
                Model?.WriteMode ?? PhoneMode.Fastboot,
                PathList.Find(row.Path)?.ReadsLink ?? true,
                Goal(catalogue),
                Hangs,
                leftAsItWas,
                LastRun is { Status: RunStatus.Finished, Plan.BringsBack: true },
                RescueOf(catalogue)
            )
        );
    }

    public JobRow Row { get; }

    /// <summary>Whether it leaves its line for board rescue, or may have to.</summary>
    public bool IsRescue { get; }

    public Phone Phone { get; }

    public PhoneModel? Model { get; }

    public RunRow? LastRun { get; }

    /// <summary>The write that goes on, or that ended early and after which nobody has read the phone; null where there is none.</summary>
    public RunRow? UnsettledRun => OpenRunStatus is null or RunStatus.Finished ? null : LastRun;

    public IReadOnlyList<CheckLine> Checks { get; }

    /// <summary>What was read since the last run was finished, and since somebody reset the phone after that; null before.</summary>
    public Phone? SinceWrite { get; }

    /// <summary>What was read of the phone after a run and before the next one, whether or not it still counts.</summary>
    public IReadOnlyList<Fact> ReadAfter(RunRow run)
    {
        var next = Row.Runs.Where(other => other.Id > run.Id).Select(other => (DateTimeOffset?)other.BegunAt).FirstOrDefault();
        return
        [
            .. Row
                .Facts.Where(fact => fact.WithdrawnAt is null && fact.At >= run.EndedAt && (next is null || fact.At < next))
                .Select(fact => fact.ToFact()),
        ];
    }

    /// <summary>When the phone was seen to have been reset after checks of the last run; null where it was not.</summary>
    public DateTimeOffset? ResetAt { get; }

    private static (Phone? Since, DateTimeOffset? ResetAt) ReadSince(JobRow row, RunRow? run)
    {
        if (run is not { Status: RunStatus.Finished, EndedAt: { } ended })
            return (null, null);
        var facts = row.Facts.Where(fact => fact.Counts && fact.At >= ended).Select(fact => fact.ToFact()).ToList();
        var reset = Checker.ResetAt(facts);
        return (new Phone(facts.Where(fact => reset is null || fact.At >= reset)), reset);
    }

    /// <summary>Whether somebody has seen it loop, or stand at its maker's picture, since its last run has finished.</summary>
    public bool Hangs { get; }

    public JobStanding Standing { get; }

    // Without what its runs heard of their loaders, which no list loads.
    private RescueStanding RescueOf(ModelCatalogue catalogue) =>
        Row.Rescue.Count == 0 || Model is null || catalogue.BoardOf(Model.Code) is not { } guide
            ? RescueStanding.None
            : RescueState
                .Of(
                    guide,
                    Row.Rescue.Select(row => row.ToEntry()),
                    catalogue.LoaderOf(Model) is { } loader
                        ? new LoaderCase(RollbackFloor.Of(Phone, catalogue).Highest, loader.HighestRevision, [])
                        : null
                )
                .Standing;

    /// <summary>Whether the job went by a station that it had no need of: what takes no package is not matched.</summary>
    public bool PassesBy(Station station) => station == Station.Match && Row.PackageId is null && Standing.At > station;

    /// <summary>What the phone is to be written for: as somebody decided, else as its intake says.</summary>
    public JobGoal Goal(ModelCatalogue catalogue) =>
        Row.Goal ?? Said(catalogue).Select(outcome => outcome.Goal).FirstOrDefault(goal => goal is not null) ?? JobGoal.Stock;

    /// <summary>What shop and customer have decided for this job.</summary>
    /// <param name="shop">The shop's schools.</param>
    /// <param name="catalogue">Fault classes and schools.</param>
    public MatchPolicy Policy(MatchPolicy shop, ModelCatalogue catalogue) =>
        PolicyHistory.Apply(shop, Row.Schools) with
        {
            DataMayGo = Row.DataWish == DataWish.MayGo,
            Goal = Goal(catalogue),
            Wish = new VersionWish(Row.WishKind, Row.WishVersion),
            NeedsBoardRescue = Finding(catalogue)?.WayOut.Toll >= Toll.EmergencyMode,
        };

    /// <summary>The fault class that was taken as the finding, or that the observations settle; null before that.</summary>
    public FaultClass? Finding(ModelCatalogue catalogue) =>
        catalogue.Triage.Class(Row.FaultClassId)
        ?? (Diagnose(catalogue) is { IsSettled: true, Leading: { } leading } ? leading.Class : null);

    private IEnumerable<CheckOutcome> Said(ModelCatalogue catalogue) =>
        from answer in Row.TriageAnswers
        where answer.WithdrawnAt is null
        from check in catalogue.Triage.Checks
        where check.Id == answer.CheckId
        from outcome in check.Outcomes
        where outcome.Id == answer.OutcomeId
        select outcome;

    /// <summary>What the observations so far say is wrong.</summary>
    public Diagnosis Diagnose(ModelCatalogue catalogue)
    {
        var answers = Row.TriageAnswers.Where(answer => answer.WithdrawnAt is null).ToList();
        return Diagnoser.Of(
            catalogue.Triage,
            new TriageCase(
                catalogue.MakerOf(Model?.Code)?.Name,
                Model?.KeyFamily,
                Row.Cell,
                [.. answers.Where(answer => answer.OutcomeId == TriageAnswerRow.CannotTell).Select(answer => answer.CheckId)]
            ),
            Observed(catalogue)
        );
    }

    /// <summary>What was observed, by people and by what facts answer by themselves.</summary>
    public IReadOnlyList<Observation> Observed(ModelCatalogue catalogue) =>
        Observations.Of(
            Phone,
            Row.TriageAnswers.Where(answer => answer.WithdrawnAt is null).Select(answer => answer.ToObservation()),
            catalogue.Triage
        );

    /// <summary>Title over the job's line.</summary>
    public string Title => $"{Row.Ticket} · {Model?.ProductName ?? Phone[FactName.ProductName].Value ?? "phone"}, {Row.Description}";

    /// <summary>Why nothing of this job may be changed now; null where it may.</summary>
    public string? WhyFrozen =>
        Row.HandedBackAt is not null ? "This phone was handed back; its record is closed."
        : Row.Cell != CellState.Sound
            ? $"This phone is {Row.Cell.ToString().ToLowerInvariant()}: it is set apart, and nothing is done to it."
        : JobStore.IsWriting(Row) ? "A write is going on. Nothing is changed until it has ended."
        : null;

    /// <summary>Why nothing may be changed at a station now. A phone that is set apart is still written up at the counter.</summary>
    public string? WhyFrozenAt(Station station) =>
        Row.Cell != CellState.Sound && Row.HandedBackAt is null && station is (Station.Intake or Station.HandBack)
            ? JobStore.IsWriting(Row)
                ? "A write is going on. Nothing is changed until it has ended."
                : null
            : WhyFrozen;

    /// <summary>The last run, unless it failed and the phone was read again since: the job then goes on from that reading.</summary>
    private RunStatus? OpenRunStatus =>
        LastRun is { Status: RunStatus.Failed or RunStatus.Stopped, EndedAt: { } ended }
        && Row.Facts.Any(f => f.Counts && f.Name == FactName.Serial.Value && f.Source == FactSource.Link && f.At > ended)
            ? null
            : LastRun?.Status;
}

/// <summary>Loads jobs for pages.</summary>
public sealed class JobLoader(JobStore store, JunctraDb db, JobCache shelf, ModelCatalogue catalogue)
{
    private const int MaxVisits = 4;

    // The page and the column at its side show the same jobs.
    private Task<IReadOnlyList<JobView>>? openJobs;

    /// <summary>The job of a ticket, or null.</summary>
    public async Task<JobView?> FindAsync(string ticket, CancellationToken cancel) =>
        await store.FindAsync(ticket, cancel) is { } row ? new JobView(row, catalogue) : null;

    /// <summary>The job as it is stored now: what was changed here and not stored is forgotten.</summary>
    public Task<JobView?> FindAnewAsync(string ticket, CancellationToken cancel)
    {
        db.ChangeTracker.Clear();
        return FindAsync(ticket, cancel);
    }

    /// <summary>Earlier visits of a job's phone, the latest first; none while nobody knows its serial.</summary>
    public Task<List<EarlierVisit>> EarlierAsync(JobView job, CancellationToken cancel) =>
        JobLists.EarlierAsync(
            db,
            job.Row.Id,
            job.Row.TakenInAt,
            job.Phone[FactName.Serial].Claims.Select(claim => claim.Value),
            MaxVisits,
            cancel
        );

    /// <summary>What an earlier visit found, in words, or null.</summary>
    public string? FindingOf(EarlierVisit visit) => catalogue.Triage.Class(visit.FaultClassId)?.Label.ToLowerInvariant();

    /// <summary>Jobs that are not handed back, the earliest promise first.</summary>
    public Task<IReadOnlyList<JobView>> OpenAsync(CancellationToken cancel) => openJobs ??= ListAsync(500, cancel);

    private async Task<IReadOnlyList<JobView>> ListAsync(int most, CancellationToken cancel) =>
        await shelf.ViewsAsync(db, await JobLists.HeadsAsync(db, most, cancel), cancel);
}
